"""Describing the map: a picture straightened by four corners, places by a click while their name is typed."""

import re
from collections.abc import Mapping

from bench_lamp.board import Profile
from bench_lamp.board.blocks import Load, Pin
from bench_lamp.board.change import Change, Drop, Put
from bench_lamp.board.map import Pair, Picture, pairs_text
from bench_lamp.cards.card import Accepted, Answer, Card, Choice, Entry, Refused
from bench_lamp.case.case import Case
from bench_lamp.checks.board_map import Lit, LitMap, other_side, places_on, spot_put
from bench_lamp.units import UnitError, parse_quantity
from bench_lamp.views.workshop.carrying import PICTURE, carry_choice

#: The draft's fields: what is placed, and clicks of a step that has several.
NAME, STEP, CLICKS = "name", "step", "clicks"
#: Steps with four clicks.
COMMON = "common"
_SIZE = re.compile(r"(\d\S*?)\s*[x×]\s*(\S+?)(?:\s*mm)?")
_ROW = re.compile(r"(\S+)\s+(\d+)\.\.(\d+)")
CORNERS = ("first", "second", "third", "fourth")


def unplaced(profile: Profile) -> tuple[str, ...]:
    """Return what is named and not on the map yet: points, grounds, then parts."""
    points = [p.id for p in profile.test_points]
    blocks = [b.id for b in profile.power if not isinstance(b, Load)]
    parts = [p.id for p in profile.parts]
    connectors = [b.connector for b in profile.power if isinstance(b, Pin)]
    names = dict.fromkeys([*points, *profile.grounds, *blocks, *connectors, *parts])
    return tuple(n for n in names if n not in profile.spots)


def map_card(case: Case, draft: Mapping[str, str], base: Profile | None = None) -> Card:
    """Ask for a picture, for a click, or for what the step that was begun needs.

    `base` is the profile that this one extends, whose places can be carried over.
    """
    profile = case.profile
    picture = profile.picture(draft.get(PICTURE, ""))
    if picture is None:
        return _no_picture_card(profile)
    if draft.get(STEP) == COMMON:
        return _common_card(draft)
    left = unplaced(profile)
    name = draft.get(NAME) or next(iter(left), "")
    return Card(
        id=f"workshop-map:{picture.id}",
        kind="Map",
        title=f"Click where {name} is" if name else "All that is named is placed",
        entry=Entry(kind="text", field="map", hint="another name, or J2 1..12"),
        choices=(*carry_choice(profile, picture, base), *_choices(profile, picture)),
        why_heading=f"{len(left)} to place" if left else "On the map",
        why=(
            *((", ".join(left[:24]) + ("  …" if len(left) > 24 else ""),) if left else ()),
            "Type a name, then click. A row of pins: J2 1..12, then its two ends.",
            "230x150 gives the board’s size in mm. remove A takes a place away.",
        ),
        can_skip=False,
    )


def _no_picture_card(profile: Profile) -> Card:
    side = "solder" if any(p.side == "parts" for p in profile.pictures) else "parts"
    return Card(
        id="workshop-map",
        kind="Map",
        title=f"Add a picture of the {side} side",
        choices=(
            Choice(key="1", text="Choose a file", note="PNG, JPEG or WebP", draft={"pick": side}),
        ),
        why_heading="What for",
        why=(
            "The lamp shows on it where each lead goes. A photograph by the window will do; its four "
            "corners are clicked, and it is straight.",
            "A file can be dropped on the window as well, and a picture pasted.",
        ),
        can_skip=False,
    )


def corners_card(clicks: tuple[Pair, ...]) -> Card:
    """Ask for the four corners of the board on a new picture."""
    number = len(clicks)
    where = ("top left", "top right", "bottom right", "bottom left")
    title = f"Click the board’s {where[number]} corner" if number < 4 else "Straightening …"
    return Card(
        id="workshop-corners",
        kind="Map",
        title=title,
        choices=(Choice(key="1", text="It is straight already", draft={"straight": "yes"}),)
        if not clicks
        else (),
        why=("Four corners, clockwise: the picture is cut to the board and made square.",),
        can_skip=False,
    )


def _common_card(draft: Mapping[str, str]) -> Card:
    clicks = clicks_of(draft)
    number = len(clicks) // 2
    side = "parts" if len(clicks) % 2 == 0 else "solder"
    return Card(
        id="workshop-common",
        kind="Map",
        title=f"Click the {CORNERS[min(number, 3)]} common place on the {side} side",
        why_heading="Why",
        why=(
            "Four places that go through the board, such as its screw holes: with them each place is "
            "known on both sides.",
        ),
        can_skip=False,
    )


def _choices(profile: Profile, picture: Picture) -> tuple[Choice, ...]:
    found = []
    other = other_side(profile, picture)
    if other is None:
        side = "solder" if picture.side == "parts" else "parts"
        found.append(Choice(key="Alt+o", text=f"Add the {side} side", draft={"pick": side}))
    else:
        solder = picture if picture.side == "solder" else other
        if not solder.common:
            parts = other if picture.side == "solder" else picture
            text = "Align both sides by four places"
            found.append(Choice(key="Alt+a", text=text, draft={PICTURE: parts.id, STEP: COMMON}))
    return tuple(found)


def clicks_of(draft: Mapping[str, str]) -> tuple[Pair, ...]:
    """Return the clicks of a step so far."""
    pairs = [p.split() for p in draft.get(CLICKS, "").split(",") if p.strip()]
    return tuple((float(x), float(y)) for x, y in pairs)


def take_map(case: Case, draft: Mapping[str, str], text: str) -> Answer:
    """Take a name to be placed next, the board's size, or a place to be taken away."""
    picture = case.profile.picture(draft.get(PICTURE, ""))
    if picture is None:
        return Refused(what="There is no picture yet", mend="Choose a file first.")
    words = text.split()
    if len(words) == 2 and words[0].lower() == "remove":
        if words[1] not in case.profile.spots:
            return Refused(what=f"{words[1]} is not on the map", mend="Name what is.")
        return Accepted(grow=(Drop(("spots", words[1])),), draft=dict(draft))
    size = _SIZE.fullmatch(text.strip())
    if size is not None:
        return _sized(picture, draft, size[1], size[2])
    names = _known(case.profile)
    row = _ROW.fullmatch(text.strip())
    name = row[1] if row else text.strip()
    known = names.get(name.lower())
    if known is None and row is None:
        return Refused(
            what=f"“{name[:24]}” is not named yet", mend="Describe it first: Esc, then its name."
        )
    wanted = f"{known or name} {row[2]}..{row[3]}" if row else known or name
    return Accepted(draft={**draft, NAME: wanted, CLICKS: ""})


def _sized(picture: Picture, draft: Mapping[str, str], wide: str, high: str) -> Answer:
    try:
        width, height = parse_quantity(wide).value, parse_quantity(high).value
    except UnitError:
        return Refused(what=f"“{wide}x{high}” is no size", mend="Write 230x150, in millimetres.")
    if not (1 <= width <= 2000 and 1 <= height <= 2000):
        return Refused(what="No board has that size", mend="Write 230x150, in millimetres.")
    put = Put(("pictures", picture.id), {"width_mm": width, "height_mm": height})
    return Accepted(grow=(put,), draft=dict(draft))


def _known(profile: Profile) -> dict[str, str]:
    names = [p.id for p in profile.test_points]
    names += [*profile.grounds, *profile.part_ids(), *(b.id for b in profile.power)]
    return {n.lower(): n for n in names}


def clicked(
    case: Case, draft: Mapping[str, str], at: Pair
) -> tuple[tuple[Change, ...], dict[str, str]]:
    """Return the changes that a click means, and the draft after it."""
    profile = case.profile
    picture = profile.picture(draft.get(PICTURE, ""))
    if picture is None:
        return (), dict(draft)
    if draft.get(STEP) == COMMON:
        return _common_click(profile, picture, draft, at)
    name = draft.get(NAME) or next(iter(unplaced(profile)), "")
    row = _ROW.fullmatch(name)
    if row is not None:
        return _row_click(picture, row, draft, at)
    after = {k: v for k, v in draft.items() if k not in {NAME, CLICKS}}
    return ((spot_put(name, picture, at),) if name else ()), after


def _row_click(
    picture: Picture, row: re.Match[str], draft: Mapping[str, str], at: Pair
) -> tuple[tuple[Change, ...], dict[str, str]]:
    """The second end of a row of pins places all between."""
    clicks = (*clicks_of(draft), at)
    if len(clicks) < 2:
        return (), {**draft, CLICKS: pairs_text(clicks)}
    first, last = int(row[2]), int(row[3])
    count = max(abs(last - first), 1)
    step = 1 if last >= first else -1
    (ax, ay), (bx, by) = clicks
    changes = tuple(
        spot_put(
            f"{row[1]}.{first + step * i}",
            picture,
            (ax + (bx - ax) * i / count, ay + (by - ay) * i / count),
        )
        for i in range(count + 1)
    )
    middle = ((ax + bx) / 2, (ay + by) / 2)
    after = {k: v for k, v in draft.items() if k not in {NAME, CLICKS}}
    return (*changes, spot_put(row[1], picture, middle)), after


def _common_click(
    profile: Profile, picture: Picture, draft: Mapping[str, str], at: Pair
) -> tuple[tuple[Change, ...], dict[str, str]]:
    """Clicks go from side to side: parts, solder, four times; then both are aligned."""
    clicks = (*clicks_of(draft), at)
    other = other_side(profile, picture)
    if other is None:
        return (), {PICTURE: picture.id}
    if len(clicks) < 8:
        return (), {**draft, PICTURE: other.id, CLICKS: pairs_text(clicks)}
    solder = picture if picture.side == "solder" else other
    put = Put(
        ("pictures", solder.id),
        {"common": pairs_text(clicks[1::2]), "on_parts": pairs_text(clicks[0::2])},
    )
    return (put,), {PICTURE: solder.id}


def map_shown(case: Case, draft: Mapping[str, str]) -> LitMap | None:
    """Return the picture on the table with all its places, and the clicks of a step in the light."""
    picture = case.profile.picture(draft.get(PICTURE, ""))
    if picture is None:
        return None
    clicks = clicks_of(draft)
    mine = clicks[0 if picture.side == "parts" else 1 :: 2] if draft.get(STEP) == COMMON else clicks
    return LitMap(
        picture=picture,
        lit=tuple(Lit(name=str(n), kind="part", at=at) for n, at in enumerate(mine, 1)),
        others=places_on(case.profile, picture),
        has_other_side=other_side(case.profile, picture) is not None,
        is_dark=False,
    )


def fresh_shown(picture: Picture, corners: tuple[Pair, ...]) -> LitMap:
    """Return a new picture with the corners that were clicked."""
    lit = tuple(Lit(name=str(n), kind="part", at=at) for n, at in enumerate(corners, 1))
    return LitMap(picture=picture, lit=lit, others={}, has_other_side=False, is_dark=False)


def start_of(profile: Profile) -> dict[str, str]:
    """Return the draft with which describing the map begins."""
    first = next((p.id for p in profile.pictures if p.side == "parts"), "")
    return {PICTURE: first or next((p.id for p in profile.pictures), "")}


def picture_put(profile: Profile, file: str, side: str) -> tuple[Put, str]:
    """Return the change that takes a straight picture in, and the picture's id."""
    number, name = 2, side
    while profile.picture(name) is not None:
        name, number = f"{side}-{number}", number + 1
    board = next(iter(profile.boards), "")
    fields = {"file": file, "side": side, "board": board or None}
    return Put(("pictures", name), fields), name
