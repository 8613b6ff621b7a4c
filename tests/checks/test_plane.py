"""Places on a plane: four pairs are met exactly, more are fitted, and a round is short."""

import itertools
import math
import random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from bench_lamp.board import Profile
from bench_lamp.board.library import ProfileLibrary
from bench_lamp.board.map import Picture, Spot
from bench_lamp.checks.board_map import lit_map, millimetres, places_on
from bench_lamp.checks.plane import affine, carried, homography, inverse
from bench_lamp.checks.route import shortest_round

SQUARE = ((0.0, 0.0), (1.0, 0.0), (1.0, 1.0), (0.0, 1.0))
PHOTO = ((120.0, 80.0), (1480.0, 140.0), (1390.0, 1060.0), (60.0, 930.0))


def test_four_corners_are_met_and_the_middle_lies_where_the_diagonals_cross():
    plane = homography(SQUARE, PHOTO)
    for one, other in zip(SQUARE, PHOTO, strict=True):
        assert carried(plane, one) == pytest.approx(other)
    # By hand: lines stay lines, so the middle is where the photograph's diagonals cross.
    (ax, ay), (bx, by), (cx, cy), (dx, dy) = PHOTO
    s = ((dx - ax) * (by - dy) - (dy - ay) * (bx - dx)) / (
        (cx - ax) * (by - dy) - (cy - ay) * (bx - dx)
    )
    assert carried(plane, (0.5, 0.5)) == pytest.approx((ax + s * (cx - ax), ay + s * (cy - ay)))


@settings(max_examples=60, deadline=None)
@given(st.tuples(st.floats(0, 1), st.floats(0, 1)))
def test_there_and_back_is_the_same_place(place):
    plane = homography(SQUARE, PHOTO)
    assert carried(inverse(plane), carried(plane, place)) == pytest.approx(place, abs=1e-9)


@pytest.mark.parametrize(
    "corners", [SQUARE[:3], ((0, 0), (1, 0), (2, 0), (3, 1)), ((0, 0), (0, 0), (1, 1), (0, 1))]
)
def test_corners_that_make_no_plane_are_refused(corners):
    with pytest.raises(ValueError, match=r"four points|on a line"):
        homography(corners, SQUARE)


def test_more_than_three_pairs_are_fitted_and_what_is_left_is_said():
    """By hand: turned by 90°, doubled, moved by (10, 5); one point 0.4 mm off leaves 0.2 / √4."""
    froms = ((0, 0), (10, 0), (10, 10), (0, 10))
    tos = [(10 - 2 * y, 5 + 2 * x) for x, y in froms]
    plane, left = affine(froms, tos)
    assert carried(plane, (5, 5)) == pytest.approx((0, 15))
    assert left == pytest.approx(0.0, abs=1e-9)
    tos[2] = (tos[2][0] + 0.4, tos[2][1])
    assert affine(froms, tos)[1] == pytest.approx(0.1)
    with pytest.raises(ValueError, match="on a line"):
        affine(((0, 0), (1, 1), (2, 2)), froms[:3])


BOTH = Profile(
    format="bench-lamp board 1",
    id="x",
    name="X",
    test_points=(),
    pictures=(
        Picture(id="top", file="a.png", width_mm=200, height_mm=100),
        Picture(id="under", file="b.png", side="solder",
                common=((0.9, 0.1), (0.1, 0.1), (0.1, 0.9), (0.9, 0.9)),
                on_parts=((0.1, 0.1), (0.9, 0.1), (0.9, 0.9), (0.1, 0.9))),
    ),
    spots={"A": Spot(on="top", at=((0.2, 0.3),)), "R": Spot(on="under", at=((0.25, 0.5),)),
           "gnd": Spot(on="top", at=((0.05, 0.5),))},
)  # fmt: skip


def test_a_place_is_known_on_both_sides_mirrored_rightly():
    top, under = BOTH.pictures
    assert places_on(BOTH, top)["R"] == pytest.approx((0.75, 0.5))
    assert places_on(BOTH, under)["A"] == pytest.approx((0.8, 0.3))
    assert millimetres(top, (0.2, 0.3), (0.5, 0.3)) == pytest.approx(60.0)
    assert millimetres(under, (0, 0), (1, 1)) is None


@pytest.mark.parametrize(
    ("red", "side", "picture", "lit"),
    [
        ("A", "", "top", ["A", "gnd"]),
        ("A", "solder", "under", ["A", "gnd"]),
        ("R", "", "top", ["R", "gnd"]),
        ("nothing", "", None, []),
    ],
)
def test_the_picture_with_the_most_of_it_is_lit(red, side, picture, lit):
    found = lit_map(BOTH, red, "gnd", side=side)
    assert (found.picture.id if found else None) == picture
    assert [x.name for x in found.lit] == lit if found else not lit


DRAWN = ("tessenby-orrery-nights", "ardvane-cinder-dunes", "ostrel-8", "ruskel-36")


@pytest.mark.parametrize("kind", DRAWN)
def test_a_drawn_machine_has_light_on_every_point_from_both_sides(kind):
    """Every point's red place is found; its black place too, or it is said on which board that is."""
    profile = ProfileLibrary().get(kind)
    drawn = {picture.board for picture in profile.pictures}
    for point in (p for p in profile.test_points if p.board in drawn):
        for side in ("parts", "solder"):
            found = lit_map(profile, point.id, point.black, side=side)
            kinds = [lit.kind for lit in found.lit]
            assert found.picture.side == side
            assert kinds == ["red", "black"] or found.elsewhere.startswith(
                "black on the other board: "
            )
            assert all(0 <= share <= 1 for lit in found.lit for share in lit.at)


def length(places, order) -> float:
    return sum(math.dist(places[a], places[b]) for a, b in itertools.pairwise(order))


def best_length(places) -> float:
    """Return the shortest open path from the first place, by trying every subset (Held and Karp)."""
    count = len(places)
    far = [[math.dist(a, b) for b in places] for a in places]
    best = {(1, 0): 0.0}
    for size in range(2, count + 1):
        for others in itertools.combinations(range(1, count), size - 1):
            mask = 1 + sum(1 << i for i in others)
            for last in others:
                before = mask & ~(1 << last)
                best[mask, last] = min(
                    best[before, j] + far[j][last]
                    for j in (0, *others)
                    if (before, j) in best and j != last
                )
    return min(best[(1 << count) - 1, j] for j in range(1, count))


@pytest.mark.parametrize("seed", range(6))
def test_a_round_of_twelve_is_at_most_five_percent_longer_than_the_best(seed):
    chance = random.Random(seed)
    places = [(chance.random() * 200, chance.random() * 150) for _ in range(12)]
    order = shortest_round(places)
    assert sorted(order) == list(range(12))
    assert order[0] == 0
    assert length(places, order) <= 1.05 * best_length(places)


@settings(max_examples=40, deadline=None)
@given(st.lists(st.tuples(st.floats(0, 300), st.floats(0, 300)), max_size=90), st.integers(0, 5))
def test_each_place_is_visited_once(places, start):
    start = min(start, max(len(places) - 1, 0))
    order = shortest_round(places, start=start)
    assert sorted(order) == list(range(len(places)))
    assert not places or order[0] == start
