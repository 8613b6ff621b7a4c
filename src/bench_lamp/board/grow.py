"""A profile that grows out of the work: each change is checked as a whole file before it is kept."""

import re
import tempfile
from collections.abc import Mapping, Sequence
from datetime import datetime
from pathlib import Path

from msgspec import Struct

from bench_lamp.board.change import Change
from bench_lamp.board.changes_log import change_words, note_change
from bench_lamp.board.library import SUFFIX, shipped_folder
from bench_lamp.board.load import MAX_BYTES, load_profile
from bench_lamp.board.profile import FORMAT, Profile
from bench_lamp.errors import BenchLampError
from bench_lamp.files import read_text, write_whole

#: Letters of the longest id that is made of a name.
_LONGEST_ID = 36


class Grown(Struct, frozen=True):
    """A profile after a change, and its text before; that is empty for a new one."""

    profile: Profile
    before: str


def new_profile_text(profile_id: str, name: str, extends: str = "") -> str:
    """Return the text of a profile that says no more than its name, and which one it starts from."""
    from bench_lamp.board.splice import scalar

    lines = (
        f"format: {FORMAT}",
        f"id: {profile_id}",
        f"name: {scalar(name)}",
        *((f"extends: {extends}",) if extends else ()),
        "grounds: {}",
        "test_points: []",
    )
    return "\n".join(lines) + "\n"


def begun(name: str, own: Path, paths: Mapping[str, Path], *, extends: str = "") -> Grown:
    """Put a profile that has only a name among the shop's own; its id is made of the name.

    Another version of a board `extends` it: all that is not said otherwise is the same.

    Raises
    ------
    BenchLampError
        When nothing of the name can be an id, or the file cannot be written.
    """
    plain = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:_LONGEST_ID].strip("-")
    if not plain:
        raise BenchLampError(
            f"“{name[:24]}” has no letter or figure", hint="Name the kind as it is printed on it."
        )
    profile_id, number = plain, 2
    while profile_id in paths or (own / f"{profile_id}{SUFFIX}").exists():
        profile_id, number = f"{plain}-{number}", number + 1
    return _kept(profile_id, new_profile_text(profile_id, name, extends), "", own, paths)


def grown(
    profile_id: str,
    changes: Sequence[Change],
    own: Path,
    paths: Mapping[str, Path],
    *,
    at: datetime | None = None,
) -> Grown:
    """Change a profile of the shop; one that ships is copied among the shop's own before.

    Parameters
    ----------
    profile_id : str
        Of a profile in `paths`.
    changes : sequence of Change
        All of them or none.
    own : Path
        Folder of the shop's own profiles.
    paths : mapping of str to Path
        Where each profile is, by id.
    at : datetime, optional
        Writes the change down as of this moment, beside the profile.

    Raises
    ------
    ProfileError
        When the profile would have errors after the change; nothing is changed then.
    BenchLampError
        When it cannot be read or written.
    """
    from bench_lamp.board.splice import changed

    if profile_id not in paths:
        raise BenchLampError(
            f"There is no profile “{profile_id}”", hint="Choose another kind for this board."
        )
    path = paths[profile_id]
    load_profile(path, parents=paths)
    text = read_text(path, most=MAX_BYTES)
    extends = "\nextends:" in f"\n{text}"
    found = _kept(profile_id, changed(text, changes, extends=extends), text, own, paths)
    if at is not None:
        note_change(own, profile_id, change_words(changes), at)
    return found


def put_back(
    profile_id: str,
    text: str,
    own: Path,
    paths: Mapping[str, Path],
    *,
    is_redo: bool = False,
    at: datetime | None = None,
) -> Grown:
    """Give a profile the text that it had before, or once more the one after; raises as `grown`."""
    before = read_text(paths[profile_id], most=MAX_BYTES)
    found = _kept(profile_id, text, before, own, paths)
    if at is not None:
        words = "the same once more" if is_redo else "the last change taken back"
        note_change(own, profile_id, words, at)
    return found


def _kept(profile_id: str, text: str, before: str, own: Path, paths: Mapping[str, Path]) -> Grown:
    """Load the text as the file that it will be; only what loads is written."""
    with tempfile.TemporaryDirectory(prefix="bench-lamp-") as folder:
        tried = Path(folder) / f"{profile_id}{SUFFIX}"
        tried.write_text(text, encoding="utf-8")
        shipped = shipped_folder() / tried.name
        others = {k: p for k, p in paths.items() if k != profile_id or p == shipped}
        profile = load_profile(tried, parents=others)
    own.mkdir(parents=True, exist_ok=True)
    write_whole(own / tried.name, lambda place: place.write_text(text, encoding="utf-8"))
    return Grown(profile, before)
