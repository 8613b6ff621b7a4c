"""Writing a file whole or not at all: what stood there before is kept until the new one is checked."""

import os
from collections.abc import Callable
from contextlib import suppress
from datetime import datetime
from pathlib import Path

from bench_lamp.errors import BenchLampError
from bench_lamp.files.opening import shown_name


def write_whole(
    path: Path,
    make: Callable[[Path], object],
    *,
    check: Callable[[Path], str] = lambda _: "",
    keep: Callable[[Path], None] = lambda _: None,
) -> None:
    """Have a file made beside its place, check it, and put it there in one step.

    Parameters
    ----------
    path : Path
        Where it goes. A link there is replaced, never followed.
    make : callable
        Writes the file it is given.
    check : callable
        Says what is wrong with the file that was made; empty for nothing.
    keep : callable
        Gives what stands at `path` another name, once the new file is sound.

    Raises
    ------
    BenchLampError
        When it cannot be written or is not as it should be; what stood at `path` is unchanged.
    """
    beside = path.with_name(f".{os.urandom(6).hex()}{path.suffix}")
    try:
        # Made here, and by nobody else: a link that waits under this name is refused.
        os.close(os.open(beside, os.O_CREAT | os.O_EXCL | os.O_WRONLY | os.O_NOFOLLOW, 0o666))
        make(beside)
        wrong = "it came out empty" if not beside.stat().st_size else check(beside)
        if wrong:
            raise BenchLampError(
                f"{shown_name(path)} was not written: {wrong}",
                hint="Make room on the disk, or choose another folder.",
            )
        _to_disk(beside)
        keep(path)
        beside.replace(path)
    except OSError as exc:
        raise BenchLampError(
            f"{shown_name(path)} was not written: {exc.strerror}",
            hint="Make room on the disk, or choose another folder.",
        ) from exc
    finally:
        with suppress(OSError):
            beside.unlink(missing_ok=True)


def _to_disk(path: Path) -> None:
    descriptor = os.open(path, os.O_RDONLY)
    try:
        os.fsync(descriptor)
    finally:
        os.close(descriptor)


def keep_by_date(path: Path) -> None:
    """Give the file that is there the name of its date; a link is not one of ours, and gives way."""
    if path.is_symlink() or not path.is_file():
        return
    day = datetime.fromtimestamp(path.stat().st_mtime).astimezone().strftime("%Y-%m-%d %H%M%S")
    kept = path.with_name(f"{path.stem} {day}{path.suffix}")
    number = 2
    while kept.exists() or kept.is_symlink():
        kept = path.with_name(f"{path.stem} {day} ({number}){path.suffix}")
        number += 1
    path.rename(kept)
