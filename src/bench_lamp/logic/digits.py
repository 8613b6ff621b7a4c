"""Displays: what a pattern of dark digits and segments has in common."""

from collections.abc import Iterable, Mapping
from enum import StrEnum

from msgspec import Struct

#: Display, position in it (from 0), segment letter.
Spot = tuple[str, int, str]
#: What lights which figure, segments a (top) clockwise to f, g in the middle.
SEGMENTS: Mapping[str, str] = {
    "0": "abcdef",
    "1": "bc",
    "2": "abdeg",
    "3": "abcdg",
    "4": "bcfg",
    "5": "acdfg",
    "6": "acdefg",
    "7": "abc",
    "8": "abcdefg",
    "9": "abcdfg",
    " ": "",
    "-": "g",
}


class DarkKind(StrEnum):
    """What dark segments have in common."""

    DIGIT = "digit of one display"
    DIGIT_EVERYWHERE = "digit everywhere"
    SPOT = "segment of one digit"
    SEGMENT = "segment of one display"
    SEGMENT_EVERYWHERE = "segment everywhere"
    DISPLAY = "display"
    GROUP = "displays of one group"
    ALL = "all"
    SCATTERED = "scattered"


class Dark(Struct, frozen=True, kw_only=True):
    """What dark spots share."""

    kind: DarkKind
    displays: tuple[str, ...] = ()
    position: int | None = None
    segment: str = ""


def missing(shown: str, wanted: str = "8") -> str:
    """Return the segments that should light and do not.

    >>> missing("0", "8"), missing("5", "9")
    ('g', 'b')
    """
    lit = SEGMENTS.get(shown, "")
    return "".join(s for s in SEGMENTS[wanted] if s not in lit)


def shared(
    dark: Iterable[Spot], sizes: Mapping[str, int], groups: Mapping[str, tuple[str, ...]]
) -> Dark | None:
    """Name what all dark spots share, the narrowest cause first; None when nothing is dark.

    Parameters
    ----------
    dark : iterable of (display, position, segment)
        Spots that should light and do not.
    sizes : mapping of str to int
        Digits of each display.
    groups : mapping of str to tuple of str
        Displays that share a latch, by its name.

    Examples
    --------
    >>> sizes = {"P1": 2, "P2": 2}
    >>> shared([("P1", 0, "g"), ("P1", 1, "g"), ("P2", 0, "g"), ("P2", 1, "g")], sizes, {}).kind.value
    'segment everywhere'
    """
    spots = frozenset(dark)
    if not spots:
        return None
    for found in _causes(spots, sizes, groups):
        if spots == _spots_of(found, sizes):
            return found
    return Dark(kind=DarkKind.SCATTERED, displays=tuple(sorted({d for d, _, _ in spots})))


def _causes(
    spots: frozenset[Spot], sizes: Mapping[str, int], groups: Mapping[str, tuple[str, ...]]
) -> list[Dark]:
    displays = tuple(d for d in sizes if any(s[0] == d for s in spots))
    positions, segments = {p for _, p, _ in spots}, {s for _, _, s in spots}
    place = next(iter(positions)) if len(positions) == 1 else None
    letter = next(iter(segments)) if len(segments) == 1 else ""
    found = []
    if len(displays) == 1:
        found += [
            Dark(kind=DarkKind.SPOT, displays=displays, position=place, segment=letter),
            Dark(kind=DarkKind.DIGIT, displays=displays, position=place),
            Dark(kind=DarkKind.SEGMENT, displays=displays, segment=letter),
            Dark(kind=DarkKind.DISPLAY, displays=displays),
        ]
    found += [
        Dark(kind=DarkKind.DIGIT_EVERYWHERE, displays=tuple(sizes), position=place),
        Dark(kind=DarkKind.SEGMENT_EVERYWHERE, displays=tuple(sizes), segment=letter),
    ]
    found += [
        Dark(kind=DarkKind.GROUP, displays=members, segment=letter)
        for members in groups.values()
        if set(displays) == set(members)
    ]
    return [*found, Dark(kind=DarkKind.ALL, displays=tuple(sizes))]


def _spots_of(dark: Dark, sizes: Mapping[str, int]) -> frozenset[Spot]:
    needs_place = dark.kind in {DarkKind.SPOT, DarkKind.DIGIT, DarkKind.DIGIT_EVERYWHERE}
    needs_letter = dark.kind in {DarkKind.SPOT, DarkKind.SEGMENT, DarkKind.SEGMENT_EVERYWHERE}
    if (needs_place and dark.position is None) or (needs_letter and not dark.segment):
        return frozenset()
    return frozenset(
        (display, position, segment)
        for display in dark.displays
        for position in range(sizes[display])
        if not needs_place or position == dark.position
        for segment in (dark.segment if needs_letter or dark.segment else "abcdefg")
    )
