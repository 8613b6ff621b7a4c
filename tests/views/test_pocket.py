"""The pocket sheet as values: what it finds, what the job fills in, what it says of what was typed."""

import pytest
from tests.conftest import Job

from bench_lamp.board import ProfileLibrary
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.checks import load_meters
from bench_lamp.sums import SUMS
from bench_lamp.views.pocket import entry_text, matching, note_of, pocket_view
from bench_lamp.views.pocket_fill import filled


def case_of(profile_id: str) -> Case:
    job = Job(ProfileLibrary().get(profile_id), load_meters()["hearthwell-60"])
    return Case(profile=job.profile, state=job.state, meter=job.meter)


@pytest.mark.parametrize(
    ("profile_id", "focus", "sum_id", "wanted"),
    [
        (
            "tessenby-orrery-nights",
            "C1",
            "reservoir",
            {"farads": "12000 µF", "amps": "1.45 A", "kind": "bridge"},
        ),
        ("tessenby-orrery-nights", "U1", "reservoir", {"farads": "12000 µF"}),
        (
            "tessenby-orrery-nights",
            "U1",
            "regulator",
            {"have": "10.5 V", "want": "5.05 V", "amps": "1.45 A"},
        ),
        ("tessenby-orrery-nights", "F2", "fuse", {"amps": "1.45 A"}),
        ("tessenby-orrery-nights", "C1", "rectifier", {"winding": "9.3 V"}),
        ("ostrel-8", "D3", "rectifier", {"winding": "13.5 V", "kind": "half-wave"}),
        ("ostrel-8", "R5", "bleed", {"farads": "6800 µF"}),
        ("ardvane-cinder-dunes", "", "series-lamp", {"va": "62"}),
        ("varnholt-vx12", "", "reservoir", {}),
    ],
)
def test_the_job_fills_in_what_it_knows(profile_id, focus, sum_id, wanted):
    found = filled(case_of(profile_id), Hand(focus=focus), sum_id)
    assert found.items() >= wanted.items()


def test_the_reservoir_of_the_demo_reads_what_its_point_does(orrery):
    """B, raw for +5 V: the practice band of good boards is 9.6 to 11.5 V."""
    typed = filled(case_of("tessenby-orrery-nights"), Hand(focus="C1"), "reservoir")
    view = pocket_view("reservoir", typed)
    mean = next(o for o in view.outcomes if o.label == "mean")
    assert mean.value in orrery.point("B").practice


def test_without_a_job_nothing_is_filled_and_every_sum_opens():
    for one in SUMS:
        assert filled(None, Hand(), one.id) == {}
        view = pocket_view(one.id, {})
        assert view.message or view.outcomes
    assert pocket_view("no such sum", {}).id == SUMS[0].id


@pytest.mark.parametrize("profile_id", sorted(ProfileLibrary().paths()))
def test_whatever_is_under_the_hand_every_sum_opens(profile_id):
    case = case_of(profile_id)
    names = (
        [b.id for b in case.profile.power]
        + [p.id for p in case.profile.test_points]
        + ["", "nothing"]
    )
    for name in names:
        for one in SUMS:
            pocket_view(one.id, filled(case, Hand(focus=name), one.id))


def test_a_sum_is_found_by_its_words_and_noted_in_one_line():
    assert [s.id for s in matching("ripple")] == ["reservoir"]
    view = pocket_view("load", {"volts": "5", "amps": "2.5"})
    assert note_of(view).startswith("Load resistor: volts 5 V, current 2.5 A; resistor 2\u202fΩ")
    assert entry_text(view.outcomes[0]) == "2 Ω"


def test_what_is_wrong_is_said_beside_its_name():
    view = pocket_view("divider", {"volts": "12", "top": "10k", "low": "1x"})
    assert view.message.startswith("lower: ")
    assert [line.key for line in view.lines if line.error] == ["low"]
    assert pocket_view("divider", {"volts": "12"}).message == "Wanted: upper, lower."
