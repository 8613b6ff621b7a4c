"""Images in two files, or two images in one: joined, or parted, in every way that is usual."""

from collections.abc import Iterator


def interleave(even: bytes, odd: bytes) -> bytes:
    """Return a pair of byte-wide images as the processor sees them: even, odd, even …

    Raises
    ------
    ValueError
        When the two are not of one length.

    >>> interleave(b"ac", b"bd")
    b'abcd'
    """
    if len(even) != len(odd):
        raise ValueError(f"{len(even)} and {len(odd)} bytes do not pair")
    both = bytearray(2 * len(even))
    both[::2], both[1::2] = even, odd
    return bytes(both)


def joins(first: bytes, second: bytes) -> Iterator[tuple[str, bytes]]:
    """Yield how two files may make one image, and the image; byte by byte where they pair.

    >>> [data for _, data in joins(b"ac", b"bd")]
    [b'acbd', b'bdac', b'abcd', b'badc']
    """
    yield "end to end", first + second
    yield "end to end, the second first", second + first
    if len(first) == len(second):
        yield "byte by byte in turn", interleave(first, second)
        yield "byte by byte, the second first", interleave(second, first)


def parts(data: bytes) -> Iterator[tuple[str, bytes, bytes]]:
    """Yield how one file may hold two images of one size, and the two; nothing for an odd length.

    >>> [pair for _, *pair in parts(b"abcd")][:2]
    [[b'ac', b'bd'], [b'bd', b'ac']]
    """
    if len(data) % 2:
        return
    half = len(data) // 2
    yield "byte by byte in turn", data[::2], data[1::2]
    yield "byte by byte, the odd ones first", data[1::2], data[::2]
    yield "one after the other", data[:half], data[half:]
    yield "one after the other, the second first", data[half:], data[:half]
