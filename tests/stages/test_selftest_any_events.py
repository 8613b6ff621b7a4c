"""Whatever a journal holds of a self-test, of this profile or another: every view stands, no odds go astray."""

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from tests.conftest import Job
from tests.seen import Seen

from bench_lamp.cards.instrument import request_for
from bench_lamp.cards.instrument_logic import board_result
from bench_lamp.case.case import Case
from bench_lamp.case.facts import facts_of
from bench_lamp.case.next_stage import suggested
from bench_lamp.case.selftest_list import selftest_items, selftest_progress
from bench_lamp.journal.events import PartReplaced
from bench_lamp.journal.logic_events import (
    CellsMarked,
    ImageJudged,
    LaneRead,
    PartTried,
    PinProbed,
    RoundBegun,
    SelfTestSeen,
)
from bench_lamp.practice.demo_bench import demo_board
from bench_lamp.reason.insight_of import insight_of
from bench_lamp.reason.logic.engine import LogicEngine
from bench_lamp.report import make_sheet
from bench_lamp.stages import STAGES, card_for
from bench_lamp.stages.selftest.kinds import cards_of
from bench_lamp.views.path import path
from bench_lamp.views.tape import tape

NAMES = ("tessenby-orrery-nights", "ardvane-cinder-dunes", "ostrel-8")
TESTS = ("blinks", "beeps", "boot", "switches", "lamps", "memory", "displays", "coils", "harness", "settings",
         "keyboard", "test-rom", "sounds", "gone", "", "pins", "images")  # fmt: skip
CELLS = ("1.1", "2.3", "9.9", "P1.0", "P9.1", "K01", "H3", "x", "", "0.0", "1.x", "CR.3", "1.0.a")
MARKS = (
    "good",
    "dead",
    "stuck",
    "another",
    "locked on",
    "dark",
    "dark ag",
    "dark zz",
    "finger only",
    "done",
    "",
    "odd",
)
PARTS = ("U7", "IC5", "M13", "S23", "nobody", "")

CODES = ("0", "3", "99", "on", "off", "L", "2-1", "", "lost", "kept")
tests, cells, parts = map(st.sampled_from, (TESTS, CELLS, PARTS))
words = st.lists(st.integers(0, 999), max_size=4).map(tuple)
BODIES = st.one_of(
    st.builds(SelfTestSeen, test=tests, code=st.sampled_from(CODES)),
    st.builds(
        CellsMarked, test=tests, cells=st.lists(cells, max_size=4).map(tuple), mark=st.sampled_from(MARKS), showed=cells
    ),
    st.builds(RoundBegun, test=st.sampled_from([*TESTS, "lane:PA", "lane:D"])),
    st.builds(LaneRead, lane=st.sampled_from(["PA", "D", "SW", "gone"]), wrote=words, came=words),
    st.builds(
        PartTried, part=parts, how=st.sampled_from(["pulled", "donor", "tester"]),
        result=st.sampled_from(["same", "gone", "pass", "fail"]),
    ),
    st.builds(PinProbed, part=parts, pin=st.integers(0, 99), level=st.sampled_from(["high", "pulsing"])),
    st.builds(
        ImageJudged, image=st.sampled_from(["R1", "R3", "Q"]), file=st.just("a"), size=st.integers(0, 9),
        crc32=st.just("0"), sha1=st.just("0"), verdict=st.sampled_from(["good", "wrong", "not known"]),
    ),
    st.builds(PartReplaced, part=parts, out=st.just("x"), fitted=st.just("y")),
)  # fmt: skip


class Engines(dict):
    """A short repr for hypothesis."""

    def __repr__(self):
        return "engines"


@pytest.fixture(scope="module")
def engines(library):
    return Engines({name: LogicEngine.of(library.get(name)) for name in NAMES})


@pytest.fixture(scope="module")
def benches(library):
    return Engines({name: demo_board(library.get(name), "a sound one") for name in NAMES})


@pytest.mark.parametrize(
    ("power", "title"), [("live", "Watch 1.1 Mercury"), ("off", "Switch on for Lamp matrix")]
)
def test_a_coil_that_the_profile_no_longer_has_stops_nothing(library, meter, power, title):
    job = Job(library.get("tessenby-orrery-nights"), meter)
    job.switch("live")
    job.log(CellsMarked(test="coils", cells=("K99",), mark="locked on"))
    job.switch(power)
    assert card_for("selftest", *job.seen(focus="lamps")).title == title


@settings(
    deadline=None,
    max_examples=60,
    suppress_health_check=[HealthCheck.function_scoped_fixture, HealthCheck.too_slow],
)
@given(
    name=st.sampled_from(NAMES), bodies=st.lists(BODIES, max_size=12), focus=st.sampled_from(CELLS)
)
def test_every_view_stands_whatever_the_journal_holds(
    library, meter, engines, benches, name, bodies, focus
):
    job = Job(library.get(name), meter)
    job.log(*bodies)
    facts = facts_of(job.state, job.profile)
    insight = insight_of(None, job.profile, facts, engines[name])
    total = sum(s.odds for s in insight.suspects) + insight.unknown + insight.nothing
    # Of several bad parts each counts: three of them three times.
    assert 0 <= total <= 1 + 2 * insight.several + 1e-6
    assert all(0 <= s.odds <= 1 + 1e-9 for s in insight.suspects)
    seen = Seen(Case(profile=job.profile, state=job.state, meter=meter, insight=insight))
    for item in selftest_items(seen.case):
        shown = job.seen(focus=item.id, cell=focus)
        card = card_for("selftest", *shown)
        assert card.title
        request = request_for(shown.case, card)
        if request is not None:
            found = board_result(shown.case, request, benches[name].tell(request), "bench")
            assert found.log, "what is offered is told"
        assert cards_of(item).picture(*shown, item).title
        assert all(isinstance(line, str) for line in cards_of(item).pattern_words(shown.case, item))
        assert 0 <= item.bad <= max(item.done, len(item.cells), 1)
    done, count = selftest_progress(seen.case)
    assert 0 <= done <= count
    assert card_for("trace", *seen).title
    assert card_for("prove", *seen).title
    assert len(path(seen.case)) == len(STAGES)
    assert suggested(seen.case)
    assert len(tape(seen.case)) == len(seen.case.state.tape) >= len(bodies) + 1
    assert make_sheet(seen.case).job
