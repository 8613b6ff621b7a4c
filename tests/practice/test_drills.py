"""The practice bench: boards with hidden faults, drawn again the same; scored by what was done to them."""

import pytest
from msgspec.structs import replace
from tests.conftest import NOON, Job

from bench_lamp.board import ProfileLibrary
from bench_lamp.circuit import compile_tree
from bench_lamp.errors import BenchLampError
from bench_lamp.instrument.protocol import LogicRequest, LogicShown, Request
from bench_lamp.journal.events import ActionDone, Complaint, PartReplaced, PowerConfirmed
from bench_lamp.journal.logic_events import CellsMarked, PartTried, SelfTestSeen
from bench_lamp.practice.drill import board_of, drill_events, drill_of
from bench_lamp.practice.hidden import SOFT, hide
from bench_lamp.practice.lessons import LESSONS, keep_progress, read_progress, with_run
from bench_lamp.practice.outcome import rows_of
from bench_lamp.practice.rival_bench import RivalBench
from bench_lamp.practice.rivals import by_advice, by_order
from bench_lamp.practice.score import PART_S, score_of
from bench_lamp.practice.values import HARDNESS, Drill
from bench_lamp.practice.worth_of_tests import WorthOfTests
from bench_lamp.reason.logic.engine import LogicEngine

KINDS = ("tessenby-orrery-nights", "ardvane-cinder-dunes", "ostrel-8")
ORRERY = KINDS[0]


@pytest.mark.parametrize("hard", HARDNESS)
@pytest.mark.parametrize("kind", KINDS)
def test_a_drill_is_the_same_board_each_time_and_another_with_another_number(library, kind, hard):
    profile = library.get(kind)
    tree = compile_tree(profile)
    names = [
        tuple(f.name for f in hide(profile, tree, Drill(kind=kind, hard=hard, seed=seed)).faults)
        for seed in (1, 1, *range(2, 12))
    ]
    assert names[0] == names[1]
    assert len(set(names)) > 5
    assert {len(n) for n in names} == {2 if hard == "hard" else 1}
    drill = Drill(kind=kind, hard=hard, seed=3)
    there = board_of(profile, drill)[1].faults
    assert [f.name for f in there] == [f.name for f in hide(profile, tree, drill).faults]
    bodies = [e.body for e in drill_events(profile, drill, NOON)]
    assert any(isinstance(b, Complaint) and b.text for b in bodies)
    told = repr(bodies)
    assert not any(f.name in told for f in there), "it is hidden"


def test_easy_boards_have_no_soft_faults(orrery):
    tree = compile_tree(orrery)
    drills = [Drill(kind=ORRERY, hard="easy", seed=n) for n in range(1, 60)]
    drawn = [hide(orrery, tree, drill).supplies[0] for drill in drills]
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
    board, hidden = board_of(profile, lesson.drill)
    wanted = lesson.drill.faults
    assert {f.name for f in hidden.faults} == set(wanted) if wanted else hidden.faults
    for point in profile.test_points:
        if point.mode == "dc V":
            board.read(Request(kind="dc", target=point.net))


def drilled(orrery, meter, *names):
    """Return a job on a board with these faults, and the faults."""
    drill = Drill(kind=ORRERY, hard="easy", seed=5, faults=names)
    return Job(orrery, meter, drill.job), board_of(orrery, drill)[1]


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


@pytest.fixture(scope="module")
def rival(orrery, engine):
    """Return a maker of benches on a drill of Orrery Nights, and the engines."""
    logic = LogicEngine.of(orrery)
    told = WorthOfTests(orrery, engine, logic)

    def make(drill, complaint=""):
        return RivalBench(*board_of(orrery, drill), orrery, told, complaint)

    return make, told, logic


def test_the_advice_and_the_fixed_order_work_the_same_board(orrery, meter, engine, rival):
    make, _, logic = rival
    drill = Drill(kind=ORRERY, hard="easy", seed=5, faults=("F4: open",))
    advice = by_advice(make(drill, "lamps dead"), engine, logic)
    assert advice.score.found == ("F4: open",)
    assert advice.score.wrong == ()
    assert any(step.did == "F4 put right" and step.showed == "it was bad" for step in advice.steps)
    order = by_order(make(drill), logic)
    assert order.score.tests > 0
    assert order.score.is_found or order.score.wrong
    hidden = board_of(orrery, drill)[1]
    own = score_of(Job(orrery, meter).state, orrery, hidden.faults, "you")
    rows = rows_of(own, [advice, order], hidden.faults)
    assert rows[0].sub == "F4: open"
    assert [r.title for r in rows[1:4]] == ["you", "the advice", "the fixed order"]
    assert rows[1].right == "missed F4: open"


def test_power_on_a_short_is_counted_for_rivals_too(rival):
    """Fixed order: each new part goes into a board whose short is still there."""
    make, _, logic = rival
    drill = Drill(kind=ORRERY, hard="easy", seed=5, faults=("C203: shorted, F2 blown",))
    order = by_order(make(drill), logic)
    assert order.score.power_ons > 1
    assert order.score.minutes > len(order.score.wrong) * PART_S / 60


def test_the_fixed_order_reads_what_can_tell_nothing_any_more(rival):
    """A lamp is dead and nothing else: it reads every rail, and has each part changed before."""
    make, _, logic = rival
    drill = Drill(kind=ORRERY, hard="middle", seed=3, is_logic=True)
    assert by_order(make(drill), logic).score.wasted > 5


LOGIC_DRILLS = [Drill(kind=k, hard=h, seed=n, is_logic=True)
                for k in KINDS for h in ("easy", "middle") for n in (1, 2, 3)]  # fmt: skip


@pytest.mark.parametrize("drill", LOGIC_DRILLS, ids=lambda d: f"{d.kind} {d.hard} {d.seed}")
def test_a_fault_of_the_logic_shows_in_some_self_test_and_in_the_complaint(library, drill):
    profile = library.get(drill.kind)
    board, hidden = board_of(profile, drill)
    assert board.logic.parts
    assert any(f.cures & board.logic.parts for f in hidden.faults)
    graph = board.logic.graph
    asked = [LogicRequest(kind="cells", target=t) for t in graph.units]
    asked += [LogicRequest(kind="code", target=t) for t in graph.codes]
    shown = [board.tell(request) for _ in range(4) for request in asked]
    assert any(s.bad or s.code for s in shown)
    complaint = next(e.body.text for e in drill_events(profile, drill, NOON)
                     if isinstance(e.body, Complaint))  # fmt: skip
    assert complaint != "something is wrong with it, now and then"
    mended = frozenset().union(*(f.cures for f in hidden.faults)) | {f.blows for f in hidden.faults}
    cured = [board.tell(replace(r, mended=mended)) for r in asked]
    if drill.hard == "easy":
        assert not any(s.bad or s.code for s in cured)


def test_middle_and_hard_boards_have_logic_faults_now_and_then(library):
    profile = library.get(KINDS[2])
    tree = compile_tree(profile)
    for hard in HARDNESS:
        drawn = [hide(profile, tree, Drill(kind=KINDS[2], hard=hard, seed=n)) for n in range(1, 41)]
        bad = sum(bool(d.logic.parts) for d in drawn)
        assert (bad == 0) if hard == "easy" else 5 <= bad <= 35
        assert {len(d.faults) for d in drawn} == {2 if hard == "hard" else 1}


def test_a_test_without_its_supply_is_dark_until_the_supply_is_back(library):
    profile = library.get(KINDS[2])
    drill = Drill(kind=KINDS[2], hard="easy", seed=1, faults=("F1: open",))
    board, _ = board_of(profile, drill)
    graph = board.logic.graph
    for kind, target in [("cells", t) for t in graph.units] + [("code", t) for t in graph.codes]:
        request = LogicRequest(kind=kind, target=target)
        shown = board.tell(request)
        if graph.supplies.get(target):
            assert shown.code == "off" or shown.bad == graph.all_units(target)
        assert board.tell(replace(request, mended=frozenset({"F1"}))) == LogicShown()


def test_the_advice_finds_a_bad_part_of_the_logic(library, rival, orrery, engine):
    """Of twenty drills with a fault of the logic alone, it finds half or more, and puts few good parts right."""
    make, _, logic = rival
    drills = [Drill(kind=ORRERY, hard="middle", seed=n, is_logic=True) for n in range(1, 21)]
    scores = [by_advice(make(d), engine, logic).score for d in drills]
    assert sum(s.is_found for s in scores) >= 10
    assert sum(bool(s.wrong) for s in scores) <= 3


def test_what_could_tell_nothing_is_found_entry_by_entry(orrery, meter, rival):
    """F4 is out for sure: the rail behind it tells nothing any more; the fuse did."""
    _, told, _ = rival
    job, hidden = drilled(orrery, meter, "F4: open")
    job.log(Complaint(text="lamps dead"))
    job.switch("live")
    job.read(C=0.0)
    first = job.events[-1].id
    job.read(Q=0.0)
    job.switch("discharged")
    job.read(F4=1.0)
    fuse = job.events[-1].id
    job.read(F4=1.0)
    again = job.events[-1].id
    job.switch("live")
    job.read(C=0.01)
    late = job.events[-1].id
    job.log(PartReplaced(part="F4", out="x", fitted="y"))
    job.switch("live")
    job.read(C=17.9)
    proof = job.events[-1].id
    idle = told.idle_events(job.state, hidden.faults)
    assert first not in idle
    assert fuse not in idle
    assert idle == {again, late}
    assert proof not in idle, "it proves the repair"
    score = score_of(job.state, orrery, hidden.faults, "you", idle)
    assert score.wasted == 2


def test_tests_of_the_logic_are_tests_of_the_score(orrery, meter):
    job = Job(orrery, meter, "PR-00005/1")
    job.switch("live")
    job.log(
        SelfTestSeen(test="blinks", code="3"),
        CellsMarked(test="switches", cells=("1.1",), mark="dead"),
        CellsMarked(test="switches", cells=("1.2", "1.3"), mark="good"),
        PartTried(part="U7", how="tester", result="pass"),
        SelfTestSeen(test="blinks", code="3"),
    )
    score = score_of(job.state, orrery, (), "you")
    assert (score.tests, score.wasted) == (4, 1)
    blinks, switches = (next(t.seconds for t in orrery.self_tests if t.id == name)
                        for name in ("blinks", "switches"))  # fmt: skip
    assert score.minutes == pytest.approx((20 + 2 * blinks + switches + 90) / 60)


def test_progress_is_kept_apart_and_only_gets_better(tmp_path):
    assert read_progress(tmp_path).minutes == {}
    first = with_run(read_progress(tmp_path), "A fuse", 20.0, 1)
    keep_progress(tmp_path, first)
    assert read_progress(tmp_path) == first
    assert with_run(first, "A fuse", 30.0, 1) == first
    assert with_run(first, "A fuse", 50.0, 0).wrong["A fuse"] == 0
    (tmp_path / "practice.json").write_text("{")
    assert read_progress(tmp_path).minutes == {}
