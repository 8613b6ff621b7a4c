"""What the things that are set say of each other: adjusters, readings, points, stages that must exist."""

import math
from collections.abc import Callable, Iterator
from typing import Any

from bench_lamp.board.naming import Loc, unknown_name
from bench_lamp.board.profile import Profile
from bench_lamp.board.trims import (
    ChannelsTrim,
    SenderTrim,
    StagesTrim,
    SwitchesTrim,
    TransferTrim,
    TrimReading,
    TurnTrim,
)
from bench_lamp.errors import BenchLampError
from bench_lamp.units import parse_quantity

#: Most that is set of one kind in one place: more can be neither drawn nor gone through.
MOST = 64
#: What an adjuster can show that speaks of the board.
SIGNS = ("does nothing", "jumps", "at its end stop", "does not come down")
Problems = Iterator[tuple[Loc, str]]


def check_trims(profile: Profile) -> Problems:
    """Yield each contradiction as (path of the field, message with its mend)."""
    for index, trim in enumerate(profile.trims):
        here: Loc = ("trims", index)
        yield from ((here + where, text) for where, text in _CHECKS[type(trim)](profile, trim))
        if not math.isfinite(trim.warm_up) or trim.warm_up < 0:
            yield (*here, "warm_up"), "write seconds from 0 on"


def _turn(profile: Profile, trim: TurnTrim) -> Problems:
    count = 1 if trim.kind == "single" else 2
    for name in ("adjusters", "readings"):
        ids = tuple(x.id for x in getattr(trim, name))
        if len(ids) != count:
            yield (name,), f"a {trim.kind} has {count} of them, and here are {len(ids)}"
        yield from _twice(name, ids)
    yield from _slopes(trim)
    for index, adjuster in enumerate(trim.adjusters):
        yield from _adjuster(("adjusters", index), adjuster)
    for index, reading in enumerate(trim.readings):
        yield from ((("readings", index, *w), text) for w, text in _reading(profile, reading))
    for sign in trim.signs:
        if sign not in SIGNS:
            yield ("signs", sign), unknown_name("sign", sign, SIGNS)


def _slopes(trim: TurnTrim) -> Problems:
    adjusters = tuple(a.id for a in trim.adjusters)
    readings = tuple(r.id for r in trim.readings)
    for name, row in trim.slopes.items():
        if name not in adjusters:
            yield ("slopes", name), unknown_name("adjuster", name, adjusters)
        for reading in row:
            if reading not in readings:
                yield ("slopes", name, reading), unknown_name("reading", reading, readings)
    for adjuster in trim.adjusters:
        if not any(trim.slopes.get(adjuster.id, {}).values()):
            yield ("slopes",), f"write what a turn of {adjuster.id} does: {adjuster.id}: {{…}}"


def _reading(profile: Profile, reading: TrimReading) -> Problems:
    points = tuple(p.id for p in profile.test_points)
    if reading.point and reading.point not in points:
        yield ("point",), unknown_name("point", reading.point, points)
    if not 0 < reading.band.width < math.inf:
        yield ("band",), "its limits must be two different figures"
    if reading.over and reading.unit != "A":
        yield ("over",), "only a current is read over a resistor"
    if reading.over < 0 or reading.over_tolerance < 0 or reading.doubt < 0:
        yield ("over",), "ohms, tolerance and doubt are written from 0 on"
    if reading.most < reading.band.high:
        yield ("most",), "it must lie above the band"


def _adjuster(where: Loc, adjuster: Any) -> Problems:
    for name in ("travel", "most"):
        if not getattr(adjuster, name) > 0:
            yield (*where, name), "write turns above 0: 3/4"
    if not 0 <= adjuster.backlash < adjuster.travel:
        yield (*where, "backlash"), "write turns from 0 on, less than its travel"


def _channels(_: Profile, trim: ChannelsTrim) -> Problems:
    yield from _twice("channels", tuple(c.id for c in trim.channels))
    if not 0 < len(trim.channels) <= MOST:
        yield ("channels",), f"write 1 to {MOST} channels"
    if not 1 <= trim.multiplier <= MOST:
        yield ("multiplier",), f"write a whole number from 1 to {MOST}"
    if not trim.allowed > 0:
        yield ("allowed",), "write hertz above 0: 1 kHz"
    if not 0 <= trim.counter_ppm < 1e4:
        yield ("counter_ppm",), "write parts per million from 0 on"
    for index, channel in enumerate(trim.channels):
        injection = channel.hertz + (trim.if_ if trim.injection == "high" else -trim.if_)
        if not 0 < injection < 1e12 or channel.hertz % 1 or trim.if_ % 1:
            yield ("channels", index, "hertz"), "it must be whole hertz, and above the IF"


def _stages(_: Profile, trim: StagesTrim) -> Problems:
    yield from _twice("stages", tuple(s.id for s in trim.stages))
    if not trim.stages or not trim.presets:
        yield ("presets",), "name at least one stage and one use"
    for name in ("on", "rest", "within"):
        if not getattr(trim, name) > 0:
            yield (name,), "write a figure above 0"
    for index, stage in enumerate(trim.stages):
        if not stage.slope or not math.isfinite(stage.slope):
            yield ("stages", index, "slope"), "write the volts of one turn clockwise"
    yield from _presets(trim)


def _presets(trim: StagesTrim) -> Problems:
    for use, volts in trim.presets.items():
        if len(volts) != len(trim.stages):
            yield ("presets", use), f"{len(volts)} figures for {len(trim.stages)} stages"
        for text in volts:
            if text != "-" and not _is_value(text):
                yield ("presets", use), f"“{text}” is neither volts nor -"


def _is_value(text: str) -> bool:
    try:
        return math.isfinite(parse_quantity(text, "V").value)
    except BenchLampError:
        return False


def _transfer(_: Profile, trim: TransferTrim) -> Problems:
    if trim.state not in trim.states:
        yield ("state",), unknown_name("state", trim.state, trim.states)
    for index, one in enumerate(trim.references):
        if one.state not in trim.states:
            where = ("references", index, "state")
            yield where, unknown_name("state", one.state, trim.states)
    if not any(r.state == trim.state for r in trim.references):
        yield ("references",), f"none is of the state “{trim.state}”; add one"
    if trim.mode in trim.refused:
        yield ("refused",), f"{trim.mode} is the mode that it is read in"
    if not trim.meter_ohms > 0 or not trim.source_ohms >= 0 or not trim.within > 0:
        yield ("meter_ohms",), "write ohms and volts above 0"
    if not trim.slope:
        yield ("slope",), "write the volts of one turn clockwise"
    yield from _adjuster(("adjuster",), trim.adjuster)


def _sender(profile: Profile, trim: SenderTrim) -> Problems:
    ohms = [m.ohms for m in trim.marks]
    if len(set(ohms)) < 2:
        yield ("marks",), "write at least two marks with different ohms"
    for index, mark in enumerate(trim.marks):
        if not 0 <= mark.share <= 1 or not 0 <= mark.ohms < 1e9:
            yield ("marks", index), "write ohms, and a share from 0 to 1"
    if not trim.fixed > 0 or not trim.nominal > 0 or not trim.within > 0:
        yield ("fixed",), "write ohms, volts and a share above 0"
    points = tuple(p.id for p in profile.test_points)
    if trim.point not in points:
        yield ("point",), unknown_name("point", trim.point, points)
    yield from _twice("contacts", tuple(c.id for c in trim.contacts))


def _switches(_: Profile, trim: SwitchesTrim) -> Problems:
    yield from _twice("settings", tuple(s.id for s in trim.settings))
    if not 0 < len(trim.settings) <= MOST:
        yield ("settings",), f"write 1 to {MOST} settings"
    for index, setting in enumerate(trim.settings):
        if setting.choices and setting.want not in setting.choices:
            where = ("settings", index, "want")
            yield where, unknown_name("position", setting.want, setting.choices)


def _twice(name: str, ids: tuple[str, ...]) -> Problems:
    for index, one in enumerate(ids):
        if one in ids[:index]:
            yield (name, index, "id"), f"“{one}” stands here twice; give one another name"


_CHECKS: dict[type, Callable[[Profile, Any], Problems]] = {
    TurnTrim: _turn,
    ChannelsTrim: _channels,
    StagesTrim: _stages,
    TransferTrim: _transfer,
    SenderTrim: _sender,
    SwitchesTrim: _switches,
}
