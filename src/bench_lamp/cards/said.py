"""A reading that is said of a point: `C14+ 31.6 gnd`. A point that nobody has named yet exists by it."""

import re
from collections.abc import Sequence

from msgspec import Struct
from msgspec.structs import replace

from bench_lamp.board import Ground, Profile, TestPoint
from bench_lamp.board.change import Change, Put, point_put
from bench_lamp.board.profile import PointMode
from bench_lamp.board.texts import ID
from bench_lamp.board.usual import Usual, usual_rail
from bench_lamp.cards.card import Accepted, Answer, Asked, Choice, Entry, Refused, Typed
from bench_lamp.cards.reading_entry import take_reading
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.units import Band, UnitError, exact, parse_quantity

#: The ground of a board of which nobody has named one.
ANY_GROUND = "gnd"
ANY_PLACE = "ground: nobody has said where"
#: What may be a name: with a letter or a sign in it, else it is half of a number.
_NAME = re.compile(r"[+\-−].*|.*[^\W\d_].*")


class Said(Struct, frozen=True, kw_only=True):
    """What was said of a point."""

    name: str
    #: Where its red lead goes; empty where that was not said.
    place: str = ""
    #: The reading as it was written; empty where only limits were said.
    value: str = ""
    limits: Band | None = None
    #: The ground as it was named; empty where it was not.
    ground: str = ""


def read_said(text: str, profile: Profile) -> Said | None:
    """Take apart `NAME [at PLACE] VALUE [GROUND]` or `NAME LOW..HIGH`; None where it is neither."""
    name, rest = _split_name(text.strip(), profile)
    if not rest or not _NAME.fullmatch(name):
        return None
    place = ""
    if rest.lower().startswith("at "):
        words = rest[3:].split()
        at = next(
            (
                i
                for i in range(1, len(words))
                if _is_figure(_split_ground(" ".join(words[i:]), profile)[0])
            ),
            0,
        )
        place, rest = " ".join(words[:at]), " ".join(words[at:])
    value, ground = _split_ground(rest, profile)
    limits = limits_of(value)
    if limits is not None:
        return Said(name=name, place=place, limits=limits, ground=ground)
    if not value or not _is_value(value):
        return None
    return Said(name=name, place=place, value=value, ground=ground)


def _split_name(text: str, profile: Profile) -> tuple[str, str]:
    """Return the name of a point, and the rest; a known point as the profile writes it."""
    head, _, rest = text.partition(" ")
    known = profile.point_called(head)
    return known.id if known is not None else head, rest.strip()


def _split_ground(text: str, profile: Profile) -> tuple[str, str]:
    """Return the value and the ground behind it, if one is said."""
    value, _, last = text.rpartition(" ")
    names = {g.lower() for g in profile.grounds} | {
        g.name.lower() for g in profile.grounds.values()
    }
    is_word = last.lower() in names or (last.isalpha() and not _is_figure(text))
    return (value.strip(), last) if value and is_word else (text, "")


def _is_figure(text: str) -> bool:
    return limits_of(text) is not None or _is_value(text)


def _is_value(text: str) -> bool:
    if not any(c.isdigit() for c in text) and text.upper() != "OL":
        return False
    try:
        parse_quantity(text)
    except UnitError:
        return False
    return True


def limits_of(text: str) -> Band | None:
    """Read `4.75..5.25`; None where it is something else."""
    if ".." not in text:
        return None
    try:
        return Band.parse(text)
    except UnitError:
        return None


def take_said(
    case: Case, hand: Hand, text: str, *, about: TestPoint | None = None
) -> Answer | None:
    """Take what was said of a point; None where the text is something else.

    Parameters
    ----------
    case : Case
        Its profile learns the point, if it is new.
    hand : Hand
        Where the person is.
    text : str
        As it was typed.
    about : TestPoint, optional
        What is known of a new point besides: its name, mode, ground and supply.
    """
    said = read_said(text, case.profile)
    if said is None:
        return None
    point = case.profile.point(said.name)
    if point is not None:
        return _of_known(case, hand, said, point)
    if not ID.fullmatch(said.name):
        return Refused(
            what=f"“{said.name[:24]}” cannot be a name", mend="Letters, figures, + - . / _"
        )
    is_open = not said.ground and len(case.profile.grounds) > 1
    if about is None and (is_open or case.profile.power):
        return _which_ground(said, case.profile)
    return _of_new(case, hand, said, about)


def _of_known(case: Case, hand: Hand, said: Said, point: TestPoint) -> Answer:
    if said.limits is not None:
        return take_limits(point, said.limits)
    ground = _ground_id(case.profile, said.ground) if said.ground else point.black
    if ground != point.black:
        where = case.profile.ground_of(point)
        return Refused(
            what=f"{point.id} is read against {where.name or point.black}",
            mend=f"Put black on {where.place}, or change the point in the workshop.",
        )
    entry = Entry(kind="reading", target=point.id, mode=point.mode)
    return take_reading(case, hand, entry, Typed(text=said.value))


def take_limits(point: TestPoint, limits: Band) -> Answer:
    """Give a point the limits that somebody has read off a drawing: they are no longer assumed."""
    lies_outside = point.nominal is not None and point.nominal not in limits
    fields = {"nominal": None} if lies_outside else {}
    put = point_put(point.id, design=str(limits), assumed=None, **fields)
    return Accepted(grow=(put,), focus="")


def confirm(point: TestPoint) -> Put:
    """Return the change by which what was assumed of a point counts."""
    return point_put(point.id, assumed=None)


def _which_ground(said: Said, profile: Profile) -> Asked:
    """Ask which ground black is on; and whether a board that was described has one more point."""
    grounds = profile.grounds
    if said.ground or len(grounds) < 2:
        found = _growth(said, profile, None)[1]
        return Asked(
            question=f"{said.name} is no point of this profile. Add it?",
            choices=(Choice(key="y", text=f"Yes, add {said.name}", grow=found, again=True),),
        )
    return Asked(
        question=f"{said.name} is new here. Which ground is black on?",
        choices=tuple(
            Choice(
                key=str(number),
                text=ground.name or name,
                note=ground.place,
                grow=_growth(replace(said, ground=name), profile, None)[1],
                again=True,
            )
            for number, (name, ground) in enumerate(grounds.items(), 1)
        ),
    )


def _ground_id(profile: Profile, word: str) -> str:
    """Return the id of a ground by its id or name; the word itself where there is none such."""
    for name, ground in profile.grounds.items():
        if word.lower() in {name.lower(), ground.name.lower()}:
            return name
    return word.lower()


def _growth(
    said: Said, profile: Profile, about: TestPoint | None
) -> tuple[Profile, tuple[Change, ...]]:
    """Return the profile with the new point, and the changes that make it so."""
    ground = about.black if about else _ground_id(profile, said.ground) if said.ground else ""
    ground = ground or next(iter(profile.grounds), ANY_GROUND)
    point = _new_point(said, ground, about)
    grow: tuple[Change, ...] = (_put_of(point),)
    grounds = dict(profile.grounds)
    if ground not in grounds:
        place = said.ground or ANY_PLACE
        grounds[ground] = Ground(net=ground, place=place)
        grow = (Put(("grounds", ground), {"net": ground, "place": place}), *grow)
    return replace(profile, test_points=(*profile.test_points, point), grounds=grounds), grow


def new_point_changes(said: Said, profile: Profile, *, net: str = "") -> tuple[Change, ...]:
    """Return the changes that make a point of what was said, its figure taken as its nominal.

    Limits are those that were said, else what such a rail usually is; `net` hangs it in the tree.
    """
    grow = _growth(said, profile, None)[1]
    fields = dict(grow[-1].value) if isinstance(grow[-1], Put) else {}
    if said.value and not fields.get("design"):
        usual = usual_rail(f"{said.value.rstrip('~')}V{'~' if said.value.endswith('~') else ''}")
        volts = parse_quantity(said.value).value
        fields |= {"nominal": f"{volts:g} V"}
        if usual is not None:
            fields |= {"design": str(usual.design), "assumed": True, "name": _rail_name(usual)}
    return (*grow[:-1], point_put(said.name, **{**fields, **({"net": net} if net else {})}))


def _of_new(case: Case, hand: Hand, said: Said, about: TestPoint | None) -> Answer:
    profile, grow = _growth(said, case.profile, about)
    if said.limits is not None:
        return Accepted(grow=grow, focus="")
    entry = Entry(kind="reading", target=said.name, mode=profile.test_points[-1].mode)
    then = replace(case, profile=profile)
    return _growing(take_reading(then, hand, entry, Typed(text=said.value)), grow)


def _growing(answer: Answer, grow: Sequence[Change]) -> Answer:
    """Have the profile learn the point with whatever logs its reading."""
    if isinstance(answer, Accepted):
        return replace(answer, grow=tuple(grow))
    if isinstance(answer, Asked):
        choices = (c if c.again else replace(c, grow=tuple(grow)) for c in answer.choices)
        return replace(answer, choices=tuple(choices))
    return answer


def _new_point(said: Said, ground: str, about: TestPoint | None) -> TestPoint:
    usual = usual_rail(said.name) if about is None else None
    mode: PointMode = about.mode if about else usual.mode if usual else _mode(said.value)
    design = said.limits or (usual.design if usual else None)
    nominal = (
        usual.nominal if usual and (said.limits is None or usual.nominal in said.limits) else None
    )
    return TestPoint(
        id=said.name,
        name=about.name if about else _rail_name(usual),
        net=said.name,
        black=ground,
        mode=mode,
        nominal=nominal,
        design=design,
        assumed=usual is not None and said.limits is None,
        place=said.place or (about.place if about else said.name),
        supply=about.supply if about else "",
    )


def _rail_name(usual: Usual | None) -> str:
    if usual is None:
        return "not described"
    what = "winding" if usual.mode == "ac V" else "rail"
    sign = "+" if usual.nominal > 0 and usual.mode == "dc V" else ""
    return f"{sign}{exact(usual.nominal, 'V~' if usual.mode == 'ac V' else 'V')} {what}"


def _mode(value: str) -> PointMode:
    try:
        return "ac V" if parse_quantity(value, "V").unit == "V~" else "dc V"
    except UnitError:
        return "dc V"


def _put_of(point: TestPoint) -> Put:
    """Return the change that writes a new point, with no more fields than are known."""
    return point_put(
        point.id,
        name=point.name,
        supply=point.supply or None,
        net=point.net,
        black=point.black,
        mode=point.mode,
        nominal=None if point.nominal is None else f"{point.nominal:g} V",
        design=None if point.design is None else str(point.design),
        assumed=True if point.assumed else None,
        place=point.place or None,
    )
