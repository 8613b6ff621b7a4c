"""The stages as the window sees them: an error while one is shown is a message and a way on.

Whatever the journal holds, every stage and the shelf open. What went wrong is said on the card,
written to the log, and counted in `FAILED`, so that tests see it.
"""

import logging
import traceback
from collections import deque
from collections.abc import Callable
from functools import cache
from typing import Any, TypeVar

from msgspec.structs import replace

from bench_lamp import stages
from bench_lamp.cards.card import Answer, Card, Choice, Refused, Typed
from bench_lamp.cards.preview import Preview
from bench_lamp.cards.stage import Order, PathState, Stage
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.journal.events import StageId, Struck

T = TypeVar("T")
log = logging.getLogger(__name__)

#: The last errors, newest at the end.
FAILED: deque[str] = deque(maxlen=20)


def failed(where: str, error: Exception) -> str:
    """Keep an error, and return it in a line."""
    words = f"{type(error).__name__}: {error}"[:160]
    FAILED.append(f"{where}: {words}")
    # As text: a record that keeps the error keeps its frames, and a painter in one of them.
    log.error("%s cannot be shown\n%s", where, "".join(traceback.format_exception(error)))
    return words


def broken_card(case: Case, stage: StageId, words: str) -> Card:
    """Say that a card cannot be made, and how the work goes on."""
    last = next((e for e in reversed(case.state.tape) if not e.struck_by), None)
    opened = case.state.tape[0].event.id if case.state.tape else ""
    strike = (
        (
            Choice(
                key="1",
                text="Strike the last entry",
                log=(Struck(event=last.event.id, reason="the stage could not be shown"),),
            ),
        )
        if last is not None and last.event.id != opened
        else ()
    )
    return Card(
        id=f"broken:{stage}",
        kind="Fault of the program",
        title="This step cannot be shown",
        choices=strike,
        why_heading="What to do",
        why=(
            "Nothing is lost: the journal holds every entry. The other stages open as usual.",
            f"For a report: {words}",
        ),
        can_skip=False,
    )


def _kept(where: str, make: Callable[..., T], instead: Callable[[str], T]) -> Callable[..., T]:
    """Return a function that gives something else where the first one raises."""

    def made(*given: Any) -> T:
        try:
            return make(*given)
        except Exception as exc:  # noqa: BLE001 — any error of a stage is shown, and stops nothing
            return instead(failed(where, exc))

    return made


@cache
def stage_of(stage_id: StageId) -> Stage:
    """Return a stage whose functions never raise."""
    raw = stages.stage_of(stage_id)

    def card(case: Case, hand: Hand) -> Card:
        shown = _kept(f"card of {raw.id}", raw.card, lambda words: broken_card(case, raw.id, words))
        return shown(case, hand)

    def refused(words: str) -> Answer:
        return Refused(what="The program cannot take this entry", mend=f"Report it: {words}")

    return replace(
        raw,
        card=card,
        state=_kept(
            f"state of {raw.id}", raw.state, lambda _: PathState("needs you", "cannot be shown")
        ),
        take=_kept(f"answer on {raw.id}", raw.take, refused),
        preview=_kept(f"preview on {raw.id}", raw.preview, lambda _: Preview()),
        order=_kept(f"order of {raw.id}", raw.order, lambda _: Order()),
        beside=_kept(f"arrows on {raw.id}", raw.beside, lambda _: None),
        turn=_kept(f"pages of {raw.id}", raw.turn, lambda _: None),
    )


def take(stage: StageId, case: Case, hand: Hand, typed: Typed) -> Answer | None:
    """Return what an answer on the stage's card means; None when none is wanted."""
    found = stage_of(stage)
    entry = found.card(case, hand).entry
    return None if entry is None else found.take(case, hand, entry, typed)
