"""What may go in for a part: against a table by hand, and a thousand drawn cases against plain inequalities."""

import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from bench_lamp.board.spec_reading import parse_spec
from bench_lamp.board.spec_text import spec_text
from bench_lamp.checks.substitute import Around, State, best_first, judge
from bench_lamp.errors import BenchLampError
from bench_lamp.units.part import PartSpec, SpecKind

RESERVOIR = "electrolytic 4700 uF 40 V 85C reservoir 25x50 pitch 10"
#: What was there, what is offered, what is broken by the rules (empty: it fits).
TABLE = [
    (RESERVOIR, "4700 uF 40 V 105C 25x50 pitch 10", ""),
    (RESERVOIR, "4700 uF 35 V 105C 25x50 pitch 10", "volts"),
    (RESERVOIR, "6800 uF 63 V 85C 25x48 pitch 10", ""),
    (RESERVOIR, "7100 uF 63 V 85C 25x48 pitch 10", "value"),
    (RESERVOIR, "4600 uF 63 V 85C 25x48 pitch 10", "value"),
    (RESERVOIR, "4700 uF 160 V 85C 25x48 pitch 10", "volts"),
    (RESERVOIR, "4700 uF 63 V 70C 25x48 pitch 10", "temperature"),
    (RESERVOIR, "4700 uF 63 V 85C 30x48 pitch 10", "size"),
    (RESERVOIR, "4700 uF 63 V 85C 25x48 pitch 7.5", "pitch"),
    (RESERVOIR, "tantalum 4700 uF 63 V 85C 25x48 pitch 10", "kind"),
    ("film 100 nF 250 V timing", "film 110 nF 250 V", ""),
    ("film 100 nF 250 V timing", "film 111 nF 250 V", "value"),
    ("film 100 nF 250 V coupling", "ceramic 100 nF 250 V", "kind"),
    ("tantalum 10 uF 25 V bypass", "tantalum 22 uF 25 V", ""),
    ("tantalum 10 uF 25 V bypass", "22 uF 16 V", "volts"),
    ("ceramic 100n 50V X7R", "ceramic 100n 50V Y5V", "class"),
    ("ceramic 100n 50V X7R", "ceramic 100n 50V C0G", ""),
    ("X2 100n 275V", "film 100n 400V", "kind"),
    ("X2 100n 275V", "X1 100n 300V", ""),
    ("X2 100n 275V", "Y2 100n 300V", "class"),
    ("Y2 4n7 250V", "X1 4n7 440V", "class"),
    ("resistor 10k 1 W flameproof 5 %", "10k 1 W 5 % flameproof", ""),
    ("resistor 10k 1 W flameproof 5 %", "10k 2 W 5 %", "flameproof"),
    ("resistor 10k 1 W 5 %", "10k 0.5 W 5 %", "watts"),
    ("resistor 10k 1 W 5 %", "11k 1 W 1 %", "value"),
    ("resistor 10k 1 W 1 %", "10k 1 W 5 %", "tolerance"),
    ("resistor 0R47 1 W fusible", "0R47 2 W fusible", "fusible"),
    ("fuse 3 A slow 250 V", "T3A 250 V", ""),
    ("fuse 3 A slow", "T3.15A", "rating"),
    ("fuse 3 A slow", "F3A", "rating"),
    ("fuse 3 A slow 250 V breaking 1500 A", "3 A slow 250 V breaking 35 A", "breaking capacity"),
    ("fuse 3 A slow 250 V", "3 A slow 32 V", "volts"),
    ("diode 3 A 400 V fast", "diode 5 A 600 V fast", ""),
    ("diode 3 A 400 V fast", "diode 5 A 600 V", "speed"),
    ("bridge 25 A 200 V", "bridge 10 A 400 V", "current"),
    ("regulator type TR-405 pins in ground out", "type TR-405", ""),
    ("regulator type TR-405 pins in ground out", "type TR-905 pins ground in out", "type pin order"),
    ("coil 82 uH 1 A ohms 0.2", "coil 68 uH 1 A ohms 0.2", ""),
    ("coil 82 uH 1 A ohms 0.2", "coil 47 uH 2 A ohms 0.1", "value"),
    ("coil 82 uH 1 A ohms 0.2", "coil 82 uH 2 A ohms 1", "ohms"),
    ("chip type MB-16 NMOS 150 ns 5 V", "type MB-16 NMOS 120 ns 5 V", ""),
    ("chip type MB-16 NMOS 150 ns 5 V", "type MB-16 NMOS 200 ns 5 V", "access time"),
    ("chip type G-00 LS 5 V", "type G-00 HC 3.3 V", "family supply"),
    ("crystal 4 MHz", "crystal 4.0001 MHz", ""),
    ("crystal 4 MHz", "crystal 4.001 MHz", "value"),
]  # fmt: skip


@pytest.mark.parametrize(("was", "offered", "broken"), TABLE)
def test_a_part_fits_or_breaks_these_rules(was, offered, broken):
    want = parse_spec(was)
    verdict = judge(want, parse_spec(offered, want.kind))
    assert {r.about for r in verdict.broken} == set(_names(broken)), [
        r.text for r in verdict.broken
    ]
    assert verdict.fits == (not broken)
    assert all(r.text for r in verdict.rules)


def _names(text: str) -> list[str]:
    for whole in ("breaking capacity", "pin order", "access time"):
        text = text.replace(whole, whole.replace(" ", "_"))
    return [word.replace("_", " ") for word in text.split()]


def test_what_an_offered_part_does_not_say_is_never_met():
    want = parse_spec(RESERVOIR)
    verdict = judge(want, parse_spec("4700 uF", want.kind))
    assert {r.about for r in verdict.open} == {"volts", "temperature", "size", "pitch"}
    assert not [r for r in verdict.rules if r.about == "volts" and r.state is State.MET]
    nothing = judge(PartSpec(), PartSpec())
    assert nothing.fits
    assert nothing.rules == ()


@pytest.mark.parametrize(
    ("was", "offered", "around", "broken"),
    [
        ("tantalum 47 uF", "tantalum 47 uF 10 V", Around(volts=5.0), set()),
        ("tantalum 47 uF", "tantalum 47 uF 6.3 V", Around(volts=5.0), {"volts"}),
        ("electrolytic 1000 uF", "1000 uF 16 V", Around(volts=18.0), {"volts"}),
        (RESERVOIR, "6800 uF 63 V", Around(inrush=200, rectifier=25), set()),
        (RESERVOIR, "6800 uF 63 V", Around(inrush=200, rectifier=20), {"inrush"}),
        ("fuse 3 A slow", "T1.6A", Around(fuses=("1.6 A slow", "3.15 A slow")), set()),
        ("transistor type Q77 pins e b c", "type Q78", Around(equivalents=(("Q78", ("e", "b", "c")),)), set()),
        ("transistor type Q77 pins e b c", "type Q78", Around(equivalents=(("Q78", ("b", "c", "e")),)), {"pin order"}),
        ("transistor type Q77 pins e b c", "type Q79", Around(equivalents=(("Q78", ("e", "b", "c")),)), {"type"}),
    ],
)  # fmt: skip
def test_the_circuit_around_it_counts(was, offered, around, broken):
    want = parse_spec(was)
    around = Around(**{f: getattr(around, f) for f in around.__struct_fields__} | {
        "fuses": tuple(x.replace(" A", "\u202fA") for x in around.fuses)})  # fmt: skip
    assert {r.about for r in judge(want, parse_spec(offered, want.kind), around).broken} == broken


def _drawn(chance: random.Random):
    """Draw one case, with whether it fits by plain inequalities in whole numbers."""
    sort = chance.choice(("reservoir", "timing", "resistor", "fuse", "coil", "bridge"))
    if sort in {"reservoir", "timing"}:
        uf, volts = chance.choice((100, 470, 2200, 10000)), chance.choice((16, 25, 40, 63, 250))
        uf_in, volts_in = (
            round(uf * chance.choice((0.5, 0.9, 0.95, 1, 1, 1.1, 1.3, 1.49, 1.6, 2))),
            chance.choice((10, 16, 25, 40, 63, 100, 250, 450)),
        )
        low, high = (uf, 1.5 * uf) if sort == "reservoir" else (0.9 * uf, 1.1 * uf)
        fits = low <= uf_in <= high and volts <= volts_in <= 3 * volts
        return f"electrolytic {uf} uF {volts} V {sort}", f"{uf_in} uF {volts_in} V", fits
    if sort == "resistor":
        ohms, watts = chance.choice((10, 470, 4700, 100000)), chance.choice((1, 2, 5))
        ohms_in, watts_in = (
            round(ohms * chance.choice((0.9, 0.97, 1, 1.04, 1.1))),
            chance.choice((1, 2, 5, 10)),
        )
        fits = abs(ohms_in - ohms) * 20 <= ohms and watts_in >= watts
        return f"resistor {ohms} Ω {watts} W", f"{ohms_in} Ω {watts_in} W", fits
    if sort == "fuse":
        amps, speed = chance.choice((1, 2, 5, 8)), chance.choice(("slow", "fast"))
        amps_in, speed_in = chance.choice((1, 2, 5, 8)), chance.choice(("slow", "fast"))
        return (
            f"fuse {amps} A {speed}",
            f"{amps_in} A {speed_in}",
            (amps, speed) == (amps_in, speed_in),
        )
    if sort == "coil":
        uh, amps = chance.choice((10, 82, 470)), chance.choice((1, 3))
        uh_in, amps_in = (
            round(uh * chance.choice((0.7, 0.9, 1, 1.1, 1.4))),
            chance.choice((1, 2, 3, 5)),
        )
        return (
            f"coil {uh} uH {amps} A",
            f"coil {uh_in} uH {amps_in} A",
            5 * abs(uh_in - uh) <= uh and amps_in >= amps,
        )
    amps, volts = chance.choice((2, 10, 25)), chance.choice((100, 200, 400))
    amps_in, volts_in = chance.choice((2, 5, 10, 25, 35)), chance.choice((50, 100, 200, 400, 600))
    return (
        f"bridge {amps} A {volts} V",
        f"bridge {amps_in} A {volts_in} V",
        amps_in >= amps and volts_in >= volts,
    )


def test_a_thousand_drawn_cases_are_judged_as_by_hand():
    chance = random.Random(15)
    fitted = 0
    for _ in range(1000):
        was, offered, fits = _drawn(chance)
        want = parse_spec(was)
        assert judge(want, parse_spec(offered, want.kind)).fits == fits, (was, offered)
        fitted += fits
    assert 200 < fitted < 800


def test_the_best_of_the_drawers_comes_first():
    want = parse_spec(RESERVOIR)
    drawers = {
        "too small": "3300 uF 63 V",
        "far above": "6800 uF 100 V 105C 25x50 pitch 10",
        "near": "4700 uF 50 V 105C 22x45 pitch 10",
        "unknown": "4700 uF 40 V",
    }
    offered = [(name, parse_spec(text, want.kind)) for name, text in drawers.items()]
    assert [name for name, _, _ in best_first(want, offered)] == ["near", "far above", "unknown"]


@pytest.mark.parametrize("text", [case for row in TABLE for case in row[:2]])
def test_a_part_is_written_as_it_is_read(text):
    kind = next(parse_spec(was).kind for was, offered, _ in TABLE if text in (was, offered))
    spec = parse_spec(text, kind)
    assert parse_spec(spec_text(spec), spec.kind) == spec


@given(st.text(max_size=60), st.sampled_from([None, *SpecKind]))
def test_any_text_is_a_part_or_refused_with_the_mend(text, kind):
    try:
        spec = parse_spec(text, kind)
    except BenchLampError as exc:
        refused = exc
    else:
        judge(spec, spec)
        return
    assert str(refused)
