"""What came out, what goes in, whether it may, and what is done before power."""

from bench_lamp.board.blocks import FuseBlock
from bench_lamp.cards.card import Accepted, Answer, Card, Choice, Entry, Lead, Refused
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.fuses import wanted_fuse
from bench_lamp.case.hand import Hand
from bench_lamp.case.needed import marked_words, needed_words, unread_words
from bench_lamp.case.part_spec import (
    amendment_text,
    amendments,
    around,
    judged,
    offered_spec,
    serial_of,
    short_text,
    wanted_spec,
    wanted_text,
)
from bench_lamp.case.shop_parts import fitting_stock, shop_words
from bench_lamp.checks.substitute import Rule, State, Verdict, judge
from bench_lamp.journal.events import PartReplaced
from bench_lamp.journal.open_events import OpenEnd
from bench_lamp.shop.stock import Level
from bench_lamp.stages.swap.removal import before_power, house_words
from bench_lamp.units.part import PartSpec, SpecKind

#: Never fitted for now: they protect.
NEVER = frozenset((SpecKind.FUSE, SpecKind.SAFETY))
#: Longer than this, a title says a part as it is marked.
BRIEF = 30
#: How sure a value is that stands on another board.
TWIN = "From one good board: makers change values, so read a second one, or measure it there."


def place(case: Case, part: str) -> tuple[Lead, ...]:
    """Return where a part is."""
    block, listed = (
        case.profile.block(part),
        (case.profile.chip(part) or next((p for p in case.profile.parts if p.id == part), None)),
    )
    words = block.place if block and block.place else listed.place if listed else ""
    return (Lead(kind="hand", text=words),) if words else ()


def out_card(case: Case, part: str, rest: str = "") -> Card:
    """Ask what came out; `rest` are the parts of a list that follow."""
    return Card(
        id=f"swap-out:{part}",
        title=f"{part}: what came out?",
        leads=place(case, part),
        entry=Entry(
            kind="text", field="out", prefill=wanted_text(case, part), hint="as marked on the part"
        ),
        why_heading="Then",
        why=(
            "What stood on it, with what was measured if you like. F2 reads a marking.",
            *unread_words(case, part),
            *((f"Still to do: {', '.join(rest.split())}.",) if rest else ()),
        ),
        can_skip=False,
    )


def in_card(case: Case, hand: Hand) -> Card:
    """Ask what goes in, with what it must keep."""
    part, out, twin = hand.draft["part"], hand.draft["out"], hand.draft.get("twin", "")
    want = wanted_spec(case, part)
    needs = judge(want, PartSpec(), around(case, part, want, PartSpec())).rules
    return Card(
        id=f"swap-fitted:{part}",
        title=f"{part}: what went in?",
        cautions=_polarity(case, part),
        leads=place(case, part),
        entry=Entry(
            kind="text",
            field="fitted",
            prefill=twin or wanted_text(case, part) or out,
            hint="as marked on the part",
        ),
        choices=_from_stock(case, hand),
        why_heading="What fits",
        why=(
            *(("What it must keep stands beside.",) if needs else ()),
            *marked_words(case, part, twin or out),
            *((TWIN,) if twin else ()),
            *needed_words(case, part),
            *_also(case, part),
            *shop_words(case, part),
        )
        or ("The profile knows nothing of it: the same as came out.",),
        can_skip=False,
    )


def _polarity(case: Case, part: str) -> tuple[str, ...]:
    want = wanted_spec(case, part)
    if want.kind in {SpecKind.ELECTROLYTIC, SpecKind.TANTALUM}:
        return ("The wrong way round it bursts: mark plus before the old one is out.",)
    if want.pins or want.kind in {
        SpecKind.REGULATOR,
        SpecKind.TRANSISTOR,
        SpecKind.DIODE,
        SpecKind.RECTIFIER,
    }:
        return ("Check the pin order; it is never assumed.",)
    return ("Pin 1 by the notch, from the solder side too.",) if want.kind is SpecKind.CHIP else ()


def _from_stock(case: Case, hand: Hand) -> tuple[Choice, ...]:
    """Offer what fits of what is in the shop, the best first, each by one key."""
    part, found = hand.draft["part"], []
    for number, level in enumerate(fitting_stock(case, part)[:3]):
        done = _fitted(case, hand, level.part, source=level.place)
        choice = Choice(
            key=f"Alt+{chr(ord('a') + number)}",
            text=f"{_short(case, part, level)}, {level.place}",
            note=f"{level.count} there · {level.part}",
            log=done.log,
            draft=done.draft or {},
            go=done.go,
        )
        found.append(choice)
    return tuple(found)


def _short(case: Case, part: str, level: Level) -> str:
    return short_text(offered_spec(wanted_spec(case, part), level.part)) or level.part


def _also(case: Case, part: str) -> tuple[str, ...]:
    serial = serial_of(case)
    return (*(amendment_text(a, serial) for a in amendments(case, part)), *house_words(case, part))


def take_fitted(case: Case, hand: Hand, text: str) -> Answer:
    """Take what went in: logged where it fits in all that is known, else shown with its reasons."""
    part = hand.draft["part"]
    if text.lower().startswith(("on order", "ordered")):
        return Accepted(log=(OpenEnd(what="on order", target=part, text=text),), draft={}, focus="")
    verdict = judged(case, part, text)
    if not verdict.broken:
        return _fitted(case, hand, text)
    if wanted_spec(case, part).kind in NEVER:
        return Refused(
            what=_never(case, part, verdict),
            mend="Fit the right one, then log it. A wrong one burns what it should protect.",
        )
    return Accepted(draft={**hand.draft, "fitted": text})


def _never(case: Case, part: str, verdict: Verdict) -> str:
    block = case.profile.block(part)
    if isinstance(block, FuseBlock) and verdict.broken[0].about == "rating":
        return f"{part} must be {wanted_fuse(case, block)}: {verdict.broken[0].text}"
    return f"{part}: {verdict.broken[0].text}"


def _fitted(case: Case, hand: Hand, text: str, *, source: str = "") -> Accepted:
    """Return what is logged, and what follows: the steps before power, or for what is only plugged the next part."""
    part, following = hand.draft["part"], next_of(hand)
    body = PartReplaced(part=part, out=hand.draft.get("out", ""), fitted=text, source=source)
    if wanted_spec(case, part).kind is SpecKind.FUSE or part in _plugs(case):
        return Accepted(log=(body,), draft=following, focus="", go="" if following else "rails")
    return Accepted(log=(body,), draft=_after(hand), focus="")


def _after(hand: Hand) -> dict[str, str]:
    """Return the draft of what is done before power; the rest of a list is kept."""
    keep = {k: hand.draft[k] for k in ("list", "all") if hand.draft.get(k)}
    return {"part": hand.draft["part"], "step": "after", **keep}


def _plugs(case: Case) -> frozenset[str]:
    return frozenset(c.id for c in case.profile.chips if c.socket)


def next_of(hand: Hand) -> dict[str, str]:
    """Return the draft of the next part of a list; empty at its end."""
    first, _, rest = hand.draft.get("list", "").partition(" ")
    if not first:
        return {}
    kept = {"list": rest} if rest else {}
    return {"part": first, "action": "replaced", "all": hand.draft.get("all", ""), **kept}


def refused_card(case: Case, hand: Hand) -> Card:
    """Show each rule as met or not, and what can be done about it."""
    part, text = hand.draft["part"], hand.draft["fitted"]
    verdict = judged(case, part, text)
    base = {k: v for k, v in hand.draft.items() if k != "fitted"}
    body = PartReplaced(part=part, out=hand.draft.get("out", ""), fitted=text)
    reason = "; ".join(r.text for r in verdict.broken)
    return Card(
        id=f"swap-refused:{part}",
        title=f"{_brief(case, part, text)} does not fit {part}",
        choices=(
            Choice(key="1", text="Another part", draft=base),
            Choice(
                key="2",
                text="Fit it for now: a temporary part",
                note="an open end of the job",
                log=(body, OpenEnd(what="temporary part", target=part, text=f"{text}: {reason}")),
                draft=_after(hand),
            ),
        ),
        why_heading="Why not",
        why=(*(f"{r.text}." for r in verdict.broken), "What it does meet stands beside."),
        can_skip=False,
    )


def _brief(case: Case, part: str, text: str) -> str:
    """Return a part as it is marked where it was said at length."""
    if len(text) <= BRIEF:
        return text
    return short_text(offered_spec(wanted_spec(case, part), text)) or "That"


def sorted_rules(verdict: Verdict) -> tuple[Rule, ...]:
    """Return the rules, those that are not met first."""
    order = (State.NOT_MET, State.NOT_SAID, State.BETTER, State.MET)
    return tuple(sorted(verdict.rules, key=lambda r: order.index(r.state)))


def after_card(case: Case, hand: Hand) -> Card:
    """Ask for what is done before power, then offer what dies together with the part."""
    part = hand.draft["part"]
    want = wanted_spec(case, part)
    following = next_of(hand)
    go = Choice(
        key="1",
        text=f"Done: next {following['part']}" if following else "Done: read again",
        draft=following,
        go="" if following else "rails",
    )
    others = [p for p in case.profile.companions.get(part, ()) if p not in _replaced(case)]
    return Card(
        id=f"swap-after:{part}",
        title=f"{part} is in. Before power:",
        cautions=cautions.for_hands_in(case),
        leads=tuple(Lead(kind="check", text=step) for step in before_power(case, part, want)),
        choices=(go,),
        runners=tuple(
            Choice(
                key=f"Alt+{chr(ord('a') + i)}",
                text=f"{name} dies with it: change it too",
                draft={"part": name},
            )
            for i, name in enumerate(others[:4])
        ),
        why_heading="Then",
        why=("Every reading behind it is stale, and is asked for again.",),
        can_skip=False,
    )


def _replaced(case: Case) -> set[str]:
    return {r.part for r in case.state.replaced}
