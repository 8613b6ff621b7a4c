"""Image files: plain binary, Intel HEX or S-record, bounded in size, read and never written."""

from pathlib import Path

from bench_lamp.errors import BenchLampError

#: Largest image, and largest text file that holds one.
MOST_BYTES, MOST_TEXT = 16 * 1024 * 1024, 64 * 1024 * 1024
#: Beyond this, an image that starts far up in the address space is not padded from 0.
BASE_ROUND = 0x100


class ImageError(BenchLampError):
    """A file that is no image, or too large for one."""


def read_image(path: Path) -> bytes:
    """Return the bytes of an image file; gaps are filled with FF, as an erased part reads.

    Raises
    ------
    ImageError
        When it cannot be read, is empty, is larger than `MOST_BYTES`, or a record is bad.
    """
    try:
        size = path.stat().st_size
        if size > MOST_TEXT:
            raise ImageError(
                f"{path.name} has {size / 1e6:.0f} MB", hint="Images of up to 16 MiB are read."
            )
        raw = path.read_bytes()
    except OSError as exc:
        raise ImageError(f"{path.name} cannot be read", hint=str(exc)) from exc
    if not raw:
        raise ImageError(f"{path.name} is empty", hint="Read the part out again.")
    data = _from_records(raw, path.name) if _is_records(raw) else raw
    if len(data) > MOST_BYTES:
        raise ImageError(
            f"{path.name} holds {len(data)} bytes", hint="Images of up to 16 MiB are read."
        )
    return data


def _is_records(raw: bytes) -> bool:
    """Whether it begins like Intel HEX or S-record, and is text."""
    head = raw[:512].lstrip()
    is_marked = head[:1] == b":" or (head[:1] == b"S" and head[1:2] in b"0123")
    return is_marked and all(c in b"0123456789ABCDEFabcdefS:\r\n \t" for c in head)


def _from_records(raw: bytes, name: str) -> bytes:
    import bincopy

    records = bincopy.BinFile()
    try:
        records.add(raw.decode("ascii"))
        low, high = records.minimum_address, records.maximum_address
        if low is None or high is None:
            raise ImageError(f"{name} holds no data", hint="Its records name no byte.")
        start = low - low % BASE_ROUND
        if high - start > MOST_BYTES:
            raise ImageError(
                f"{name} spans {high - start} bytes",
                hint="Its addresses lie too far apart for one part.",
            )
        return bytes(records.as_binary(minimum_address=start, padding=b"\xff"))
    except (bincopy.Error, UnicodeDecodeError, ValueError) as exc:
        raise ImageError(
            f"{name}: {str(exc)[:120]}", hint="A record is damaged; export it again."
        ) from exc
