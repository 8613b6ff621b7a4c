"""The folder of pictures: a picture is kept under its sum, and never changed."""

import hashlib
from collections.abc import Sequence
from pathlib import Path

from bench_lamp.errors import BenchLampError
from bench_lamp.files import read_bytes, write_whole

#: Bytes and pixels of the largest picture, and of its longer side.
MOST_BYTES, MOST_PIXELS, MOST_SIDE = 60_000_000, 50_000_000, 16_000
_SUM_LETTERS = 24
#: What each kind begins with.
_MAGIC: tuple[tuple[bytes, str], ...] = (
    (b"\x89PNG\r\n\x1a\n", ".png"),
    (b"\xff\xd8\xff", ".jpg"),
    (b"RIFF", ".webp"),
)


class PictureError(BenchLampError):
    """A picture that cannot be taken, with the mend."""


def shipped_pictures() -> Path:
    """Return the folder of the pictures that come with the program."""
    return Path(__file__).parents[1] / "resources" / "boards" / "pictures"


def picture_place(own: Path | None, file: str, others: Sequence[Path] = ()) -> Path | None:
    """Return where a picture's file is: the shop's own, in another folder, or shipped; None for none."""
    homes = [folder / "pictures" for folder in (own, *others) if folder is not None]
    for folder in (*homes, shipped_pictures()):
        if (folder / file).is_file():
            return folder / file
    return None


def suffix_of(data: bytes, name: str) -> str:
    """Return the suffix of a picture by what it begins with; raise `PictureError` for another file."""
    for magic, suffix in _MAGIC:
        is_webp = suffix != ".webp" or data[8:12] == b"WEBP"
        if data.startswith(magic) and is_webp:
            return suffix
    raise PictureError(f"{name} is no picture", hint="PNG, JPEG and WebP are read.")


def refuse_half(data: bytes, name: str) -> None:
    """Raise `PictureError` for a file that ends before its picture does, as after a broken copy.

    PNG ends with its IEND chunk, JPEG with an end-of-image marker after its last scan begins (a
    preview inside it has one of its own), and WebP says its length at the front.
    """
    suffix = suffix_of(data, name)
    is_whole = {
        ".png": data.rfind(b"IEND") > 0,
        ".jpg": data.rfind(b"\xff\xd9") > data.rfind(b"\xff\xda"),
        ".webp": len(data) >= 8 + int.from_bytes(data[4:8], "little"),
    }[suffix]
    if not is_whole:
        raise PictureError(f"{name} is damaged: it ends in the middle", hint="Copy it anew.")


def refuse_size(width: int, height: int, name: str) -> None:
    """Raise `PictureError` for a picture of no size, or of more pixels than are decoded."""
    if width < 16 or height < 16:
        raise PictureError(f"{name} has {width} × {height} pixels", hint="Take a larger picture.")
    if width * height > MOST_PIXELS or max(width, height) > MOST_SIDE:
        raise PictureError(
            f"{name} has {width * height / 1e6:.0f} million pixels",
            hint=f"Up to {MOST_PIXELS / 1e6:.0f} million are taken; scale it down.",
        )


def read_picture(path: Path) -> bytes:
    """Return a picture's bytes; raise `FileError` or `PictureError` for what is none."""
    data = read_bytes(path, most=MOST_BYTES)
    suffix_of(data, path.name)
    return data


def keep_picture(data: bytes, own: Path) -> str:
    """Keep a picture under its sum; return the name of its file.

    Raises
    ------
    BenchLampError
        When it is no picture, or cannot be written.
    """
    suffix = suffix_of(data, "This")
    name = f"{hashlib.sha256(data).hexdigest()[:_SUM_LETTERS]}{suffix}"
    folder = own / "pictures"
    folder.mkdir(parents=True, exist_ok=True)
    if not (folder / name).exists():
        write_whole(folder / name, lambda place: place.write_bytes(data))
    return name
