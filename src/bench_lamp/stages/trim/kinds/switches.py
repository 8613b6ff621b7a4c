"""Switches, jumpers and menus: how each stood when it came, how it must stand, and why."""

from bench_lamp.board.trims import SwitchesTrim
from bench_lamp.cards.card import Accepted, Answer, Card, Choice, Entry, Lead, Refused
from bench_lamp.cards.picture import BenchPicture, PictureRow
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand, Pick
from bench_lamp.case.trims.switch_positions import Stand, stands
from bench_lamp.journal.events import Body
from bench_lamp.journal.trim_events import SwitchStood
from bench_lamp.stages.trim.kinds.kind import TrimCards
from bench_lamp.stages.trim.steps import cautions_of

#: What a switch stands at where the profile names nothing else.
ON_OFF = ("on", "off")


def _current(case: Case, hand: Hand, trim: SwitchesTrim) -> Stand | None:
    found = stands(case, trim)
    picked = next((s for s in found if s.setting.id == hand.cell), None)
    return picked or next((s for s in found if not s.is_right), None)


def switches_card(case: Case, hand: Hand, trim: SwitchesTrim) -> Card | None:
    """Ask how the next one stands, or for it to be set; None when all stand right."""
    one = _current(case, hand, trim)
    if one is None:
        return None
    setting, is_seen = one.setting, bool(one.now)
    order = (setting.want, *(c for c in (setting.choices or ON_OFF) if c != setting.want))
    place = setting.place or trim.place
    return Card(
        id=f"trim:{trim.id}:{setting.id}",
        kind=f"{sum(s.is_right for s in stands(case, trim))} of {len(trim.settings)} stand right",
        title=f"Set {setting.id} to {setting.want}" if is_seen else f"How does {setting.id} stand?",
        cautions=cautions_of(case, trim),
        leads=(Lead(kind="hand", text=place),) if place else (),
        entry=Entry(
            kind="text", field="position", target=setting.id, hint=setting.want, options=order
        ),
        choices=_positions(trim, one, order),
        why=(
            f"{setting.name}: must be {setting.want}{f', {setting.why}' if setting.why else ''}.",
            *((f"It came {one.came}.",) if one.came else ()),
        ),
    )


def _positions(trim: SwitchesTrim, one: Stand, order: tuple[str, ...]) -> tuple[Choice, ...]:
    """Offer to say how it stands; or, once that was seen, that it was set."""
    want = one.setting.want
    if one.now:
        return (Choice(key="1", text=f"Set to {want}", log=(_stood(trim, one, want, "set"),)),)
    return tuple(
        Choice(
            key=str(n),
            text=f"{position}{', as it must' if position == want else ''}",
            log=(_stood(trim, one, position, "came"),),
        )
        for n, position in enumerate(order[:8], start=1)
    )


def _stood(trim: SwitchesTrim, one: Stand, position: str, when: str) -> Body:
    return SwitchStood(
        trim=trim.id,
        setting=one.setting.id,
        position=position,
        when="came" if when == "came" else "set",
    )


def take_switches(case: Case, hand: Hand, trim: SwitchesTrim, text: str) -> Answer:
    """Take a position, of the lit one or of one that is named."""
    one = _current(case, hand, trim)
    found = {s.setting.id.lower(): s for s in stands(case, trim)}
    word, _, rest = text.partition(" ")
    if word.lower() in found and rest:
        one, text = found[word.lower()], rest
    if one is None:
        return Refused(what="All stand right", mend="Name one: S1-3 off.")
    known = {c.lower(): c for c in (one.setting.choices or ON_OFF)} | {
        one.setting.want.lower(): one.setting.want
    }
    position = known.get(text.strip().lower())
    if position is None:
        return Refused(
            what=f"{one.setting.id} cannot stand at “{text[:24]}”",
            mend=f"Known are {', '.join(known.values())}.",
        )
    return Accepted(log=(_stood(trim, one, position, "set" if one.now else "came"),), cell="")


def switches_beside(case: Case, hand: Hand, trim: SwitchesTrim, down: int, along: int) -> Pick:
    """Go along the list."""
    names = [s.id for s in trim.settings]
    one = _current(case, hand, trim)
    at = names.index(one.setting.id) if one is not None else 0
    return Pick(focus=trim.id, cell=names[(at + (down or along)) % len(names)])


def switches_picture(case: Case, hand: Hand, trim: SwitchesTrim) -> BenchPicture:
    """Return the list of all that must stand somehow."""
    here = _current(case, hand, trim)
    rows = tuple(
        PictureRow(
            id=s.setting.id,
            cells=(s.setting.id, s.setting.name, s.setting.want, s.came, s.now, s.setting.why),
            verdict="" if not s.now else "within" if s.is_right else "high",
            word="" if not s.now else "right" if s.is_right else "wrong",
            is_here=here is not None and s.setting.id == here.setting.id,
        )
        for s in stands(case, trim)
    )
    return BenchPicture(
        title=trim.name,
        sub=trim.place,
        heads=("switch", "for", "must be", "came", "stands", "why"),
        rows=rows,
        spare=(5, 1),
    )


KIND = TrimCards(
    card=switches_card, take=take_switches, picture=switches_picture, beside=switches_beside
)
