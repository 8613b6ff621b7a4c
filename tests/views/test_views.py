"""What the screens show, as values: ladder, tape, shelf, find box, clock."""

from datetime import timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace
from tests.conftest import Job

from bench_lamp.board.profile import TestPoint
from bench_lamp.cards.card import Refused
from bench_lamp.cards.commands import BeginJob
from bench_lamp.case.clock import at_bench
from bench_lamp.journal import fold
from bench_lamp.journal.events import (
    Complaint,
    JobClosed,
    MainsSeen,
    Note,
    PartReplaced,
    PowerConfirmed,
    ReadingTaken,
    Struck,
)
from bench_lamp.units import Band
from bench_lamp.views.find import Found, catalogue, search
from bench_lamp.views.ladder import BAND_SHARE, BAND_START, ladder, position
from bench_lamp.views.new_job import job_name, new_job_card, take_profile, take_tag
from bench_lamp.views.shelf import by_tag, matching, shelf
from bench_lamp.views.shelf_lit import next_step_card
from bench_lamp.views.tape import UNDO, tape, to_redo, to_undo


def point(low: float, high: float, nominal: float) -> TestPoint:
    return TestPoint(
        id="X", name="x", net="x", black="g", mode="dc V", nominal=nominal, design=Band(low, high)
    )


@given(
    low=st.floats(0.1, 200),
    width=st.floats(0.1, 100),
    a=st.floats(-500, 500),
    b=st.floats(-500, 500),
)
def test_a_track_never_puts_more_volts_to_the_left(low, width, a, b):
    track = point(low, low + width, low + width / 2)
    small, large = sorted((a, b))
    assert 0.0 <= position(track, small) <= position(track, large) <= 1.0


@pytest.mark.parametrize("sign", [1.0, -1.0])
def test_every_tracks_band_stands_at_the_same_place(sign):
    ends = sorted((sign * 4.75, sign * 5.25))
    track = point(*ends, sign * 5.0)
    assert position(track, sign * 4.75) == pytest.approx(BAND_START)
    assert position(track, sign * 5.25) == pytest.approx(BAND_START + BAND_SHARE)
    assert position(track, float("inf")) == 1.0


def test_the_ladder_groups_by_supply_or_by_board(live_job):
    live_job.read(A=5.08, L1=4.5)
    groups = ladder(live_job.seen().case, next_point="B")
    assert [g.title for g in groups] == [
        "Logic supply", "Lamp supply", "Coil supply", "Lighting", "Display supply",
    ]  # fmt: skip
    assert groups[4].ground == "black on display return"
    rungs = {r.point.id: r for g in groups for r in g.rungs}
    assert rungs["B"].is_next
    assert rungs["A"].error.start < rungs["A"].tick < rungs["A"].error.end
    assert rungs["L1"].note.replace("\u202f", " ") == "0.58 V lost in J2.4"
    assert rungs["C"].tick is None
    boards = ladder(live_job.seen().case, next_point="", by="board")
    assert [g.title for g in boards] == ["Power board", "Logic board", "Driver board", "Playfield"]


def test_the_last_visit_is_a_ghost_and_a_repair_dims_what_was_before(make_job, orrery):
    before = make_job(orrery, "QH-050/1")
    before.read(A=5.01)
    now = make_job(orrery, "QH-050/2")
    now.read(A=5.08, C=0.1)
    now.log(PartReplaced(part="F4", out="", fitted=""))
    groups = ladder(now.seen(last_visit=before.state).case, next_point="C")
    rungs = {r.point.id: r for g in groups for r in g.rungs}
    assert rungs["A"].ghost == pytest.approx(position(orrery.point("A"), 5.01))
    assert (rungs["C"].is_stale, rungs["C"].note) == (True, "before the repair")
    assert not rungs["A"].is_stale


def test_notes_beside_the_verdict(live_job):
    live_job.read(E=36.7, A=-5.05, H=128.0)
    live_job.read("ac V", H=2.0)
    rungs = {r.point.id: r for g in ladder(live_job.seen().case, next_point="") for r in g.rungs}
    assert rungs["E"].note == "usual here"
    assert rungs["A"].note == "wrong sign"
    assert rungs["H"].note == "noisy · unusual"


def test_the_tape_says_every_event_in_a_few_words(orrery, meter):
    live_job = Job(orrery, meter, looked_at=False)
    live_job.switch("live")
    live_job.log(Complaint(text="dead"), MainsSeen(place="fuse", text="3 A slow"))
    live_job.read(A=5.08)
    live_job.log(ReadingTaken(target="F4", mode="tone", value=1.0))
    live_job.log(PartReplaced(part="F4", out="blown", fitted="10 A slow"))
    live_job.log(Note(text="watch C4", about="advice"), JobClosed(proved=True))
    shown = [
        (t.title.replace("\u202f", " "), t.verdict, t.detail) for t in tape(live_job.seen().case)
    ]
    assert shown == [
        ("job opened", "", "QH-050"),
        ("power on", "", "confirmed"),
        ("complaint", "", "“dead”"),
        ("mains fuse", "", "3 A slow"),
        ("A 5.08 V", "within", "within"),
        ("F4 open", "absent", "out, open"),
        ("F4 replaced", "", "10 A slow"),
        ("advice", "", "watch C4"),
        ("handed back", "", "proved"),
    ]


def test_an_opened_tile_explains_its_reading(live_job):
    live_job.read(E=36.7)
    lines = [x.replace("\u202f", " ") for x in tape(live_job.seen().case)[-1].explanation]
    assert lines == [
        "+32 V coils: 36.70 V ± 0.25 V",
        "Drawing 28 to 36 V.",
        "Practice 34 to 37 V, the profile’s.",
        "Usual here, although outside the drawing",
        "power live, meter Hearthwell 60.",
    ]


def test_undo_goes_back_step_by_step_and_redo_forward(live_job):
    first = live_job.log(Note(text="one"))
    second = live_job.log(Note(text="two"))
    for wanted in (second, first):
        strike = to_undo(live_job.seen().case)
        assert (strike.event, strike.reason) == (wanted, UNDO)
        live_job.log(strike)
    assert live_job.state.notes == ()
    live_job.log(to_redo(live_job.seen().case))
    assert live_job.state.notes == ("one",)
    live_job.log(Note(text="three"))
    assert to_redo(live_job.seen().case) is None


def test_the_opening_of_a_job_cannot_be_undone(orrery, meter):
    job = Job(orrery, meter, looked_at=False)
    assert to_undo(job.seen().case) is None
    job.log(Note(text="x"))
    job.log(to_undo(job.seen().case))
    assert to_undo(job.seen().case) is None
    assert not tape(job.seen().case)[0].can_strike


def test_a_strike_by_hand_can_be_undone(job):
    note = job.log(Note(text="x"))
    strike = job.log(Struck(event=note, reason="wrong"))
    assert to_undo(job.seen().case).event == strike


def test_the_shelf_has_open_jobs_first_and_is_searched(make_job, orrery, ruskel):
    old, new = make_job(orrery, "QH-050/1"), make_job(ruskel, "QH-060/1")
    old.read(A=5.08)
    old.log(Complaint(text="hums"), JobClosed())
    new.now += timedelta(days=1)
    new.log(PowerConfirmed(power="live"))
    cards = shelf([old.seen().case, new.seen().case])
    assert [c.job for c in cards] == ["QH-060/1", "QH-050/1"]
    assert cards[1].next_step == "handed back, not proved"
    assert cards[1].last_text.replace("\u202f", " ") == "A 5.08 V"
    assert [c.job for c in matching(cards, "HUMS")] == ["QH-050/1"]
    assert matching(cards, "hums ruskel") == ()
    assert "marked LIVE" in next_step_card(cards[0]).cautions[0]
    assert next_step_card(None).choices[0].command == BeginJob()


def test_a_mains_mismatch_stands_on_the_shelf(job):
    job.log(MainsSeen(place="selector", text="230 V"), MainsSeen(place="fuse", text="5 A slow"))
    (card,) = shelf([job.seen().case])
    assert "3\u202fA slow" in card.stop
    assert "Do not switch on" in next_step_card(card).cautions[0]


def test_a_board_comes_back_for_another_visit(make_job, orrery):
    first = make_job(orrery, "QH-050/1")
    visits = by_tag([first.state])
    assert isinstance(take_tag("qh-050", visits), Refused)
    first.log(JobClosed())
    visits = by_tag([first.state])
    assert take_tag("qh-050", visits).draft == {"tag": "QH-050"}
    assert job_name("QH-050", ["QH-050/1"]) == "QH-050/2"
    assert job_name("QH-050", ["QH-050/1", "QH-050/3", "QH-050x/7"]) == "QH-050/4", (
        "one was withdrawn"
    )
    assert job_name("QH-060", ["QH-050/1"]) == "QH-060/1"
    card = new_job_card({"tag": "QH-050"}, [orrery], visits)
    assert (card.choices[0].note, card.why) == ("as last time", ("Visit 2 of this board.",))


@pytest.mark.parametrize("tag", ["", "two words", "../etc", "x" * 41, "<b>"])
def test_a_tag_is_letters_and_figures(tag):
    assert isinstance(take_tag(tag, {}), Refused)


@pytest.mark.parametrize(
    ("words", "first"),
    [
        ("h", "H"),
        ("F4", "F4"),
        ("rails", "rails"),
        ("lamp winding", "Q"),
        ("quit", "quit"),
        ("qh-050", "QH-050/1"),
    ],
)
def test_find_puts_the_exact_name_first(job, words, first):
    commands = [Found(kind="command", target="quit", title="Quit", detail="command")]
    items = catalogue(shelf([job.seen().case]), job.seen().case, commands)
    assert search(items, words)[0].target == first


def test_find_is_bounded_and_honest(job):
    items = catalogue([], job.seen().case, [])
    assert len(search(items, "")) == 9
    assert search(items, "zzz") == ()


@pytest.mark.parametrize(
    ("later", "says"),
    [
        (timedelta(minutes=41), "0:41 at bench"),
        (timedelta(hours=23, minutes=5), "23:05 at bench"),
        (timedelta(hours=24) - timedelta(seconds=1), "23:59 at bench"),
        (timedelta(hours=24), "1 day here"),
        (timedelta(days=1, hours=2), "1 day here"),
        (timedelta(days=9), "9 days here"),
        (timedelta(minutes=-5), "0:00 at bench"),
    ],
)
def test_the_time_at_the_bench(job, later, says):
    assert at_bench(job.state, job.state.opened_at + later) == says


def test_a_closed_job_says_when(job):
    job.log(JobClosed())
    assert at_bench(job.state, job.now) == "handed back 17.11.2026"
    assert at_bench(fold(None, []), job.now) == ""


def test_the_kind_of_board_is_typed_without_a_limit_of_nine(orrery):
    kinds = [replace(orrery, id=f"kind-{n}", name=f"Kind {n}", maker="") for n in range(40)]
    draft = {"tag": "QH-050"}
    card = new_job_card(draft, kinds, {})
    assert len(card.choices) < len(kinds) == len(card.entry.options)
    assert "more kinds: type a name" in " ".join(card.why)
    assert take_profile("kind 37", draft, kinds, {}).draft == {**draft, "profile": "kind-37"}
    assert take_profile("KIND-3", draft, kinds, {}).draft["profile"] == "kind-3", "exact wins"
    assert take_profile("", draft, kinds, {}).draft["profile"] == "kind-0", "Enter takes the first"
    assert isinstance(take_profile("kind", draft, kinds, {}), Refused)
    asked = take_profile("Nothing like it", draft, kinds, {})
    assert "No kind" in asked.question
    assert asked.choices[0].draft == {**draft, "profile": "", "name": "Nothing like it"}
    noted = new_job_card(draft, kinds, {}, ("x.board.yaml has 1 error.",))
    assert "x.board.yaml has 1 error." in noted.why
