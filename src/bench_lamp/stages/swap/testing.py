"""Is it the part? What its test shows in the state that it is in, with what lies across it."""

from bench_lamp.cards.card import Accepted, Answer, Card, Choice, Entry, Lead, Refused
from bench_lamp.cards.power import discharged_choices
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.charge import discharge_words
from bench_lamp.case.hand import Hand
from bench_lamp.case.part_spec import wanted_spec
from bench_lamp.case.part_tests import expected, judge_measured, parallel_words, ways
from bench_lamp.checks.part_value import STATES, State
from bench_lamp.errors import BenchLampError
from bench_lamp.journal.logic_events import PartTried
from bench_lamp.journal.part_events import PartMeasured
from bench_lamp.journal.state import OHMS_V
from bench_lamp.stages.swap.fitting import place
from bench_lamp.units.part import PartSpec

_KEYS: dict[str, State] = {"1": "in circuit", "2": "one leg lifted", "3": "out"}


def test_card(case: Case, hand: Hand) -> Card:
    """Ask for the state of the part, then for what is measured."""
    part, state = hand.draft["part"], _state(hand)
    want = wanted_spec(case, part)
    if state is None:
        return _state_card(case, part, want)
    if not _is_safe(case, state):
        return _power_first(case, part)
    return Card(
        id=f"swap-test:{part}:{state}",
        title=f"Measure {part}, {state}",
        cautions=cautions.for_hands_in(case),
        leads=(*place(case, part), *(Lead(kind="how", text=text) for text in ways(want, state))),
        entry=Entry(kind="text", field="measured", hint=_hint(want)),
        choices=(Choice(key="Alt+s", text="Another state", draft={"part": part, "test": "?"}),),
        why_heading="A good one shows",
        why=(expected(case, part, state), *parallel_words(case, part, state)),
        can_skip=False,
    )


def _is_safe(case: Case, state: State) -> bool:
    """Whether a meter that drives a current of its own may be put on the part: what is out of the board, always."""
    return state == "out" or case.state.power.is_for_ohms


def _power_first(case: Case, part: str) -> Card:
    live = case.state.power.is_live
    return Card(
        id=f"swap-power:{part}",
        kind="Before a part is measured",
        title=f"Off, unplugged, below {OHMS_V:g}\u202fV?",
        cautions=(f"{cautions.switch_off_first(case)}.",)
        if live
        else cautions.for_hands_in(case) or cautions.for_ohms(case),
        leads=(Lead(kind="hand", text="bleed through a resistor, never a screwdriver"),),
        choices=discharged_choices(case, "1", "2"),
        why_heading="What holds a charge",
        why=discharge_words(case, down_to=OHMS_V),
        can_skip=False,
    )


def _state(hand: Hand) -> State | None:
    return next((s for s in STATES if s == hand.draft["test"]), None)


def _state_card(case: Case, part: str, want: PartSpec) -> Card:
    return Card(
        id=f"swap-state:{part}",
        title=f"How does {part} sit?",
        leads=place(case, part),
        choices=tuple(
            Choice(
                key=key, text=f"{state[0].upper()}{state[1:]}", draft={"part": part, "test": state}
            )
            for key, state in _KEYS.items()
        ),
        why_heading="What that does",
        why=parallel_words(case, part, "in circuit")
        or ("In circuit, what lies across it is measured with it: a lifted leg tells the truth.",),
        can_skip=False,
    )


def _hint(want: PartSpec) -> str:
    unit = want.kind.unit if want.kind else ""
    return {"F": "94 uF esr 0.9", "Ω": "9.8k", "H": "80 uH ohms 0.2"}.get(unit, "good, or bad")


def take_measured(case: Case, hand: Hand, text: str) -> Answer:
    """Take what was measured: it is judged, logged, and its verdict is said."""
    part, state = hand.draft["part"], _state(hand) or "in circuit"
    if not _is_safe(case, state):
        return Refused(
            what="Nothing is measured on a board that is not off and below 1\u202fV",
            mend="Switch off, discharge, confirm with Ctrl+P, then measure again.",
        )
    try:
        found = judge_measured(case, part, state, text)
    except BenchLampError as exc:
        return Refused(what=str(exc), mend=exc.hint)
    body = PartMeasured(part=part, state=state, text=text, verdict=found.word)
    return Accepted(log=(body, *_tester(case, part, text)), draft={"part": part})


def _tester(case: Case, part: str, text: str) -> tuple[PartTried, ...]:
    """Return what the chip tester says, for the odds of the logic."""
    word = text.strip().lower()
    if case.profile.chip(part) is None or word not in {"pass", "fail"}:
        return ()
    return (PartTried(part=part, how="tester", result="fail" if word == "fail" else "pass"),)
