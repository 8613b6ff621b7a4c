"""Cards of the reasoning's tests on the logic: pull, swap, chip tester, probe, or a self-test."""

from bench_lamp.board.chips import Chip
from bench_lamp.plan import cautions
from bench_lamp.plan.card import Card, Choice, Lead
from bench_lamp.plan.selftest.coverage import effort_words
from bench_lamp.plan.selftest.items import items
from bench_lamp.plan.selftest.logic_words import part_place, test_words
from bench_lamp.plan.selftest.power_first import off_first, switch_on
from bench_lamp.plan.selftest.trials import trial
from bench_lamp.plan.selftest.walk_cards import pin_card
from bench_lamp.plan.situation import Situation
from bench_lamp.reason.logic_tests import LogicTest
from bench_lamp.units.words import opening

STATIC = "Static: wrist to the frame. Mind pin 1."
PLUG = "off, look at pins and crimps, on again straight; mind the key"


def logic_card(situation: Situation, test: LogicTest) -> Card:
    """Ask for one test of the logic."""
    if test.kind == "probe":
        card = pin_card(situation, test.target, focus="", card_id="")
        if situation.state.power.is_live:
            return card
        return switch_on(
            situation, f"Switch on, then {card.title[:1].lower()}{card.title[1:]}", card.leads
        )
    if test.kind in {"cells", "code"}:
        return _selftest(situation, test)
    chip = situation.profile.chip(test.target)
    assert chip is not None
    if test.kind == "tester":
        return _tester(situation, test, chip)
    return _swap(situation, test, chip)


def told_card(situation: Situation) -> Card | None:
    """Name what the board told, where nothing weighs it: on the shelf, or when that was stopped."""
    bad = [i for i in items(situation) if i.is_bad]
    if not bad:
        return None
    return Card(
        id="trace-told",
        title=f"Trace {bad[0].name}: {bad[0].words}",
        choices=(Choice(key="1", text="Look at what it told", go="selftest", focus=bad[0].id),),
        why_heading="Not right",
        why=tuple(f"{i.name}: {i.words}" for i in bad),
    )


def _selftest(situation: Situation, test: LogicTest) -> Card:
    words = test_words(situation.profile, test)
    found = situation.profile.self_test(test.target)
    how = found.how if found else next(
        (lane.how for lane in situation.profile.lanes if f"lane:{lane.id}" == test.target), ""
    )  # fmt: skip
    return Card(
        id="",
        title=opening(words),
        leads=(Lead(kind="how", text=how),) if how else (),
        choices=(Choice(key="1", text="Do it now", go="selftest", focus=test.target),),
    )


def _swap(situation: Situation, test: LogicTest, chip: Chip) -> Card:
    title = f"{test_words(situation.profile, test)}, run it again"
    is_live = situation.state.power.is_live
    is_plug = test.kind == "reseated"
    donor = Lead(kind="hand", text=situation.profile.donor)
    return Card(
        id="",
        title=f"Switch off, {title}" if is_live else opening(title),
        cautions=(*cautions.for_hands_in(situation), *(() if is_plug else (STATIC,))),
        leads=(*_place(situation, chip), *((donor,) if test.kind == "donor" else ())),
        choices=(
            Choice(key="1", text="Confirm that it is off" if is_live
                   else "Done: confirm that it is on again", command="power"),
            _told("2", "Ran it again: still the same", chip, test.kind, "same"),
            _told("3", "Ran it again: the symptom is gone", chip, test.kind, "gone"),
        ),
    )  # fmt: skip


def _tester(situation: Situation, test: LogicTest, chip: Chip) -> Card:
    if situation.state.power.is_live:
        return off_first(situation, test_words(situation.profile, test))
    return Card(
        id="",
        title=opening(test_words(situation.profile, test)),
        cautions=cautions.for_hands_in(situation),
        leads=_place(situation, chip),
        choices=(
            _told("1", "Passes: no proof that it is good", chip, "tester", "pass"),
            _told("2", "Fails: as good as proof", chip, "tester", "fail"),
        ),
    )  # fmt: skip


def _place(situation: Situation, chip: Chip) -> tuple[Lead, ...]:
    how = PLUG if chip.family == "connector" else effort_words(situation, chip)
    return (
        Lead(kind="hand", text=part_place(situation.profile, chip.id)),
        Lead(kind="how", text=how),
    )


def _told(key: str, text: str, chip: Chip, how: str, result: str) -> Choice:
    return Choice(key=key, text=text, log=(trial(chip.id, how, result),))
