"""Questions beside the stage, by a key: a note, the time, what it waits for; and who works here."""

from typing import TYPE_CHECKING

from msgspec.structs import replace

from bench_lamp.cards.card import Answer, Asked, Card
from bench_lamp.errors import BenchLampError
from bench_lamp.journal.events import Body
from bench_lamp.journal.memory_events import PhotoTaken, Signed

if TYPE_CHECKING:
    from bench_lamp.checks.board_map import LitMap
    from bench_lamp.desktop.navigation import Navigation as _Base
    from bench_lamp.journal.photos import KeptPhoto
    from bench_lamp.views.bench import Taught
    from bench_lamp.views.shelf import ShelfCard
else:
    # Two bases that are Qt objects would mix up their signals and slots.
    _Base = object


class Asides(_Base):
    """What can be asked anywhere in a job; mixed into what already is a Qt object."""

    #: Initials of whoever works here; empty for nobody in particular.
    who = ""
    #: Photographs of a job that are asked about, one after the other.
    photos: "tuple[tuple[str, KeptPhoto], ...]" = ()
    #: What the jobs of a kind taught, and of which kind and how many that was.
    _taught: "tuple[tuple[str, str, int], Taught | None] | None" = None
    #: The folder that is watched for photographs; empty for none.
    watched = ""

    def ask_aside(self, name: str) -> None:
        """Ask a question beside the stage, or take it back."""
        if self.job and not self.describing:
            self.asks_power = False
            self.hand = replace(self.hand, aside="" if self.hand.aside == name else name)
            self._ask(None)
            self.changed.emit()

    def card(self) -> Card | None:
        """Return the lit card: of the question beside the stage, where one is asked."""
        case = self.case
        if not self.hand.aside or case is None or self.asks_power or self.is_making:
            return super().card()
        from bench_lamp.cards.aside import ASIDES

        card = ASIDES[self.hand.aside].card(case)
        if self.hand.aside == "photo" and self.photos:
            more = f", {len(self.photos) - 1} more" if self.photos[1:] else ""
            name = f"The picture is {self.photos[0][1].name[-60:]}."
            return replace(card, kind=f"{card.kind}{more}", why=(name, *card.why))
        return card

    def aside_answer(self, text: str) -> Answer | None:
        """Return what was typed to a question beside the stage means."""
        from bench_lamp.cards.aside import ASIDES, photo_of

        case = self.case
        if case is None:
            return None
        if self.hand.aside == "photo" and self.photos:
            return photo_of(case, text, self.photos[0][1])
        return ASIDES[self.hand.aside].take(case, text)

    def lit_of(self, job: str) -> "LitMap | None":
        """Return the picture of a job's board, with the light where its next step is; None without one."""
        from bench_lamp.views.lit_card import lit_on_shelf

        if not self.book.holds(job):
            return None
        return lit_on_shelf(self.book.case(job, self.meter, self.rules, self.clock()))

    def taught_by(self, picked: "ShelfCard") -> "Taught | None":
        """Return what the shop's jobs on a kind of board taught; None before any."""
        from bench_lamp.views.bench import taught

        # At each letter that is typed on the shelf: counted again only when a job came or went.
        of = (picked.profile, picked.board, self.book.memory.version)
        if self._taught is None or self._taught[0] != of:
            self._taught = (of, taught(picked.board, self.book.memory.of_kind(picked.profile)))
        return self._taught[1]

    def ask(self, asked: Asked) -> None:
        """Ask one question in place."""
        self._ask(asked)

    def refresh_case(self) -> None:
        """Show the open job anew: more of it is known."""
        self._case = None
        self.changed.emit()

    def work_as(self, who: str) -> None:
        """Take who works here, until the program ends."""
        self.who = who
        self.end_aside()
        self.changed.emit()

    def set_business(self, text: str) -> None:
        """Take one thing of the shop, or say why not."""
        from bench_lamp.shop.business import changed, said_of_sharing

        try:
            if (said := said_of_sharing(text)) is not None:
                self.sharing_said.emit(*said)
                self.logged.emit()
                return
            self.book.be(changed(self.book.business, text))
        except BenchLampError as exc:
            self.notified.emit(str(exc), exc.hint, True)
            return
        self.ruled.emit()
        self.refresh_case()

    def ask_about(self, photo: "KeptPhoto") -> None:
        """Ask what a photograph shows, once it is kept; several are asked about in turn."""
        is_asked = self.hand.aside == "photo"
        same = tuple(each for each in self.photos if each[0] == self.job) if is_asked else ()
        self.photos = (*same, (self.job, photo))
        if same:
            self.changed.emit()
        else:
            self.hand = replace(self.hand, aside="")
            self.ask_aside("photo")

    def end_aside(self, logged: tuple[Body, ...] = ()) -> None:
        """Go back to the stage, or on to the next photograph: the answer is on disk."""
        if any(isinstance(body, PhotoTaken) for body in logged):
            self.photos = self.photos[1:]
        asks_on = self.hand.aside == "photo" and bool(self.photos)
        self.hand = replace(self.hand, aside="photo" if asks_on else "")

    def skip(self) -> None:
        """Set the lit card aside; of several photographs, only the one that is asked about."""
        asked = self.photos if self.hand.aside == "photo" else ()
        super().skip()
        if asked and not self.hand.aside:
            self.photos = asked[1:]
            if self.photos:
                self.ask_aside("photo")

    def signed(self, bodies: tuple[Body, ...]) -> tuple[Body, ...]:
        """Return what is logged, with who says it where that is somebody else than before."""
        case = self.case
        if not self.who or case is None or case.state.signed == self.who:
            return bodies
        return (Signed(by=self.who), *bodies)
