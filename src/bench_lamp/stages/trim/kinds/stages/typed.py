"""What is typed of a grip: volts, what the panel shows, a turn."""

import re

from bench_lamp.board.trims import GripStage, StagesTrim
from bench_lamp.cards.card import Accepted, Answer, Refused
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.trims import grip
from bench_lamp.errors import BenchLampError
from bench_lamp.journal.trim_events import PanelPaired, TrimRead
from bench_lamp.stages.trim.kinds.quantities import read_typed
from bench_lamp.stages.trim.kinds.stages.cards import as_turning, current
from bench_lamp.stages.trim.turns_of import said_turn
from bench_lamp.units import parse_quantity

#: A panel's line may be this much wider than what is allowed, to set by.
ROUGH = 2.0
_PANEL = re.compile(r"panel\s+(\S+)(?:\s+true\s+(\S+))?", re.IGNORECASE)


def take_stages(case: Case, hand: Hand, trim: StagesTrim, text: str) -> Answer:
    """Take the volts of a stage, what the panel shows, or a turn."""
    stage = current(case, hand, trim)
    use = grip.use_of(case, trim)
    want = grip.preset(trim, use, stage) if stage is not None else None
    if stage is None or want is None:
        return Refused(
            what="No stage is under the lamp", mend="Choose what is in the machine first."
        )
    turning = as_turning(trim, stage, want)
    try:
        said = said_turn(trim, tuple(s.adjuster for s in trim.stages), stage.adjuster, text)
        if said is not None:
            return said
        panel = _PANEL.fullmatch(text)
        if panel is not None:
            return _panel_typed(case, trim, stage, panel)
        values = read_typed(turning.readings, turning.readings, text)
    except BenchLampError as exc:
        return Refused(what=str(exc), mend=exc.hint)
    value, digit = values[stage.id]
    return Accepted(
        log=(TrimRead(trim=trim.id, what=stage.id, value=value, resolution=digit),), cell=""
    )


def _panel_typed(case: Case, trim: StagesTrim, stage: GripStage, match: re.Match[str]) -> Answer:
    """Take what the panel shows: a pair with the last reading, or volts by its line."""
    shown = parse_quantity(match[1], "V").value
    true = parse_quantity(match[2], "V").value if match[2] else None
    have = grip.read_at(case, trim, stage)
    line = grip.line_of(case, trim)
    if true is None and line is not None:
        found = grip.true_for(case, trim, shown)
        if found is None:
            return Refused(
                what=f"{shown:g} lies beyond the panel’s pairs",
                mend="Put the meter on and read it: panel 23 true 28.4 is one more pair.",
            )
        true, half = found
        if half > ROUGH * trim.within:
            return Refused(
                what=f"The panel says {true:.0f} ± {half:.0f}\u202fV: too rough to set by",
                mend="Read the meter, or add pairs: panel 23 true 28.4.",
            )
        body = TrimRead(
            trim=trim.id, what=stage.id, value=round(true, 1), resolution=0.1, source=grip.PANEL
        )
        return Accepted(log=(body,), cell="")
    true = have if true is None else true
    if true is None:
        return Refused(
            what="What was true then is not known",
            mend="Write panel 23 true 28.4, or read the volts first.",
        )
    return Accepted(log=(PanelPaired(trim=trim.id, shown=shown, true=true),), cell="")
