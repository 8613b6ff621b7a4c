"""From a job's self-tests to the clues that the reasoning weighs."""

from collections.abc import Iterator

from bench_lamp.board import Profile
from bench_lamp.board.logic_graph import good_code
from bench_lamp.board.self_tests import DisplayTest, MatrixTest, SelfTest
from bench_lamp.case.results import GOOD_MARKS
from bench_lamp.case.selftest_list import cell_short, cells_of
from bench_lamp.journal import JobState
from bench_lamp.logic.clue import LogicClue
from bench_lamp.logic.lanes import diagnose, words_for

#: Marks that are no fault of the logic: its own contact or actuator.
MECHANICAL = frozenset({"finger only"})


def logic_clues(profile: Profile, state: JobState) -> tuple[LogicClue, ...]:
    """Return the results that stand since the last repair, in the order of the profile.

    A chip tester's word on a part stands after a repair of another.
    """
    if state.logic.is_empty:
        return ()
    since = state.last_mend
    found = [c for c in _every(profile, state) if c.event > since or c.kind in {"tester", "image"}]
    return tuple(sorted(found, key=lambda clue: clue.event))


def _every(profile: Profile, state: JobState) -> Iterator[LogicClue]:
    yield from _codes(profile, state)
    yield from _cells(profile, state)
    yield from _lanes(profile, state)
    for (part, how), (event, body) in state.logic.tried.items():
        words = {"same": "pulled, still the same", "gone": "pulled, it is gone"}
        if how == "donor":
            words = {"same": "swapped, still the same", "gone": "swapped, it is gone"}
        if how == "reseated":
            words = {"same": "re-seated, still the same"}
        text = words.get(body.result, f"chip tester: {body.result}")
        yield LogicClue(event=event, kind=how, target=part, code=body.result, text=f"{part} {text}")  # type: ignore[arg-type]
    yield from _pins(profile, state)
    for image in profile.images:
        if image.id in state.logic.images:
            event, seen = state.logic.images[image.id]
            if seen.verdict != "not known":
                yield LogicClue(event=event, kind="image", target=image.part, code=seen.verdict,
                                text=f"{image.id} image {seen.verdict}")  # fmt: skip


def _codes(profile: Profile, state: JobState) -> Iterator[LogicClue]:
    for test_id, (event, code) in state.logic.codes.items():
        test = profile.self_test(test_id)
        if test is not None and test.kind in {"blinks", "beeps", "program"}:
            shown = "" if code == good_code(test) else code
            yield LogicClue(event=event, kind="code", target=test_id, code=shown,
                            text=f"{test.name}: {code}")  # fmt: skip
        elif test is not None and test.kind == "settings":
            yield LogicClue(event=event, kind="settings", target=test_id, code=code,
                            tried=frozenset(test.kept_by), text=f"settings {code}")  # fmt: skip


def _cells(profile: Profile, state: JobState) -> Iterator[LogicClue]:
    for test_id, marks in state.logic.cells.items():
        test = profile.self_test(test_id)
        since = state.last_mend
        known = set(cells_of(test)) if test is not None else set()
        fresh = {c: m for c, m in marks.items() if m.event > since and c in known}
        if test is None or test.kind == "settings" or not fresh:
            continue
        bad = {c for c, m in fresh.items() if m.mark not in GOOD_MARKS | MECHANICAL}
        tried = set(fresh)
        if isinstance(test, DisplayTest):
            bad = {f"{c}.{s}" for c in bad for s in _segments(fresh[c].mark)}
            tried = {f"{c}.{s}" for c in tried for s in "abcdefg"}
        yield LogicClue(
            event=max(m.event for m in fresh.values()), kind="cells", target=test_id,
            bad=frozenset(bad), tried=frozenset(tried),
            text=f"{test.name}: {_cell_words(test, bad)}",
        )  # fmt: skip


def _cell_words(test: SelfTest, bad: set[str]) -> str:
    if not bad:
        return "all good so far"
    if len(bad) <= 3:
        return f"{', '.join(cell_short(test, c) for c in sorted(bad))} bad"
    noun = {DisplayTest: "segments ", MatrixTest: "cells "}.get(type(test), "")
    return f"{len(bad)} {noun}bad"


def _segments(mark: str) -> str:
    """Return the dark segments of a digit's mark: `dark abc`, or `dark` for all."""
    return mark.removeprefix("dark").strip() or "abcdefg"


def _lanes(profile: Profile, state: JobState) -> Iterator[LogicClue]:
    for lane in profile.lanes:
        read = [(e, b) for e, b in state.logic.lanes.get(lane.id, ()) if e > state.last_mend]
        pairs = [p for _, body in read for p in zip(body.wrote, body.came, strict=False)]
        if not pairs:
            continue
        bits = diagnose(pairs, len(lane.lines))
        tried = {lane.lines[b.number] for b in bits if b.state != "not tried"}
        bad = {lane.lines[b.number] for b in bits if b.is_bad}
        floating = all(b.state == "floating" for b in bits if b.is_bad)
        manner = "" if not bad else "floating" if floating else "stuck"
        yield LogicClue(
            event=read[-1][0], kind="cells", target=f"lane:{lane.id}", bad=frozenset(bad), manner=manner,
            tried=frozenset(tried), text=f"{lane.id}: {words_for(bits)}",
        )  # fmt: skip


def _pins(profile: Profile, state: JobState) -> Iterator[LogicClue]:
    for (part, number), (event, body) in state.logic.probed.items():
        chip = profile.chip(part)
        pin = next((p for p in chip.probes if p.pin == number), None) if chip else None
        if pin is not None:
            code = "right" if body.level == pin.should else "wrong"
            yield LogicClue(event=event, kind="probe", target=f"{part}:{number}", line=pin.line, code=code,
                            text=f"{part} pin {number} {body.level}")  # fmt: skip
