"""The stage Prove: every point read again since the last change, and good."""

from collections.abc import Iterator

from bench_lamp.board import TestPoint
from bench_lamp.journal.events import ActionDone, StageMarked
from bench_lamp.plan import cautions
from bench_lamp.plan.card import Card, Choice
from bench_lamp.plan.judged import JudgedReading, steady
from bench_lamp.plan.rails import reading_card
from bench_lamp.plan.selftest.items import has_bad_logic, items
from bench_lamp.plan.situation import Situation, remembered


def is_proved_point(situation: Situation, point: TestPoint) -> bool:
    """Whether a point was read after the last change to the hardware, and is good."""
    found = proof(situation, point)
    return found is not None and found.judgement.is_good


def proof(situation: Situation, point: TestPoint) -> JudgedReading | None:
    """Return the reading that was taken since the last change, if there is one."""
    found = steady(situation, point, fresh=True)
    if found is None or found.reading.event < situation.state.last_change:
        return None
    return found


@remembered
def progress(situation: Situation) -> tuple[int, int]:
    """Return how many points are proved, and how many there are."""
    points = situation.profile.test_points
    return sum(is_proved_point(situation, p) for p in points), len(points)


def is_proved(situation: Situation) -> bool:
    """Whether every point has been read good since the last change."""
    done, total = progress(situation)
    return done == total and not situation.state.out and not has_bad_logic(situation)


def waiting(situation: Situation) -> Iterator[TestPoint]:
    """Yield the points that still need a reading since the last change."""
    return (p for p in situation.profile.test_points if proof(situation, p) is None)


def next_to_prove(situation: Situation) -> TestPoint | None:
    """Return the point under the lamp."""
    picked = situation.profile.point(situation.focus)
    if picked:
        return picked
    open_points = list(waiting(situation))
    fresh = [p for p in open_points if f"read:{p.id}" not in situation.skipped]
    return next(iter(fresh or open_points), None)


def prove_card(situation: Situation) -> Card:
    """Ask for the next reading of the sweep, or for the verdict on the repair."""
    if situation.state.out:
        return make_good_card(situation)
    point = next_to_prove(situation)
    if point is not None:
        return reading_card(situation, point)
    bad = [p for p in situation.profile.test_points if not is_proved_point(situation, p)]
    if bad:
        names = ", ".join(f"{p.id} {p.name}" for p in bad)
        return Card(
            id="prove-bad",
            title=f"Not proved: {bad[0].id} is not right",
            choices=(Choice(key="1", text="Trace it", go="trace"),),
            why_heading="Not right",
            why=(names, "A second fault often shows only when the first is mended."),
            can_skip=False,
        )
    told = _told_again(situation)
    if told is not None:
        return told
    return Card(
        id="prove-done",
        title="All points read again, all good",
        choices=(_marked("1", "Mark it proved"),),
        why_heading="What it proves",
        why=(_what_it_proves(situation),),
        can_skip=False,
    )  # fmt: skip


def _marked(key: str, text: str) -> Choice:
    return Choice(key=key, text=text, go="handback", log=(StageMarked(stage="prove", mark="done"),))


def _told_again(situation: Situation) -> Card | None:
    """Ask for the self-tests that a repair made old; name those that still show something bad."""
    bad = [i for i in items(situation) if i.is_bad]
    again = [i for i in items(situation) if i.status == "again"]
    if bad:
        return Card(
            id="prove-selftest-bad",
            title=f"Not proved: {bad[0].name}, {bad[0].words}",
            choices=(Choice(key="1", text="Trace it", go="trace"),),
            why_heading="Not right",
            why=tuple(f"{i.name}: {i.words}" for i in bad),
            can_skip=False,
        )
    if not again or "prove-again" in situation.skipped:
        return None
    return Card(
        id="prove-again",
        title=f"Let it tell again: {again[0].name}",
        choices=(
            Choice(key="1", text="Do it now", go="selftest", focus=again[0].id),
            _marked("2", "Mark it proved without"),
        ),
        why_heading="Told before the repair",
        why=(", ".join(i.name for i in again), "A test that failed is the proof of its repair."),
    )


def make_good_card(situation: Situation) -> Card:
    """Ask for what was pulled, lifted or opened for a test to be put back."""
    out = sorted(situation.state.out)
    is_live = situation.state.power.is_live
    back = Choice(
        key="1", text=f"{out[0]} is back", log=(ActionDone(action="refitted", target=out[0]),)
    )
    off = Choice(key="1", text="Confirm that it is off", command="power")
    return Card(
        id="prove-out",
        title=f"Put {out[0]} back first",
        cautions=cautions.for_hands_in(situation),
        choices=(off if is_live else back,),
        why_heading="Off for a test",
        why=(", ".join(out), "Nothing is proved while a part is out or a link is open."),
        can_skip=False,
    )


def _what_it_proves(situation: Situation) -> str:
    done, _ = progress(situation)
    since = "since the last change" if situation.state.last_change else "in this job"
    return (
        f"{done} points are inside their limits {since}. "
        "It does not prove what only a warm board, a full load or a longer run would show."
    )
