"""How an indicator looks: what is logged of it, and in which words."""

from bench_lamp.board.blocks import Reservoir, is_source
from bench_lamp.case.case import Case

#: What is logged: as it should be, weak, off, too strong; and on at first, then off.
ON, WEAK, OFF, STRONG, FLASHED = 1.0, 0.5, 0.0, 1.5, -1.0
#: The same as it stands on the tape, whatever the indicator is.
TEXTS = {ON: "on", WEAK: "weak", OFF: "off", STRONG: "too strong", FLASHED: "on, then off"}
#: As one says it of each: on, weak, off, too strong, on and then off.
_SHOWN: dict[str, tuple[str, str, str, str, str]] = {
    "LED": ("lit", "dim", "dark", "too bright", "lit for a moment, then dark"),
    "lamp": ("lit", "dim", "dark", "too bright", "lit for a moment, then dark"),
    "fan": ("turns", "turns slowly", "stands still", "races", "starts, then stops"),
    "relay": ("pulls in", "chatters", "does not pull in", "runs hot", "pulls in, then drops out"),
}
#: Words that mean one of them in a line that is typed.
TYPED = {
    "on": ON, "lit": ON, "turns": ON, "in": ON, "good": ON, "ok": ON, "clicks": ON,
    "weak": WEAK, "dim": WEAK, "slow": WEAK, "chatters": WEAK, "flickers": WEAK,
    "off": OFF, "out": OFF, "dark": OFF, "stands": OFF, "dead": OFF, "silent": OFF,
    "bright": STRONG, "races": STRONG, "strong": STRONG,
    "flash": FLASHED, "flashed": FLASHED, "blinked": FLASHED, "on, then off": FLASHED,
}  # fmt: skip


def words_of(shows: str) -> dict[float, str]:
    """Return how an indicator of a kind looks, in words, by what is logged.

    >>> words_of("fan")[OFF]
    'stands still'
    """
    return dict(zip((ON, WEAK, OFF, STRONG, FLASHED), _SHOWN[shows], strict=True))


def look_text(value: float) -> str:
    """Return the nearest of the texts for what was logged, or is expected."""
    return TEXTS[min(TEXTS, key=lambda known: abs(known - value))]


def fed_by(case: Case, net: str) -> str:
    """Say what feeds a net, from it back to its source: `J2.4 ← U1 ← F2 ← BR1 ← T1`."""
    chain = case.tree.upstream(net)
    first = next((i for i, b in reversed(list(enumerate(chain))) if is_source(b)), 0)
    named = [b for b in chain[first:] if not isinstance(b, Reservoir)]
    return " ← ".join(b.id for b in reversed(named)) or "nothing that the profile names"
