"""Waking up: the gates, what stops, what a supply may float to, loads and limiters."""

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.seen import take

from bench_lamp.case.gates import current_gate, gates, is_awake, off_for_wake
from bench_lamp.case.next_stage import suggested
from bench_lamp.case.stops import wake_stops
from bench_lamp.checks import load_meters
from bench_lamp.checks.limiting import dummy_load, series_lamp
from bench_lamp.journal.events import (
    ActionDone,
    CheckNoted,
    FuseFitted,
    GateMarked,
    MainsSeen,
    PartReplaced,
    PowerConfirmed,
    ReadingTaken,
)
from bench_lamp.stages import STAGES, card_for
from bench_lamp.stages.wake.reading_cards import limiter_words, load_words
from bench_lamp.units import Band
from bench_lamp.views.path import path


def plain(text: str) -> str:
    return text.replace("\u202f", " ")


def press(job, key: str, seen=None, **more) -> None:
    """Take one of the wake-up card's choices, as a key would."""
    card = card_for("wake", *(seen or job.seen(**more)))
    choice = next(c for c in card.choices if c.key == key)
    for body in choice.log:
        if isinstance(body, PowerConfirmed):
            job.switch(body.power)
        else:
            job.log(body)


def wake(job, until: str = "", **values: float) -> None:
    """Go through the gates with good readings, up to a gate that is not begun."""
    for _ in range(200):
        gate = current_gate(job.seen().case)
        if gate is None or gate.gate.id == until:
            return
        card = card_for("wake", *job.seen())
        if card.entry is None:
            press(job, "1")
            continue
        point = job.profile.point(card.entry.target)
        value = values.get(
            card.entry.target, (point.practice or point.design).middle if point else 0.1
        )
        if point:
            job.read(**{point.id: value})
        else:
            job.log(
                ReadingTaken(
                    target=card.entry.target,
                    mode="dc V",
                    value=value,
                    resolution=0.01,
                    power="live",
                )
            )
    pytest.fail(f"the gates do not end: {card.title}")


@pytest.fixture
def cold_job(job):
    job.switch("discharged")
    return job


def test_the_plan_comes_from_the_profile(job):
    found = gates(job.seen().case)
    assert [g.gate.id for g in found] == [
        "supply", "load", "logic", "displays", "driver", "lighting", "lamps", "coils", "machine",
    ]  # fmt: skip
    assert found[0].off == {"J2", "J3", "J4", "J5", "J6", "F3"}
    assert [g.status for g in found] == ["here", *["waiting"] * 8]
    assert {r.point.id for r in found[0].readings} == {"A", "B", "P", "C", "Q", "G", "H", "K"}
    assert {r.point.id for r in found[2].readings} >= {"A", "L1"}
    assert "F3" in found[6].off, "the coil fuse stays out until its own gate"
    assert {r.point.id for r in found[7].readings} == {"E", "D2"}
    straight = gates(job.seen(rules={"wake-up": "straight on"}).case)
    assert [g.gate.name for g in straight] == ["Straight on"]


def test_a_whole_wake_up_ends_awake_with_everything_on(cold_job):
    assert card_for("wake", *cold_job.seen()).title == "Once round the bench"
    press(cold_job, "1")
    card = card_for("wake", *cold_job.seen())
    assert card.title == "F3, J2, J3, J4, J5, J6 go off"
    press(cold_job, "1")
    assert cold_job.state.out == {"F3", "J2", "J3", "J4", "J5", "J6"}
    card = card_for("wake", *cold_job.seen())
    assert card.title == "Switch on, hand on the switch"
    assert "Mains" in card.cautions[0]
    wake(cold_job)
    assert is_awake(cold_job.seen().case)
    assert cold_job.state.out == frozenset()
    strays = [r.target for r in cold_job.state.readings if r.target.startswith("J8")]
    assert len(strays) == 2
    assert path(cold_job.seen().case)[2].note == "awake"


def stop_at_logic(job, **more: float):
    """Pass the first gates, and read the logic rail low at the third."""
    wake(job, until="logic")
    for _ in range(6):
        if card_for("wake", *job.seen()).entry is not None:
            break
        press(job, "1")
    job.read(A=3.9, **more)


def test_readings_carry_what_was_off_and_the_reasoning_hears_it(cold_job, hunted):
    """5 V fell from 5.05 to 3.9 when J2 went on: that is evidence against the logic board."""
    stop_at_logic(cold_job, L1=3.85, B=9.4)
    seen = hunted(cold_job)
    before = [c for c in seen.case.insight.facts.clues if c.target == "logic5" and "J2" in c.out]
    assert before
    blocks = sum(seen.case.insight.by_block.get(b, 0.0) for b in ("C112", "CPU", "U1", "C1"))
    assert blocks > 0.5
    assert current_gate(cold_job.seen().case).status == "failed"


def test_nothing_behind_a_failed_gate_is_offered_until_it_is_mended(cold_job):
    stop_at_logic(cold_job)
    card = card_for("wake", *cold_job.seen())
    assert card.title == "It stops here"
    assert "A 3.90 V, low" in plain(card.cautions[0])
    assert [c.key for c in card.choices] == ["1", "2", "3", "9"]
    later = [g.status for g in gates(cold_job.seen().case)][3:]
    assert later == ["waiting"] * 6
    cold_job.log(PartReplaced(part="C112", out="x", fitted="y"))
    assert current_gate(cold_job.seen().case).status == "here", (
        "mended: its readings are stale, so read anew"
    )


def test_going_on_against_a_stop_is_logged_and_stays_visible(cold_job):
    stop_at_logic(cold_job)
    press(cold_job, "9")
    assert gates(cold_job.seen().case)[2].status == "overridden"
    assert "3.90" in gates(cold_job.seen().case)[2].reason
    wake(cold_job)
    assert "gone through" in card_for("wake", *cold_job.seen()).cautions[0]


def test_missing_signs_stop_a_gate_and_beginning_anew_asks_again(cold_job):
    for _ in range(40):
        card = card_for("wake", *cold_job.seen())
        if card.title == "Signs of a good start?":
            break
        if card.entry is None:
            press(cold_job, "1")
        else:
            cold_job.read_healthy(card.entry.target)
    press(cold_job, "2")
    assert gates(cold_job.seen().case)[0].status == "failed"
    press(cold_job, "2")
    gate = current_gate(cold_job.seen().case)
    assert (gate.status, gate.signs_seen) == ("here", False)
    assert all(r.reading is None for r in gate.readings), "what was read before does not count"


def test_stray_coil_volts_stop_the_coil_gate(cold_job):
    wake(cold_job, until="coils")
    for _ in range(6):
        card = card_for("wake", *cold_job.seen())
        if card.entry is not None:
            break
        press(cold_job, "1")
    assert card.title == "Stray volts at J8 pin 2"
    assert plain(card.expect) == "under 0.5 V"
    taken = take("wake", *cold_job.seen(), "12.4")
    cold_job.log(*taken.log)
    assert card_for("wake", *cold_job.seen()).title == "It stops here"


@pytest.mark.parametrize(
    ("prepare", "says"),
    [
        pytest.param([FuseFitted(fuse="F4", text="bridged")], "F4: bridged", id="bridged-fuse"),
        pytest.param([ReadingTaken(target="A", mode="ohm", value=0.6, resolution=0.1)], "A: 0.6", id="short"),
        pytest.param(
            [MainsSeen(place="selector", text="230 V"), MainsSeen(place="sticker", text="115 V")],
            "sticker says 115 V", id="mains-mismatch",
        ),
        pytest.param([CheckNoted(check="coil:K03", word="bad", text="cooked")], "K03: cooked", id="cooked-coil"),
    ],
)  # fmt: skip
def test_what_was_found_cold_forbids_the_wake_up(cold_job, prepare, says):
    cold_job.log(*prepare)
    card = card_for("wake", *cold_job.seen())
    assert (card.kind, card.title) == ("Stop", "Do not switch on")
    assert any(says in plain(c) for c in card.cautions)
    cold_job.log(*card.choices[-1].log)
    assert wake_stops(cold_job.seen().case) == ()
    assert isinstance(cold_job.state.gates["round"][0], GateMarked)


def test_a_fuse_that_cannot_be_pulled_is_judged_by_the_volts_on_both_sides(cold_job):
    cold_job.log(CheckNoted(check="fuse:F2", word="judge live", text="judge live"))
    for _ in range(40):
        card = card_for("wake", *cold_job.seen())
        if card.title.startswith("Volts"):
            break
        if card.entry is None:
            press(cold_job, "1")
        else:
            cold_job.read_healthy(card.entry.target)
    assert card.title == "Volts before F2"
    cold_job.log(
        ReadingTaken(target="sec_logic", mode="ac V", value=9.5, resolution=0.1, power="live")
    )
    card = card_for("wake", *cold_job.seen())
    assert card.title == "F2 conducts", "P is its far side, and was read"
    press(cold_job, "1")
    assert cold_job.state.checks["fuse:F2"].word == "good"


def test_a_regulator_without_load_may_float(make_job, library):
    """Cinder Dunes: the audio 5 V stands at 8.2 V with J7 off, and that is within here."""
    job = make_job(library.get("ardvane-cinder-dunes"))
    job.switch("discharged")
    press(job, "1")
    press(job, "1")
    press(job, "1")
    gate = current_gate(job.seen().case)
    band = next(r.band for r in gate.readings if r.point.id == "A5")
    assert band == Band(4.8, 9.0)
    job.read(A5=8.2, TP5=5.5)
    assert [r.point.id for r in current_gate(job.seen().case).bad] == []
    words = " ".join(map(plain, load_words(job.seen().case)))
    assert "TP5 needs 0.4 A: 12 Ω" in words
    assert "lacks 0.14 A: 2 in parallel" in words
    card = card_for("wake", *job.seen(focus="A5"))
    assert "4.8 to 9.0" in plain(card.expect)
    assert "If it won't come down: no load first" in card.why[0]
    tied = card_for("wake", *job.seen(focus="A5", rules={"sense lines": "tied at the supply"}))
    assert "tied at the output" in tied.why[0]


@pytest.mark.parametrize(
    ("volts", "amps", "ohms", "watts", "lamps"),
    [
        (5.0, 0.4, 12.0, 4.17, 2),
        (12.0, 0.3, 39.0, 7.38, 1),
        (5.0, 0.15, 33.0, 1.52, 1),
        (32.0, 0.5, 56.0, 36.6, 1),
    ],
)
def test_dummy_loads_by_hand(volts, amps, ohms, watts, lamps):
    """5 V at 0.4 A is 12.5 Ω, so 12 Ω; 2 · 25/12 = 4.17 W; a 12 V 5 W lamp draws 0.26 A at 5 V."""
    load = dummy_load(volts, amps)
    assert (load.ohms, load.lamps) == (ohms, lamps)
    assert load.watts == pytest.approx(watts, rel=5e-3)


@given(volts=st.floats(3, 50), amps=st.floats(0.05, 3))
def test_a_dummy_load_always_draws_enough(volts, amps):
    load = dummy_load(volts, amps)
    assert volts / load.ohms >= amps * (1 - 1e-6)
    assert load.ohms >= volts / amps / 1.26
    assert (load.one_lamp_lacks > 0) is (load.lamps > 1)


@given(mains=st.sampled_from([115.0, 230.0]), idle=st.floats(5, 400))
def test_a_series_lamp_and_the_set_share_the_mains(mains, idle):
    """Kirchhoff: lamp and set carry one current and their volts add up."""
    found = series_lamp(mains, idle)
    through_set = (mains - found.lamp_volts) / (mains * mains / idle)
    through_lamp = 100.0 / mains * (found.lamp_volts / mains) ** 0.55
    assert through_set == pytest.approx(found.amps, rel=1e-6)
    assert through_lamp == pytest.approx(found.amps, rel=1e-3)


@pytest.mark.parametrize(
    ("rule", "says"),
    [
        ("series lamp", "100 W lamp in series"),
        ("variable transformer", "over a minute"),
        # CPU 1.1 A and DRV 0.35 A hang on logic5: 1.45 A, and a quarter more for the limit.
        ("bench supply", "on A: 5.05 V, limit 1.8 A; all on, it draws about 1.45 A"),
        ("nothing", ""),
    ],
)
def test_the_limiter_is_a_house_rule(job, rule, says):
    words = " ".join(map(plain, limiter_words(job.seen(rules={"limiting": rule}).case)))
    assert says in words
    assert bool(words) is bool(says)


def test_the_first_suggestion_follows_the_house_rule(job):
    assert suggested(job.seen().case) == "intake"
    job.log(MainsSeen(place="fuse", text="3 A slow"))
    from bench_lamp.journal.events import Complaint

    job.log(Complaint(text="dead"))
    assert suggested(job.seen(rules={"first": "rails"}).case) == "wake"
    assert off_for_wake(job.seen().case) == frozenset()


@settings(max_examples=40, deadline=None)
@given(data=st.data())
def test_no_path_by_keys_asks_for_ohms_on_a_live_board_or_skips_a_gate(data, orrery):
    """Any keys on any stage's card: ohms, diode and tone are only taken on a board that is off,
    and a gate is behind only when it was passed or overridden in the journal."""
    from tests.conftest import Job

    job = Job(orrery, load_meters()["hearthwell-60"])
    for _ in range(data.draw(st.integers(3, 25))):
        stage = data.draw(st.sampled_from([stage.id for stage in STAGES]))
        seen = job.seen()
        card = card_for(stage, *seen)
        if card.entry is not None and card.entry.kind == "reading" and data.draw(st.booleans()):
            text = data.draw(st.sampled_from(["0.1", "5.05", "31", "OL", "12k"]))
            for body in getattr(take(stage, *seen, text), "log", ()):
                job.log(body)
        elif card.choices:
            choice = data.draw(st.sampled_from(card.choices))
            for body in choice.log:
                if isinstance(body, PowerConfirmed):
                    job.switch(body.power)
                else:
                    job.log(body)
        _holds(job)


def _holds(job) -> None:
    for reading in job.state.readings:
        if reading.mode in {"ohm", "diode", "tone"}:
            assert reading.power != "live"
    seen = job.seen()
    if seen.case.state.power.is_live:
        for stage in STAGES:
            entry = stage.card(*seen).entry
            assert entry is None or entry.kind == "text" or entry.mode in {"dc V", "ac V"}
    for view in gates(seen.case):
        marks = {m.mark for m in job.state.gates.get(view.gate.id, ())}
        if view.status in {"passed", "overridden"}:
            assert marks & {"passed", "overridden"}
    reached = [g.status for g in gates(seen.case)]
    behind = reached[
        next((i for i, s in enumerate(reached) if s in {"failed", "here"}), len(reached)) + 1 :
    ]
    assert set(behind) <= {"waiting", "overridden"} or not behind
    assert not math.isnan(len(job.state.tape))


def test_a_pulled_connector_of_the_wake_up_is_no_hunt(cold_job):
    wake(cold_job, until="displays")
    assert suggested(cold_job.seen().case) == "wake"
    assert cold_job.state.out <= off_for_wake(cold_job.seen().case)
    cold_job.log(ActionDone(action="removed for test", target="C2"))
    assert cold_job.state.out - off_for_wake(cold_job.seen().case) == {"C2"}
