"""The logic inside the insight: one list with the power tree, tests with their outcomes, words, history."""

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from tests.conftest import Job

from bench_lamp.cards.card import Choice
from bench_lamp.cards.commands import AskPower
from bench_lamp.cards.logic_words import fault_name, outcome_label, part_name, test_words
from bench_lamp.cards.outcome_words import ORDER, outcomes, reads
from bench_lamp.case.facts import facts_of
from bench_lamp.circuit import compile_tree
from bench_lamp.desktop.surfaces.trace import suspect_picture
from bench_lamp.journal.events import CheckNoted, PartReplaced
from bench_lamp.journal.logic_events import (
    CellsMarked,
    LaneRead,
    PartTried,
    PinProbed,
    SelfTestSeen,
)
from bench_lamp.reason.insight_of import history_of, insight_of
from bench_lamp.reason.logic.engine import LogicEngine
from bench_lamp.reason.power.dictionary import build_dictionary
from bench_lamp.reason.power.engine import Engine
from bench_lamp.reason.values.branch import ELSEWHERE, Branch, BranchKind
from bench_lamp.reason.values.clues import Facts
from bench_lamp.reason.values.tests import LogicTest
from bench_lamp.stages import card_for
from bench_lamp.stages.trace.suspects_view import suspects_view

test_words.__test__ = False
SEVERAL = "U7: several of PB"
CINDER, OSTREL, ORRERY = "ardvane-cinder-dunes", "ostrel-8", "tessenby-orrery-nights"


@pytest.fixture(scope="session")
def minds(library):
    """Both engines of each profile, made once."""
    found = {}

    def of(name):
        if name not in found:
            profile = library.get(name)
            book = build_dictionary(compile_tree(profile))
            found[name] = Engine.of(book, {}), LogicEngine.of(profile)
        return found[name]

    return of


class Bench:
    """A live job on a profile, and what the reasoning makes of it."""

    def __init__(self, job, engine, logic):
        self.job, self.engine, self.logic = job, engine, logic
        job.switch("live")

    def good(self):
        """Read every point as the model of a sound board has it."""
        expected = insight_of(self.engine, self.job.profile, self.facts, None).expected
        for point in self.job.profile.test_points:
            low, high = expected.get(point.net, (point.nominal, point.nominal))
            self.job.read(**{point.id: (low + high) / 2})
        return self

    def told(self, *bodies):
        self.job.log(*bodies)
        return self

    @property
    def facts(self):
        return facts_of(self.job.state, self.job.profile)

    @property
    def insight(self):
        return insight_of(self.engine, self.job.profile, self.facts, self.logic)

    def seen(self, **more):
        return self.job.seen(insight=self.insight, **more)


@pytest.fixture
def bench(library, meter, minds):
    def make(name):
        return Bench(Job(library.get(name), meter), *minds(name))

    return make


STUCK = LaneRead(lane="PA", wrote=(0, 255, 85, 170), came=(0, 247, 85, 162))
MEMORY = (
    CellsMarked(test="memory", cells=("2.3",), mark="dead"),
    CellsMarked(test="memory", cells=("1.3", "1.0", "2.0", "2.4"), mark="good"),
)


LAMP = (
    CellsMarked(test="lamps", cells=("2.1",), mark="dead"),
    CellsMarked(test="lamps", cells=("2.2", "1.1", "3.1"), mark="good"),
)


@pytest.mark.parametrize(
    ("name", "bodies", "first"),
    [
        pytest.param(OSTREL, (STUCK,), "U7", id="stuck-bit"),
        pytest.param(CINDER, MEMORY, "M23", id="memory-chip"),
        pytest.param(ORRERY, LAMP, "L21", id="one-lamp"),
        pytest.param(ORRERY, (SelfTestSeen(test="blinks", code="1"),), "IC4", id="stops-at-the-memory"),
    ],
)  # fmt: skip
def test_good_rails_and_one_result_name_the_part(bench, name, bodies, first):
    made = bench(name).good().told(*bodies)
    insight = made.insight
    assert insight.suspects[0].block == first
    assert sorted((s.odds for s in insight.suspects), reverse=True) == [
        s.odds for s in insight.suspects
    ]
    assert sum(s.odds for s in insight.suspects) + insight.unknown + insight.nothing < 1.0 + 1e-6
    assert insight.by_block[first] == pytest.approx(insight.suspects[0].odds)
    assert insight.suspects[0].speaks_for


def test_all_lamps_dark_accuses_their_supply_beside_the_logic(bench):
    made = bench(ORRERY)
    cells = made.job.profile.self_test("lamps").cells()
    made.told(CellsMarked(test="lamps", cells=cells, mark="dead"))
    blocks = {s.block for s in made.insight.suspects[:4]}
    assert blocks & {"F4", "BR2", "J3.5", "F1"}


def test_before_the_board_told_anything_only_the_rails_count(bench):
    made = bench(OSTREL).good()
    alone = insight_of(made.engine, made.job.profile, made.facts, None)
    assert {s.block for s in made.insight.suspects} == {s.block for s in alone.suspects}
    assert not any(isinstance(t.test, LogicTest) for t in made.insight.tries)


def test_every_test_of_the_logic_has_outcomes_that_add_up_and_words(bench):
    made = bench(OSTREL).good().told(STUCK)
    seen = made.seen()
    insight = seen.case.insight
    logical = [t for t in insight.tries if isinstance(t.test, LogicTest)]
    assert len(logical) >= 3
    for attempt in logical:
        assert 0.9 < sum(b.share for b in attempt.outcomes) <= 1.0 + 1e-6
        assert all(reads(seen.case.profile, attempt.test, b) for b in attempt.outcomes)
        for branch in attempt.outcomes:
            assert sum(share for _, share in branch.groups) == pytest.approx(1.0)
            assert all(g == ELSEWHERE or g in insight.leaders for g, _ in branch.groups)
        card = card_for("trace", *seen.but(focus=attempt.test.name))
        assert card.title
        assert card.choices
        assert card.outcomes
        assert "bit" in card.effort
    rates = [t.bits / t.seconds for t in insight.tries]
    assert rates == sorted(rates, reverse=True)


@settings(
    deadline=None, max_examples=25, suppress_health_check=[HealthCheck.function_scoped_fixture]
)
@given(st.sampled_from(["U7", "U9", "U3", "U11"]), st.sampled_from(["pulled", "donor"]))
def test_gone_raises_a_part_and_same_lowers_it(bench, part, how):
    made = bench(OSTREL)
    made.told(STUCK)
    before = made.insight.by_block[part]
    gone = insight_of(
        None,
        made.job.profile,
        _with(made, PartTried(part=part, how=how, result="gone")),
        made.logic,
    )
    same = insight_of(
        None,
        made.job.profile,
        _with(made, PartTried(part=part, how=how, result="same")),
        made.logic,
    )
    alone = insight_of(None, made.job.profile, made.facts, made.logic).by_block[part]
    assert same.by_block[part] < alone < gone.by_block[part]
    assert before >= 0


def _with(made, body):
    made.job.log(body)
    found = made.facts
    made.job.events.pop()
    return found


def test_the_last_moment_is_the_present(bench):
    made = bench(OSTREL).good().told(STUCK, PinProbed(part="U7", pin=1, level="low"))
    moments = history_of(made.engine, made.job.profile, made.facts, made.logic)
    insight = made.insight
    assert len(moments) == len(made.facts.clues) + len(made.facts.logic) + 1
    now = {key: odds for key, _, odds in moments[-1].odds}
    assert now["U7: logic"] == pytest.approx(insight.by_block["U7"], rel=1e-6)
    assert moments[-1].by_block["U7"] == pytest.approx(insight.by_block["U7"], rel=1e-6)
    assert [m.event for m in moments[1:]] == sorted(m.event for m in moments[1:])


def test_a_new_part_weighs_little(bench):
    made = bench(OSTREL).told(STUCK)
    before = made.insight.by_block["U7"]
    made.told(PartReplaced(part="U7", out="x", fitted="y"), STUCK)
    assert made.insight.by_block["U7"] < 0.2 * before
    logical = [s.block for s in made.insight.suspects if s.key.endswith(": logic")]
    assert logical[0] == "J2"


def test_the_list_unfolds_what_speaks_for_and_against(bench):
    made = bench(OSTREL).good().told(STUCK, PartTried(part="U7", how="tester", result="pass"))
    view = suspects_view(*made.seen(focus="U7"))
    row = next(r for r in view.rows if r.part == "U7")
    details = dict(row.details)
    assert "PA: bit 3 stuck low" in details["for"]
    assert "chip tester: pass" in details["against"]
    assert "one of" not in details


# What Trace draws.


@pytest.mark.parametrize(
    ("name", "bodies", "focus", "title"),
    [
        pytest.param(OSTREL, (STUCK,), "", "PA  port A, keyboard rows", id="its-lane"),
        pytest.param(
            OSTREL, (STUCK,), "U9", "PB  port B, printer", id="a-lane-of-the-part-that-was-picked"
        ),
        pytest.param(OSTREL, (STUCK,), "C11", None, id="a-block-of-the-tree-was-picked"),
        pytest.param(CINDER, MEMORY, "", "Memory grid", id="the-memory"),
        pytest.param(OSTREL, (SelfTestSeen(test="beeps", code="2"),), "", None, id="nothing-bad"),
    ],
)
def test_trace_draws_what_accuses_the_suspect_or_the_tree(bench, name, bodies, focus, title):
    made = bench(name).good().told(*bodies)
    found = suspect_picture(*made.seen(focus=focus))
    assert (found.title if found else None) == title
    if title and title.startswith("P"):
        assert found.covers == ()


# Words.


@pytest.mark.parametrize(
    ("name", "part", "words"),
    [
        (OSTREL, "U7", "U7, I/O chip, three ports"),
        (OSTREL, "KEY11", "KEY11, switch 1"),
        (ORRERY, "S23", "S23, switch left bumper"),
        (ORRERY, "L21", "L21, lamp Jupiter"),
        (ORRERY, "P1", "player 1 display"),
        (ORRERY, "Q1", "Q1, of outhole"),
        (ORRERY, "K05", "K05, of left sling"),
        (CINDER, "ZZ", "ZZ"),
    ],
)
def test_parts_are_named_with_what_they_are(library, name, part, words):
    assert part_name(library.get(name), part) == words


@pytest.mark.parametrize(
    ("kind", "target", "label", "test", "outcome"),
    [
        ("cells", "lane:PA", "", "write and read port A, keyboard rows", "all as it should be"),
        ("cells", "lane:PA", "PA3", "write and read port A, keyboard rows", "PA3 bad"),
        ("cells", "keyboard", "1.1 1.2 1.3 1.4", "self-test: Keyboard", "4 bad: 1.1 …"),
        ("cells", "lane:PB", SEVERAL, "write and read port B, printer", "several bad"),
        ("code", "beeps", "off", "self-test: Start-up beeps", "it shows off"),
        ("probe", "U7:26", "wrong", "probe U7 pin 26", "another level"),
        ("probe", "U7:26", "", "probe U7 pin 26", "the level it should have"),
        ("pulled", "U9", "", "leave U9 out", "still the same"),
        ("donor", "U7", "gone", "swap U7 from the donor", "the symptom is gone"),
        ("reseated", "J2", "", "re-seat J2", "still the same"),
        ("reseated", "J2", "gone", "re-seat J2", "the symptom is gone"),
        ("tester", "U9", "", "put U9 into the chip tester", "it passes"),
        ("tester", "U9", "fail", "put U9 into the chip tester", "it fails"),
    ],
)
def test_tests_and_outcomes_in_words(library, kind, target, label, test, outcome):
    made = LogicTest(kind=kind, target=target, seconds=1.0)
    profile = library.get(OSTREL)
    assert test_words(profile, made) == test
    kind = BranchKind.SEVERAL if label is SEVERAL else BranchKind.BETWEEN
    branch = Branch(kind=kind, low=0.0, high=0.0, share=1.0, groups=(), label=label)
    assert outcome_label(profile, made, branch) == outcome


def test_faults_in_words(minds):
    _, logic = minds(OSTREL)
    named = {f.name: fault_name(logic.profile, f) for f in logic.faults}
    assert named["U7: PA3 bad"] == "U7, PA3 bad"
    assert named["U7: dead"] == "U7 dead, I/O chip, three ports"
    assert named["KEY11: dead"] == "KEY11, switch 1"


# Cards of the trials.


@pytest.mark.parametrize(
    ("power", "name", "title", "first"),
    [
        (
            "live",
            "donor U7",
            "Switch off, swap U7 from the donor, run it again",
            "Confirm that it is off",
        ),
        ("live", "pulled U9", "Switch off, leave U9 out, run it again", "Confirm that it is off"),
        (
            "live",
            "tester U9",
            "Switch off, then put U9 into the chip tester",
            "Confirm that it is off",
        ),
        (
            "discharged",
            "donor U7",
            "Swap U7 from the donor, run it again",
            "Done: confirm that it is on again",
        ),
        (
            "discharged",
            "pulled U9",
            "Leave U9 out, run it again",
            "Done: confirm that it is on again",
        ),
        (
            "discharged",
            "tester U9",
            "Put U9 into the chip tester",
            "Passes: no proof that it is good",
        ),
    ],
)
def test_no_chip_is_moved_on_a_live_board(bench, power, name, title, first):
    from bench_lamp.stages.trace.logic_cards import logic_card

    made = bench(OSTREL).told(STUCK)
    made.job.switch(power)
    kind, part = name.split()
    card = logic_card(made.seen().case, LogicTest(kind=kind, target=part, seconds=60.0))
    assert card.title == title
    assert card.choices[0].text == first
    assert isinstance(card.choices[0], Choice)
    if power == "live":
        assert card.choices[0].command == AskPower()
        assert not any(c.log for c in card.choices if not c.text.startswith("Ran it again"))


def test_a_need_that_cannot_be_met_is_tested_all_the_same(bench):
    made = bench(OSTREL)
    card = card_for("selftest", *made.seen(focus="harness"))
    assert card.title == "Make ready for Test harness"
    made.told(*card.choices[1].log)
    assert made.job.state.checks["need:harness"] == CheckNoted(
        check="need:harness", word="left out", text="tested without what it needs"
    )
    assert card_for("selftest", *made.seen(focus="harness")).title.startswith("Step H1")


def test_every_way_that_a_test_can_come_out_has_its_place_on_the_card(library, minds):
    """Also several bad bits of a lane, whichever: every test of every profile with logic has a card."""
    assert set(ORDER) == set(BranchKind)
    kinds = set()
    for name in (CINDER, OSTREL, ORRERY):
        _, logic = minds(name)
        profile = library.get(name)
        found = insight_of(None, profile, Facts(logic=()), logic)
        for attempt in found.tries:
            kinds |= {b.kind for b in attempt.outcomes}
            lines = outcomes(profile, found, attempt)
            assert len(lines) >= len(attempt.outcomes)
            assert all(line.reads for line in lines)
    assert BranchKind.SEVERAL in kinds
