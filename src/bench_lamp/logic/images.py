"""ROM images judged: sums against the profile's list, and what a difference looks like."""

import hashlib
import zlib
from typing import TYPE_CHECKING, Literal

from msgspec import Struct

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    Bytes = NDArray[np.uint8]

ImageWord = Literal["good", "wrong", "not known"]
#: Bytes that are compared before a whole image is, to see soon that two halves differ.
PEEK = 4096
#: Largest image whose address lines are tried crossed: 136 pairs of them.
MOST_CROSSED = 1 << 17


class Wanted(Struct, frozen=True, kw_only=True):
    """What an image should be."""

    #: In bytes.
    size: int
    #: Eight and forty hex digits; empty where the profile does not know.
    crc32: str = ""
    sha1: str = ""
    #: The image itself, where it is at hand.
    data: bytes = b""


class ImageVerdict(Struct, frozen=True, kw_only=True):
    """What one image is, and how it differs."""

    word: ImageWord
    size: int
    crc32: str
    sha1: str
    #: The differences, the most telling first.
    notes: tuple[str, ...] = ()


def judge_image(data: bytes, wanted: Wanted) -> ImageVerdict:
    """Judge an image by its sums, and describe the difference if there is one.

    Parameters
    ----------
    data : bytes
        What was read out; of any length, empty too.
    wanted : Wanted
        Size, sums and perhaps the bytes that it should have.

    Notes
    -----
    CRC-32 as in ISO 3309 (zlib), SHA-1 as in FIPS 180-4. An address line that is stuck makes
    the image repeat itself with the period of that line; a stuck data line makes one bit
    constant; swapped halves give the right sum once they are swapped back.

    Examples
    --------
    >>> judge_image(b"123456789", Wanted(size=9, crc32="cbf43926")).word
    'good'
    """
    crc, sha = sums(data)
    known = [(wanted.crc32.lower(), crc), (wanted.sha1.lower(), sha)]
    compared = [(want, have) for want, have in known if want]
    is_good = bool(compared) and all(want == have for want, have in compared)
    if is_good and len(data) == wanted.size:
        return ImageVerdict(word="good", size=len(data), crc32=crc, sha1=sha)
    notes = describe(data, wanted)
    word: ImageWord = "wrong" if compared or len(data) != wanted.size else "not known"
    notes = notes or (("its sums are in no list",) if word == "not known" else ())
    if word == "wrong" and not notes:
        notes = ("the sums differ; of the right size, and no pattern in it",)
    return ImageVerdict(word=word, size=len(data), crc32=crc, sha1=sha, notes=notes)


def sums(data: bytes) -> tuple[str, str]:
    """Return CRC-32 and SHA-1, as hex digits."""
    return f"{zlib.crc32(data):08x}", hashlib.sha1(data, usedforsecurity=False).hexdigest()


def describe(data: bytes, wanted: Wanted) -> tuple[str, ...]:
    """Return what is odd about an image, the most telling first; empty for nothing."""
    import numpy as np

    if not data:
        return ("the file is empty",)
    array = np.frombuffer(data, dtype=np.uint8)
    notes = [*_blank(array)] or [*_swapped(data, wanted), *_repeats(array), *_constant_bits(array)]
    if len(data) != wanted.size:
        notes.append(_size_note(len(data), wanted.size))
    elif wanted.data and not any(
        "halves" in n or "in each pair" in n or "crossed" in n for n in notes
    ):
        notes += _differing(array, np.frombuffer(wanted.data, dtype=np.uint8))
    return tuple(notes)


def _size_note(have: int, want: int) -> str:
    if have and want % have == 0:
        return f"only {have} of {want} bytes: read as a smaller part, 1/{want // have} of it"
    if want and have % want == 0:
        return f"{have} bytes, {want} wanted: read as a larger part, {have // want} times over"
    return f"{have} bytes, {want} wanted"


def _blank(array: "Bytes") -> list[str]:
    first = int(array[0])
    if not (array == first).all():
        return []
    words = {0xFF: "all one (FF): erased, no power to the part, or not selected", 0: "all zero"}
    return [words.get(first, f"every byte is {first:02X}: the data lines never move")]


def _repeats(array: "Bytes") -> list[str]:
    """Find address lines that make no difference: with a line stuck, both halves are the same."""
    size = len(array)
    found = []
    for line in range(size.bit_length() - 1):
        step = 1 << line
        if size % (2 * step):
            break
        rows = array.reshape(-1, 2, step)
        peek = rows[: max(PEEK // step, 1), :, :PEEK]
        if (peek[:, 0] == peek[:, 1]).all() and (rows[:, 0] == rows[:, 1]).all():
            found.append(line)
    if not found:
        return []
    if found == [size.bit_length() - 2]:
        return [
            f"both halves are the same: address line A{found[0]} stuck, or a part of half the size"
        ]
    names = ", ".join(f"A{line}" for line in found)
    return [
        f"address line{'s' if len(found) > 1 else ''} {names} make{'' if len(found) > 1 else 's'} "
        "no difference: stuck, or not connected"
    ]


def _constant_bits(array: "Bytes") -> list[str]:
    import numpy as np

    ones, zeros = int(np.bitwise_and.reduce(array)), int(np.bitwise_or.reduce(array))
    high = [f"D{i}" for i in range(8) if ones >> i & 1]
    low = [f"D{i}" for i in range(8) if not zeros >> i & 1]
    notes = [f"{', '.join(high)} always 1: stuck high"] if high else []
    return notes + ([f"{', '.join(low)} always 0: stuck low"] if low else [])


def _swapped(data: bytes, wanted: Wanted) -> list[str]:
    """Try the usual mix-ups: right once put right."""
    if len(data) != wanted.size or not wanted.crc32 or len(data) % 2:
        return []
    half = len(data) // 2
    want = wanted.crc32.lower()
    if f"{zlib.crc32(data[half:] + data[:half]):08x}" == want:
        return [
            "its halves are swapped: the highest address line is inverted, or wired the other way"
        ]
    pairs = bytearray(len(data))
    pairs[::2], pairs[1::2] = data[1::2], data[::2]
    if f"{zlib.crc32(bytes(pairs)):08x}" == want:
        return ["the two bytes in each pair are swapped: even and odd part swapped"]
    return _crossed_lines(data, want)


def _crossed_lines(data: bytes, want: str) -> list[str]:
    """Try two address lines in each other's place, each pair of them."""
    import numpy as np

    size = len(data)
    if size & (size - 1) or size > MOST_CROSSED:
        return []
    array, places = np.frombuffer(data, dtype=np.uint8), np.arange(size)
    for high in range(1, size.bit_length() - 1):
        for low in range(high):
            unlike = (places >> low ^ places >> high) & 1
            put_right = array[places ^ unlike * (1 << low | 1 << high)]
            if f"{zlib.crc32(put_right.tobytes()):08x}" == want:
                return [f"address lines A{low} and A{high} are crossed"]
    return []


def _differing(array: "Bytes", right: "Bytes") -> list[str]:
    import numpy as np

    if len(array) != len(right):
        return []
    unlike = array ^ right
    places = np.flatnonzero(unlike)
    if not places.size:
        return []
    bits = int(np.bitwise_or.reduce(unlike))
    where = f"{places.size} byte{'s' if places.size > 1 else ''} differ{'s' if places.size == 1 else ''}"
    line = f", all in {_bit_names(bits)}" if bits.bit_count() <= 2 else ""
    fallen = np.count_nonzero(right[places] & ~array[places] & 0xFF)
    risen = np.count_nonzero(array[places] & ~right[places] & 0xFF)
    way = (
        "; ones only lost"
        if not risen
        else "; zeros only lost, as a fading part does"
        if not fallen
        else ""
    )
    return [f"{where}, the first at {places[0]:04X}{line}{way}"]


def _bit_names(bits: int) -> str:
    return " and ".join(f"D{i}" for i in range(8) if bits >> i & 1)
