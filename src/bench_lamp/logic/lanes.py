"""Lanes: bits that travel together. From what was written and what came back, the fault of each bit."""

import re
from collections.abc import Iterable, Sequence
from typing import Literal

from msgspec import Struct

from bench_lamp.errors import BenchLampError

BitState = Literal[
    "good", "stuck high", "stuck low", "inverted", "crossed", "tied", "floating", "not tried"
]
#: Longest list of pairs, and widest lane, that is taken from one entry.
MOST_PAIRS = 4096


class PairsError(BenchLampError):
    """Words that are no write/read pairs."""


class Bit(Struct, frozen=True, kw_only=True):
    """One bit of a lane, as the pairs show it."""

    number: int
    state: BitState
    #: Bits that it may be tied to; more than one where the patterns do not tell them apart.
    partners: tuple[int, ...] = ()
    #: Every explanation that fits all pairs, `state` among them.
    fits: frozenset[str] = frozenset()
    #: Different pairs in which it came back other than written, and all of them.
    wrong: int = 0
    of: int = 0

    @property
    def is_bad(self) -> bool:
        """Whether it came back other than it was written."""
        return self.state not in {"good", "not tried"}


Pairs = Sequence[tuple[int, int]]


def read_pairs(text: str, bits: int) -> tuple[tuple[int, int], ...]:
    """Read `55>57 AA>AA`, in hex or (with as many digits as bits, all 0 and 1) in binary.

    Raises
    ------
    PairsError
        When a word is no number, is too wide for the lane, or has no partner.

    Examples
    --------
    >>> read_pairs("55>57, 00000000>00000010", 8)
    ((85, 87), (0, 2))
    """
    words = re.split(r"[\s,;]+", re.sub(r"\s*(?:->|→|>|:|/)\s*", ">", text.strip()))
    if words == [""]:
        raise PairsError("Nothing was typed", hint="Type what was written > what came: 55>57 AA>AA")
    if not any(">" in word for word in words):
        if len(words) % 2:
            raise PairsError(
                f"{len(words)} values are typed, pairs need an even number",
                hint="Type written and read in turn: 55 57 AA AA",
            )
        words = [f"{a}>{b}" for a, b in zip(words[::2], words[1::2], strict=True)]
    if len(words) > MOST_PAIRS:
        raise PairsError(f"More than {MOST_PAIRS} pairs", hint="Read them from a capture file.")
    return tuple(_pair(word, bits) for word in words)


def _pair(word: str, bits: int) -> tuple[int, int]:
    wrote, mark, came = word.partition(">")
    if not mark or not wrote or not came:
        raise PairsError(f"“{word[:20]}” is no pair", hint="Type written > read: 55>57")
    return _word(wrote, bits), _word(came, bits)


def _word(text: str, bits: int) -> int:
    bare = text.lower().removeprefix("0x").removeprefix("$").removesuffix("h")
    is_binary = text.startswith(("0b", "%")) or (len(bare) == bits > 4 and set(bare) <= {"0", "1"})
    digits = text.lower().removeprefix("0b").removeprefix("%") if is_binary else bare
    try:
        value = int(digits, 2 if is_binary else 16)
    except ValueError:
        raise PairsError(
            f"“{text[:20]}” is no hex or binary number", hint="55, 0x55 or 01010101"
        ) from None
    if value < 0 or value >> bits:
        raise PairsError(
            f"“{text[:20]}” is wider than {bits} bits", hint=f"The lane has bits 0 to {bits - 1}."
        )
    return value


def diagnose(pairs: Iterable[tuple[int, int]], bits: int) -> tuple[Bit, ...]:
    """Diagnose each bit of a lane.

    Parameters
    ----------
    pairs : iterable of (int, int)
        What was written and what came back.
    bits : int
        Width of the lane.

    Notes
    -----
    Stuck: always reads one level although the other was written. Tied: always reads the AND
    (or the OR) of itself and another bit that reads the same. Floating: the same word gave
    different answers, or nothing else fits. The simplest explanation that fits is `state`;
    `fits` has all of them, for an honest answer from few patterns.

    Examples
    --------
    >>> [b.state for b in diagnose([(0b00, 0b10), (0b01, 0b11), (0b11, 0b11)], 2)]
    ['good', 'stuck high']
    """
    known = tuple(dict.fromkeys(pairs))
    return tuple(_bit(known, i, bits) for i in range(bits))


def _bit(pairs: Pairs, i: int, bits: int) -> Bit:
    wrote = [w >> i & 1 for w, _ in pairs]
    came = [c >> i & 1 for _, c in pairs]
    others = [j for j in range(bits) if j != i]
    is_steady = not _varies(pairs, i)
    partners = _partners(pairs, i, bits) if is_steady else ()
    crossed = tuple(j for j in others if _is_crossed(pairs, i, j))
    fits = _fits(wrote, came)
    if partners:
        fits.add("tied")
    if len(crossed) == 1 and "good" not in fits:
        fits.add("crossed")
    state = _simplest(fits, wrote, partners)
    return Bit(
        number=i,
        state=state,
        partners=crossed if state == "crossed" else partners,
        fits=frozenset(fits),
        wrong=sum(w != c for w, c in zip(wrote, came, strict=True)),
        of=len(pairs),
    )


def _fits(wrote: list[int], came: list[int]) -> set[str]:
    """Return what one bit by itself can be, by what was written to it and what came."""
    fits: set[str] = {"floating"}
    if wrote == came:
        fits.add("good")
    if set(came) == {1}:
        fits.add("stuck high")
    if set(came) == {0}:
        fits.add("stuck low")
    if set(wrote) == {0, 1} and all(w != c for w, c in zip(wrote, came, strict=True)):
        fits.add("inverted")
    return fits


def _simplest(fits: set[str], wrote: list[int], partners: tuple[int, ...]) -> BitState:
    if "good" in fits:
        return "good" if set(wrote) == {0, 1} else "not tried"
    if "stuck high" in fits:
        return "stuck high"
    if "stuck low" in fits:
        return "stuck low"
    if "crossed" in fits:
        return "crossed"
    if "inverted" in fits:
        return "inverted"
    return "tied" if partners else "floating"


def _varies(pairs: Pairs, i: int) -> bool:
    """Whether the same word came back with this bit now high, now low."""
    seen: dict[int, int] = {}
    return any(seen.setdefault(w, c >> i & 1) != c >> i & 1 for w, c in pairs)


def _is_crossed(pairs: Pairs, i: int, j: int) -> bool:
    """Whether two bits came back in each other's place, where they were written apart."""
    both = [(w >> i & 1, w >> j & 1, c >> i & 1, c >> j & 1) for w, c in pairs]
    apart = {(wi, wj) for wi, wj, _, _ in both if wi != wj}
    return len(apart) == 2 and all(ci == wj and cj == wi for wi, wj, ci, cj in both)


def _partners(pairs: Pairs, i: int, bits: int) -> tuple[int, ...]:
    """Return the bits that one is tied to: all that read the same if that fits, else each that does."""
    same = [j for j in range(bits) if all(c >> j & 1 == c >> i & 1 for _, c in pairs)]
    if len(same) > 2 and _is_one_group(pairs, i, sum(1 << j for j in same)):
        return tuple(j for j in same if j != i)
    return tuple(j for j in range(bits) if j != i and _is_tied(pairs, i, j))


def _is_one_group(pairs: Pairs, i: int, mask: int) -> bool:
    """Whether bits read as the AND or the OR of what was written to all of them."""
    wrote = [(w & mask, bool(c >> i & 1)) for w, c in pairs]
    is_apart = any(w not in {0, mask} for w, _ in wrote)
    is_and = all((w == mask) == c for w, c in wrote)
    return is_apart and (is_and or all((w != 0) == c for w, c in wrote))


def _is_tied(pairs: Pairs, i: int, j: int) -> bool:
    """Whether two bits read the same, as the AND or the OR of what was written to them."""
    both = [(w >> i & 1, w >> j & 1, c >> i & 1, c >> j & 1) for w, c in pairs]
    if any(ci != cj for *_, ci, cj in both):
        return False
    # Where they were never written apart, nothing shows that they are tied.
    apart = [b for b in both if b[0] != b[1]]
    if not apart:
        return False
    levels = {ci for _, _, ci, _ in apart}
    return len(levels) == 1 and all(wi == ci for wi, wj, ci, _ in both if wi == wj)


def words_for(bits: Iterable[Bit]) -> str:
    """Say what is bad, as one would: `bit 3 stuck low, bits 4 and 5 tied together`.

    >>> words_for(diagnose([(0, 8), (15, 15)], 4))
    'bit 3 stuck high'
    """
    bad = [b for b in bits if b.is_bad]
    crossed = sorted({tuple(sorted((b.number, *b.partners))) for b in bad if b.state == "crossed"})
    pairs = _tied_groups(bad)
    words = [f"bit {b.number} {b.state}" for b in bad if b.state not in {"tied", "crossed"}]
    words += [f"bits {one} and {other} crossed" for one, other in crossed]
    words += [
        f"bits {' and '.join(map(str, sorted(tied)))} {'tied together' if len(tied) == 2 else 'tied among themselves'}"
        for tied in sorted(pairs, key=sorted)
    ]
    return ", ".join(words) or "every bit as written"


def _tied_groups(bad: Iterable[Bit]) -> set[frozenset[int]]:
    """Return tied bits as groups: three that are tied to each other are one."""
    groups: list[set[int]] = []
    for bit in bad:
        if bit.state == "tied":
            mine = {bit.number, *bit.partners}
            joined = [g for g in groups if g & mine]
            groups = [g for g in groups if not g & mine] + [mine.union(*joined)]
    return {frozenset(g) for g in groups}
