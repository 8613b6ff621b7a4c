"""Boot tests that blink or beep a count: tapped along, typed, or told by the board."""

from bench_lamp.board.self_tests import BlinkTest
from bench_lamp.cards.card import Accepted, Answer, Card, Entry, Refused
from bench_lamp.cards.power import live_question
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.results import code_now
from bench_lamp.case.selftest_list import Item
from bench_lamp.journal.logic_events import SelfTestSeen
from bench_lamp.logic.blinks import Blinks, decode, read_code
from bench_lamp.stages.selftest.code_cards import code_card, code_rows, meaning
from bench_lamp.stages.selftest.kinds.kind import KindCards
from bench_lamp.stages.selftest.picture import BootPicture
from bench_lamp.stages.selftest.requests import ask_code
from bench_lamp.stages.selftest.walk_cards import how

#: Draft that holds the taps, as `0.00-0.10 0.52-0.61` in seconds.
TAPS = "taps"
BY_EAR = "Tap the space bar with each blink. A pause ends a group; a repeated group counts once."


def tapped(hand: Hand) -> Blinks | None:
    """Return what was tapped in time with the lamp so far."""
    return read_taps(hand.draft.get(TAPS, ""))


def read_taps(text: str) -> Blinks | None:
    """Return the code of taps that are written as seconds.

    >>> read_taps("0.00-0.10 0.50-0.61 1.02-1.10").code
    '3'
    """
    presses = [tuple(map(float, word.split("-"))) for word in text.split()]
    return decode([(begin, end) for begin, end in presses])


def _card(case: Case, hand: Hand, item: Item) -> Card:
    """Ask how often it blinked or beeped; the space bar counts along."""
    test = case.profile.self_test(item.id)
    assert isinstance(test, BlinkTest)
    code = code_now(case, test.id)
    if code and hand.draft.get(TAPS) is None:
        return code_card(case, item, test, code)
    found = tapped(hand)
    noun = test.kind.removesuffix("s")
    return Card(
        id=f"selftest:{item.id}",
        kind=item.name,
        title=f"Count the {noun}s" if found is None else f"Tapped: {_taps_words(found)}",
        effort=f"about {test.seconds:g}\u202fs",
        leads=how(test),
        entry=Entry(
            kind="text",
            field="code",
            hint="Space · 3 · 2-3 · on · off",
            prefill=found.code if found else "",
            taps=True,
        ),
        why_heading="What that would say" if found else "By hand or by ear",
        why=meaning(test, found.code) if found else (BY_EAR,),
        asks=ask_code(case, item),
    )


def _taps_words(found: Blinks) -> str:
    rounds = f", the same in {found.rounds} rounds" if found.rounds > 1 else ""
    return f"{found.code}{rounds}"


def _take(case: Case, hand: Hand, item: Item, text: str) -> Answer:
    test = case.profile.self_test(item.id)
    assert isinstance(test, BlinkTest)
    code = read_code(text)
    if code is None:
        return Refused(
            what=f"“{text[:20]}” is no count or pattern" if text else "Nothing was counted",
            mend="Tap Space in time with it, or type 3, 2-3, SLS, on, off, flicker.",
        )
    asked = live_question(case)
    if asked is not None:
        return asked
    return Accepted(log=(SelfTestSeen(test=test.id, code=code),), draft={}, focus=item.id)


def _picture(case: Case, hand: Hand, item: Item) -> BootPicture:
    test = case.profile.self_test(item.id)
    assert isinstance(test, BlinkTest)
    code = code_now(case, test.id)
    count = int(code) if code.isdecimal() else -1 if code else -2
    steps = [
        (str(number), step.proves, _step_shape(number, count), ", ".join(step.parts))
        for number, step in enumerate(test.steps, start=1)
    ]
    found = tapped(hand)
    return BootPicture(
        title=item.name,
        steps=(*steps, *code_rows(test, code)),
        taps=len(hand.draft.get(TAPS, "").split()) if found else 0,
        words=(),
    )


def _step_shape(number: int, count: int) -> str:
    """Return the shape of a step: passed, the one that did not follow, or not reached."""
    if count == -2:
        return ""
    return "within" if number <= count else "absent" if number == count + 1 else ""


#: It is told by its very start: the answer asks whether the board is live.
KIND = KindCards(card=_card, take=_take, picture=_picture, needs_power=False)
