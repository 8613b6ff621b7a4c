"""The first minute after a repair: what is watched, finger on the switch."""

from bench_lamp.board.blocks import Converter, Regulator, Transformer
from bench_lamp.cards.card import Card, Choice, Lead
from bench_lamp.cards.commands import AskPower
from bench_lamp.cards.picture import BenchPicture, PictureRow
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.proving.run import first_minute, wants_watching
from bench_lamp.checks.limiting import series_lamp
from bench_lamp.journal.events import PowerConfirmed
from bench_lamp.journal.proof_events import FirstMinuteWatched, FirstWord
from bench_lamp.stages.prove.kinds.kind import ProofPart, ProofState, nothing_left

#: How many parts are watched by name.
WATCHED = 5
CARD = "prove-first"
#: What can go wrong in it, with its key.
BAD: tuple[tuple[str, FirstWord, str], ...] = (
    ("2", "hot", "Something gets hot"),
    ("3", "smell", "It smells"),
    ("4", "smoke", "Smoke"),
    ("5", "lamp bright", "The series lamp stays bright"),
    ("6", "other", "Something else"),
)


def watch_list(case: Case) -> tuple[str, ...]:
    """Return the parts that are watched first: what was fitted, then what feeds and regulates."""
    fitted = [r.part for r in case.state.replaced] + [a.target for a in case.state.mended]
    kinds = (Regulator, Converter, Transformer)
    heats = [b.id for b in case.profile.power if isinstance(b, kinds)]
    return tuple(dict.fromkeys([*reversed(fitted), *heats]))[:WATCHED]


def _state(case: Case) -> ProofState:
    found = first_minute(case)
    if found is not None:
        return ProofState("within" if found.word == "quiet" else "absent", found.word)
    return ProofState("edge", "to watch") if wants_watching(case) else ProofState("", "no repair")


def _lamp_words(case: Case) -> tuple[str, ...]:
    """Say what a series lamp does on a sound set, where the profile knows what it draws."""
    wake = case.profile.wake
    mains = next((b.volts for b in case.profile.power if b.kind == "inlet"), 0.0)
    if wake is None or not wake.idle_va or not mains:
        return ("Through a series lamp: it flashes, then goes dim.",)
    glow = series_lamp(mains, wake.idle_va).glow
    return (f"Through a 100\u202fW series lamp: a flash, then about {glow:.0%} of full glow.",)


def _next(case: Case, hand: Hand) -> Card | None:
    if not wants_watching(case) or CARD in hand.skipped:
        return None
    return _watch_card(case)


def _watch_card(case: Case) -> Card:
    is_live = case.state.power.is_live
    quiet = Choice(key="1", text="Quiet for a minute", log=(FirstMinuteWatched(word="quiet"),))
    on = Choice(key="1", text="It is on", command=AskPower())
    bad = tuple(Choice(key=key, text=text, log=_told(word), go="trace") for key, word, text in BAD)
    parts = ", ".join(watch_list(case)) or "the parts that were touched"
    return Card(
        id=CARD,
        kind="First minute",
        title="Watch the first minute, finger on the switch",
        effort="about 60\u202fs",
        cautions=() if is_live else _cautions(case),
        leads=(
            Lead(kind="check", text=f"heat: {parts}"),
            Lead(kind="check", text="smell, smoke, hum, a fuse that lights"),
        ),
        choices=(quiet, *bad) if is_live else (on, *bad),
        why_heading="What for",
        why=(
            "What was repaired shows in the first minute whether it holds. Anything odd: off at once.",
            *_lamp_words(case),
        ),
    )


def _cautions(case: Case) -> tuple[str, ...]:
    from bench_lamp.case.stops import wake_stops

    stops = tuple(f"Do not switch on. {stop.text}" for stop in wake_stops(case))
    return stops or cautions.for_power(case)


def _told(word: FirstWord) -> tuple[FirstMinuteWatched | PowerConfirmed, ...]:
    """Log what was wrong; who saw it has switched off."""
    return (FirstMinuteWatched(word=word), PowerConfirmed(power="off"))


def _card(case: Case, hand: Hand) -> Card:
    found = first_minute(case)
    if found is None:
        return _watch_card(case)
    words = f"{found.word} {found.text}".strip()
    return nothing_left("first", "The first minute was watched", (words,))


def _picture(case: Case, hand: Hand) -> BenchPicture:
    found = first_minute(case)
    verdict = "" if found is None else "within" if found.word == "quiet" else "absent"
    word = "" if found is None else found.word
    rows = tuple(
        PictureRow(id=name, cells=(name, _what(case, name)), verdict=verdict, word=word)
        for name in watch_list(case)
    )
    return BenchPicture(
        title="First minute",
        heads=("watch", "why") if rows else (),
        rows=rows,
        words=_lamp_words(case),
    )


def _what(case: Case, name: str) -> str:
    if name in case.state.renewed:
        return "repaired in this job"
    block = case.profile.block(name)
    return f"{block.kind}: it heats when something behind it is short" if block else ""


PART = ProofPart(
    id="first", name="First minute", key="m", state=_state, next=_next, card=_card, picture=_picture
)
