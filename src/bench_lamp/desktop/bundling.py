"""Profiles that come and go: a look inside a bundle, taking it in, and saving one's own."""

from collections.abc import Callable, Mapping, Sequence
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING, Protocol

from bench_lamp.board import Profile, ProfileLibrary
from bench_lamp.board.change import Change
from bench_lamp.board.changes_log import changes_of
from bench_lamp.board.pictures import picture_place
from bench_lamp.errors import BenchLampError
from bench_lamp.files import read_text, write_whole

if TYPE_CHECKING:
    from bench_lamp.views.workshop.bundle_cards import LookedIn

#: Bytes of the largest table or netlist that is read.
MOST_TEXT = 5_000_000
#: Says something to whoever is at the window: what, and more of it.
Say = Callable[[str, str], None]


class ProfileDesk(Protocol):
    """What has work on profiles done, and takes what came of it."""

    def do(self, work: Callable[[], object], then: Callable[[object], None]) -> None:
        """Have a piece of work done in its thread; `then` gets what came of it."""
        ...

    def change(
        self, profile_id: str, changes: Sequence[Change], then: Callable[[str], None]
    ) -> None:
        """Change a profile; `then` gets its id."""
        ...

    def take(self, profile: Profile) -> None:
        """Take a profile that is on disk."""
        ...


class Bundling:
    """Has bundles opened and packed by the thread for work on profiles."""

    def __init__(self, library: ProfileLibrary, growing: ProfileDesk, say: Say) -> None:
        self._library, self._growing, self._say = library, growing, say
        #: The bundle that is looked into; None for none.
        self.looked: LookedIn | None = None

    def look(self, path: Path, then: Callable[[], None]) -> None:
        """Look into a bundle; `then` when that is done."""
        library, paths = self._library, self._library.paths()

        def work() -> object:
            from bench_lamp.board.bundle import look_inside
            from bench_lamp.board.taking_in import differences

            bundle = look_inside(path)
            return bundle, differences(bundle.texts, paths)

        def show(found: object) -> None:
            from bench_lamp.views.workshop.bundle_cards import LookedIn

            assert isinstance(found, tuple)
            bundle, lines = found
            self.looked = LookedIn(bundle, lines, library.get(bundle.profile.id))
            then()

        self._growing.do(work, show)

    def adopt(self, path: Path, then: Callable[[str, str], None]) -> None:
        """Take a profile among the shop's own; `then` gets its id, and what was done or wrong."""
        own = self._library.own
        if own is None:
            return

        def work() -> object:
            from bench_lamp.board.adopt import adopt

            try:
                return adopt(path, own)
            except BenchLampError as exc:
                # Said over the whole window, wherever one is by then.
                return exc

        def taken(found: object) -> None:
            if isinstance(found, BenchLampError):
                then("", f"{found}. {found.hint}")
                return
            assert isinstance(found, tuple)
            profile, done = found
            # One of the same name that was here already is kept.
            if self._library.get(profile.id) is None:
                self._growing.take(profile)
            then(profile.id, f"{done}." if done else "")

        self._growing.do(work, taken)

    def take(self, how: str, then: Callable[[str], None]) -> None:
        """Take the bundle in: beside what is here, or its practice into mine; `then` gets the id."""
        looked, own = self.looked, self._library.own
        if looked is None or own is None:
            return
        self.looked = None
        if how == "blend" and looked.mine is not None:
            from bench_lamp.board.taking_in import blended

            self._growing.change(looked.mine.id, blended(looked.mine, looked.bundle.profile), then)
        elif how == "beside":
            self._growing.do(lambda: _beside(looked, own, self._library.paths()), self._taken(then))
        else:
            then("")

    def _taken(self, then: Callable[[str], None]) -> Callable[[object], None]:
        def take(found: object) -> None:
            profile_id = str(found)
            profile = self._library.get(profile_id)
            if profile is not None:
                self._growing.take(profile)
            then(profile_id)

        return take

    def read_text(self, path: Path, then: Callable[[str], None]) -> None:
        """Read a table, parts list or netlist from a file; `then` gets its text."""
        self._growing.do(lambda: read_text(path, most=MOST_TEXT), lambda text: then(str(text)))

    def save(self, profile_id: str, text: str, at: datetime) -> None:
        """Pack a profile with its maker and licence, as they were said: `name, licence`."""
        own, paths = self._library.own, self._library.paths()
        if own is None:
            return
        target = own.parent / "bundles" / f"{profile_id}.benchboard"
        made_by, _, licence = text.partition(",")
        profile = self._library.get(profile_id)
        files = {p.file: picture_place(own, p.file) for p in (profile.pictures if profile else ())}
        pictures = {name: place for name, place in files.items() if place is not None}

        def work() -> object:
            from bench_lamp.board.bundle import write_bundle

            target.parent.mkdir(parents=True, exist_ok=True)
            write_bundle(
                target,
                profile_id,
                paths,
                made_by=made_by.strip(),
                licence=licence.strip(),
                at=at,
                pictures=pictures,
                history=changes_of(own, profile_id),
            )
            return target

        self._growing.do(work, lambda place: self._say("Saved", str(place)))

    def export(self, profile_id: str) -> None:
        """Write a profile's power tree as SPICE text."""
        own, profile = self._library.own, self._library.get(profile_id)
        if own is None or profile is None:
            return
        target = own.parent / "exports" / f"{profile_id}.cir"

        def work() -> object:
            from bench_lamp.report.spice import spice_text

            target.parent.mkdir(parents=True, exist_ok=True)
            text = spice_text(profile)
            write_whole(target, lambda place: place.write_text(text, encoding="ascii"))
            return target

        self._growing.do(work, lambda place: self._say("Saved", str(place)))


def _beside(looked: "LookedIn", own: Path, paths: Mapping[str, Path]) -> str:
    from bench_lamp.board.taking_in import put_beside

    bundle = looked.bundle
    return put_beside(bundle.profile.id, bundle.texts, own, paths, bundle.pictures)
