"""Taking a profile that somebody sent among the shop's own; one of the same name is never replaced."""

from pathlib import Path

from bench_lamp.board.library import SUFFIX, ProfileLibrary
from bench_lamp.board.load import MAX_BYTES, load_profile
from bench_lamp.board.profile import Profile
from bench_lamp.files import read_bytes, write_whole


def adopt(path: Path, own: Path) -> tuple[Profile, str]:
    """Put a profile among the shop's own; return it, and what was done.

    Raises
    ------
    ProfileError
        When it has errors; nothing is changed then.
    BenchLampError
        When it cannot be copied.
    """
    parents = {**ProfileLibrary(own=own).paths(), **ProfileLibrary(own=path.parent).paths()}
    profile = load_profile(path, parents=parents)
    target = own / f"{profile.id}{SUFFIX}"
    raw = read_bytes(path, most=MAX_BYTES)
    if target.exists() or target.is_symlink():
        is_same = target.is_file() and read_bytes(target, most=MAX_BYTES) == raw
        kept = "" if is_same else f"{target.name} of your profiles is another one, and was kept"
        return profile, kept
    own.mkdir(parents=True, exist_ok=True)
    write_whole(target, lambda place: place.write_bytes(raw))
    return profile, f"{target.name} is among your profiles now"
