"""What is said in the workshop means a change of the profile; nothing is logged to a job."""

from collections.abc import Mapping
from typing import Any

from bench_lamp.board import Profile, TestPoint
from bench_lamp.board.block_entry import block_said
from bench_lamp.board.change import Change, Drop, Put, point_put
from bench_lamp.board.supply.kinds import kind_of
from bench_lamp.board.supply.putting import supply_said
from bench_lamp.board.supply.spec import net_of
from bench_lamp.cards.card import Accepted, Answer, Refused
from bench_lamp.cards.said import limits_of, new_point_changes, read_said
from bench_lamp.cards.said_part import take_said_part
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.errors import BenchLampError
from bench_lamp.units import Band, UnitError, parse_quantity
from bench_lamp.views.workshop.carrying import carried_over
from bench_lamp.views.workshop.good_board import (
    good_board_changes,
    ohms_change,
    ohms_limits,
    practice_change,
    read_ohms,
)
from bench_lamp.views.workshop.map_cards import take_map
from bench_lamp.views.workshop.pasting import read_paste
from bench_lamp.views.workshop.proof_cards import Proved, fit_changes

#: Fields of the profile itself that a word begins.
_PROFILE = {"name": "name", "maker": "maker", "about": "about"}
#: What good boards read at a point: the field that a word begins, and how its figures are read.
_GOOD_BOARDS = {
    "practice": ("practice", Band.parse),
    "cold": ("cold", ohms_limits),
    "swapped": ("cold_swapped", ohms_limits),
}


def take_workshop(case: Case, hand: Hand, text: str) -> Answer:
    """Take what was typed on the workshop's card."""
    try:
        return _taken(case, hand, text.strip())
    except UnitError as exc:
        return Refused(what=str(exc), mend=exc.hint)
    except BenchLampError as exc:
        return Refused(what=str(exc), mend=exc.hint)


def chosen(
    case: Case, draft: Mapping[str, str], proved: Proved | None = None, base: Profile | None = None
) -> tuple[Change, ...]:
    """Return the changes that a choice with these answers means; none for a mere step."""
    if "carry" in draft:
        picture = case.profile.picture(draft["map"])
        found = carried_over(case.profile, picture, base) if picture is not None else None
        return found[0] if found is not None else ()
    if "fit" in draft and proved is not None:
        return fit_changes(proved.proposals)
    if draft.get("good") == "take":
        return good_board_changes(case)
    if "take" in draft:
        return read_paste(draft["take"], case.profile).changes
    if "confirm" in draft:
        return (point_put(draft["confirm"], assumed=None),)
    return ()


def _taken(case: Case, hand: Hand, text: str) -> Answer:
    profile = case.profile
    if not text:
        return Refused(what="Nothing was said", mend="Write it as the lines below have it.")
    step = _of_step(case, hand, text)
    if step is not None:
        return step
    block = profile.block(hand.focus)
    if block is not None:
        said = read_said(text, profile)
        if said is not None and said.limits is not None:
            net = net_of(profile, block.id)
            return Accepted(grow=new_point_changes(said, profile, net=net))
        grow = block_said(profile, block, text)
        is_gone = any(isinstance(c, Drop) and c.where == ("power", block.id) for c in grow)
        called = next(
            (c.value for c in grow if isinstance(c, Put) and c.where[2:] == ("id",)), None
        )
        return Accepted(grow=grow, focus="" if is_gone else called)
    point = profile.point(hand.focus)
    return _of_point(profile, point, text) if point is not None else _of_board(case, text)


def _of_step(case: Case, hand: Hand, text: str) -> Answer | None:
    """Take what the step that was begun asked for; None where none was begun."""
    if "map" in hand.draft:
        return take_map(case, hand.draft, text)
    if "good" in hand.draft and not hand.focus:
        return _good(case, text)
    if "supply" in hand.draft:
        grow = supply_said(kind_of(hand.draft["supply"]), text, case.profile)
        return Accepted(grow=grow, focus="", draft={})
    return None


def _good(case: Case, text: str) -> Answer:
    """Take what a good board reads at one point."""
    said = read_said(text, case.profile)
    point = case.profile.point(said.name) if said is not None else None
    if said is None or point is None or not said.value:
        return Refused(
            what="Which point reads what?",
            mend="Write 5V 5.06, or with the power off 5V 150Ω, of a point that is here.",
        )
    if parse_quantity(said.value).unit == "Ω":
        is_swapped = said.ground.lower() == "swapped"
        return Accepted(grow=(ohms_change(point, read_ohms(said.value), swapped=is_swapped),))
    return Accepted(grow=(practice_change(case, point, parse_quantity(said.value, "V").value),))


def _of_board(case: Case, text: str) -> Answer:
    profile = case.profile
    head, _, tail = text.partition(" ")
    word, rest = head.lower(), tail.strip()
    if word in _PROFILE and rest:
        return Accepted(grow=(Put((_PROFILE[word],), rest),))
    if word == "year" and rest.isdigit() and len(rest) == 4:
        return Accepted(grow=(Put(("year",), int(rest)),))
    if word == "ground" and rest:
        return _ground(profile, rest)
    part = take_said_part(case, text)
    if part is not None:
        return part
    said = read_said(text, profile)
    if said is None:
        return Refused(
            what=f"“{text[:28]}” says nothing that is known here",
            mend="Begin with a name: TP3 12, TP3 11.4..12.6, F1 fuse 8 A slow.",
        )
    known = profile.point(said.name)
    if known is not None:
        return _of_point(profile, known, said.value or str(said.limits))
    return Accepted(grow=new_point_changes(said, profile), focus="")


def _ground(profile: Profile, text: str) -> Answer:
    name, _, place = text.partition(" at ")
    key = name.strip().replace(" ", "_")
    known = {g.lower(): g for g in profile.grounds}
    old = profile.grounds.get(known.get(key.lower(), ""))
    net = old.net if old else key
    fields = {"net": net, "place": place.strip() or (old.place if old else name.strip())}
    return Accepted(grow=(Put(("grounds", known.get(key.lower(), key)), fields),))


def _of_point(profile: Profile, point: TestPoint, text: str) -> Answer:
    head, _, tail = text.partition(" ")
    word, rest = head.lower(), tail.strip()
    if word == "alias":
        if not rest or " " in rest:
            return Refused(what="An alias is one word", mend="Write alias VCC.")
        return Accepted(grow=(Put(("aliases", rest), point.net),))
    if word == "remove" and not rest:
        feeds = [
            Put(("parts", p.id), {"feeds": None}) for p in profile.parts if p.feeds == point.id
        ]
        return Accepted(grow=(*feeds, Drop(("test_points", point.id))), focus="")
    return Accepted(grow=(point_put(point.id, **_point_fields(profile, point, word, rest, text)),))


def _point_fields(
    profile: Profile, point: TestPoint, word: str, rest: str, text: str
) -> dict[str, Any]:
    words = {"at": "place", "name": "name", "printed": "printed", "supply": "supply"}
    if word in words and rest:
        return {words[word]: rest}
    if word in _GOOD_BOARDS and rest:
        field, read = _GOOD_BOARDS[word]
        return {field: str(read(rest))}
    if word in {"black", "on"} and rest:
        return _leads(profile, word, rest)
    if word in {"ac", "dc"} and not rest:
        return {"mode": f"{word} V"}
    limits = limits_of(text)
    if limits is not None:
        is_outside = point.nominal is not None and point.nominal not in limits
        return {"design": str(limits), "assumed": None} | ({"nominal": None} if is_outside else {})
    found = parse_quantity(text, "V")
    if found.is_overload:
        raise UnitError("A board has no overload", hint="Write 5.05.")
    return {"nominal": f"{found.value:g} V"} | ({"mode": "ac V"} if found.unit == "V~" else {})


def _leads(profile: Profile, word: str, name: str) -> dict[str, Any]:
    if word == "on":
        net = net_of(profile, name)
        if not net:
            raise BenchLampError(
                f"“{name[:24]}” is no net, point or block here", hint="Pick it in the tree."
            )
        return {"net": net}
    known = {g.lower(): g for g in profile.grounds}
    known |= {g.name.lower(): k for k, g in profile.grounds.items() if g.name}
    if name.lower() not in known:
        grounds = ", ".join(profile.grounds) or "none yet"
        raise BenchLampError(f"“{name[:24]}” is no ground", hint=f"Known are: {grounds}.")
    return {"black": known[name.lower()]}
