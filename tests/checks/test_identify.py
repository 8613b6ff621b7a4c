"""Parts of three pins from six readings: a table of parts, each read by a noisy meter."""

import math
import random
from itertools import permutations

import pytest

from bench_lamp.checks.identify import SIX, Identified, identify
from bench_lamp.checks.junction import judge_junction

OL = math.inf
#: Draws of meter noise for each part, as many as the words promise.
DRAWS = 100


def six(**conducts: float) -> dict[tuple[int, int], float]:
    """Return six readings; `p12=0.6` conducts from pin 1 to pin 2, the rest shows OL."""
    return {(a, b): conducts.get(f"p{a}{b}", OL) for a, b in SIX}


def parts() -> list[tuple[str, str, dict[str, float], dict[str, object]]]:
    """Return 40 parts: what it is, its pins by letter, the volts of each ordered pair, the extras."""
    on_n, on_p = {"turned_on": (0.004, OL)}, {"turned_on": (OL, 0.012)}
    found: list[tuple[str, str, dict[str, float], dict[str, object]]] = []
    for bc, be in ((0.640, 0.655), (0.655, 0.675), (0.690, 0.705), (0.600, 0.625), (0.66, 0.70)):
        found.append(("NPN transistor", "bce", {"bc": bc, "be": be}, {}))
        found.append(("PNP transistor", "bce", {"cb": bc, "eb": be}, {}))
    for bc, be, diode in (
        (0.58, 0.78, 0.50),
        (0.60, 0.95, 0.55),
        (0.62, 1.25, 0.52),
        (0.5, 0.7, 0.5),
    ):
        found.append(("NPN Darlington with diode", "bce", {"bc": bc, "be": be, "ec": diode}, {}))
        found.append(("PNP Darlington with diode", "bce", {"cb": bc, "eb": be, "ce": diode}, {}))
    for body in (0.42, 0.48, 0.55):
        found.append(("N-channel MOSFET", "gds", {"sd": body}, on_n))
        found.append(("P-channel MOSFET", "gds", {"ds": body}, on_p))
    for half in (0.44, 0.49):
        found.append(("dual diode", "kab", {"ak": half, "bk": half + 0.001}, {}))
        found.append(("dual diode", "akb", {"ak": half, "ab": half - 0.001}, {}))
    for to_in, to_out, back, leak in ((0.55, 0.62, 0.58, 1.9), (0.60, 0.71, 0.65, 2.4)):
        ways = {"gi": to_in, "go": to_out, "oi": back, "ig": leak, "og": 2.6}
        found.append(("positive three-leg regulator", "igo", ways, {}))
    found += [
        ("shorted", "bce", {"ce": 0.001, "ec": 0.001}, {"is_bridged": True}),
        ("shorted", "bce", dict.fromkeys(("bc", "cb", "be", "eb", "ce", "ec"), 0.002), {}),
        ("leaky", "gds", {"ds": 0.45, "sd": 0.45}, {"is_bridged": True}),
        ("open", "bce", {}, {}),
        # What six readings cannot tell.
        ("?", "gds", {"ds": 0.003, "sd": 0.003}, {}),
        ("?", "gds", {"gs": 0.002, "sg": 0.002, "sd": 0.48, "gd": 0.48}, {}),
        ("?", "bce", {"bc": 0.65}, {}),
        ("?", "gka", {"gk": 0.045, "kg": 0.045}, {}),
        ("?", "gka", {"gk": 0.68}, {"turned_on": (OL, OL)}),
        ("?", "kab", {"ak": 0.42, "bk": 0.53}, {}),
    ]
    return found


def draw(
    chance: random.Random, names: str, volts: dict[str, float], more: dict
) -> tuple[Identified, dict[str, int]]:
    """Read one part with a meter of 0.5 % and 2 digits, its pins in any order."""
    pin = dict(zip(names, chance.sample((1, 2, 3), 3), strict=True))
    gain = 1 + chance.uniform(-0.005, 0.005)
    readings = {
        (pin[a], pin[b]): round(max(gain * v + chance.uniform(-0.002, 0.002), 0.0), 3)
        for (a, b), v in volts.items()
    }
    found = identify({p: readings.get(p, OL) for p in SIX}, **more)
    return found, pin


def is_right(found: Identified, what: str, pin: dict[str, int]) -> bool:
    """Whether the kind is right, and every pin that is named."""
    letters = {
        "base": "b", "collector": "c", "emitter": "e", "gate": "g", "drain": "d", "source": "s",
        "in": "i", "ground": "g", "out": "o",
    }  # fmt: skip
    named = [part.split() for part in found.pins.split(", ")] if found.pins else []
    pins = all(
        pin[letters[name]] == int(number)
        for number, name, *rest in named
        if name in letters and not rest
    )
    return found.kind == what and pins


def test_forty_parts_by_a_noisy_meter():
    """At least 32 are named; none is named wrongly more than once in 100; the rest says why."""
    table = parts()
    assert len(table) == 40
    chance = random.Random(40)
    named = 0
    for what, names, volts, more in table:
        tally = {"right": 0, "wrong": 0, "cannot tell": 0}
        for _ in range(DRAWS):
            found, pin = draw(chance, names, volts, more)
            if found.word == "cannot tell":
                assert found.sentence
                tally["cannot tell"] += 1
            else:
                tally["right" if is_right(found, what, pin) else "wrong"] += 1
        assert tally["wrong"] <= 1, (what, volts, tally)
        named += tally["right"] >= 95
    assert named >= 32


@pytest.mark.parametrize("volts", [0.0, 0.002, 0.02, 0.05])
@pytest.mark.parametrize("is_bridged", [False, True])
@pytest.mark.parametrize("pair", [(1, 2), (1, 3), (2, 3)])
def test_a_shorted_part_is_never_good(pair, is_bridged, volts):
    """Whatever the other four readings are."""
    for others in permutations((0.002, 0.05, 0.45, 0.62, 0.66, 1.9, OL, OL), 4):
        readings = dict(zip((p for p in SIX if set(p) != set(pair)), others, strict=True))
        readings |= {pair: volts, pair[::-1]: volts}
        assert identify(readings, is_bridged=is_bridged).word != "good"


@pytest.mark.parametrize(
    ("readings", "more", "kind", "word", "says"),
    [
        pytest.param({(1, 2): 0.6}, {}, "not known", "cannot tell", "All six", id="not-all-six"),
        pytest.param(
            six(p12=0.003, p21=0.003), {}, "shorted, or a charged MOSFET", "cannot tell",
            "Bridge pin 3 (gate)", id="charged-gate",
        ),
        pytest.param(
            six(p12=0.003, p21=0.003), {"is_bridged": True}, "shorted", "bad", "gate bridged",
            id="bridged-and-still-shorted",
        ),
        pytest.param(
            six(p12=0.05, p21=0.05), {"is_bridged": True}, "thyristor, or leaky", "cannot tell",
            "About 50 Ω", id="thyristor-gate",
        ),
        pytest.param(
            six(p13=0.002, p31=0.002, p32=0.48, p12=0.48), {}, "not known", "cannot tell",
            "transformer", id="gate-through-a-transformer",
        ),
        pytest.param(
            six(p12=0.65), {}, "one diode", "cannot tell", "Seventh: black on 1, touch 3 with red",
            id="open-emitter",
        ),
        pytest.param(
            six(p12=0.65), {"turned_on": (OL, OL)}, "one diode", "cannot tell", "open junction",
            id="nothing-turns-it-on",
        ),
        pytest.param(
            six(p12=0.01), {}, "not known", "cannot tell", "capacitor", id="a-wire-one-way",
        ),
        pytest.param(
            six(p12=0.30, p13=0.31), {}, "dual Schottky diode or germanium NPN", "cannot tell",
            "germanium", id="low-drops",
        ),
        pytest.param(
            six(p12=0.64, p13=0.641), {}, "NPN transistor or dual diode", "cannot tell", "alike",
            id="alike",
        ),
        pytest.param(
            six(p21=0.43, p31=0.53), {}, "PNP transistor or dual diode", "cannot tell", "100 mV",
            id="unequal-halves",
        ),
        pytest.param(
            six(p12=0.65, p13=0.66, p32=0.5), {}, "not known", "cannot tell", "diode across",
            id="damper-diode",
        ),
        pytest.param(six(p12=0.6, p31=0.6), {}, "not known", "cannot tell", "Lift", id="chain"),
        pytest.param(
            six(p12=0.6, p13=0.7, p23=0.8, p32=0.7, p31=0.9), {}, "not known", "cannot tell",
            "More conducts", id="in-circuit",
        ),
    ],
)  # fmt: skip
def test_what_cannot_be_told_says_why(readings, more, kind, word, says):
    found = identify(readings, **more)
    assert (found.kind, found.word) == (kind, word)
    assert says in found.sentence.replace("\u202f", " ")


@pytest.mark.parametrize(("forward", "back", "word"), [(0.2, 0.2, "shorted"), (0.5, OL, "good")])
def test_a_mosfet_that_reads_the_same_both_ways_is_bad(forward, back, word):
    assert judge_junction(forward, back, "mosfet body").word == word
