"""Where things are on a board's pictures: on the side that is up, whichever side they were placed on."""

from collections.abc import Mapping, Sequence

from msgspec import Struct

from bench_lamp.board import Profile
from bench_lamp.board.change import Put
from bench_lamp.board.map import Pair, Picture, Spot, pairs_text
from bench_lamp.checks.plane import carried, homography, inverse

#: Share of the picture's height that a light reaches.
LIGHT_SHARE = 0.16
#: Parts so near feel the heat of a soldering iron or hot air, in millimetres; and how many are named.
NEAR_MM, MOST_NEAR = 30.0, 6


class Lit(Struct, frozen=True, kw_only=True):
    """One place in the light."""

    name: str
    #: `red` or `black` for a lead, else `part`.
    kind: str
    at: Pair


class LitMap(Struct, frozen=True, kw_only=True):
    """A picture with lights on it."""

    picture: Picture
    lit: tuple[Lit, ...]
    #: All other places on it, by name.
    others: Mapping[str, Pair]
    #: Whether the picture has another side to turn to.
    has_other_side: bool
    #: Whether all else lies in the dark.
    is_dark: bool = True
    #: Which leads go on another board, in words: `black on the Main board`; empty for none.
    elsewhere: str = ""


def places_on(profile: Profile, picture: Picture) -> dict[str, Pair]:
    """Return every place as it lies on a picture: its own, and those of the board's other side.

    Places of the other side are carried across by the four common points, mirrored rightly.
    """
    found: dict[str, Pair] = {}
    for name, spot in profile.spots.items():
        at = _on(profile, spot, picture)
        if at is not None:
            found[name] = at
    return found


def _on(profile: Profile, spot: Spot, picture: Picture) -> Pair | None:
    if spot.on == picture.id:
        return spot.place
    source = profile.picture(spot.on)
    if source is None or source.board != picture.board or source.side == picture.side:
        return None
    solder = picture if picture.side == "solder" else source
    if len(solder.common) != 4:
        return None
    try:
        plane = homography(solder.on_parts, solder.common)
        return carried(plane if picture is solder else inverse(plane), spot.place)
    except ValueError:
        return None


def other_side(profile: Profile, picture: Picture) -> Picture | None:
    """Return the picture of the same board's other side."""
    return next(
        (p for p in profile.pictures if p.board == picture.board and p.side != picture.side), None
    )


def picture_of_side(profile: Profile, side: str) -> Picture:
    """Return the first picture of a side, the parts side where none is named; else the first of all."""
    wanted = (p for p in profile.pictures if p.side == (side or "parts"))
    return next(wanted, profile.pictures[0])


def whole_map(profile: Profile, side: str) -> LitMap:
    """Return a side's picture with all its places and no light on it."""
    picture = picture_of_side(profile, side)
    places, has_other = places_on(profile, picture), other_side(profile, picture) is not None
    return LitMap(picture=picture, lit=(), others=places, has_other_side=has_other)


def lit_map(
    profile: Profile, red: str, black: str, parts: tuple[str, ...] = (), *, side: str = ""
) -> LitMap | None:
    """Return the picture on which the most of what is wanted can be seen, with lights on it.

    Parameters
    ----------
    profile : Profile
        With pictures and spots.
    red, black : str
        What the leads go on: a point or part, and a ground; empty for none.
    parts : tuple of str
        What else is in the light.
    side : str
        Which side is up: of pictures that show as much, that one.
    """
    wanted = [("red", red), ("black", black), *(("part", p) for p in parts)]
    picture = _best_picture(profile, wanted, side or "parts")
    if picture is None:
        return None
    # Only now are places of the other side carried across: that takes a moment the first time.
    places = places_on(profile, picture)
    lit = tuple(Lit(name=n, kind=kind, at=places[n]) for kind, n in wanted if n in places)
    others = {name: at for name, at in places.items() if name not in {x.name for x in lit}}
    has_other = other_side(profile, picture) is not None
    return LitMap(
        picture=picture,
        lit=lit,
        others=others,
        has_other_side=has_other,
        elsewhere=_elsewhere(profile, [w for w in wanted if w[0] != "part" and w[1] not in places]),
    )


def _elsewhere(profile: Profile, leads: Sequence[tuple[str, str]]) -> str:
    """Say on which other board a lead goes whose place is known."""
    found = []
    for kind, name in leads:
        spot = profile.spots.get(name)
        picture = profile.picture(spot.on) if spot is not None else None
        if picture is not None:
            found.append(f"{kind} on the other board: {profile.boards.get(picture.board, name)}")
    return ", ".join(found)


def _best_picture(profile: Profile, wanted: Sequence[tuple[str, str]], side: str) -> Picture | None:
    """Return the picture with the most of what is wanted, the side that is up before the other."""
    best: tuple[tuple[int, int, int], Picture] | None = None
    for number, picture in enumerate(profile.pictures):
        seen = [kind for kind, name in wanted if _is_on(profile, name, picture)]
        rank = (len(seen), int(picture.side == side), -number)
        if any(kind != "black" for kind in seen) and (best is None or rank > best[0]):
            best = rank, picture
    return best[1] if best is not None else None


def _is_on(profile: Profile, name: str, picture: Picture) -> bool:
    """Whether a name can be seen on a picture: placed there, or on the other side of the same board."""
    spot = profile.spots.get(name)
    if spot is None or spot.on == picture.id:
        return spot is not None
    source = profile.picture(spot.on)
    if source is None or source.board != picture.board or source.side == picture.side:
        return False
    return len((picture if picture.side == "solder" else source).common) == 4


def millimetres(picture: Picture, one: Pair, other: Pair) -> float | None:
    """Return how far two places of a picture are apart, in millimetres; None where its size is not known."""
    if not picture.width_mm or not picture.height_mm:
        return None
    x = (one[0] - other[0]) * picture.width_mm
    y = (one[1] - other[1]) * picture.height_mm
    return float((x * x + y * y) ** 0.5)


def neighbours(profile: Profile, name: str) -> tuple[str, ...]:
    """Return the parts within `NEAR_MM` of one on its picture, the nearest first; none without a size."""
    spot = profile.spots.get(name_on_map(profile, name))
    picture = profile.picture(spot.on) if spot is not None else None
    if spot is None or picture is None:
        return ()
    parts = set(profile.part_ids()) - {name, name.partition(".")[0]}
    far = {
        other: millimetres(picture, spot.place, at.place)
        for other, at in profile.spots.items()
        if other in parts and at.on == spot.on
    }
    near = sorted((mm, other) for other, mm in far.items() if mm is not None and mm <= NEAR_MM)
    return tuple(other for _, other in near[:MOST_NEAR])


def spot_put(name: str, picture: Picture, at: Pair) -> Put:
    """Return the change that places a name on a picture."""
    return Put(("spots", name), {"on": picture.id, "at": pairs_text((at,))})


def name_on_map(profile: Profile, name: str) -> str:
    """Return the name under which something is on the map: its own, or that of its connector.

    A pin of a connector whose row was placed by its two ends lies between them.
    """
    if name in profile.spots:
        return name
    connector = name.partition(".")[0]
    return connector if connector in profile.spots else ""
