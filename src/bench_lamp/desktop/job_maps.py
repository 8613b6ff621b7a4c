"""Pictures of the board on the job page: the map, its two sides, and this board beside a good one."""

from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QStackedWidget

from bench_lamp.board.map import Picture
from bench_lamp.cards.card import Card
from bench_lamp.case.case import Case
from bench_lamp.checks.board_map import LitMap, picture_of_side
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.session import Session
from bench_lamp.desktop.widgets.headed import Headed
from bench_lamp.views.guard import stage_of

if TYPE_CHECKING:
    from bench_lamp.desktop.pictures import PictureStore
    from bench_lamp.desktop.surfaces.compare import CompareSurface
    from bench_lamp.desktop.surfaces.map import MapSurface


class JobMaps:
    """What stands in place of a stage's picture while the board itself is looked at."""

    def __init__(self, look: Look, session: Session, stack: QStackedWidget) -> None:
        self._look, self._session, self._stack = look, session, stack
        #: Whether the map stands in place of the stage's picture, and which side of the board is up.
        self.shows_map, self._side = False, ""
        #: The job whose board is compared; empty while none is.
        self._compared = ""

    @cached_property
    def pictures(self) -> "PictureStore":
        """The decoded pictures."""
        from bench_lamp.desktop.pictures import PictureStore

        return PictureStore(self._session.library, self._session.growing)

    def lit(self, case: Case, card: Card) -> LitMap | None:
        """Return what a card's places light up; `None` without a picture."""
        if not case.profile.pictures:
            return None
        from bench_lamp.views.lit_card import lit_of_card

        return lit_of_card(case, self._session.hand, card, side=self._side)

    def inset(self, card: Card, lit: LitMap | None) -> LitMap | None:
        """Return what the card's small map shows; nothing beside the large one."""
        if self.shows_map or lit is None:
            return None
        from bench_lamp.views.lit_card import lit_in_card

        return lit_in_card(card, lit)

    def surface(self, case: Case, lit: LitMap | None) -> Headed | None:
        """Return the comparison or the large map, where one is wanted; `None` for the stage's own."""
        if self.is_comparing:
            return self.comparison
        if not self.shows_map or not case.profile.pictures:
            return None
        if stage_of(self._session.stage).has_history:
            from bench_lamp.views.lit_card import suspects_lit

            lit = suspects_lit(case, lit, side=self._side)
        self.large.show_lit(case, lit, side=self._side)
        return self.large

    @cached_property
    def large(self) -> "MapSurface":
        """The large map, made when it is first wanted."""
        from bench_lamp.desktop.surfaces.map import MapSurface

        made = MapSurface(self._look, self.pictures)
        made.picked.connect(self._session.look_at)
        self._stack.addWidget(made)
        return made

    @cached_property
    def comparison(self) -> "CompareSurface":
        """Two pictures to compare by eye, made when they are first wanted."""
        from bench_lamp.desktop.surfaces.compare import CompareSurface

        made = CompareSurface(self._look, self.pictures, self._session.growing.do)
        self._stack.addWidget(made)
        return made

    @property
    def is_comparing(self) -> bool:
        """Whether this job's board is compared now."""
        return bool(self._compared) and self._compared == self._session.job

    def toggle(self) -> None:
        """Show the map in place of the stage's picture, or that again."""
        case = self._session.case
        if self.is_comparing:
            self._compared = ""
        elif case is not None and case.profile.pictures:
            self.shows_map = not self.shows_map
        else:
            self._no_picture()
        self._session.changed.emit()

    def turn(self) -> None:
        """Turn the board over."""
        self._side = "parts" if self._side == "solder" else "solder"

    def can_compare(self) -> bool:
        """Return whether there is a picture to compare with; say so where there is none."""
        case = self._session.case
        if case is not None and not case.profile.pictures:
            self._no_picture()
        return case is not None and bool(case.profile.pictures)

    def compare(self, path: Path) -> None:
        """Lay a picture of this very board beside the profile's picture of the side that is up."""
        case, job = self._session.case, self._session.job
        if case is None or not self.can_compare():
            return

        def show() -> None:
            self._compared = job
            self._session.changed.emit()

        self.comparison.compare(path, self._good(case), show)

    def _good(self, case: Case) -> Picture:
        card = self._session.card()
        lit = self.lit(case, card) if card is not None else None
        if lit is not None:
            return lit.picture
        return picture_of_side(case.profile, self._side)

    def _no_picture(self) -> None:
        self._session.notified.emit("No picture of this board yet", "Workshop, Alt+m.", False)
