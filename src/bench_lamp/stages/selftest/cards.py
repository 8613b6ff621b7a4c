"""The stage Self-test: one card for what is to be done and watched now."""

from msgspec.structs import replace

from bench_lamp.board.self_tests import SelfTest
from bench_lamp.cards.card import Card, Choice, Lead
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.selftest_list import current_test, selftest_items, selftest_progress
from bench_lamp.case.selftest_open import is_waiting
from bench_lamp.case.stops import coil_fuse_words, locked_on
from bench_lamp.journal.check_ids import READY, CheckId
from bench_lamp.journal.events import CheckNoted, PowerConfirmed, StageMarked
from bench_lamp.stages.selftest.kinds import cards_of
from bench_lamp.stages.selftest.power_first import on_first
from bench_lamp.units.words import opening


def selftest_card(case: Case, hand: Hand) -> Card:
    """Ask for the next thing that the board can tell; first whatever cannot wait."""
    locked = _locked_on(case)
    if locked:
        return _switch_off(case, locked)
    item = current_test(case, hand)
    if item is None:
        return _all_done(case)
    test = case.profile.self_test(item.id)
    needs = _needs_first(case, hand, test) if not item.done else None
    card = needs or on_first(case, item) or cards_of(item).card(case, hand, item)
    return replace(card, runners=(*card.runners, _ENOUGH)) if is_waiting(case) else card


#: One need not ask everything: what was not asked stays so, and the work goes on.
_ENOUGH = Choice(
    key="Alt+e",
    text="Skip remaining tests",
    go="prove",
    log=(StageMarked(stage="selftest", mark="done"),),
)


def _locked_on(case: Case) -> str:
    """Return a coil that stays in while the board is live; empty for none."""
    if not case.state.power.is_live:
        return ""
    since = _last_off(case)
    return next((coil for coil, event in locked_on(case) if event > since), "")


def _last_off(case: Case) -> str:
    """Return the id of the last event that said the power was off."""
    for logged in reversed(case.state.tape):
        body = logged.event.body
        if isinstance(body, PowerConfirmed) and body.power != "live" and not logged.struck_by:
            return logged.event.id
    return ""


def _switch_off(case: Case, coil: str) -> Card:
    return Card(
        id="selftest-locked",
        kind="At once",
        title="Switch off now",
        cautions=(f"{coil} stays in. It burns in seconds, and its transistor with it.",),
        choices=(Choice(key="1", text="It is off", log=(PowerConfirmed(power="off"),)),),
        why_heading="Then",
        why=(
            f"Take {coil_fuse_words(case)} out before the next start,"
            " and read its transistor in the cold round.",
        ),
        can_skip=False,
    )


def _needs_first(case: Case, hand: Hand, test: SelfTest | None) -> Card | None:
    """Ask what must be so before a test says anything, once."""
    if test is None or not test.needs or str(CheckId(READY, test.id)) in case.state.checks:
        return None
    check = str(CheckId(READY, test.id))
    met = CheckNoted(
        check=check, word="good", text=f"ready: {'; '.join(n.text for n in test.needs)}"
    )
    cell = hand.cell if hand.focus == test.id else ""
    return Card(
        id=f"selftest-needs:{test.id}",
        kind="First, or a good board fails",
        title=f"Make ready for {test.name}",
        leads=tuple(Lead(kind="check", text=need.text) for need in test.needs),
        choices=(
            Choice(key="1", text="All is ready", log=(met,), focus=test.id, cell=cell),
            Choice(
                key="2",
                text="Not possible: test without it",
                focus=test.id,
                cell=cell,
                log=(
                    CheckNoted(check=check, word="left out", text="tested without what it needs"),
                ),
            ),
        ),
        why_heading="Without it",
        why=tuple(opening(need.without) + "." for need in test.needs if need.without),
    )


def _all_done(case: Case) -> Card:
    bad = [i for i in selftest_items(case) if i.is_bad]
    done, total = selftest_progress(case)
    marked = StageMarked(stage="selftest", mark="done")
    if not total:
        return Card(
            id="selftest-none",
            title="This profile has no self-tests yet",
            can_skip=False,
            choices=(Choice(key="1", text="Go to Prove", go="prove"),),
            why_heading="What could stand here",
            why=(
                "Blinks with their meanings, a test ROM, memory banks, matrices, displays, coils, "
                "lanes: each a few lines in the profile.",
            ),
        )
    onward = Choice(
        key="1",
        text="Trace it" if bad else "Prove the repair",
        go="trace" if bad else "prove",
        log=() if bad else (marked,),
    )
    return Card(
        id="selftest-done",
        title="Self-test done" if not bad else "Something is not right: trace it",
        choices=(onward,),
        why_heading="What the test showed",
        why=tuple(f"{i.name}: {i.words}" for i in bad)
        or (f"{done} of {total} done, nothing bad among them.",),
        can_skip=False,
    )
