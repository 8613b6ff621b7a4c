"""The practice bench: boards with hidden faults, drawn again the same; scored by what was done to them."""

import pytest
from tests.conftest import NOON, Job

from bench_lamp.board import ProfileLibrary
from bench_lamp.circuit import compile_tree
from bench_lamp.errors import BenchLampError
from bench_lamp.instrument.protocol import Request
from bench_lamp.journal.events import ActionDone, Complaint, PartReplaced, PowerConfirmed
from bench_lamp.practice.drill import (
    HARDNESS,
    SOFT,
    Drill,
    board_of,
    drill_events,
    drill_of,
    hidden,
)
from bench_lamp.practice.lessons import LESSONS, keep_progress, read_progress, with_run
from bench_lamp.practice.outcome import rows_of
from bench_lamp.practice.rivals import by_advice, by_order
from bench_lamp.practice.score import score_of

KINDS = ("tessenby-orrery-nights", "ardvane-cinder-dunes", "ostrel-8")
ORRERY = KINDS[0]


@pytest.mark.parametrize("hard", HARDNESS)
@pytest.mark.parametrize("kind", KINDS)
def test_a_drill_is_the_same_board_each_time_and_another_with_another_number(library, kind, hard):
    profile = library.get(kind)
    tree = compile_tree(profile)
    names = [
        tuple(f.name for f in hidden(tree, Drill(kind=kind, hard=hard, seed=seed)))
        for seed in (1, 1, *range(2, 12))
    ]
    assert names[0] == names[1]
    assert len(set(names)) > 5
    assert {len(n) for n in names} == {2 if hard == "hard" else 1}
    drill = Drill(kind=kind, hard=hard, seed=3)
    there = board_of(profile, drill).faults
    assert [f.name for f in there] == [f.name for f in hidden(tree, drill)]
    bodies = [e.body for e in drill_events(profile, drill, NOON)]
    assert any(isinstance(b, Complaint) and b.text for b in bodies)
    told = repr(bodies)
    assert not any(f.name in told for f in hidden(tree, drill)), "it is hidden"


def test_easy_boards_have_no_soft_faults(orrery):
    tree = compile_tree(orrery)
    drawn = [hidden(tree, Drill(kind=ORRERY, hard="easy", seed=n))[0] for n in range(1, 60)]
    assert not {f.kind for f in drawn} & SOFT
    assert len({f.kind for f in drawn}) > 3


@pytest.mark.parametrize(
    ("text", "drill"),
    [
        ("orrery hard 7", Drill(kind=ORRERY, hard="hard", seed=7)),
        ("  Cinder   middle 12 alone ", Drill(kind=KINDS[1], hard="middle", seed=12, alone=True)),
        ("ostrel", Drill(kind=KINDS[2], hard="easy", seed=1)),
    ],
)
def test_a_drill_is_named_in_a_line(text, drill):
    assert drill_of(text, KINDS) == drill


@pytest.mark.parametrize("text", ["", "hard 7", "nobody 3", "e", "orrery 0", "orrery 9999999"])
def test_what_names_no_drill_says_why(text):
    with pytest.raises(BenchLampError):
        drill_of(text, KINDS)


@pytest.mark.parametrize("lesson", LESSONS, ids=[x.title for x in LESSONS])
def test_each_lesson_has_its_faults_and_something_to_find(lesson):
    profile = ProfileLibrary().get(lesson.drill.kind)
    board = board_of(profile, lesson.drill)
    wanted = lesson.drill.faults
    assert {f.name for f in board.faults} == set(wanted) if wanted else board.faults
    for point in profile.test_points:
        if point.mode == "dc V":
            board.read(Request(kind="dc", target=point.net))


def drilled(orrery, meter, *names):
    """Return a job on a board with these faults, and the faults."""
    drill = Drill(kind=ORRERY, hard="easy", seed=5, faults=names)
    return Job(orrery, meter, drill.job), board_of(orrery, drill)


def test_the_right_part_in_the_right_state_is_a_clean_score(orrery, meter):
    job, board = drilled(orrery, meter, "F4: open")
    job.switch("live")
    job.read(C=0.1, Q=0.0)
    job.switch("discharged")
    job.log(PartReplaced(part="F4", out="10 A", fitted="10 A slow"))
    score = score_of(job.state, orrery, board.faults, "you")
    assert (score.found, score.missed, score.wrong) == (("F4: open",), (), ())
    assert (score.tests, score.wasted, score.power_ons, score.slips) == (2, 0, 0, ())
    seconds = sum(orrery.point(p).seconds for p in ("C", "Q")) + 2 * 20 + 600
    assert score.minutes == pytest.approx(seconds / 60)


def test_what_was_done_badly_is_counted(orrery, meter):
    job, board = drilled(orrery, meter, "C203: shorted, F2 blown")
    job.switch("live")
    job.read(A=0.1)
    job.read(A=0.1)
    job.read(mode="ohm", A=0.1)
    job.log(ActionDone(action="reseated", target="J2"))
    job.switch("off")
    job.log(PartReplaced(part="F2", out="x", fitted="y"))
    job.switch("live")
    score = score_of(job.state, orrery, board.faults, "you")
    assert score.missed == ("C203: shorted, F2 blown",)
    assert score.wrong == ("J2",), "its fuse was blown: that was no mistake"
    assert (score.tests, score.wasted, score.power_ons) == (3, 1, 2)
    assert score.slips == ("ohm at A, live", "J2 reseated, live", "F2 replaced, not discharged")


def test_a_series_lamp_is_no_slip_and_what_was_undone_counts_for_nothing(orrery, meter):
    job, board = drilled(orrery, meter, "C203: shorted, F2 blown")
    job.log(PowerConfirmed(power="live", limiter="series lamp"))
    assert score_of(job.state, orrery, board.faults, "you").power_ons == 0


def test_the_advice_and_the_fixed_order_work_the_same_board(orrery, meter, engine):
    _, board = drilled(orrery, meter, "F4: open")
    advice = by_advice(board, orrery, engine, "lamps dead")
    assert advice.score.found == ("F4: open",)
    assert advice.score.wrong == ()
    assert any(step.did == "F4 put right" and step.showed == "it was bad" for step in advice.steps)
    order = by_order(drilled(orrery, meter, "F4: open")[1], orrery)
    assert order.score.tests > 0
    assert order.score.is_found or order.score.wrong
    own = score_of(Job(orrery, meter).state, orrery, board.faults, "you")
    rows = rows_of(own, [advice, order], board.faults)
    assert rows[0].sub == "F4: open"
    assert [r.title for r in rows[1:4]] == ["you", "the advice", "the fixed order"]
    assert rows[1].right == "missed F4: open"


def test_progress_is_kept_apart_and_only_gets_better(tmp_path):
    assert read_progress(tmp_path).minutes == {}
    first = with_run(read_progress(tmp_path), "A fuse", 20.0, 1)
    keep_progress(tmp_path, first)
    assert read_progress(tmp_path) == first
    assert with_run(first, "A fuse", 30.0, 1) == first
    assert with_run(first, "A fuse", 50.0, 0).wrong["A fuse"] == 0
    (tmp_path / "practice.json").write_text("{")
    assert read_progress(tmp_path).minutes == {}
