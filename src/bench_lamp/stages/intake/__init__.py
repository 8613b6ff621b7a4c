"""The stage Intake: whose board, from where, the complaint, the mains, and what the eye sees.

For: its questions, their cards and answers.
May import: what stages may. Must not import: another stage.
"""

from collections.abc import Iterator

from bench_lamp.cards.card import Answer, Card, Entry, Typed
from bench_lamp.cards.preview import Preview
from bench_lamp.cards.stage import Order, PathState, Stage
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand


def _card(case: Case, hand: Hand) -> Card:
    from bench_lamp.stages.intake.cards import intake_card

    return intake_card(case, hand)


def _take(case: Case, hand: Hand, entry: Entry, typed: Typed) -> Answer:
    from bench_lamp.stages.intake.cards import take_intake

    return take_intake(case, entry.field, typed.text)


def _preview(case: Case, hand: Hand, entry: Entry, text: str) -> Preview:
    from bench_lamp.cards.findings import read_finding

    finding = read_finding(case, text) if entry.field == "look" else None
    return Preview(word=finding.seen, implies=finding.place or "where?") if finding else Preview()


def _state(case: Case) -> PathState:
    from bench_lamp.stages.intake.cards import answers

    given = answers(case)
    done = sum(1 for text in given.values() if text)
    if case.state.marks.get("intake") == "done":
        seen = len([f for f in case.state.findings if f.seen != "nothing"])
        return PathState("done", f"{seen} seen" if seen else "nothing seen")
    return PathState("under way" if done else "not begun", f"{done} of {len(given)}")


def _order(case: Case, hand: Hand) -> Order:
    from bench_lamp.stages.intake.cards import intake_card, questions

    # Up and Down go through the answers of a question that has some.
    return Order() if intake_card(case, hand).choices else Order(questions(case), hand.focus)


def _load() -> Iterator[None]:
    import bench_lamp.stages.intake.cards  # noqa: F401

    yield


STAGE = Stage(
    id="intake",
    name="Intake",
    surface="intake",
    card=_card,
    take=_take,
    preview=_preview,
    state=_state,
    order=_order,
    load=_load,
)
