"""A job in short as bytes, and what it was made with."""

import json
import zlib

import msgspec

from bench_lamp.board import Profile
from bench_lamp.shop.digest import Digest
from bench_lamp.units.plain import to_plain

#: Rises when a digest is worked out in another way.
VERSION = 1
_DECODER = msgspec.json.Decoder(Digest)


def to_bytes(digest: Digest) -> bytes:
    """Return a job in short as JSON."""
    return msgspec.json.encode(digest)


def from_bytes(data: bytes) -> Digest | None:
    """Return the job in short; None for anything that is none."""
    try:
        return _DECODER.decode(data)
    except (msgspec.DecodeError, RecursionError):
        return None


def form_of(profile: Profile | None) -> str:
    """Return what a digest was made with: this program's version of it, and the profile as it is.

    >>> form_of(None)
    '1-none'
    """
    if profile is None:
        return f"{VERSION}-none"
    return f"{VERSION}-{zlib.crc32(json.dumps(to_plain(profile)).encode()):08x}"
