"""Questions beside the stage: note, time, what it waits for, who works here; by key, from anywhere."""

from datetime import timedelta

import pytest
from PySide6.QtCore import Qt
from tests.conftest import Job

from bench_lamp.cards.aside import ASIDES, hours_words
from bench_lamp.cards.card import Refused
from bench_lamp.journal.events import Note
from bench_lamp.journal.memory_events import Signed, TimeSaid, WaitsFor
from bench_lamp.shop.digest import minutes_at_bench, pauses_of


def taken(job: Job, name: str, text: str):
    return ASIDES[name].take(job.seen().case, text)


@pytest.mark.parametrize(
    ("name", "text", "body"),
    [
        ("note", "  C203 looked   browned ", Note(text="C203 looked browned")),
        ("note", "advice: watch J2", Note(text="watch J2", about="advice")),
        ("time", "85", TimeSaid(minutes=85)),
        ("time", "1 h 20", TimeSaid(minutes=80)),
        ("time", "2h", TimeSaid(minutes=120)),
        ("time", "1,5 h", TimeSaid(minutes=90)),
        ("time", "45 min", TimeSaid(minutes=45)),
        ("waits", "parts: C203", WaitsFor(what="parts", text="C203")),
        ("waits", "Customer: offer of 84 until Friday", WaitsFor(what="customer", text="offer of 84", until="Friday")),
        ("waits", "time: burn-in", WaitsFor(what="time", text="burn-in")),
    ],
)  # fmt: skip
def test_what_is_typed_is_taken(job, name, text, body):
    assert taken(job, name, text).log == (body,)


@pytest.mark.parametrize(
    ("name", "text"),
    [("note", " "), ("note", "advice:"), ("note", "x" * 3000), ("time", ""), ("time", "soon"), ("time", "0"),
     ("time", "9999999"), ("waits", "C203"), ("waits", "moon: x"), ("who", "7"), ("who", "abcde"), ("who", "")],
)  # fmt: skip
def test_what_makes_no_sense_is_refused_with_the_mend(job, name, text):
    answer = taken(job, name, text)
    assert isinstance(answer, Refused)
    assert answer.what
    assert answer.mend


@pytest.mark.parametrize(("minutes", "text"), [(41, "41 min"), (80, "1 h 20"), (60, "1 h 00")])
def test_minutes_as_they_are_said(minutes, text):
    assert hours_words(minutes).replace("\u202f", " ") == text


def test_a_note_goes_on_the_tape_and_the_reading_goes_on(open_bench):
    hands = open_bench()
    before = hands.title
    hands.press(Qt.Key.Key_F11)
    assert hands.title == "What is to be remembered?"
    hands.enter("C2 smells")
    assert hands.state.notes == ("C2 smells",)
    assert hands.title == before
    hands.press(Qt.Key.Key_F11)
    hands.press(Qt.Key.Key_Escape)
    assert hands.title == before


def test_who_works_here_stands_before_what_is_logged(open_bench):
    hands = open_bench()
    hands.shortcut("Ctrl+I")
    hands.enter("kb")
    assert hands.session.who == "KB"
    hands.read(P="9.4")
    hands.read(L1="5.0")
    kinds = [e.event.body for e in hands.state.tape if isinstance(e.event.body, Signed)]
    assert kinds == [Signed(by="KB")], "once, until somebody else says so"
    hands.shortcut("Ctrl+I")
    hands.enter("tm")
    hands.read(D1="5.0")
    assert hands.state.signed == "TM"


def test_time_is_counted_without_pauses_and_corrected_by_hand(open_bench):
    hands = open_bench()
    hands.shortcut("Ctrl+J")
    assert hands.title.endswith("of work")
    hands.enter("1 h 10")
    assert hands.state.minutes_said == 70
    hands.shortcut("Ctrl+Y")
    hands.enter("parts: C203 until Friday")
    assert (hands.state.waits.what, hands.state.waits.until) == ("parts", "Friday")


def test_each_pause_is_asked_about_but_no_night(live_job):
    for minutes in (5, 45, 90, 700, 21, 10):
        live_job.now += timedelta(minutes=minutes, seconds=-10)
        live_job.log(Note(text="x"))
    state = live_job.state
    before = minutes_at_bench(state)
    assert [round(p.minutes) for p in pauses_of(state)] == [43, 88, 19], "2 min counted already"
    card = ASIDES["time"].card(live_job.seen().case)
    added = [c.log[0].minutes - round(before) for c in card.choices]
    assert added == pytest.approx([43, 88, 19, 150], abs=1)
    assert card.choices[0].note == "+ 43\u202fmin"
    live_job.log(*card.choices[1].log)
    assert minutes_at_bench(live_job.state) == pytest.approx(before + 88, abs=0.5)
    assert ASIDES["time"].card(live_job.seen().case).choices == ()


def test_an_undo_takes_back_what_was_said_not_what_was_written_beside_it(open_bench):
    hands = open_bench()
    hands.session.work_as("KB")
    hands.read(P="9.4")
    hands.shortcut("Ctrl+Z")
    hands.settle()
    assert hands.state.latest("P", "ac V") is None
    hands.shortcut("Ctrl+Z")
    hands.settle()
    assert hands.state.signed == "KB", "who works here is no step"
    assert hands.state.latest("C", "dc V") is None, "the reading before it is"
