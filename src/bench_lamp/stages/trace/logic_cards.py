"""Cards of the reasoning's tests on the logic: pull, swap, chip tester, probe, or a self-test."""

from bench_lamp.board.chips import Chip
from bench_lamp.cards.card import Card, Choice, Lead
from bench_lamp.cards.commands import AskPower
from bench_lamp.cards.instrument_logic import probe_request
from bench_lamp.cards.logic_words import effort_words, part_place, test_words
from bench_lamp.cards.part_test import part_test_event
from bench_lamp.cards.pin_card import pin_card
from bench_lamp.cards.power_first import off_first, switch_on
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.selftest_list import selftest_items
from bench_lamp.instrument.protocol import LogicRequest
from bench_lamp.logic.clue import LogicKind
from bench_lamp.reason.values.tests import LogicTest
from bench_lamp.units.words import opening

#: Beside the caution of static: what destroys a chip at once.
PIN_ONE = "Check pin 1: a chip turned round is destroyed at once."
PLUG = "off, look at pins and crimps, fit it straight; check the key"


def logic_card(case: Case, test: LogicTest) -> Card:
    """Ask for one test of the logic."""
    if test.kind == LogicKind.PROBE:
        card = pin_card(case, test.target, card_id="")
        if case.state.power.is_live:
            return card
        return switch_on(
            case, f"Switch on, then {card.title[:1].lower()}{card.title[1:]}", card.leads
        )
    if test.kind in {LogicKind.CELLS, LogicKind.CODE}:
        return _selftest(case, test)
    chip = case.profile.chip(test.target)
    assert chip is not None
    if test.kind == LogicKind.TESTER:
        return _tester(case, test, chip)
    return _swap(case, test, chip)


def self_test_card(case: Case) -> Card | None:
    """Name what the board told, where nothing weighs it: on the shelf, or when that was stopped."""
    bad = [i for i in selftest_items(case) if i.is_bad]
    if not bad:
        return None
    return Card(
        id="trace-self-test",
        title=f"Trace {bad[0].name}: {bad[0].words}",
        choices=(Choice(key="1", text="See the self-test result", go="selftest", focus=bad[0].id),),
        why_heading="Not right",
        why=tuple(f"{i.name}: {i.words}" for i in bad),
    )


def _selftest(case: Case, test: LogicTest) -> Card:
    words = test_words(case.profile, test)
    found = case.profile.self_test(test.target)
    how = (
        found.how
        if found
        else next((lane.how for lane in case.profile.lanes if lane.test_id == test.target), "")
    )
    return Card(
        id="",
        title=opening(words),
        leads=(Lead(kind="how", text=how),) if how else (),
        choices=(Choice(key="1", text="Do it now", go="selftest", focus=test.target),),
    )


def _swap(case: Case, test: LogicTest, chip: Chip) -> Card:
    title = f"{test_words(case.profile, test)}, run it again"
    is_live = case.state.power.is_live
    is_plug = test.kind == LogicKind.RESEATED
    donor = Lead(kind="hand", text=case.profile.donor)
    return Card(
        id="",
        title=f"Switch off, {title}" if is_live else opening(title),
        cautions=(*cautions.for_hands_in(case), *(() if is_plug else (cautions.STATIC, PIN_ONE))),
        leads=(*_place(case, chip), *((donor,) if test.kind == LogicKind.DONOR else ())),
        choices=(
            Choice(
                key="1",
                text="Confirm that it is off" if is_live else "Done: confirm that it is on again",
                command=AskPower(),
            ),
            _result_choice("2", "Ran it again: still the same", chip, test.kind, "same"),
            _result_choice("3", "Ran it again: the symptom is gone", chip, test.kind, "gone"),
        ),
    )


def _tester(case: Case, test: LogicTest, chip: Chip) -> Card:
    if case.state.power.is_live:
        return off_first(case, test_words(case.profile, test))
    return Card(
        id="",
        title=opening(test_words(case.profile, test)),
        cautions=cautions.for_hands_in(case),
        leads=_place(case, chip),
        choices=(
            _result_choice("1", "Passes: no proof that it is good", chip, "tester", "pass"),
            _result_choice("2", "Fails: as good as proof", chip, "tester", "fail"),
        ),
    )


def _place(case: Case, chip: Chip) -> tuple[Lead, ...]:
    how = PLUG if chip.family == "connector" else effort_words(case, chip)
    return (Lead(kind="hand", text=part_place(case.profile, chip.id)), Lead(kind="how", text=how))


def _result_choice(key: str, text: str, chip: Chip, how: str, result: str) -> Choice:
    return Choice(key=key, text=text, log=(part_test_event(chip.id, how, result),))


def logic_request(case: Case, test: LogicTest) -> LogicRequest | None:
    """Return what the linked board is asked for a test; None where it cannot, or the power is wrong."""
    if test.kind == LogicKind.PROBE:
        return probe_request(case, test.target) if case.state.power.is_live else None
    if test.kind in {LogicKind.CELLS, LogicKind.CODE} or case.state.power.is_live:
        return None
    return LogicRequest(kind=test.kind, target=test.target, mended=case.state.renewed)
