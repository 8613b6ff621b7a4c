"""The library: profiles that ship, and the shop's own in its data folder."""

import json
import os
import zlib
from collections.abc import Mapping, Set
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from bench_lamp.board.load import MAX_BYTES, ProfileError, load_profile
from bench_lamp.board.profile import Profile
from bench_lamp.errors import BenchLampError
from bench_lamp.files import FileError, listed, read_bytes, read_text, shown_name
from bench_lamp.units.plain import from_plain, to_plain

SUFFIX = ".board.yaml"
#: Names other folders of profiles, and how many at most.
FOLDERS, MOST_FOLDERS = "folders.txt", 20
#: Profiles in one folder, and bytes of the compiled ones.
MOST_PROFILES, MOST_CACHE = 2000, 64_000_000
#: Modules whose change makes compiled profiles void.
MODELS = (
    "profile",
    "blocks",
    "hardware",
    "chips",
    "self_tests",
    "trims",
    "written",
    "hazards",
    "map",
)


def shipped_folder() -> Path:
    """Return the folder of the profiles that come with the program."""
    return Path(__file__).parents[1] / "resources" / "boards"


@dataclass(slots=True)
class ProfileLibrary:
    """Finds profiles by id; a shop's own file wins over a shipped one of that name.

    Reading YAML costs a quarter of a second, so each good profile is kept in
    compiled form beside the caches, under the sum of the files it came from.
    """

    own: Path | None = None
    #: Where compiled profiles go; None keeps none.
    cache: Path | None = None
    #: Whether the made-up kinds that ship are offered for a new job unasked.
    offers_shipped: bool = True
    #: What could not be loaded, by file name.
    broken: dict[str, ProfileError] = field(default_factory=dict)
    #: Ids of broken own profiles that a shipped one stands in for.
    standing_in: set[str] = field(default_factory=set)
    #: Broken files as they were when they were read, and what was wrong with them.
    _failed: dict[Path, tuple[tuple[int, ...], ProfileError]] = field(default_factory=dict)
    _loaded: dict[str, Profile] = field(default_factory=dict)
    _kept: tuple[Path, dict[str, Profile]] | None = None

    def paths(self) -> Mapping[str, Path]:
        """Return the profile files by id, which is the file name's stem."""
        found = {path.name.removesuffix(SUFFIX): path for path in _profiles_in(shipped_folder())}
        # The first folder wins over the next, and the shop's own over all.
        for folder in (*reversed(self.shared()), *((self.own,) if self.own is not None else ())):
            try:
                inside = _profiles_in(folder)
            except FileError as exc:
                self.broken[shown_name(folder)] = ProfileError(f"{exc}. {exc.hint}")
                continue
            found |= {path.name.removesuffix(SUFFIX): path for path in inside}
        return found

    def shared(self) -> tuple[Path, ...]:
        """Return the other folders of profiles, in their order: one a line in `folders.txt` of the own one.

        Such as one that several benches share, or one under version control; they are only read.
        """
        if self.own is None or not (self.own / FOLDERS).exists():
            return ()
        try:
            lines = read_text(self.own / FOLDERS, most=MAX_BYTES).splitlines()
        except FileError as exc:
            self.broken[FOLDERS] = ProfileError(f"{exc}. {exc.hint}")
            return ()
        named = (line.strip() for line in lines if line.strip() and not line.startswith("#"))
        folders = tuple(self.own / Path(name).expanduser() for name in named)[:MOST_FOLDERS]
        for folder in folders:
            if not folder.is_dir():
                words = f"“{folder}” of {FOLDERS} is no folder"
                self.broken[shown_name(folder)] = ProfileError(words, hint="Mend the line.")
        return folders

    def get(self, profile_id: str) -> Profile | None:
        """Return a profile, or None when there is none or it is broken (see `broken`)."""
        if profile_id in self._loaded:
            return self._loaded[profile_id]
        paths = self.paths()
        if profile_id not in paths:
            return None
        path = paths[profile_id]
        try:
            self._raise_known(path)
            profile = self._compiled(paths).get(profile_id) or self._load(profile_id, paths)
        except ProfileError as exc:
            self._failed[path] = _signature(path), exc
            self.broken[shown_name(path)] = exc
            stand_in = self._stand_in(profile_id, paths)
            if stand_in is None:
                return None
            profile = stand_in
        self._loaded[profile_id] = profile
        return profile

    def _raise_known(self, path: Path) -> None:
        """Raise what was wrong with a file before, as long as it was not touched."""
        signature, error = self._failed.get(path, ((), None))
        if error is not None and signature == _signature(path):
            raise error

    def _stand_in(self, profile_id: str, paths: Mapping[str, Path]) -> Profile | None:
        """Return the shipped profile of the same name as one that is broken; it is not kept as if it were good."""
        shipped = shipped_folder() / f"{profile_id}{SUFFIX}"
        if not shipped.exists() or shipped == paths[profile_id]:
            return None
        self.standing_in.add(profile_id)
        return load_profile(shipped, parents={**paths, profile_id: shipped})

    def notes(self) -> tuple[str, ...]:
        """Say which profiles have errors, the first of each, and what stands in for it."""
        found = []
        for name, error in sorted(self.broken.items()):
            count = len(error.problems) or 1
            first = str(error.problems[0] if error.problems else error)
            profile_id = name.removesuffix(SUFFIX)
            instead = " The shipped one stands in." if profile_id in self.standing_in else ""
            found.append(
                f"{name} has {count} error{'s' if count > 1 else ''}.{instead} First: {first}. "
                f"All of them: bench-lamp check {name}"
            )
        return tuple(found)

    def take(self, profile: Profile) -> None:
        """Take a profile that was just written in place of the one that was known.

        Those that extend another are read anew when they are next wanted.
        """
        self._loaded = {k: p for k, p in self._loaded.items() if not p.extends}
        self._loaded[profile.id] = profile
        name = f"{profile.id}{SUFFIX}"
        self.broken.pop(name, None)
        self.standing_in.discard(profile.id)
        self._kept = None

    def offered(self, *, ships: bool, known: Set[str] = frozenset()) -> tuple[Profile, ...]:
        """Return the profiles to choose from: the shop's own, those that ship if wanted, and known ones."""
        paths = self.paths()
        is_shipped = {k for k, path in paths.items() if path.parent == shipped_folder()}
        wanted = set(paths) if ships or self.offers_shipped else set(paths) - is_shipped
        found = (self.get(profile_id) for profile_id in wanted | (set(paths) & known))
        return tuple(sorted((p for p in found if p), key=lambda p: p.name))

    def all(self) -> tuple[Profile, ...]:
        """Return every usable profile, by name."""
        found = (self.get(profile_id) for profile_id in self.paths())
        return tuple(sorted((p for p in found if p), key=lambda p: p.name))

    def _load(self, profile_id: str, paths: Mapping[str, Path]) -> Profile:
        profile = load_profile(paths[profile_id], parents=paths)
        if profile.id != profile_id:
            paths_line = f"{paths[profile_id].name} holds the id “{profile.id}”"
            raise ProfileError(paths_line, hint=f"Name the file {profile.id}{SUFFIX}.")
        self._keep(profile, paths)
        return profile

    def _compiled(self, paths: Mapping[str, Path]) -> dict[str, Profile]:
        place = self._cache_file(paths)
        if place is None:
            return {}
        if self._kept is None or self._kept[0] != place:
            self._kept = place, _read_compiled(place)
        return self._kept[1]

    def _keep(self, profile: Profile, paths: Mapping[str, Path]) -> None:
        """Add a profile to the compiled ones; a cache that cannot be written is no loss."""
        place = self._cache_file(paths)
        if place is None:
            return
        known = {**self._compiled(paths), profile.id: profile}
        temporary = place.with_suffix(f".{os.getpid()}")
        try:
            place.parent.mkdir(parents=True, exist_ok=True)
            temporary.write_text(json.dumps({k: to_plain(p) for k, p in known.items()}))
            temporary.replace(place)
        except OSError:
            return
        self._kept = place, known

    def _cache_file(self, paths: Mapping[str, Path]) -> Path | None:
        if self.cache is None:
            return None
        models = (Path(__file__).with_name(f"{name}.py") for name in MODELS)
        # Two sums that are cheap to load; this names a file of our own, and proves nothing.
        crc, adler = 0, 1
        for path in sorted([*paths.values(), *models]):
            try:
                data = read_bytes(path, most=MAX_BYTES)
            except FileError as exc:
                data = str(exc).encode("utf-8", "replace")
            crc, adler = zlib.crc32(data, crc), zlib.adler32(data, adler)
        return self.cache / f"profiles-{crc:08x}{adler:08x}.json"


def _read_compiled(place: Path) -> dict[str, Profile]:
    """Read compiled profiles; what cannot be read is made again from the files."""
    try:
        data: dict[str, Any] = json.loads(read_bytes(place, most=MOST_CACHE))
        return {key: from_plain(Profile, value) for key, value in data.items()}
    except (ValueError, TypeError, AttributeError, RecursionError, BenchLampError):
        return {}


def _signature(path: Path) -> tuple[int, ...]:
    try:
        found = path.stat()
    except OSError:
        return ()
    return found.st_ino, found.st_size, found.st_mtime_ns


def _profiles_in(folder: Path) -> tuple[Path, ...]:
    return listed(folder, SUFFIX, most=MOST_PROFILES)
