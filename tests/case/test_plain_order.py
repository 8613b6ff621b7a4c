"""The usual order on a rail without a tree: each answer settles what it settles, and no more."""

import pytest
from msgspec.structs import replace

from bench_lamp.board import Part, Profile, TestPoint
from bench_lamp.case.plain_order import StepKind, hunts, least_volts
from bench_lamp.stages.trace.cards import trace_card
from bench_lamp.units import Band

RAIL = TestPoint(id="5V", name="+5 V rail", net="5V", black="gnd", mode="dc V", nominal=5.0,
                 design=Band(4.75, 5.25), assumed=True)  # fmt: skip
ON_THE_WAY = [
    ("5V-raw", "dc V"),
    ("BR1-ac", "ac V"),
    ("U5-out", "dc V"),
    ("5V-other", "dc V"),
    ("5V-unloaded", "dc V"),
]
POINTS = tuple(
    TestPoint(id=name, name=name, net=name, black="gnd", mode=mode) for name, mode in ON_THE_WAY
)
PARTS = (
    Part(id="BR1", name="bridge", kind="rectifier"),
    Part(id="U5", name="regulator", kind="regulator", feeds="5V"),
    Part(id="F1", name="fuse", kind="fuse"),
)
SKETCH = Profile(
    format="bench-lamp board 1", id="new", name="New", test_points=(RAIL, *POINTS), parts=PARTS
)


@pytest.fixture
def hunt(make_job):
    """Return a maker of the one hunt after these readings: name to (mode, value), or a value."""

    def make(profile=SKETCH, **read):
        job = make_job(profile)
        job.switch("live")
        for name, value in read.items():
            mode, value = value if isinstance(value, tuple) else ("", value)
            job.read(mode, **{name: value})
        return job.seen()

    return make


def states(case) -> dict[str, str]:
    return {s.kind.value: s.state for s in hunts(case)[0].steps}


@pytest.mark.parametrize(
    ("read", "next_step", "aside"),
    [
        ({"5V": 0.0}, "raw", set()),
        ({"5V": 0.0, "5V-raw": 9.8}, "out", {"ac in", "fuse"}),
        ({"5V": 0.0, "5V-raw": 0.1}, "ac in", {"out", "contact"}),
        ({"5V": 0.0, "5V-raw": 0.1, "BR1-ac": 9.0}, "short", {"fuse", "out", "contact"}),
        ({"5V": 0.0, "5V-raw": 0.1, "BR1-ac": 0.0}, "fuse", {"out", "contact"}),
        ({"5V": 0.0, "5V-raw": 9.8, "U5-out": 5.0}, "contact", {"ac in", "fuse"}),
        ({"5V": 4.2}, "ripple", set()),
        ({"5V": 6.3}, "out", set()),
        ({"5V": 5.0}, None, set()),
    ],
)
def test_each_answer_halves_the_way(hunt, read, next_step, aside):
    found = hunts(hunt(**read).case)
    assert (found[0].next_step.kind.value if found else None) == next_step
    assert {s.kind.value for h in found for s in h.steps if s.state == "set aside"} == aside


@pytest.mark.parametrize(
    ("read", "title"),
    [
        ({"5V": 0.0, "F1": ("tone", 1.0), "5V-raw": 0.0, "BR1-ac": 0.0}, "Replace F1"),
        ({"5V": 0.0, "5V-raw": 0.0, "BR1-ac": 9.0}, "Rectifier or reservoir: look at BR1"),
        ({"5V": 0.0, "5V-raw": 9.8, "U5-out": 0.0}, "Regulator, or a short behind it: look at U5"),
        ({"5V": 0.0, "5V-raw": 9.8, "U5-out": 5.0, "5V-other": 5.0}, "A contact on the way to 5V"),
        ({"5V": 0.0, "5V-raw": 9.8, "U5-out": 0.0, "short": 0.4}, "Something pulls 5V down"),
        (
            {"5V": 0.0, "5V-raw": 0.0, "BR1-ac": 0.0, "F1": ("tone", 0.0)},
            "Before the rectifier: winding, switch, wire",
        ),
        ({"5V": 4.2, "ripple": 0.01, "5V-raw": 9.8, "U5-out": 4.2, "5V-unloaded": 5.0, "short": 40.0},
         "Regulator, or a short behind it: look at U5"),
    ],
)  # fmt: skip
def test_what_the_answers_leave_is_said(hunt, make_job, read, title):
    job = make_job(SKETCH)
    job.switch("live")
    for name, value in read.items():
        mode, figure = value if isinstance(value, tuple) else ("", value)
        if name == "short":
            job.switch("discharged")
            job.read("ohm", **{"5V": figure})
        elif name == "ripple":
            job.read("ac V", **{"5V": figure})
        else:
            job.read(mode, **{name: figure})
    seen = job.seen()
    left = {f"plain:5V:{s.kind.value}:{s.part}" for s in hunts(seen.case)[0].steps}
    assert trace_card(*seen.but(skipped=frozenset(left))).title == title


def test_a_part_that_is_named_is_said_at_once(hunt):
    seen = hunt(replace(SKETCH, parts=()), **{"5V": 0.0})
    assert trace_card(*seen).title == "DC volts across the reservoir of 5V"
    named = replace(SKETCH, parts=(Part(id="C14", name="reservoir", kind="capacitor"),))
    assert trace_card(*hunt(named, **{"5V": 0.0})).title == "DC volts across C14"


@pytest.mark.parametrize(
    ("volts", "kind", "least"),
    [
        (5.0, StepKind.RAW, 7.0),
        (5.0, StepKind.AC_IN, 7.0 / 1.3),
        (-12.0, StepKind.RAW, 14.0),
        (50.0, StepKind.RAW, 40.0),
        (5.0, StepKind.OUT, 4.75),
        (None, StepKind.OUT, 1.0),
    ],
)
def test_the_least_that_counts_as_alive(hunt, volts, kind, least):
    point = replace(RAIL, id="R", nominal=volts, design=None)
    assert least_volts(hunt().case, point, kind) == pytest.approx(least)


def test_a_step_with_its_reading_off_its_point_is_to_do_again_after_a_repair(hunt):
    assert states(hunt(**{"5V": 0.0, "5V-raw": 9.8}).case)["raw"] == "alive"
