"""Describing the map: pictures come in and are straightened, clicks place names, sides turn."""

from collections.abc import Callable, Mapping, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Protocol

from msgspec import Struct

from bench_lamp.board.change import Change
from bench_lamp.board.map import Pair, Picture, Side
from bench_lamp.board.pictures import keep_picture, picture_place, read_picture, suffix_of
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.checks.board_map import LitMap, other_side
from bench_lamp.errors import BenchLampError

if TYPE_CHECKING:
    from bench_lamp.desktop.bundling import ProfileDesk

#: The id of a picture that is not in the profile yet.
NEW = "new"


class FreshPicture(Struct, frozen=True, kw_only=True):
    """A picture that was taken in and is not straight yet."""

    file: str
    side: Side
    corners: tuple[Pair, ...] = ()

    @property
    def picture(self) -> Picture:
        """It as a picture that can be shown."""
        return Picture(id=NEW, file=self.file, side=self.side)


class MapDesk:
    """Takes pictures in by the thread for work on profiles."""

    def __init__(
        self, own: Path | None, growing: "ProfileDesk", say: Callable[[str, str], None]
    ) -> None:
        self._own, self._growing, self._say = own, growing, say
        #: The picture whose corners are asked for; None for none.
        self.fresh: FreshPicture | None = None

    def take_file(self, path: Path, side: Side, then: Callable[[], None]) -> None:
        """Take a file in: read, decoded once to see that it can be, and kept."""
        self._take(lambda: (read_picture(path), path.name), side, then)

    def take_bytes(self, data: bytes, side: Side, then: Callable[[], None]) -> None:
        """Take a picture in that was pasted."""
        self._take(lambda: (data, "the picture"), side, then)

    def _take(
        self, read: Callable[[], tuple[bytes, str]], side: Side, then: Callable[[], None]
    ) -> None:
        own = self._own
        if own is None:
            return

        def work() -> object:
            from bench_lamp.desktop.decoding import decoded

            data, name = read()
            decoded(data, name)
            return keep_picture(data, own)

        def show(found: object) -> None:
            self.fresh = FreshPicture(file=str(found), side=side)
            then()

        self._growing.do(work, show)

    def corner(self, at: Pair, then: Callable[[str, Side], None], show: Callable[[], None]) -> None:
        """Take one corner; after the fourth the straight picture is kept, and `then` gets its file."""
        fresh, own = self.fresh, self._own
        if fresh is None or own is None or len(fresh.corners) == 4:
            return
        corners = (*fresh.corners, at)
        self.fresh = FreshPicture(file=fresh.file, side=fresh.side, corners=corners)
        show()
        if len(corners) < 4:
            return
        place = picture_place(own, fresh.file)

        def work() -> object:
            from bench_lamp.desktop.decoding import decoded, encoded, straightened

            assert place is not None
            data = read_picture(place)
            try:
                straight = straightened(decoded(data, place.name), corners)
            except BenchLampError as exc:
                # The corners are asked for again.
                return exc
            return keep_picture(encoded(straight, suffix_of(data, place.name)), own)

        def keep(found: object) -> None:
            if isinstance(found, BenchLampError):
                self.fresh = FreshPicture(file=fresh.file, side=fresh.side)
                show()
                self._say(str(found), found.hint)
                return
            self.fresh = None
            then(str(found), fresh.side)

        self._growing.do(work, keep)

    def leave(self) -> None:
        """Set the new picture aside."""
        self.fresh = None


class MapTable(Protocol):
    """What the map is described on: the workshop, as far as it is needed here."""

    @property
    def workshop_case(self) -> Case | None:
        """The kind of board on the table."""
        ...

    @property
    def hand(self) -> Hand:
        """Where the person is."""
        ...

    @property
    def is_waiting(self) -> bool:
        """Whether something is on its way to the disk."""
        ...

    def lay_out(self, draft: Mapping[str, str]) -> None:
        """Go on with these answers, and show it."""
        ...

    def learn(self, changes: Sequence[Change], draft: Mapping[str, str]) -> None:
        """Have the profile learn, then go on with these answers."""
        ...


class MapWork:
    """Describes the map of the kind in the workshop."""

    def __init__(self, table: MapTable, desk: MapDesk) -> None:
        self._table, self.desk = table, desk

    @property
    def shown(self) -> LitMap | None:
        """The picture that is on the table; None for none."""
        from bench_lamp.views.workshop.map_cards import fresh_shown, map_shown

        case = self._table.workshop_case
        if case is None or "map" not in self._table.hand.draft:
            return None
        fresh = self.desk.fresh
        if fresh is not None:
            return fresh_shown(fresh.picture, fresh.corners)
        return map_shown(case, self._table.hand.draft)

    def add(self, source: Path | bytes, side: Side | None = None) -> None:
        """Take a picture in, from a file or as it was pasted; of the side that is lacking, unless said."""
        wanted = side or self._lacking()

        def show() -> None:
            self._table.lay_out({"map": ""})

        if isinstance(source, Path):
            self.desk.take_file(source, wanted, show)
        else:
            self.desk.take_bytes(source, wanted, show)

    def _lacking(self) -> Side:
        case = self._table.workshop_case
        has_parts = case is not None and any(p.side == "parts" for p in case.profile.pictures)
        return "solder" if has_parts else "parts"

    def click(self, x: float, y: float) -> None:
        """A click on the picture: a corner of a new one, a place, or one of four common ones."""
        from bench_lamp.views.workshop.map_cards import clicked

        table, at = self._table, (x, y)
        case = table.workshop_case
        if case is None or table.is_waiting:
            return
        if self.desk.fresh is not None:
            self.desk.corner(at, self._keep, self._show)
            return
        changes, draft = clicked(case, table.hand.draft, at)
        if changes:
            table.learn(changes, draft)
        else:
            table.lay_out(draft)

    def _show(self) -> None:
        self._table.lay_out(self._table.hand.draft)

    def keep_as_it_is(self) -> None:
        """Take the new picture in as it is: it is straight already."""
        fresh = self.desk.fresh
        if fresh is not None:
            self.desk.leave()
            self._keep(fresh.file, fresh.side)

    def _keep(self, file: str, side: Side) -> None:
        from bench_lamp.views.workshop.map_cards import picture_put

        case = self._table.workshop_case
        if case is not None:
            put, name = picture_put(case.profile, file, side)
            self._table.learn((put,), {"map": name})

    def turn(self) -> None:
        """Turn the board over."""
        table = self._table
        case, draft = table.workshop_case, table.hand.draft
        picture = case.profile.picture(draft.get("map", "")) if case is not None else None
        if case is None or picture is None or "step" in draft:
            return
        other = other_side(case.profile, picture)
        if other is not None:
            table.lay_out({**draft, "map": other.id})
