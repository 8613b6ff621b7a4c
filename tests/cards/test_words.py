"""How faults, remedies and the meter's figures are worded."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from bench_lamp.cards.card import Accepted
from bench_lamp.cards.fault_words import fault_short, fault_title, remedy, remedy_title
from bench_lamp.cards.instrument import request_for, seen, shown_text
from bench_lamp.cards.leads import name_of
from bench_lamp.circuit import compile_tree
from bench_lamp.circuit.faults import faults_of
from bench_lamp.instrument import Shown
from bench_lamp.stages import card_for
from bench_lamp.stages.trace.mend_cards import undecided_card
from bench_lamp.units import parse_quantity, percent


@pytest.fixture(params=["tessenby-orrery-nights", "ardvane-cinder-dunes"])
def board(request, library):
    profile = library.get(request.param)
    return profile, faults_of(compile_tree(profile))


def test_every_generated_fault_has_its_own_words_and_a_mend(board):
    profile, faults = board
    titles = [fault_title(profile, f) for f in faults]
    assert len(set(titles)) == len(titles), "two faults would be one line of the list"
    for fault in faults:
        for words in (fault_title, fault_short, remedy_title):
            text = words(profile, fault)
            assert fault.block in text
            assert "{" not in text
            assert "None" not in text
        assert len(fault_short(profile, fault)) <= 32


@pytest.mark.parametrize(
    ("name", "title", "short", "mend", "action"),
    [
        ("F4: open", "F4 open, or its holder", "F4 open", "Replace F4, 10 A slow", None),
        ("J3.5: open", "J3.5 open: contact or crimp", "J3.5 open",
         "Look at J3.5: pull, clean, re-seat", "reseated"),
        ("J3.5: resistive", "J3.5 drops volts: contact or crimp", "J3.5 lossy",
         "Look at J3.5: pull, clean, re-seat", "reseated"),
        ("BR2: one leg open", "BR2, a leg open", "BR2 leg open", "Replace BR2", None),
        ("C2: dried out", "C2 dried out", "C2 dried out", "Replace C2", None),
        ("C203: shorted", "C203 shorted", "C203 shorted", "Replace C203", None),
        ("U1: dead", "U1 dead", "U1 dead", "Replace U1", None),
    ],
)  # fmt: skip
def test_faults_as_one_says_them(orrery, name, title, short, mend, action):
    fault = next(f for f in faults_of(compile_tree(orrery)) if f.name == name)
    spaced = remedy_title(orrery, fault).replace("\u202f", " ")
    assert (fault_title(orrery, fault), fault_short(orrery, fault)) == (title, short)
    assert spaced == mend
    assert remedy(orrery, fault) == action


@given(
    value=st.floats(-999, 999) | st.floats(1e3, 5e7),
    resolution=st.sampled_from([0.0001, 0.001, 0.01, 0.1, 1.0]),
)
def test_what_a_meter_shows_can_be_typed_and_means_the_same(value, resolution):
    """The instrument's figure goes through the entry as if it were typed."""
    text = shown_text(Shown(value=value, resolution=resolution))
    read = parse_quantity(text, "V")
    assert read.value == pytest.approx(value, abs=0.51 * resolution)
    assert not read.is_overload
    assert parse_quantity(shown_text(Shown(value=float("inf"))), "Ω").is_overload


def test_what_the_instrument_is_asked_for_follows_the_card_and_the_power(job):
    """A dead board is toned and read in ohms, a live one in volts; a question is no measurement."""
    job.switch("discharged")
    fuse = card_for("cold", *job.seen(focus="fuse:F4"))
    assert request_for(job.seen().case, fuse).kind == "tone"
    request = request_for(job.seen().case, fuse)
    found = seen(job.seen().case, request, Shown(value=1.0), "some meter")
    assert isinstance(found, Accepted)
    job.log(*found.log)
    assert job.state.readings[-1].meter == "some meter"
    ohms = card_for("cold", *job.seen(focus="ohms:A"))
    wanted = request_for(job.seen().case, ohms)
    assert (wanted.kind, wanted.swapped, wanted.condition.is_powered) == ("ohm", False, False)
    watched = request_for(job.seen().case, card_for("cold", *job.seen(focus="capacitor:C2")))
    assert watched.target == "lamp18"
    assert list(watched.seconds) == sorted(watched.seconds)
    job.switch("live")
    assert request_for(job.seen().case, fuse) is None, "no tone test on a live board"
    rails = request_for(job.seen().case, card_for("rails", *job.seen(focus="A")))
    assert (rails.kind, rails.target, rails.condition.is_powered) == ("dc", "logic5", True)
    assert request_for(job.seen().case, card_for("handback", *job.seen())) is None


def test_when_no_test_tells_more_it_is_by_hand(live_job, hunted):
    live_job.read(C=0.1)
    seen = hunted(live_job)
    found = undecided_card(seen.case, seen.case.insight)
    best = seen.case.insight.suspects[0]
    assert found.title == f"A meter cannot separate these: isolate {best.block}"
    assert found.choices[0].draft == {"part": best.block}
    assert len(found.why) == min(len(seen.case.insight.suspects), 3) + 1
    nobody = undecided_card(seen.case, replace(seen.case.insight, suspects=()))
    assert nobody.choices[0].go == "rails"


@given(odds=st.floats(0.0, 1.0))
def test_odds_are_never_written_as_certain(odds):
    text = percent(odds).replace("\u202f", " ")
    assert text not in {"0 %", "100 %"}
    digits = int("".join(c for c in text if c.isdecimal()))
    assert abs(digits - 100 * odds) <= 1.0


def test_a_net_whose_name_begins_like_a_place_is_still_read_at(make_job, orrery):
    points = tuple(replace(p, id="before5") if p.id == "C" else p for p in orrery.test_points)
    case = make_job(replace(orrery, test_points=points)).seen().case
    assert name_of(case, "lamp18").after("at") == "at before5"
    assert name_of(case, "sec_lamp").after("at") == "before F4"
