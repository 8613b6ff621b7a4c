"""All that is set on a board, and how far each is: for the path, the sheet and the proof."""

from collections.abc import Callable
from typing import Any, Literal

from msgspec import Struct

from bench_lamp.board.trims import (
    ChannelsTrim,
    SenderTrim,
    StagesTrim,
    SwitchesTrim,
    TransferTrim,
    Trim,
    TurnTrim,
)
from bench_lamp.case.case import Case, remembered
from bench_lamp.case.trims import carrying, gauge, grip, receiving, switch_positions
from bench_lamp.case.trims.rounds import all_told, came_at, ended, reads_of, turned_by
from bench_lamp.journal.trim_events import TrimEnded, TrimRead
from bench_lamp.units import exact
from bench_lamp.units.turns import turn_text

Status = Literal["not begun", "under way", "right", "left"]


class TrimItem(Struct, frozen=True, kw_only=True):
    """One thing that is set."""

    trim: Trim
    status: Status
    #: `2 of 12`, `left: no counter`.
    words: str = ""


@remembered
def trim_items(case: Case) -> tuple[TrimItem, ...]:
    """Return all that is set, in the profile's order."""
    return tuple(_item(case, trim) for trim in case.profile.trims)


def _item(case: Case, trim: Trim) -> TrimItem:
    end = ended(case, trim)
    if end is not None and isinstance(end.body, TrimEnded):
        status: Status = "right" if end.body.word == "right" else "left"
        return TrimItem(trim=trim, status=status, words=end.body.reason or end.body.word)
    done, total = PROGRESS[type(trim)](case, trim)
    if not all_told(case, trim):
        return TrimItem(trim=trim, status="not begun")
    return TrimItem(trim=trim, status="under way", words=f"{done} of {total}" if total > 1 else "")


def _turned(case: Case, trim: TurnTrim) -> tuple[int, int]:
    from bench_lamp.case.trims.turning import turning_of

    now = turning_of(case, trim).now.values()
    return sum(v.word in {"within", "edge"} for v in now), len(trim.readings)


def _channels(case: Case, trim: ChannelsTrim) -> tuple[int, int]:
    found = receiving.counted(case, trim)
    return sum(found.is_right(c.id) for c in trim.channels), len(trim.channels)


def _stages(case: Case, trim: StagesTrim) -> tuple[int, int]:
    use = grip.use_of(case, trim)
    wanted = grip.stages_for(trim, use)
    return sum(grip.is_right(case, trim, use, s) for s in wanted), len(wanted)


def _carried(case: Case, trim: TransferTrim) -> tuple[int, int]:
    return int(carrying.is_right(case, trim)), 1


def _gauge(case: Case, trim: SenderTrim) -> tuple[int, int]:
    found = gauge.marks_of(case, trim)
    return sum(m.is_right(trim.within) for m in found), len(found)


def _standing(case: Case, trim: SwitchesTrim) -> tuple[int, int]:
    found = switch_positions.stands(case, trim)
    return sum(s.is_right for s in found), len(found)


#: How far each kind is: how many are right, of how many.
PROGRESS: dict[type, Callable[[Case, Any], tuple[int, int]]] = {
    TurnTrim: _turned,
    ChannelsTrim: _channels,
    StagesTrim: _stages,
    TransferTrim: _carried,
    SenderTrim: _gauge,
    SwitchesTrim: _standing,
}


def trim_progress(case: Case) -> tuple[int, int]:
    """Return how many things are ended, and how many there are."""
    items = trim_items(case)
    return sum(i.status in {"right", "left"} for i in items), len(items)


def trim_doubts(case: Case) -> tuple[str, ...]:
    """Say what was begun and not ended, or was right before the last repair: nothing of it is proved."""
    return tuple(
        f"{i.trim.name}: begun, and not ended." for i in trim_items(case) if i.status == "under way"
    )


def trim_lines(case: Case) -> tuple[str, ...]:
    """Say what was set, before and after, for the sheet."""
    return tuple(
        f"{item.trim.name}: {'; '.join(_parts(case, item.trim)) or item.words or item.status}"
        for item in trim_items(case)
        if all_told(case, item.trim)
    )


def _parts(case: Case, trim: Trim) -> list[str]:
    """Return the readings before and after, the turns, and the switches of one thing."""
    told, parts = all_told(case, trim), []
    for what in dict.fromkeys(t.body.what for t in told if isinstance(t.body, TrimRead)):
        reads = reads_of(told, what)
        values = [
            exact(r.value, unit_of(trim, what), figures=8) for r in (reads[0], *reads[1:][-1:])
        ]
        parts.append(f"{name_of(trim, what)} {' → '.join(values)}")
    came = came_at(told)
    for adjuster, turns in turned_by(told).items():
        stood = f" (came at {came[adjuster]})" if came.get(adjuster) else ""
        parts.append(f"{adjuster} {turn_text(turns)}{stood}")
    if isinstance(trim, SwitchesTrim):
        stood_now = (s for s in switch_positions.stands(case, trim) if s.now)
        parts += [f"{s.setting.id} {s.came or 'not looked at'} → {s.now}" for s in stood_now]
    return parts


def unit_of(trim: Trim, what: str) -> str:
    """Return the unit of a reading."""
    if isinstance(trim, TurnTrim):
        return next((r.unit for r in trim.readings if r.id == what), "")
    if isinstance(trim, ChannelsTrim):
        return "Hz"
    if isinstance(trim, SenderTrim) and not what.startswith(gauge.DROP):
        return ""
    return "V"


def name_of(trim: Trim, what: str) -> str:
    """Return what a reading is called on screen."""
    if isinstance(trim, TurnTrim):
        return next((r.name for r in trim.readings if r.id == what), what)
    if isinstance(trim, StagesTrim):
        return next((s.name for s in trim.stages if s.id == what), what)
    return what.removeprefix(gauge.DROP)
