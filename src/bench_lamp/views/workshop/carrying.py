"""Places of another version of a board, carried onto this one's picture by what is on both."""

from collections.abc import Container

from bench_lamp.board import Profile
from bench_lamp.board.change import Put
from bench_lamp.board.map import Pair, Picture
from bench_lamp.cards.card import Choice
from bench_lamp.checks.board_map import spot_put
from bench_lamp.checks.plane import affine, carried

#: The draft's field of the picture on the table.
PICTURE = "map"


def carry_choice(profile: Profile, picture: Picture, base: Profile | None) -> tuple[Choice, ...]:
    """Offer to carry the places of the other version over, where enough are on both."""
    found = carried_over(profile, picture, base)
    if found is None:
        return ()
    changes, left, unit = found
    text = f"Carry {len(changes)} places over from {base.name if base else ''}"
    note = f"they fit to {left:.1f}\u202f{unit}; look at each all the same"
    return (Choice(key="Alt+c", text=text, note=note, draft={PICTURE: picture.id, "carry": "yes"}),)


def carried_over(
    profile: Profile, picture: Picture, base: Profile | None
) -> tuple[tuple[Put, ...], float, str] | None:
    """Return the changes that carry another version's places onto a picture, and how well they fit.

    Names that are on this picture and on one of the base's give the map (three or more, fitted by
    an affine map); the second value is the root mean square of what is left, in millimetres where
    the picture's size is known, else in percent of its width.
    """
    if base is None:
        return None
    mine = _placed_on(profile, picture.id)
    theirs = _on_one_picture(base, mine)
    common, rest = [n for n in theirs if n in mine], [n for n in theirs if n not in mine]
    if len(common) < 3 or not rest:
        return None
    wide, high = (picture.width_mm, picture.height_mm) if picture.width_mm else (100.0, 100.0)
    aims = [(mine[n][0] * wide, mine[n][1] * high) for n in common]
    try:
        plane, left = affine([theirs[n] for n in common], aims)
    except ValueError:
        return None
    puts = (_put(n, picture, carried(plane, theirs[n]), (wide, high)) for n in rest)
    return tuple(puts), left, "mm" if picture.width_mm else "% of its width"


def _put(name: str, picture: Picture, at: Pair, size: Pair) -> Put:
    return spot_put(name, picture, (at[0] / size[0], at[1] / size[1]))


def _on_one_picture(base: Profile, mine: Container[str]) -> dict[str, Pair]:
    """Return the base's places on the picture that has one of mine first."""
    source = next((s.on for n, s in base.spots.items() if n in mine), "")
    return _placed_on(base, source)


def _placed_on(profile: Profile, picture_id: str) -> dict[str, Pair]:
    return {n: s.place for n, s in profile.spots.items() if s.on == picture_id}
