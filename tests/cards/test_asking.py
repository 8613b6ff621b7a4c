"""What the simulated bench is asked for on the self-test's cards, and what its answers become."""

import pytest
from tests.conftest import Job
from tests.seen import parted

from bench_lamp.cards.instrument import offer, request_for
from bench_lamp.cards.instrument_logic import board_result
from bench_lamp.case.facts import facts_of
from bench_lamp.case.selftest_list import selftest_items
from bench_lamp.instrument.protocol import LogicRequest, LogicShown
from bench_lamp.journal.events import ActionDone, CheckNoted, PartReplaced
from bench_lamp.journal.logic_events import CellsMarked
from bench_lamp.practice.demo_bench import HIDDEN_LOGIC, demo_board
from bench_lamp.reason.insight_of import insight_of
from bench_lamp.reason.logic.engine import LogicEngine
from bench_lamp.stages import card_for
from bench_lamp.views.tape import tape

JOBS = {
    "QH-041/1": "ostrel-8",
    "QH-033/1": "ardvane-cinder-dunes",
    "QH-036/1": "tessenby-orrery-nights",
}


@pytest.fixture
def bench(library, meter):
    """Return a live job on a profile, everything that its tests need met, and its simulated set."""

    def make(name):
        job = Job(library.get(JOBS[name]), meter)
        job.switch("live")
        for test in job.profile.self_tests:
            job.log(*(CheckNoted(check=f"need:{test.id}", word="good"),) * bool(test.needs))
        return job, demo_board(job.profile, name)

    return make


def ask(job, board, focus):
    """Press F8 on a self-test's card; return the request, None where there is none."""
    seen = job.seen(**parted(focus))
    request = request_for(seen.case, card_for("selftest", *seen))
    if request is not None:
        job.log(*board_result(seen.case, request, board.tell(request), board.name).log)
    return request


def run_all(job, board):
    """Ask for every test until each is told; ROM images are read from files."""
    for item in selftest_items(job.seen().case):
        if item.kind != "images":
            for _ in range(12):
                if ask(job, board, item.id) is None:
                    break
    return {i.id: (i.status, i.words) for i in selftest_items(job.seen().case)}


@pytest.mark.parametrize(
    ("name", "bad"),
    [
        ("QH-041/1", {"keyboard": "8 bad", "lane:PA": "bit 3 stuck low"}),
        ("QH-033/1", {"memory": "1 bad"}),
        ("QH-036/1", {"switches": "7 bad"}),
    ],
)
def test_each_demo_board_tells_its_fault_and_is_whole_when_the_part_is_new(bench, name, bad):
    job, board = bench(name)
    found = run_all(job, board)
    shown = {i: words for i, (status, words) in found.items() if status == "bad"}
    assert all(words in shown[test] for test, words in bad.items())
    engine, part = LogicEngine.of(job.profile), HIDDEN_LOGIC[name][0]
    named = insight_of(None, job.profile, facts_of(job.state, job.profile), engine).suspects
    assert part in {s.block for s in named[:2]}
    job.log(PartReplaced(part=part, out="old", fitted="new"))
    again = run_all(job, board)
    assert not [i for i, (status, _) in again.items() if status == "bad"]


def test_a_letter_of_the_test_rom_marks_its_memory_chip(bench):
    job, board = bench("QH-033/1")
    assert ask(job, board, "test-rom").memory == "memory"
    assert job.state.logic.cells["memory"]["2.3"].mark == "dead"


def test_hands_and_bench_together_keep_what_the_hand_has_said(bench):
    job, board = bench("QH-036/1")
    job.log(CellsMarked(test="switches", cells=("1.1",), mark="stuck"))
    ask(job, board, "switches")
    marks = job.state.logic.cells["switches"]
    assert (marks["1.1"].mark, marks["1.3"].mark, marks["1.2"].mark) == ("stuck", "dead", "good")
    assert ask(job, board, "switches@1.1") is None, "everything is told"
    told = tape(job.seen().case)[-1]
    assert told.explanation[-1] == "From the simulated bench."


def test_trials_are_made_off_and_probes_live(bench):
    job, board = bench("QH-041/1")
    ask(job, board, "lane:PA")
    facts = facts_of(job.state, job.profile)
    insight = insight_of(None, job.profile, facts, LogicEngine.of(job.profile))

    def on_trace(kind, power):
        job.switch(power)
        test = next(t.test for t in insight.tries if t.test.name.startswith(kind))
        seen = job.seen(insight=insight, focus=test.name)
        card = card_for("trace", *seen)
        return seen, request_for(seen.case, card), offer(seen.case, card)

    assert on_trace("donor U7", "live")[1:] == (None, "")
    assert on_trace("probe U7:1", "discharged")[1:] == (None, "")
    seen, request, words = on_trace("donor U7", "discharged")
    assert (request.kind, request.target, words) == ("donor", "U7", "F8 run on the board")
    (body,) = board_result(seen.case, request, board.tell(request), board.name).log
    assert (body.part, body.result, body.source) == ("U7", "gone", "simulated bench")
    seen, request, _ = on_trace("probe U7:1", "live")
    (body,) = board_result(seen.case, request, board.tell(request), board.name).log
    assert (body.part, body.pin, body.level) == ("U7", 1, "low")


def test_a_plug_whose_re_seating_cures_is_mended_and_the_board_tells_it_is_whole(bench):
    job, board = bench("QH-036/1")
    ask(job, board, "switches")
    facts = facts_of(job.state, job.profile)
    insight = insight_of(None, job.profile, facts, LogicEngine.of(job.profile))
    job.switch("discharged")
    seen = job.seen(insight=insight, focus="reseated J8")
    card = card_for("trace", *seen)
    assert card.title == "Re-seat J8, run it again"
    request = request_for(seen.case, card)
    found = board_result(seen.case, request, board.tell(request), board.name)
    assert found.log == card.choices[2].log == (ActionDone(action="reseated", target="J8"),)
    job.log(*found.log)
    job.switch("live")
    ask(job, board, "switches")
    assert next(i.status for i in selftest_items(job.seen().case) if i.id == "switches") == "good"


@pytest.mark.parametrize(
    ("part", "code", "says"),
    [("U7", "low", "bit 3 stuck low"), ("J2", "floating", "bit 3 floating")],
)
def test_silicon_sticks_and_contacts_float(bench, part, code, says):
    job, board = bench("QH-041/1")
    board.logic.part = part
    request = LogicRequest(kind="lane", target="lane:PA")
    shown = board.tell(request)
    assert shown == LogicShown(code=code, bad=frozenset({"PA3"}))
    ask(job, board, "lane:PA")
    assert next(i for i in selftest_items(job.seen().case) if i.id == "lane:PA").words == says
