"""Turns that are typed or made by the arrow keys, in any kind that has adjusters."""

import re

from bench_lamp.board.trims import Trim
from bench_lamp.cards.card import Accepted
from bench_lamp.case.hand import Hand
from bench_lamp.errors import BenchLampError
from bench_lamp.journal.trim_events import AdjusterFound, AdjusterTurned
from bench_lamp.units.turns import parse_turn

#: One step of an arrow key, in turns, and the most that they make.
STEP, MOST = 1 / 24, 2.0
_STOP = re.compile(r"(?:stop|end)(?: stop)?\s*(up|down|back|cw|ccw|clockwise)?", re.IGNORECASE)


def said_turn(trim: Trim, names: tuple[str, ...], usual: str, text: str) -> Accepted | None:
    """Return the turn or the end stop that a text says, of a named adjuster or the usual one; None for neither.

    `+1/6`, `RV4 -30°`, `RV4 1/4 back`, `RV3 stop`, `RV3 stop back`, `RV3 dirty`.
    """
    word, _, rest = text.partition(" ")
    known = {n.lower(): n for n in names}
    name = known.get(word.lower(), "")
    said = rest.strip() if name else text
    name = name or usual
    if not name or not said:
        return None
    stop = _STOP.fullmatch(said)
    if stop is not None:
        is_back = (stop[1] or "").lower() in {"down", "back", "ccw"}
        found = AdjusterFound(
            trim=trim.id, adjuster=name, word="stop down" if is_back else "stop up"
        )
        return Accepted(log=(found,), cell="")
    if said.lower() in {"dirty", "jumps", "crackles"}:
        return Accepted(log=(AdjusterFound(trim=trim.id, adjuster=name, word="dirty"),), cell="")
    is_named = word.lower() in known
    if not is_named and not looks_like_turn(said):
        return None
    try:
        turns = parse_turn(said)
    except BenchLampError:
        if is_named:
            raise
        return None
    if not turns:
        raise BenchLampError("That is no turn", hint="Write +1/6, or the reading.")
    return Accepted(log=(AdjusterTurned(trim=trim.id, adjuster=name, turns=turns),), cell="")


def looks_like_turn(text: str) -> bool:
    """Whether a text without a name is a turn: it has a sign before a fraction, or says so."""
    low = text.lower()
    has_word = any(w in low for w in ("turn", "°", "cw", "clockwise", "back"))
    return has_word or ("/" in text and text[:1] in "+-\u22120123456789") or text.startswith("+")


def made(hand: Hand) -> tuple[str, float]:
    """Return the adjuster and the turn that the arrow keys have made; empty and 0 before."""
    name, _, turns = hand.cell.rpartition(" ")
    try:
        return (name, float(turns)) if name else ("", 0.0)
    except ValueError:
        return "", 0.0


def arrowed(hand: Hand, names: tuple[str, ...], usual: str, down: int, along: int) -> str:
    """Return the cell after an arrow key: along turns, down picks another adjuster."""
    name, turns = made(hand)
    name = name if name in names else usual or names[0]
    if down:
        return f"{names[(names.index(name) + down) % len(names)]} 0"
    turns = min(max(turns + along * STEP, -MOST), MOST)
    return f"{name} {turns:.6f}"
