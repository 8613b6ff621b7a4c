"""The functional run: the machine used as the customer uses it."""

import re

from bench_lamp.board.proving import Function
from bench_lamp.cards.card import Accepted, Answer, Card, Choice, Entry, Lead, Refused, Typed
from bench_lamp.cards.picture import BenchPicture, PictureRow
from bench_lamp.cards.power_first import switch_on
from bench_lamp.cards.preview import Preview
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.proving.run import failing, open_steps, steps, tried
from bench_lamp.journal.proof_events import FunctionTried, FunctionWord
from bench_lamp.stages.prove.kinds.kind import ProofPart, ProofState, nothing_left

WORDS: dict[str, FunctionWord] = {
    "ok": "works",
    "good": "works",
    "works": "works",
    "yes": "works",
    "fails": "fails",
    "no": "fails",
    "bad": "fails",
    "dead": "fails",
    "left": "left out",
    "later": "left out",
}
HINT = "3 fails: why"
SHAPES: dict[FunctionWord, str] = {"works": "within", "fails": "absent", "left out": "edge"}
_SAID = re.compile(
    rf"(?P<step>.+?)\s+(?P<word>{'|'.join(WORDS)})\b[:,]?\s*(?P<text>.*)", re.IGNORECASE
)


def _state(case: Case) -> ProofState:
    total = len(steps(case))
    if failing(case):
        return ProofState("absent", f"{failing(case)[0].step} fails")
    if not total:
        return ProofState("", "free")
    done = total - len(open_steps(case))
    if any(t.word == "left out" for t in tried(case).values()):
        return ProofState("edge", "part left out")
    return ProofState("within" if done == total else "edge", f"{done} of {total}")


def _next(case: Case, hand: Hand) -> Card | None:
    bad = failing(case)
    if bad:
        return Card(
            id="prove-run-bad",
            title=f"Not proved: {bad[0].step} does not work",
            choices=(
                Choice(key="1", text="Trace it", go="trace"),
                Choice(
                    key="2",
                    text="It works now",
                    log=(FunctionTried(step=bad[0].step, word="works"),),
                ),
            ),
            why_heading="Does not work",
            why=tuple(f"{t.step}{': ' if t.text else ''}{t.text}" for t in bad),
        )
    left = open_steps(case)
    if not left or "prove-run" in hand.skipped:
        return None
    return _run_card(case, left)


def _run_card(case: Case, left: tuple[Function, ...]) -> Card:
    if not case.state.power.is_live:
        return switch_on(case, "Switch on for the functional run", ())
    works = tuple(FunctionTried(step=s.name, word="works") for s in left)
    out = tuple(FunctionTried(step=s.name, word="left out") for s in left)
    return Card(
        id="prove-run",
        kind="Functional run",
        title="Use it as the customer does",
        leads=(Lead(kind="check", text=f"{len(left)} steps, listed beside this"),),
        entry=Entry(kind="text", field="run", hint=HINT),
        choices=(
            Choice(key="Alt+a", text="All of it works", log=works),
            Choice(key="Alt+l", text="Leave it out", note="not proved then", log=out),
        ),
        why_heading="What for",
        why=(
            "A board that reads well and does not play is not repaired.",
            "One at a time: 3 works, 5 fails: crackles, topper later.",
        ),
    )


def _card(case: Case, hand: Hand) -> Card:
    found = _next(case, hand)
    if found is not None:
        return found
    left = open_steps(case)
    if left:
        return _run_card(case, left)
    card = nothing_left("run", "Try what the customer does, and name it", _told(case))
    from msgspec.structs import replace

    return replace(
        card, kind="Functional run", entry=Entry(kind="text", field="run", hint="coin up works")
    )


def _told(case: Case) -> tuple[str, ...]:
    lines = tuple(f"{t.step}: {t.word} {t.text}".strip() for t in tried(case).values())
    return lines or ("Nobody has listed what it does. What is named here stays with this job.",)


def _take(case: Case, hand: Hand, entry: Entry, typed: Typed) -> Answer:
    text = " ".join(typed.text.split())
    found = _SAID.fullmatch(text)
    if not text or found is None:
        return Refused(
            what=f"“{text}” does not say how it went" if text else "Nothing was typed",
            mend="Name the step or its number, then works, fails or later: 3 fails: no sound.",
        )
    step = _named(case, found["step"])
    if step is None:
        return Refused(
            what=f"There is no step {found['step']}",
            mend=f"They are numbered 1 to {len(steps(case))}; or name it.",
        )
    body = FunctionTried(
        step=step[:80], word=WORDS[found["word"].lower()], text=found["text"].strip()[:200]
    )
    return Accepted(log=(body,), focus="" if not hand.focus.startswith("part:") else None)


def _named(case: Case, name: str) -> str | None:
    """Return a step by its number or name; what is no number and not known is a new one."""
    known = steps(case)
    if name.isdecimal():
        number = int(name) if len(name) < 4 else 0
        return known[number - 1].name if 0 < number <= len(known) else None
    same = (s.name for s in known if s.name.lower() == name.lower())
    return next(same, name)


def _preview(case: Case, hand: Hand, entry: Entry, text: str) -> Preview:
    found = _SAID.fullmatch(" ".join(text.split()))
    step = _named(case, found["step"]) if found is not None else None
    if found is None or step is None:
        return Preview()
    word = WORDS[found["word"].lower()]
    return Preview(SHAPES[word], f"{step}: {word}", "")


def _picture(case: Case, hand: Hand) -> BenchPicture:
    rows = tuple(
        PictureRow(
            id=step.id,
            cells=(f"{number}", step.name, step.how),
            verdict=SHAPES[found.word] if (found := tried(case).get(step.name)) else "",
            word=found.word if found else "to try",
        )
        for number, step in enumerate(steps(case), start=1)
    )
    words = (
        ()
        if rows
        else ("What the customer does with it is listed once a profile names it (functions:).",)
    )
    return BenchPicture(
        title="Functional run",
        heads=("", "step", "how") if rows else (),
        rows=rows,
        spare=(2,),
        words=words,
    )


PART = ProofPart(
    id="run",
    name="Functional run",
    key="r",
    state=_state,
    next=_next,
    card=_card,
    take=_take,
    preview=_preview,
    picture=_picture,
)
