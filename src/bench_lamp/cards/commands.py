"""What a card can have the window do beyond logging, as values."""

from dataclasses import dataclass
from enum import StrEnum


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


@dataclass(frozen=True, slots=True)
class AskPower:
    """Ask for the power state."""


@dataclass(frozen=True, slots=True)
class SkipCard:
    """Set the lit card aside."""


@dataclass(frozen=True, slots=True)
class BeginJob:
    """Start the questions of a new job."""


@dataclass(frozen=True, slots=True)
class GoToShelf:
    """Go back to the shelf."""


@dataclass(frozen=True, slots=True)
class OpenJob:
    """Put a job on the bench."""

    job: str


@dataclass(frozen=True, slots=True)
class SavePaper:
    """Save a paper of the open job."""

    paper: Paper


@dataclass(frozen=True, slots=True)
class ChooseFile:
    """Ask for a file, and read it for a ROM image or a lane."""

    kind: FileKind
    #: The image or lane that it is read for.
    target: str


@dataclass(frozen=True, slots=True)
class ReadFiles:
    """Read files for a ROM image or a lane."""

    kind: FileKind
    #: The image or lane that they are read for.
    target: str
    #: As typed or chosen: paths, or bare names of samples that ship.
    names: tuple[str, ...]


Command = AskPower | SkipCard | BeginJob | GoToShelf | OpenJob | SavePaper | ChooseFile | ReadFiles
