"""Whatever fails while a stage is shown is a message and a way on, and stops nothing else."""

import pytest
from msgspec.structs import replace

from bench_lamp import stages
from bench_lamp.journal.events import Note
from bench_lamp.stages import STAGES
from bench_lamp.views import guard, shelf, tape


@pytest.fixture
def break_stage(monkeypatch):
    """Make every function of one stage fail."""

    def fail(*_):
        raise IndexError("list index out of range")

    def go(stage):
        names = ("card", "state", "take", "preview", "order", "beside", "turn")
        broken = replace(stages.stage_of(stage), **dict.fromkeys(names, fail))
        monkeypatch.setitem(stages._BY_ID, stage, broken)
        guard.stage_of.cache_clear()

    yield go
    guard.stage_of.cache_clear()


@pytest.mark.breaks
@pytest.mark.parametrize("stage", [stage.id for stage in STAGES])
def test_a_stage_that_fails_says_so_and_the_others_open(open_bench, break_stage, stage, caplog):
    hands = open_bench()
    hands.session.say((Note(text="the last thing that was said"),))
    hands.settle()
    break_stage(stage)
    hands.session._card = None
    for other in STAGES:
        hands.session.go(other.id)
        hands.settle()
        hands.window.grab()
        assert (hands.title == "This step cannot be shown") is (other.id == stage)
    hands.session.go(stage)
    hands.settle()
    assert "IndexError" in hands.card.card.why[1]
    hands.type("1")
    hands.settle()
    assert hands.state.notes == (), "the last entry is struck, by one key"
    hands.session.go_shelf()
    hands.window.grab()
    assert len(hands.session.shelf()) > 5
    assert any(stage in words for words in guard.FAILED)
    assert "IndexError" in caplog.text


@pytest.mark.breaks
def test_a_job_or_an_entry_that_cannot_be_shown_keeps_the_others_on_the_shelf(
    open_bench, monkeypatch, caplog
):
    hands = open_bench()
    real = shelf.shelf_card

    def fails(case, second=None):
        if isinstance(second, Note) or case.state.job == "QH-017/1":
            raise KeyError("x")
        return real(case)

    monkeypatch.setattr(shelf, "shelf_card", fails)
    found = {c.job: c.next_step for c in hands.session.shelf()}
    assert "cannot be shown" in found.pop("QH-017/1")
    assert not any("cannot be shown" in words for words in found.values())
    monkeypatch.setitem(tape._WORDS, Note, fails)
    hands.session.say((Note(text="x"),))
    hands.settle()
    assert tape.tape(hands.session.case)[-1].detail == "cannot be shown"
