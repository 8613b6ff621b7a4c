"""What a card can have the window do beyond logging, as values."""

from enum import StrEnum

from msgspec import Struct


class FileKind(StrEnum):
    """What a file that is opened for a self-test holds."""

    IMAGE = "image"
    CAPTURE = "capture"


class Paper(StrEnum):
    """What can be saved of a job."""

    PDF = "pdf"
    HTML = "html"
    CSV = "csv"
    JSON = "json"
    STOCK = "stock.csv"
    BUNDLE = "benchjob"
    CUSTOMER = "customer.pdf"
    BILL = "bill.pdf"
    OFFER = "offer.pdf"
    LABEL = "label.pdf"


class AskPower(Struct, frozen=True):
    """Ask for the power state."""


class SkipCard(Struct, frozen=True):
    """Set the lit card aside."""


class BeginJob(Struct, frozen=True):
    """Start the questions of a new job."""


class CorrectKind(Struct, frozen=True):
    """Ask anew what kind of board the open job's is."""


class GoToShelf(Struct, frozen=True):
    """Go back to the shelf."""


class Describe(Struct, frozen=True):
    """Open the workshop on the open job's kind of board."""


class RestoreFrom(Struct, frozen=True):
    """Put a backup in place of what is here."""

    path: str


class TakeFrom(Struct, frozen=True):
    """Take the events of a file in, beside what is here."""

    path: str


class SetBusiness(Struct, frozen=True):
    """Say one thing of the shop: `rate 38`."""

    text: str


class PrintSheet(Struct, frozen=True):
    """Print the sheet of the open job by the system's dialog."""


class KeepPhoto(Struct, frozen=True):
    """Keep a photograph of the open job."""

    path: str


class CompareBoard(Struct, frozen=True):
    """Lay a photograph of the board beside the good one."""

    path: str


class BackUp(Struct, frozen=True):
    """Back up now."""


class ShowHistory(Struct, frozen=True):
    """Show the history of the board on the bench, and of its kind."""


class OpenDemo(Struct, frozen=True):
    """Start the demo beside, on a copy of its own."""


class BringIn(Struct, frozen=True):
    """Ask for a profile or bundle, and look into it."""


class SetWho(Struct, frozen=True):
    """Say who works here, until the program ends."""

    who: str


class OpenJob(Struct, frozen=True):
    """Put a job on the bench."""

    job: str


class SavePaper(Struct, frozen=True):
    """Save a paper of the open job."""

    paper: Paper


class ChooseFile(Struct, frozen=True):
    """Ask for a file, and read it for a ROM image or a lane."""

    kind: FileKind
    #: The image or lane that it is read for.
    target: str


class ReadFiles(Struct, frozen=True):
    """Read files for a ROM image or a lane."""

    kind: FileKind
    #: The image or lane that they are read for.
    target: str
    #: As typed or chosen: paths, or bare names of samples that ship.
    names: tuple[str, ...]


class LinkMeter(Struct, frozen=True):
    """Link an instrument: `serial /dev/ttyUSB0`."""

    place: str


class LetGoOf(Struct, frozen=True):
    """Let go of a linked instrument, by its place in the list."""

    number: int


class SearchInstruments(Struct, frozen=True):
    """Look once for instruments on the network and on USB."""


class ShowDemoHand(Struct, frozen=True):
    """Link the demo's meter, whose probe touches the lit point by itself."""


class BeginDrill(Struct, frozen=True):
    """Begin a drill on a bench of its own: `lesson 3`, `orrery hard 7 alone`."""

    text: str


Command = (
    AskPower
    | BeginDrill
    | LinkMeter
    | LetGoOf
    | SearchInstruments
    | ShowDemoHand
    | SkipCard
    | BeginJob
    | CorrectKind
    | GoToShelf
    | Describe
    | OpenDemo
    | ShowHistory
    | RestoreFrom
    | TakeFrom
    | BackUp
    | KeepPhoto
    | PrintSheet
    | CompareBoard
    | SetBusiness
    | BringIn
    | OpenJob
    | SetWho
    | SavePaper
    | ChooseFile
    | ReadFiles
)
