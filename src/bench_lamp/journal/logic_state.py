"""What a job knows of the logic: the last word on each test, cell, lane, part, pin and image."""

from collections.abc import Callable, Mapping
from typing import Any

from msgspec import Struct, field

from bench_lamp.board.chips import lane_test_id
from bench_lamp.journal.logic_events import (
    CellsMarked,
    ImageJudged,
    LaneRead,
    PartTried,
    PinProbed,
    RoundBegun,
    SelfTestSeen,
)
from bench_lamp.logic.marks import CellMark


class LogicState(Struct, frozen=True, kw_only=True):
    """Everything that stands; each result with the id of its event."""

    codes: Mapping[str, tuple[str, str]] = field(default_factory=dict)
    cells: Mapping[str, Mapping[str, CellMark]] = field(default_factory=dict)
    #: What a test showed in its round before this one, and whether a new round was begun.
    codes_before: Mapping[str, str] = field(default_factory=dict)
    before: Mapping[str, Mapping[str, CellMark]] = field(default_factory=dict)
    lanes: Mapping[str, tuple[tuple[str, LaneRead], ...]] = field(default_factory=dict)
    tried: Mapping[tuple[str, str], tuple[str, PartTried]] = field(default_factory=dict)
    probed: Mapping[tuple[str, int], tuple[str, PinProbed]] = field(default_factory=dict)
    images: Mapping[str, tuple[str, ImageJudged]] = field(default_factory=dict)

    @property
    def is_empty(self) -> bool:
        """Whether nothing was told yet."""
        return self is NOTHING_TOLD or self == NOTHING_TOLD


NOTHING_TOLD = LogicState()
LogicBody = SelfTestSeen | CellsMarked | RoundBegun | LaneRead | PartTried | PinProbed | ImageJudged


def with_logic(state: LogicState, event: str, body: LogicBody) -> LogicState:
    """Return the state after one more result; `event` is its event's id."""
    draft = {name: getattr(state, name) for name in LogicState.__struct_fields__}
    _STEPS[type(body)](draft, event, body)
    return LogicState(**draft)


def without_part(state: LogicState, part: str, images: frozenset[str]) -> LogicState:
    """Return the state when a part is new: what was found at the old one, or in its images, is void."""
    draft = {name: getattr(state, name) for name in LogicState.__struct_fields__}
    draft["tried"] = {k: v for k, v in state.tried.items() if k[0] != part}
    draft["probed"] = {k: v for k, v in state.probed.items() if k[0] != part}
    draft["images"] = {k: v for k, v in state.images.items() if k not in images}
    return LogicState(**draft)


_Draft = dict[str, dict]  # type: ignore[type-arg]


def _code(draft: _Draft, event: str, body: SelfTestSeen) -> None:
    draft["codes"] = {**draft["codes"], body.test: (event, body.code)}


def _cells(draft: _Draft, event: str, body: CellsMarked) -> None:
    mark = CellMark(event=event, mark=body.mark, showed=body.showed)
    cells = {**draft["cells"].get(body.test, {}), **dict.fromkeys(body.cells, mark)}
    if not body.mark:
        cells = {k: v for k, v in cells.items() if k not in body.cells}
    draft["cells"] = {**draft["cells"], body.test: cells}


def _round(draft: _Draft, event: str, body: RoundBegun) -> None:
    test = body.test
    draft["before"] = {**draft["before"], test: draft["cells"].get(test, {})}
    if test in draft["codes"]:
        draft["codes_before"] = {**draft["codes_before"], test: draft["codes"][test][1]}
    for name in ("cells", "codes"):
        draft[name] = {k: v for k, v in draft[name].items() if k != test}
    draft["lanes"] = {k: v for k, v in draft["lanes"].items() if lane_test_id(k) != test}


def _lane(draft: _Draft, event: str, body: LaneRead) -> None:
    draft["lanes"] = {
        **draft["lanes"],
        body.lane: (*draft["lanes"].get(body.lane, ()), (event, body)),
    }


def _tried(draft: _Draft, event: str, body: PartTried) -> None:
    draft["tried"] = {**draft["tried"], (body.part, body.how): (event, body)}


def _probed(draft: _Draft, event: str, body: PinProbed) -> None:
    draft["probed"] = {**draft["probed"], (body.part, body.pin): (event, body)}


def _image(draft: _Draft, event: str, body: ImageJudged) -> None:
    draft["images"] = {**draft["images"], body.image: (event, body)}


_STEPS: dict[type, Callable[[_Draft, str, Any], None]] = {
    SelfTestSeen: _code,
    CellsMarked: _cells,
    RoundBegun: _round,
    LaneRead: _lane,
    PartTried: _tried,
    PinProbed: _probed,
    ImageJudged: _image,
}
