"""What the board told, folded: the last word stands, rounds keep what was before, repairs clear a part."""

from datetime import UTC, datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st

from bench_lamp.journal import Event, fold
from bench_lamp.journal.events import JobOpened, PartReplaced, Struck
from bench_lamp.journal.ids import IdMaker
from bench_lamp.journal.logic_events import (
    CellsMarked,
    ImageJudged,
    LaneRead,
    PartTried,
    PinProbed,
    RoundBegun,
    SelfTestSeen,
)
from bench_lamp.journal.logic_state import LogicState

NOON = datetime(2026, 11, 17, 12, tzinfo=UTC)


def told(*bodies):
    ids = IdMaker()
    events = [Event(id=ids(), job="QH-1/1", at=NOON, body=JobOpened(tag="QH-1", profile="x"))]
    events += [Event(id=ids(), job="QH-1/1", at=NOON, body=body) for body in bodies]
    return fold(None, events), events


CELLS = st.lists(
    st.tuples(
        st.sampled_from(["1.1", "1.2", "2.1"]), st.sampled_from(["good", "dead", "stuck", ""])
    ),
    max_size=20,
)


@given(CELLS)
def test_the_last_mark_of_a_cell_stands_and_an_empty_one_takes_it_back(marks):
    state, _ = told(*(CellsMarked(test="s", cells=(c,), mark=m) for c, m in marks))
    expected = {c: m for c, m in dict(marks).items() if m}
    found = {c: m.mark for c, m in state.logic.cells.get("s", {}).items()}
    assert found == expected


@given(CELLS, CELLS)
def test_a_round_sets_aside_what_was_told_before_it(first, second):
    def marks(pairs):
        return [CellsMarked(test="s", cells=(c,), mark=m) for c, m in pairs]

    state, _ = told(*marks(first), RoundBegun(test="s"), *marks(second))
    alone, _ = told(*marks(second))
    before, _ = told(*marks(first))

    def plain(cells):
        return {c: m.mark for c, m in cells.items()}

    assert plain(state.logic.cells.get("s", {})) == plain(alone.logic.cells.get("s", {}))
    assert plain(state.logic.before["s"]) == plain(before.logic.cells.get("s", {}))


def test_each_kind_of_result_has_its_place():
    lane = LaneRead(lane="PA", wrote=(1, 2), came=(1, 3))
    pulled = PartTried(part="U7", how="pulled", result="same")
    probed = PinProbed(part="U7", pin=3, level="low")
    image = ImageJudged(image="R1", file="a", size=1, crc32="0", sha1="0", verdict="good")
    state, events = told(SelfTestSeen(test="b", code="3"), lane, lane, pulled, probed, image)
    logic = state.logic
    assert logic.codes["b"] == (events[1].id, "3")
    assert [body for _, body in logic.lanes["PA"]] == [lane, lane]
    assert logic.tried["U7", "pulled"][1] == pulled
    assert logic.probed["U7", 3][1] == probed
    assert logic.images["R1"][1] == image
    assert not logic.is_empty
    assert told()[0].logic.is_empty


@pytest.mark.parametrize(
    ("part", "left"),
    [pytest.param("U7", {"U9"}, id="itself"), pytest.param("U9", {"U7"}, id="another")],
)
def test_what_was_found_at_a_part_goes_with_it(part, left):
    bodies = [PartTried(part=p, how="tester", result="pass") for p in ("U7", "U9")]
    bodies += [PinProbed(part=p, pin=1, level="high") for p in ("U7", "U9")]
    state, events = told(*bodies, PartReplaced(part=part, out="x", fitted="y"))
    assert {key[0] for key in state.logic.tried} == left
    assert {key[0] for key in state.logic.probed} == left
    assert state.last_mend == events[-1].id


def test_a_round_keeps_the_code_that_was_and_forgets_a_lanes_pairs():
    state, _ = told(
        SelfTestSeen(test="b", code="3"), RoundBegun(test="b"), LaneRead(lane="PA", wrote=(1,), came=(0,)),
        RoundBegun(test="lane:PA"), SelfTestSeen(test="b", code="5"),
    )  # fmt: skip
    assert state.logic.codes_before == {"b": "3"}
    assert state.logic.codes["b"][1] == "5"
    assert state.logic.lanes == {}


def test_a_struck_result_never_was():
    state, events = told(SelfTestSeen(test="b", code="3"))
    struck = Event(
        id=IdMaker()(), job="QH-1/1", at=NOON, body=Struck(event=events[-1].id, reason="misread")
    )
    assert fold(None, [*events, struck]).logic.is_empty
    assert state.logic.codes


def test_a_state_that_was_told_nothing_is_empty_whoever_made_it():
    assert LogicState().is_empty
    assert not LogicState(codes={"beeps": ("e", "3")}).is_empty
