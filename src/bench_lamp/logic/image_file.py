"""Image files: plain binary, Intel HEX or S-record, bounded in size, read and never written."""

from pathlib import Path

from bench_lamp.errors import BenchLampError
from bench_lamp.files import Progress, read_bytes, shown_name
from bench_lamp.files.opening import go_on

#: Largest image, and largest text file that holds one.
MOST_BYTES, MOST_TEXT = 16 * 1024 * 1024, 64 * 1024 * 1024
#: Beyond this, an image that starts far up in the address space is not padded from 0.
BASE_ROUND = 0x100


#: Places where the addresses may jump; a part that is read out has a handful.
MOST_GAPS = 2000
#: Digits of the address, by the kind of S-record.
_S_DIGITS = {b"S1": 4, b"S2": 6, b"S3": 8}


class ImageError(BenchLampError):
    """A file that is no image, or too large for one."""


def read_image(path: Path, *, progress: Progress = go_on) -> bytes:
    """Return the bytes of an image file; gaps are filled with FF, as an erased part reads.

    Raises
    ------
    FileError
        When it cannot be read, or is no regular file of at most `MOST_TEXT`.
    ImageError
        When it is empty, is larger than `MOST_BYTES`, has too many gaps, or a record is bad.
    StoppedError
        When `progress` says so.
    """
    raw = read_bytes(path, most=MOST_TEXT, progress=progress)
    if not raw:
        raise ImageError(f"{shown_name(path)} is empty", hint="Read the part out again.")
    data = _from_records(raw, shown_name(path)) if _is_records(raw) else raw
    if len(data) > MOST_BYTES:
        raise ImageError(
            f"{shown_name(path)} holds {len(data)} bytes", hint="Images of up to 16 MiB are read."
        )
    return data


def _is_records(raw: bytes) -> bool:
    """Whether it begins like Intel HEX or S-record, and is text."""
    head = raw[:512].lstrip()
    is_marked = head[:1] == b":" or (head[:1] == b"S" and head[1:2] in b"0123")
    return is_marked and all(c in b"0123456789ABCDEFabcdefS:\r\n \t" for c in head)


def _refuse_gaps(raw: bytes, name: str) -> None:
    """Refuse records that jump about: the library sorts each new piece in, which takes for ever."""
    jumps, wanted = 0, -1
    for line in raw.split(b"\n"):
        try:
            found = _count_and_address(line.strip())
        except ValueError:
            # Not ours to judge: the library names the record.
            continue
        if found is None:
            # Where an offset says so the next one stands elsewhere, whatever its own digits are.
            wanted = -1
            continue
        count, address = found
        jumps += address != wanted
        wanted = address + count
    if jumps > MOST_GAPS:
        raise ImageError(
            f"{name} has {jumps} gaps between its records",
            hint="It is not a read-out of one part; export it again in the order of the addresses.",
        )


def _count_and_address(record: bytes) -> tuple[int, int] | None:
    """Return how many bytes of data a record holds, and where they go; None for no data."""
    if record[:1] == b":" and record[7:9] == b"00":
        return int(record[1:3], 16), int(record[3:7], 16)
    if record[:2] in _S_DIGITS:
        digits = _S_DIGITS[record[:2]]
        return int(record[2:4], 16) - digits // 2 - 1, int(record[4 : 4 + digits], 16)
    return None


def _from_records(raw: bytes, name: str) -> bytes:
    import bincopy

    _refuse_gaps(raw, name)
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
