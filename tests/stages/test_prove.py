"""The proof: open ends, first minute, complaint, run, full load, burn-in, and what is left open."""

import math
from datetime import timedelta

import pytest
from tests.seen import take

from bench_lamp.board.profile import Profile
from bench_lamp.cards.card import Accepted, Refused
from bench_lamp.cards.commands import AskPower
from bench_lamp.case.proof import is_proved, unproved
from bench_lamp.case.proving.burn import burn_of
from bench_lamp.case.proving.drift import drift_of, hours_text
from bench_lamp.case.proving.ends import loose_ends
from bench_lamp.case.proving.loads import load_steps, regulation
from bench_lamp.case.proving.run import first_minute
from bench_lamp.journal.events import (
    ActionDone,
    CheckNoted,
    Complaint,
    FuseFitted,
    MainsSeen,
    Note,
    PartReplaced,
)
from bench_lamp.journal.logic_events import SelfTestSeen
from bench_lamp.journal.open_events import ComplaintAsked, LoadHung, OpenEnd
from bench_lamp.journal.proof_events import (
    BurnBegun,
    BurnEnded,
    FirstMinuteWatched,
    FunctionTried,
    HeatFelt,
    LoadStepRead,
)
from bench_lamp.stages import card_for
from bench_lamp.stages.prove.cards import current, part_beside, part_views, prove_picture
from bench_lamp.stages.prove.kinds import PARTS


@pytest.fixture
def bench_supply(library, make_job):
    """Return a Ruskel with its circuit, live and read good."""
    job = make_job(library.get("ruskel-36"))
    job.switch("live")
    job.read_healthy()
    job.works()
    return job


def card_of(job, **more):
    return card_for("prove", *job.seen(**more))


@pytest.mark.parametrize(
    ("bodies", "target", "title", "customer"),
    [
        ((ActionDone(action="removed for test", target="J3"),), "J3", "Put J3 back first", "J3 is still off."),
        ((ActionDone(action="removed for test", target="F3"),), "F3", "Put F3 back first", "Fuse F3 is still out."),
        ((LoadHung(load="load on A", is_on=True),), "load on A", "Take load on A off first",
         "A test load (load on A) still hangs on it."),
        ((OpenEnd(what="temporary part", target="C2", text="10000 µF, too large"),), "C2",
         "C2: 10000 µF, too large", "C2 is a stand-in for now and has to be changed once more."),
        ((OpenEnd(what="socket", target="U7"),), "U7", "U7: socket", "A test part is still in the socket of U7."),
        ((OpenEnd(what="paint", target="RV4"),), "RV4", "RV4: paint", "RV4 is set, but not secured with paint yet."),
        ((FuseFitted(fuse="F4", text="bridged"),), "F4", "Fit F4, 10 A slow: the holder was bridged",
         "Fuse F4 is bridged."),
        ((FuseFitted(fuse="F4", text="none"),), "F4", "Fit F4, 10 A slow: the holder was empty", "Fuse F4 is missing."),
        ((MainsSeen(place="selector", text="115 V"),), "sticker", "Write 115 V on the sticker: it says 230 V",
         "The sticker says 230 V, the selector stands at 115 V."),
    ],
)  # fmt: skip
def test_an_open_end_is_ended_by_one_key(job, bodies, target, title, customer):
    job.log(*bodies)
    (end,) = [e for e in loose_ends(job.seen().case) if e.target == target]
    assert (end.title.replace("\u202f", " "), end.customer) == (title, customer)
    assert customer in unproved(job.seen().case)
    card = card_of(job)
    assert card.title == end.title
    job.log(*card.choices[0].log)
    assert not [e for e in loose_ends(job.seen().case) if e.target == target]


@pytest.mark.parametrize(
    ("body", "stage"),
    [
        (CheckNoted(check="fuse:F2", word="left out"), "cold"),
        (SelfTestSeen(test="settings", code="lost"), "selftest"),
    ],
)
def test_what_a_stage_must_end_leads_there(job, body, stage):
    job.log(body)
    (end,) = [e for e in loose_ends(job.seen().case) if e.go]
    assert end.go == stage
    assert card_of(job).choices[0].go == stage


def test_hands_go_in_only_when_it_is_off(live_job):
    live_job.log(OpenEnd(what="link", target="LK2", text="close LK2"))
    card = card_of(live_job)
    assert card.choices[0].command == AskPower()
    assert card.cautions
    live_job.switch("discharged")
    assert card_of(live_job).choices[0].log


def test_the_first_minute_is_watched_after_a_repair_and_only_then(live_job):
    live_job.read_healthy()
    assert first_minute(live_job.seen().case) is None
    assert card_of(live_job).kind != "First minute"
    live_job.switch("off")
    live_job.log(PartReplaced(part="C1", out="x", fitted="y"))
    card = card_of(live_job)
    assert card.title == "Watch the first minute, finger on the switch"
    assert any("C1, " in lead.text for lead in card.leads)
    assert card.choices[0].command == AskPower()
    live_job.switch("live")
    quiet = card_of(live_job).choices[0]
    smoke = next(c for c in card_of(live_job).choices if c.text == "Smoke")
    assert quiet.log == (FirstMinuteWatched(word="quiet"),)
    assert smoke.go == "trace"
    live_job.log(*smoke.log)
    assert not live_job.state.power.is_live, "who saw smoke has switched off"
    assert "First minute: smoke." in unproved(live_job.seen().case)


def test_a_stop_comes_before_the_first_minute(job):
    job.log(FuseFitted(fuse="F4", text="30 A slow"), PartReplaced(part="C1", out="x", fitted="y"))
    assert any("Do not switch on" in c for c in card_of(job).cautions)


def test_what_was_bad_is_read_first_then_the_complaint_then_the_rest(live_job):
    live_job.log(Complaint(text="half the lamps dead"))
    live_job.read_healthy()
    live_job.read(D=12.0, Q=1.0)
    live_job.switch("off")
    live_job.log(PartReplaced(part="F4", out="x", fitted="y"), FirstMinuteWatched(word="quiet"))
    live_job.switch("live")
    assert card_of(live_job).title.startswith("Read Q,")
    live_job.read_healthy("Q")
    assert card_of(live_job).title.startswith("Read D,")
    live_job.read_healthy("D")
    card = card_of(live_job)
    assert card.title == "Gone, as the customer would see it?"
    live_job.log(*card.choices[1].log)
    assert live_job.state.complaint_where == "bench"
    assert card_of(live_job).title.startswith("Read A,")


def test_still_bad_is_said_at_once_and_can_be_passed(live_job):
    live_job.read(D=12.0)
    card = card_of(live_job)
    assert (card.title, card.choices[0].go) == ("Not proved: D is not right", "trace")
    assert card_of(live_job, skipped=frozenset({card.id})).title.startswith("Read A,")


def test_a_complaint_that_never_showed_is_not_proved_and_is_to_be_watched(live_job):
    live_job.log(Complaint(text="resets when warm"))
    live_job.read_healthy()
    live_job.works()
    never = next(c for c in card_of(live_job).choices if c.text == "It never showed here")
    live_job.log(*never.log)
    assert unproved(live_job.seen().case) == ("The complaint never showed here.",)
    card = card_of(live_job)
    watch = next(c for c in card.runners if c.log)
    assert watch.log == (Note(text="Note when it happens: resets when warm.", about="advice"),)


@pytest.mark.parametrize(
    ("text", "step", "word", "why"),
    [
        ("3 works", "every switch by a ball", "works", ""),
        ("3 fails: two dead", "every switch by a ball", "fails", "two dead"),
        ("Coin up OK", "coin up", "works", ""),
        ("topper motor no turns", "topper motor", "fails", "turns"),
        ("settings last later", "settings last", "left out", ""),
    ],
)
def test_a_step_of_the_run_is_said_as_it_went(live_job, text, step, word, why):
    live_job.read_healthy()
    answer = take("prove", *live_job.seen(), text)
    assert answer.log == (FunctionTried(step=step, word=word, text=why),)


@pytest.mark.parametrize("text", ["", "3", "99 works", "hello", "0 fails"])
def test_what_says_nothing_of_a_step_is_refused(live_job, text):
    live_job.read_healthy()
    answer = take("prove", *live_job.seen(), text)
    assert isinstance(answer, Refused)
    assert answer.mend


def test_the_run_is_asked_anew_after_a_change_and_a_failing_step_is_no_proof(live_job):
    live_job.read_healthy()
    live_job.works()
    assert is_proved(live_job.seen().case)
    live_job.log(FunctionTried(step="coin up", word="fails", text="left chute"))
    assert unproved(live_job.seen().case) == ("coin up does not work: left chute.",)
    assert card_of(live_job).title == "Not proved: coin up does not work"
    live_job.log(ActionDone(action="reseated", target="J3"))
    live_job.read_healthy()
    assert any("Not tried: coin up" in u for u in unproved(live_job.seen().case))


# Full load. By hand: 36 V at 2 A is 18 Ω and 72 W, so made for 144 W: the next is 150 W.


def hang(job, ohms):
    job.switch("discharged")
    job.log(LoadHung(load="test load on OUT", is_on=bool(ohms), ohms=ohms, watts=150))
    job.switch("live")


def test_a_full_load_goes_by_steps_and_ends_with_the_load_off(bench_supply):
    job = bench_supply
    assert card_of(job).title == "Read OUT, without the test load"
    answer = take("prove", *job.seen(), "36.2")
    assert answer.log == (
        LoadStepRead(
            point="OUT", share=0.0, ohms=0.0, volts=36.2, resolution=0.1, meter=job.meter.id
        ),
    )
    job.log(*answer.log)
    for ohms, volts in ((75.0, "36.1"), (36.0, "36.1"), (18.0, "36.0")):
        title = card_of(job).title.replace("\u202f", " ")
        assert title.startswith(f"Hang {ohms:g} Ω"), title
        assert card_of(job).choices[0].command == AskPower(), "live: off first"
        hang(job, ohms)
        job.log(*take("prove", *job.seen(), volts).log)
        if ohms != 18.0:
            assert card_of(job).title.startswith("Take the load of")
            hang(job, 0)
    assert card_of(job).title == "Ripple on OUT at full load"
    job.log(*take("prove", *job.seen(), "0.004").log)
    assert "How hot is Q1" in card_of(job).title
    job.log(*take("prove", *job.seen(), "72 °C").log)
    job.log(*take("prove", *job.seen(), "48").log)
    assert card_of(job).title == "Switch off, and take the load off"
    assert "OUT: full load not tried." not in unproved(job.seen().case)
    job.switch("off")
    job.log(*card_of(job).choices[0].log)
    assert not job.state.hung
    steps = load_steps(job.seen().case, job.profile.full_loads[0])
    found = regulation(steps)
    assert (found.drop, found.percent) == (pytest.approx(0.2), pytest.approx(100 * 0.2 / 36.2))
    assert found.ohms == pytest.approx(0.2 / 2.0)
    last = steps[-1].read
    assert (last.volts, last.ripple) == (36.0, 0.004)


@pytest.mark.parametrize(
    ("body", "title"),
    [
        (LoadStepRead(point="OUT", share=0.5, ohms=36, volts=30.0), "OUT does not hold its load"),
        (HeatFelt(part="Q1", word="too hot"), "Q1 gets too hot"),
    ],
)
def test_a_load_that_is_too_much_stops(bench_supply, body, title):
    job = bench_supply
    hang(job, 36.0)
    job.log(LoadStepRead(point="OUT", share=0.0, ohms=0, volts=36.2), body)
    assert card_of(job).title == f"Switch off: {title}"
    hang(job, 0)
    card = card_of(job)
    assert (card.title, card.choices[0].go) == (f"Not proved: {title}", "trace")


@pytest.mark.parametrize("text", ["", "x", "12k", "OL"])
def test_what_is_no_voltage_under_load_is_refused(bench_supply, text):
    assert isinstance(take("prove", *bench_supply.seen(), text), Refused)


def test_under_load_the_board_must_be_live(bench_supply):
    bench_supply.switch("off")
    assert isinstance(take("prove", *bench_supply.seen(), "36.2"), Refused)


@pytest.mark.parametrize("text", ["hot", "-90", "900", "nan", "inf"])
def test_what_is_no_temperature_is_refused(bench_supply, text):
    job = bench_supply
    hang(job, 18.0)
    for share, ohms in ((0.0, 0.0), (0.25, 75.0), (0.5, 36.0), (1.0, 18.0)):
        job.log(LoadStepRead(point="OUT", share=share, ohms=ohms, volts=36.0, ripple=0.0))
    assert "How hot" in card_of(job).title
    assert isinstance(take("prove", *job.seen(), text), Refused)


# Burn-in.


def burning(job, hours=1.0, every=30.0, **cycle):
    job.log(BurnBegun(hours=hours, every_min=every, points=("A", "C"), **cycle))


def wait(job, minutes):
    job.now += timedelta(minutes=minutes)


def test_a_burn_in_asks_when_it_is_due_and_ends_with_a_reason(live_job):
    live_job.read_healthy()
    live_job.works()
    burning(live_job)
    for n in range(3):
        card = card_of(live_job)
        assert card.title == f"Read A when it is due, {n + 1} of 3"
        burn = burn_of(live_job.seen().case)
        assert burn.due_at == pytest.approx(burn.begun.at.timestamp() + 1800 * n, abs=1)
        live_job.read(A=5.05 + 0.01 * n)
        assert card_of(live_job).title.startswith("Read C")
        live_job.read(C=18.0)
        wait(live_job, 30)
    card = card_of(live_job)
    assert card.title == "It has run long enough. Did it hold?"
    assert any(w.startswith("A +20") for w in card.why), card.why
    live_job.log(*card.choices[0].log)
    assert burn_of(live_job.seen().case).end.word == "held"
    assert is_proved(live_job.seen().case)


def test_only_time_under_power_counts(live_job):
    """Half an hour on, a night off, then on again: the reading of an hour is due half an hour later."""
    live_job.read_healthy()
    live_job.works()
    burning(live_job, hours=2.0, every=60.0)
    live_job.read(A=5.05, C=18.0)
    wait(live_job, 30)
    live_job.switch("off")
    assert card_of(live_job).title == "Switch on: the burn-in goes on"
    wait(live_job, 600)
    live_job.switch("live")
    burn = burn_of(live_job.seen().case)
    on_again = live_job.now.timestamp()
    assert burn.due_at == pytest.approx(on_again + 30 * 60, abs=60)
    assert burn.cycles == 1


def test_a_point_that_leaves_its_limits_stops_it(live_job):
    live_job.read_healthy()
    live_job.works()
    burning(live_job)
    live_job.read(A=5.4)
    stop = card_of(live_job).choices[0]
    assert card_of(live_job, focus="part:burn").title == "Stop: A left its limits"
    assert card_of(live_job).title in {"Stop: A left its limits", "Not proved: A is not right"}
    assert stop.go == "trace"


def test_a_cycle_asks_to_switch_off(live_job):
    live_job.read_healthy()
    live_job.works()
    burning(live_job, hours=4.0, on_min=60.0, off_min=10.0)
    live_job.read(A=5.05, C=18.0)
    wait(live_job, 61)
    live_job.read(A=5.05, C=18.0)
    assert card_of(live_job).title.replace("\u202f", " ") == "Switch it off for 10 min"


@pytest.mark.parametrize(
    ("text", "found"),
    [
        ("4 h every 30: A C", (4.0, 30.0, ("A", "C"))),
        ("90 min every 15: h", (1.5, 15.0, ("H",))),
        ("2,5", (2.5, 30.0, ("A", "C", "E"))),
        ("1 d every 120: A", (24.0, 120.0, ("A",))),
    ],
)
def test_a_burn_in_is_said_in_a_line(live_job, text, found):
    answer = take("prove", *live_job.seen(focus="part:burn"), text)
    (body,) = answer.log
    assert (body.hours, body.every_min, body.points) == found


def test_a_burn_in_with_cycles_in_a_line(live_job):
    (body,) = take("prove", *live_job.seen(focus="part:burn"), "4 h every 30 on 60 off 10: A").log
    assert (body.on_min, body.off_min) == (60.0, 10.0)


@pytest.mark.parametrize(
    "text", ["0 h", "4 h every 0", "2000 h", "4 h every 30: ZZ", "soon", "1 h every 90", "1.2.3 h"]
)
def test_what_is_no_burn_in_is_refused(live_job, text):
    answer = take("prove", *live_job.seen(focus="part:burn"), text)
    assert isinstance(answer, Refused)
    assert answer.mend


def test_it_is_cut_short_with_a_reason(live_job):
    burning(live_job)
    seen = live_job.seen(focus="part:burn")
    assert isinstance(take("prove", *seen, "end"), Refused)
    assert take("prove", *seen, "end: customer waits").log == (
        BurnEnded(word="cut short", reason="customer waits"),
    )


def test_a_drift_ends_where_its_law_ends(live_job):
    """4.80 V, then 0.3 V away with a time constant of an hour: it ends at 5.1 V."""
    live_job.log(BurnBegun(hours=4.0, every_min=15.0, points=("A",)))
    for n in range(9):
        live_job.read(A=round(4.8 + 0.3 * (1 - math.exp(-n * 15 / 60)), 2))
        wait(live_job, 15)
    burn = burn_of(live_job.seen().case)
    drift = drift_of(live_job.profile.point("A"), burn.readings["A"])
    assert drift.end == pytest.approx(5.1, abs=0.03)
    assert not drift.will_leave


@pytest.mark.parametrize(
    ("seconds", "text"), [(59 * 60, "59 min"), (3600, "1 h"), (9000, "2 h 30"), (86400, "24 h")]
)
def test_times_are_written_as_they_are_said(seconds, text):
    assert hours_text(seconds).replace("\u202f", " ") == text


# The stage as a whole.


def test_every_part_can_be_picked_and_shows_something(live_job, bench_supply):
    for job in (live_job, bench_supply):
        for part in PARTS:
            seen = job.seen(focus=f"part:{part.id}")
            assert current(*seen) is part
            assert card_for("prove", *seen).title
            picture = prove_picture(*seen)
            assert picture is None or picture.rows or picture.words or picture.drifts
            (here,) = [v for v in part_views(*seen) if v.is_here]
            assert here.id == part.id


def test_page_keys_go_through_the_parts(live_job):
    seen = live_job.seen(focus=f"part:{PARTS[0].id}")
    assert part_beside(*seen, 1).focus == f"part:{PARTS[1].id}"
    assert part_beside(*seen, -1).focus == f"part:{PARTS[0].id}"


def test_what_is_left_open_is_offered_as_advice(live_job):
    live_job.read_healthy()
    live_job.log(ActionDone(action="reseated", target="J3"))
    live_job.read_healthy()
    live_job.works()
    card = card_of(live_job)
    assert card.id == "prove-done"
    assert any("J3 was reseated, not replaced." in w for w in card.why)
    offered = [c.log[0].text for c in card.runners if c.log]
    assert "J3 was reseated: if it comes back, replace it." in offered
    live_job.log(Note(text=offered[0], about="advice"))
    assert offered[0] not in [c.log[0].text for c in card_of(live_job).runners if c.log]
    assert isinstance(take("prove", *live_job.seen(), "watch the fan"), Accepted)


def test_a_board_that_nobody_described_is_proved_by_what_is_said(make_job):
    bare = Profile(format="bench-lamp board 1", id="x", name="x", test_points=())
    job = make_job(bare)
    job.log(Complaint(text="dead"), ComplaintAsked(is_gone=True, where="bench"))
    assert card_of(job).title == "Nothing can be proved"
    job.switch("live")
    answer = take("prove", *job.seen(focus="part:run"), "it plays works")
    assert answer.log == (FunctionTried(step="it plays", word="works"),)
