"""Each stage's card and answers, the path, and where the work goes on."""

import pytest
from msgspec.structs import replace
from tests.conftest import Job
from tests.seen import take

from bench_lamp.cards.card import Accepted, Refused
from bench_lamp.cards.findings import read_finding
from bench_lamp.cards.power import power_card
from bench_lamp.case.fuse_map import suggested_parts
from bench_lamp.case.next_stage import suggested
from bench_lamp.case.proof import is_proved, proof_progress
from bench_lamp.checks.mains import check_mains
from bench_lamp.journal.events import (
    ActionDone,
    CameWith,
    Complaint,
    Finding,
    JobClosed,
    MainsSeen,
    Note,
    PartReplaced,
    PowerConfirmed,
    ReadingTaken,
    StageMarked,
)
from bench_lamp.stages import card_for
from bench_lamp.stages.intake.cards import current_question, rows
from bench_lamp.stages.rails.cards import next_point
from bench_lamp.views.path import path


def answered(job, *, selector="230 V", sticker="230 V", fuse="3 A slow"):
    job.log(Complaint(text="dead"), CameWith(text="a key"))
    job.events = [e for e in job.events if not isinstance(e.body, MainsSeen)]
    for place, text in (("selector", selector), ("sticker", sticker), ("fuse", fuse)):
        if text:
            job.log(MainsSeen(place=place, text=text))
    return job


@pytest.mark.parametrize(
    ("selector", "sticker", "fuse", "status", "says"),
    [
        ("230 V", "230 V", "3 A slow", "agree", "3 A slow agree"),
        ("115 V", "115 V", "6.3 A slow", "agree", "115 V"),
        ("230 V", "115 V", "3 A slow", "mismatch", "selector says 230 V, sticker says 115 V"),
        ("230 V", "230 V", "6.3 A slow", "mismatch", "at 230 V it must be 3 A slow"),
        ("230 V", "230 V", "3 A fast", "mismatch", "it must be 3 A slow"),
        ("115 V", "115 V", "3 A slow", "mismatch", "it must be 6.3 A slow"),
        ("230 V", "230 V", "none", "mismatch", "no mains fuse"),
        ("not readable", "not readable", "5 A slow", "mismatch", "belongs to no voltage"),
        ("100 V", "100 V", "3 A slow", "mismatch", "not in the profile's table"),
        ("230 V", "not readable", "3 A slow", "agree", "agree"),
        ("not readable", "not readable", "3 A slow", "unknown", "selector, sticker"),
        ("230 V", "230 V", "", "unknown", "fuse"),
        ("230 V", "230 V", "not readable", "unknown", "fuse"),
        ("", "", "", "unknown", "selector, sticker, fuse"),
    ],
)
def test_selector_sticker_and_fuse_must_agree(job, selector, sticker, fuse, status, says):
    answered(job, selector=selector, sticker=sticker, fuse=fuse)
    verdict = check_mains(job.profile.mains, job.state.mains)
    assert verdict.status == status
    assert says in verdict.reason.replace("\u202f", " ")
    assert verdict.stops_the_wake_up is (status in {"mismatch", "unknown"})


def test_a_mismatch_takes_the_plain_live_answer_away(job):
    answered(job, fuse="6.3 A slow")
    card = power_card(job.seen().case)
    assert any("Do not switch on" in text for text in card.cautions)
    live = [c for c in card.choices if any(b.power == "live" for b in c.log)]
    assert [c.log[0].against != "" for c in live] == [True]


def test_the_intake_asks_in_order_and_ends(orrery, meter):
    job = Job(orrery, meter, looked_at=False)
    asked = []
    texts = {"complaint": "dead", "came": "a key", "fuse": "T3A"}
    while question := current_question(*job.seen()):
        asked.append(question)
        card = card_for("intake", *job.seen())
        if question in texts:
            answer = take("intake", *job.seen(), texts[question])
        elif question == "look":
            text = "2 c1" if asked.count("look") == 1 else ""
            answer = take("intake", *job.seen(), text)
        else:
            answer = Accepted(log=card.choices[0].log)
        assert isinstance(answer, Accepted)
        job.log(*answer.log)
    assert asked == ["complaint", "came", "selector", "sticker", "fuse", "look", "look"]
    assert job.state.findings == (Finding(seen="leaking", place="C1"),)
    assert check_mains(job.profile.mains, job.state.mains).status == "agree"
    assert [r.answer != "" for r in rows(*job.seen())] == [True] * 6
    assert suggested(job.seen().case) == "cold"


def test_nothing_seen_is_an_answer_too(job):
    answered(job)
    answer = take("intake", *job.seen(), "")
    assert answer == Accepted(
        log=(Finding(seen="nothing"), StageMarked(stage="intake", mark="done")), focus=""
    )


@pytest.mark.parametrize(
    ("text", "seen", "place"),
    [
        ("2 C1", "leaking", "C1"),
        ("leak c1", "leaking", "C1"),
        ("leaking battery on the logic board", "leaking", "battery on the logic board"),
        ("4 j3.5", "cracked joint", "j3.5"),
        ("cracked joint J3", "cracked joint", "J3"),
        ("loose connector J2", "loose connector", "J2"),
        ("7 J2", "loose connector", "J2"),
        ("bulged", "bulged", ""),
    ],
)
def test_quick_marks(job, text, seen, place):
    found = read_finding(job.seen().case, text)
    assert (found.seen, found.place) == (seen, place)


@pytest.mark.parametrize("text", ["8 C1", "wobbly J2", "21 C1"])
def test_what_begins_with_no_mark_is_refused(job, text):
    answered(job)
    assert isinstance(take("intake", *job.seen(), text), Refused)


@pytest.mark.parametrize("question", ["complaint", "came", "fuse"])
def test_an_empty_answer_is_refused(job, question):
    assert isinstance(take("intake", *job.seen(focus=question), "  "), Refused)


def test_the_rails_card_says_where_each_lead_goes(live_job):
    card = card_for("rails", *live_job.seen(focus="H"))
    assert card.title == "Read H, +140 V displays"
    assert [lead.text for lead in card.leads] == [
        "test pad H, lower left",
        "J5 pin 4, the display return; not the frame",
        "DC volts, 600\u202fV range",
    ]
    assert card.expect.replace("\u202f", " ") == "136 to 144 V"
    assert card.cautions == (
        "140\u202fV. One hand, the other off the frame.",
        "It stays charged for half a minute after switching off.",
    )


def test_points_come_in_the_profiles_order_and_can_be_skipped(live_job):
    assert next_point(*live_job.seen()).id == "A"
    live_job.read(A=5.08)
    assert next_point(*live_job.seen()).id == "B"
    skipped = frozenset({"read:B", "read:P"})
    assert next_point(*live_job.seen(skipped=skipped)).id == "L1"
    everything = frozenset(f"read:{p.id}" for p in live_job.profile.test_points)
    assert next_point(*live_job.seen(skipped=everything)).id == "B"


def test_a_read_job_goes_on_to_trace_or_prove(live_job):
    live_job.read_healthy()
    card = card_for("rails", *live_job.seen())
    assert [c.go for c in (*card.choices, *card.runners)] == ["selftest", "prove"]
    assert take("rails", *live_job.seen(), "").go == "selftest", "Enter alone goes on"
    again = take("rails", *live_job.seen(), "8.3")
    assert (again.log[0].target, again.log[0].value) == ("K", 8.3), "figures are a reading"
    live_job.log(StageMarked(stage="selftest", mark="done"))
    assert [c.go for c in card_for("rails", *live_job.seen()).choices] == ["prove"]
    live_job.read(C=0.1)
    assert card_for("rails", *live_job.seen()).choices[0].go == "trace"


def test_the_ripple_card_reads_ac_and_says_its_limit(live_job):
    card = card_for("rails", *live_job.seen(focus="A", wants_ripple=True))
    assert card.entry.mode == "ac V"
    assert card.expect.replace("\u202f", " ") == "below 14 mV~"


def test_no_tone_test_is_offered_on_a_live_board(live_job):
    live_job.read_healthy("A", "B")
    live_job.read(C=0.1)
    card = card_for("trace", *live_job.seen())
    assert card.title.startswith("Pull F4")
    assert "LIVE" in card.cautions[0]
    assert not any(isinstance(b, ReadingTaken) for c in card.choices for b in c.log)
    live_job.switch("discharged")
    card = card_for("trace", *live_job.seen())
    assert [c.log[0].value for c in card.choices] == [0.0, 1.0]


def test_charged_capacitors_are_named_before_hands_go_in(job):
    job.read_healthy("A", "B")
    job.read(C=0.1)
    job.switch("off")
    (caution,) = card_for("trace", *job.seen()).cautions[:1]
    assert "C3 (35.9\u202fV)" in caution, "25.4 V of the winding, times √2"
    assert "C4 (167\u202fV)" in caution, "H lies behind the regulator: the reservoir stays charged"
    job.switch("discharged")
    assert card_for("trace", *job.seen()).cautions == ()


def test_one_fault_from_absent_to_proved(live_job):
    """The demo's story in the plan's own words: C absent, F4 open, replaced, read again."""
    job = live_job
    job.read_healthy("A", "B", "P", "L1", "D1", "E", "D2", "G", "G1", "H", "K")
    job.read(C=0.1, Q=0.0, D=0.0)
    assert suggested(job.seen().case) == "trace"
    job.switch("discharged")
    job.log(*card_for("trace", *job.seen()).choices[1].log)
    card = card_for("trace", *job.seen())
    assert card.title.replace("\u202f", " ") == "Replace F4, 10 A slow"
    draft = dict(card.choices[0].draft)
    seen = job.seen(draft=draft)
    assert card_for("swap", *seen).title == "What was done to F4?"
    draft = dict(card_for("swap", *seen).choices[0].draft)
    out = take("swap", *job.seen(draft=draft), "10 A slow")
    wrong = take("swap", *job.seen(draft=out.draft), "T16A")
    assert isinstance(wrong, Refused)
    assert "must be 10\u202fA slow" in wrong.what
    fitted = take("swap", *job.seen(draft=out.draft), "10 A slow")
    assert fitted.log == (PartReplaced(part="F4", out="10 A slow", fitted="10 A slow"),)
    job.log(*fitted.log)
    assert next_point(*job.seen()).id == "C"
    assert not is_proved(job.seen().case)
    job.switch("live")
    job.read_healthy()
    job.works()
    assert is_proved(job.seen().case)
    (marked,) = card_for("prove", *job.seen()).choices
    assert marked.log == (StageMarked(stage="prove", mark="done"),)
    assert suggested(job.seen().case) == "selftest"
    job.log(StageMarked(stage="selftest", mark="done"))
    assert suggested(job.seen().case) == "handback"


def test_a_second_fault_shows_once_the_first_is_mended(live_job):
    job = live_job
    job.read_healthy()
    job.log(PartReplaced(part="F4", out="x", fitted="x"))
    job.read_healthy()
    job.read(D=13.2)
    assert not is_proved(job.seen().case)
    card = card_for("prove", *job.seen())
    assert card.title == "Not proved: D is not right"
    assert [s.part for s in suggested_parts(job.seen().case)] == ["J3.5"]


def test_every_point_must_be_read_after_the_last_change(live_job):
    live_job.read_healthy()
    assert proof_progress(live_job.seen().case) == (14, 14)
    live_job.log(ActionDone(action="reseated", target="J3"))
    assert proof_progress(live_job.seen().case) == (0, 14)
    live_job.read_healthy("A")
    assert proof_progress(live_job.seen().case) == (1, 14)


def test_actions_are_offered_and_lead_back_to_the_rails(job):
    card = card_for("swap", *job.seen(draft={"part": "J3.5"}))
    reseat = card.choices[1]
    assert (reseat.log, reseat.go) == ((ActionDone(action="reseated", target="J3.5"),), "rails")


@pytest.mark.parametrize(
    ("typed", "part"), [("f4", "F4"), ("j3.5", "J3.5"), ("R99", "R99"), ("bt1", "BT1")]
)
def test_parts_are_known_by_any_case_and_unknown_ones_taken(job, typed, part):
    assert take("swap", *job.seen(), typed) == Accepted(draft={"part": part})


@pytest.mark.parametrize(
    ("part", "is_chip"),
    [
        pytest.param("U14", True, id="pin map"),
        pytest.param("IC3", True, id="a chip of the logic, with other letters"),
        pytest.param("R99", True, id="not in the profile: it may be one"),
        pytest.param("U1", False, id="a regulator, with the letter of a chip"),
        pytest.param("J3.5", False, id="a contact"),
    ],
)
def test_house_rules_of_removal_hold_for_every_chip_however_named(job, part, is_chip):
    seen = job.seen(
        rules={"sockets": "always"}, draft={"part": part, "action": "replaced", "out": "x"}
    )
    card = card_for("swap", *seen)
    assert any("House rule" in why for why in card.why) is is_chip
    before = card_for("swap", *job.seen(draft={"part": part}))
    assert any("Wrist strap" in text for text in before.cautions) is is_chip


def test_a_reservoirs_marking_is_offered(job):
    card = card_for("swap", *job.seen(draft={"part": "C2", "action": "replaced"}))
    assert card.entry.prefill.replace("\u202f", " ") == "8200 µF 35 V"


def test_a_picked_suspect_is_lit_and_the_rest_stand_beside_it(live_job):
    live_job.read_healthy("A", "B")
    live_job.read(C=0.1)
    card = card_for("trace", *live_job.seen(focus="BR2"))
    assert "BR2" in card.title
    assert [r.focus for r in card.runners] == ["F4", "C2", "T1", "else"]
    skipped = card_for("trace", *live_job.seen(skipped=frozenset({"trace:F4"})))
    assert "BR2" in skipped.title


def test_trace_says_when_there_is_nothing_or_nothing_left(live_job):
    assert card_for("trace", *live_job.seen()).title == "Nothing to trace"
    live_job.read_healthy("A", "B")
    live_job.read(E=15.0)
    for part in ("BR3", "C3"):
        live_job.log(PartReplaced(part=part, out="", fitted=""))
    live_job.read(E=15.0)
    found = live_job.seen()
    card = card_for("trace", *found)
    assert card.title == "AC volts after F3", "the fuse map is through: back along the feed"
    assert card.entry.mode == "ac V"
    live_job.log(
        ReadingTaken(target="ac_coil", mode="ac V", value=27.0, resolution=0.1, power="live")
    )
    assert card_for("trace", *live_job.seen()).title == "Switch off, then ohms to return at E"
    live_job.switch("discharged")
    live_job.read("ohm", E=5460.0)
    card = card_for("trace", *live_job.seen())
    assert card.title == "By hand from here: E"
    assert "AC volts after F3: 27.0\u202fV~" in card.why
    assert any("X1 → S1 → F1 → T1 → F3 → BR3" in w for w in card.why)
    treeless = found.but(profile=replace(found.case.profile, power=()))
    assert card_for("trace", *treeless).title == "Ripple on E, +32 V coils", "the usual order"


def test_a_low_rail_asks_for_its_ripple_first(live_job):
    live_job.read_healthy("A", "B")
    live_job.read(C=14.0)
    card = card_for("trace", *live_job.seen())
    assert card.entry.mode == "ac V"
    live_job.read("ac V", C=2.0)
    assert "with ripple" in card_for("trace", *live_job.seen()).why[1]


def test_handing_back_names_the_open_ends(live_job):
    live_job.read_healthy()
    live_job.works()
    live_job.read(C=0.1)
    card = card_for("handback", *live_job.seen())
    assert card.cautions == (
        "The board is still marked live.",
        "Not proved. C is not right.",
        "13 of 14 points read since the last change, and good.",
    )
    close = card.choices[-1]
    assert close.log == (JobClosed(proved=False),)
    assert "not proved" in close.note
    live_job.read_healthy("C")
    live_job.switch("off")
    card = card_for("handback", *live_job.seen())
    assert card.cautions == ()
    assert card.choices[-1].log == (JobClosed(proved=True),)


def test_advice_is_taken_for_the_sheet(job):
    seen = job.seen(focus="advice")
    assert take("handback", *seen, "watch C4").log == (Note(text="watch C4", about="advice"),)
    assert isinstance(take("handback", *seen, " "), Refused)


def test_the_path_counts(live_job):
    answered(live_job)
    live_job.read(A=5.08, C=0.1)
    views = {v.stage: (v.state, v.note) for v in path(live_job.seen().case)}
    assert views["intake"] == ("under way", "5 of 6")
    assert views["rails"] == ("under way", "2 of 14")
    assert views["trace"][0] == "needs you"
    assert views["swap"] == ("not begun", "")
    live_job.log(PartReplaced(part="F4", out="", fitted=""), JobClosed())
    views = {v.stage: (v.state, v.note) for v in path(live_job.seen().case)}
    assert views["swap"] == ("done", "1 logged")
    assert views["handback"] == ("done", "closed")
    assert suggested(live_job.seen().case) == "handback"


def test_the_power_question_logs_what_is_chosen(job):
    card = power_card(job.seen().case)
    assert [c.log[0] for c in card.choices] == [
        PowerConfirmed(power="off"), PowerConfirmed(power="discharged", below=1.0),
        PowerConfirmed(power="live"), PowerConfirmed(power="discharged", below=30.0),
    ]  # fmt: skip


def test_a_short_profile_works_from_intake_to_proof(make_job, ruskel):
    job = make_job(replace(ruskel, functions=(), full_loads=(), burn_in=None))
    answered(job, fuse="T1.6A")
    job.switch("live")
    job.read_healthy()
    card = card_for("prove", *job.seen())
    assert card.title == "Gone, as the customer would see it?"
    assert not is_proved(job.seen().case)
    job.log(*card.choices[0].log)
    assert is_proved(job.seen().case)
    job.read(TP3=2.0)
    card = card_for("trace", *job.seen())
    assert card.title == "Ripple on TP3, display rail"
    others = frozenset(
        f"plain:TP3:{kind}:" for kind in ("ripple", "raw", "out", "contact", "unload")
    )
    card = card_for("trace", *job.seen(skipped=others))
    assert card.title == "Switch off, then ohms from TP3 to its ground"
    job.switch("discharged")
    card = card_for("trace", *job.seen(skipped=others))
    assert card.title == "Ohms from TP3 to its ground"
    job.log(*take("trace", *job.seen(skipped=others), "0.4").log)
    card = card_for("trace", *job.seen(skipped=others))
    assert card.title == "Something pulls TP3 down"
    assert any("0.4" in w for w in card.why)
    assert card_for("rails", *job.seen(focus="TP3")).why[0].startswith("It reads 2.0")
