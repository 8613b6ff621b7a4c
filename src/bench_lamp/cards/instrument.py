"""What the linked instrument is asked for: the measurement that the lit card wants."""

from bench_lamp.board.blocks import Block, Reservoir
from bench_lamp.board.condition import Condition, TestKind
from bench_lamp.cards.card import Accepted, Card
from bench_lamp.case.case import Case
from bench_lamp.case.cold_verdicts import charging_range
from bench_lamp.case.disturbed import DONE
from bench_lamp.case.facts import KINDS, MODES
from bench_lamp.checks.charging import Source
from bench_lamp.instrument.protocol import LogicRequest, Request, Shown, TrimRequest
from bench_lamp.journal.events import ReadingTaken

#: Moments at which a charging series is read, in seconds after the leads touch.
SERIES_S = (1.0, 2.0, 3.0, 4.0, 5.0, 6.0)


def request_for(case: Case, card: Card) -> Request | LogicRequest | TrimRequest | None:
    """Return the measurement, or the test of the logic, that a card wants; None for none."""
    return card.asks or _measurement(case, card)


def offer(case: Case, card: Card) -> str:
    """Say what F8 would do, for the card's keys; empty for nothing."""
    request = request_for(case, card)
    if request is None:
        return ""
    if isinstance(request, LogicRequest):
        return "F8 run on the board"
    if isinstance(request, TrimRequest):
        return "F8 read it"
    is_seen = request.kind == TestKind.LOOK or TestKind(request.kind).is_disturbing
    return "F8 take from the board" if is_seen else "F8 take from the meter"


def _measurement(case: Case, card: Card) -> Request | None:
    state = case.state
    condition = Condition(is_powered=state.power.is_live, out=state.out, hung=state.hung)
    if card.tone and state.power.is_known and not state.power.is_live:
        return Request(
            kind=TestKind.TONE, target=card.tone, condition=condition, mended=state.renewed
        )
    entry = card.entry
    if entry is not None and entry.field == "charge" and not state.power.is_live:
        return _charging(case, case.profile.block(entry.target), condition)
    if entry is None or not entry.is_reading or entry.mode not in KINDS:
        return None
    point = case.profile.point(entry.target)
    is_known = KINDS[entry.mode].is_on_part or entry.target in case.tree.nets
    if point is None and not is_known:
        return None
    return Request(
        kind=KINDS[entry.mode],
        target=point.net if point else entry.target,
        condition=condition,
        mended=state.renewed,
        swapped=entry.field == "swapped",
    )


def _charging(case: Case, block: Block | None, condition: Condition) -> Request | None:
    """Ask for ohms while a capacitor charges, on the range that is held for it."""
    if not isinstance(block, Reservoir):
        return None
    held = charging_range(case, block)
    source = Source.of(held) if held else Source(0.0, 0.0)
    return Request(
        kind=TestKind.OHM,
        target=block.net,
        condition=condition,
        mended=case.state.renewed,
        seconds=SERIES_S,
        source_ohms=source.ohms,
        full_scale=source.full_scale,
    )


def shown_text(shown: Shown) -> str:
    """Write what an instrument shows as it would be typed: for the screen alone.

    >>> shown_text(Shown(value=5.0812, resolution=0.001)), shown_text(Shown(value=float("inf")))
    ('5.081', 'OL')
    >>> shown_text(Shown(value=5.0812))
    '5.0812'
    """
    if shown.series:
        return " ".join(
            f"{t:g}:{'OL' if ohms == float('inf') else f'{ohms:.{0 if ohms >= 100 else 1}f}'}"
            for t, ohms in zip(SERIES_S, shown.series, strict=True)
        )
    if shown.value == float("inf"):
        return "OL"
    if not shown.resolution:
        return f"{shown.value:.6g}"
    places = max(len(f"{shown.resolution:.10f}".rstrip("0").partition(".")[2]), 0)
    return f"{shown.value:.{places}f}"


#: Tests without a figure: their cards have no entry, and what is seen is logged as it came.
WITHOUT_FIGURE = frozenset({TestKind.TONE, TestKind.LOOK, *map(TestKind, DONE)})


def seen(case: Case, request: Request, shown: Shown, source: str) -> Accepted:
    """Take a test without a figure."""
    body = ReadingTaken(
        target=request.target,
        mode=MODES[request.kind],
        value=shown.value,
        meter=source,
        power=case.state.power.logged,
    )
    return Accepted(log=(body,), focus="")
