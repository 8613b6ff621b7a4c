"""Grids, displays and images: an injected fault is named, or an honest set that holds it."""

import zlib

import pytest
from hypothesis import given
from hypothesis import strategies as st

from bench_lamp.logic.digits import SEGMENTS, missing, shared
from bench_lamp.logic.grids import ghost, patterns, swapped
from bench_lamp.logic.image_file import ImageError, read_image
from bench_lamp.logic.images import Wanted, describe, judge_image
from bench_lamp.logic.joining import interleave, joins, parts

GRID = [(r, c) for r in range(8) for c in range(8)]
SIZES = {"P1": 7, "P2": 7, "P3": 7, "P4": 7, "CREDIT": 4}
PAIRS = {"L1": ("P1", "P2"), "L2": ("P3", "P4")}


@given(
    st.sampled_from(["row", "column"]),
    st.integers(0, 7),
    st.sets(st.sampled_from(GRID), max_size=20),
)
def test_a_dead_line_is_named_whatever_is_not_fitted(kind, number, unfitted):
    tried = [cell for cell in GRID if cell not in unfitted]
    axis = 0 if kind == "row" else 1
    bad = [cell for cell in tried if cell[axis] == number]
    found = patterns(bad, tried)
    if len(bad) < 2:
        assert all(p.kind in {"none", "cell"} for p in found)
    else:
        assert (kind, (number,)) in {(p.kind, p.rows or p.columns) for p in found}


@given(st.sets(st.sampled_from(GRID), max_size=30))
def test_every_bad_cell_is_explained_and_no_good_one(bad):
    covered = set()
    for p in patterns(bad, GRID):
        if p.kind == "row":
            covered |= {(p.rows[0], c) for c in range(8)}
        elif p.kind == "column":
            covered |= {(r, p.columns[0]) for r in range(8)}
        elif p.kind == "cell":
            covered.add((p.rows[0], p.columns[0]))
    assert covered == bad


def test_all_dead_is_one_thing_and_none_is_none():
    assert [p.kind for p in patterns(GRID, GRID)] == ["all"]
    assert [p.kind for p in patterns([], GRID)] == ["none"]


@given(st.integers(0, 7), st.integers(1, 7), st.integers(0, 7), st.integers(1, 7))
def test_three_closed_corners_explain_the_ghost_at_the_fourth(row, down, column, along):
    other_row, other_column = (row + down) % 8, (column + along) % 8
    closed = [(row, other_column), (other_row, column), (other_row, other_column)]
    found = ghost(closed, (row, column))
    assert (set(found.rows), set(found.columns)) == ({row, other_row}, {column, other_column})
    assert ghost(closed[:2], (row, column)) is None


@given(st.integers(0, 7), st.integers(1, 7), st.lists(st.integers(0, 7), min_size=1), st.booleans())
def test_lines_changed_over_are_named(one, step, cells, is_row):
    two = (one + step) % 8
    turn = (lambda a, b: (a, b)) if is_row else (lambda a, b: (b, a))
    shows = {turn(one, c): turn(two, c) for c in cells} | {
        turn(two, c): turn(one, c) for c in cells
    }
    found = swapped(shows)
    assert set(found.rows or found.columns) == {one, two}
    assert found.kind == ("swapped rows" if is_row else "swapped columns")
    assert swapped({(0, 0): (0, 0)}) is None
    assert swapped({(0, 0): (1, 1), (2, 2): (3, 3)}) is None


# Displays.


@pytest.mark.parametrize(
    ("spots", "kind", "where"),
    [
        pytest.param([("P1", 2, "g")], "segment of one digit", ("P1",), id="one-segment"),
        pytest.param([("P1", 2, s) for s in "abcdefg"], "digit of one display", ("P1",), id="one-digit"),
        pytest.param([("P1", p, "g") for p in range(7)], "segment of one display", ("P1",), id="segment-in-one"),
        pytest.param([(d, p, "g") for d in SIZES for p in range(SIZES[d])], "segment everywhere", tuple(SIZES),
                     id="segment-everywhere"),
        pytest.param([(d, 3, s) for d in SIZES for s in "abcdefg"], "digit everywhere", tuple(SIZES),
                     id="digit-everywhere"),
        pytest.param([("P4", p, s) for p in range(7) for s in "abcdefg"], "display", ("P4",), id="one-display"),
        pytest.param([(d, p, "b") for d in ("P3", "P4") for p in range(7)], "displays of one group", ("P3", "P4"),
                     id="one-pair"),
        pytest.param([(d, p, s) for d in SIZES for p in range(SIZES[d]) for s in "abcdefg"], "all", tuple(SIZES),
                     id="all-dark"),
        pytest.param([("P1", 0, "a"), ("P2", 3, "c")], "scattered", ("P1", "P2"), id="nothing-shared"),
    ],
)  # fmt: skip
def test_dark_spots_are_named_by_what_they_share(spots, kind, where):
    found = shared(spots, SIZES, PAIRS)
    assert (found.kind, found.displays) == (kind, where)


def test_nothing_dark_shares_nothing():
    assert shared([], SIZES, PAIRS) is None
    assert missing(" ") == "abcdefg"
    assert {figure: missing(figure, figure) for figure in SEGMENTS} == dict.fromkeys(SEGMENTS, "")


# Images.

IMAGE = bytes((i * 37 + (i >> 3) * 11 + (i >> 7)) & 0xFF for i in range(2048))
RIGHT = Wanted(size=2048, crc32=f"{zlib.crc32(IMAGE):08x}", data=IMAGE)


def stuck_address(data, line):
    return bytes(data[i & ~(1 << line)] for i in range(len(data)))


@pytest.mark.parametrize("line", range(11))
def test_a_stuck_address_line_is_named(line):
    notes = judge_image(stuck_address(IMAGE, line), RIGHT).notes
    assert f"A{line}" in notes[0]


@pytest.mark.parametrize("bit", range(8))
@pytest.mark.parametrize("level", [0, 1])
def test_a_stuck_data_line_is_named(bit, level):
    spoilt = bytes(b | 1 << bit if level else b & ~(1 << bit) for b in IMAGE)
    notes = judge_image(spoilt, RIGHT).notes
    assert any(f"D{bit} always {level}" in note for note in notes)


def crossed(data, low, high):
    """Return an image as it is read with two address lines changed over."""
    found = bytearray(len(data))
    for place in range(len(data)):
        a, b = place >> low & 1, place >> high & 1
        found[place & ~(1 << low | 1 << high) | a << high | b << low] = data[place]
    return bytes(found)


@pytest.mark.parametrize(
    ("data", "words"),
    [
        pytest.param(b"", "empty", id="empty"),
        pytest.param(b"\xff" * 2048, "all one", id="erased"),
        pytest.param(b"\x00" * 2048, "all zero", id="zero"),
        pytest.param(b"\x5a" * 2048, "every byte is 5A", id="one-value"),
        pytest.param(IMAGE[1024:] + IMAGE[:1024], "halves are swapped", id="swapped-halves"),
        pytest.param(crossed(IMAGE, 3, 8), "A3 and A8 are crossed", id="address-lines-crossed"),
        pytest.param(
            crossed(IMAGE, 0, 10), "A0 and A10 are crossed", id="far-address-lines-crossed"
        ),
        pytest.param(bytes(IMAGE[i ^ 1] for i in range(2048)), "even and odd", id="swapped-pairs"),
        pytest.param(IMAGE[:1024], "only 1024 of 2048", id="read-as-smaller"),
        pytest.param(IMAGE * 2, "2 times over", id="read-as-larger"),
        pytest.param(IMAGE[:-1], "2047 bytes, 2048 wanted", id="odd-length"),
        pytest.param(
            IMAGE[:9] + bytes([IMAGE[9] ^ 4]) + IMAGE[10:],
            "1 byte differs, the first at 0009",
            id="one-byte",
        ),
    ],
)
def test_a_difference_is_described(data, words):
    found = judge_image(data, RIGHT)
    assert found.word == "wrong"
    assert any(words in note for note in found.notes), found.notes


@given(st.lists(st.integers(0, 2047), min_size=1, max_size=30, unique=True))
def test_a_fading_part_only_loses_ones(places):
    faded = bytearray(IMAGE)
    for place in places:
        faded[place] = 0
    if bytes(faded) != IMAGE:
        note = describe(bytes(faded), RIGHT)[-1]
        assert "ones only lost" in note
        changed = sum(a != b for a, b in zip(faded, IMAGE, strict=True))
        assert note.startswith(f"{changed} byte")


def test_good_unknown_and_published_sums():
    assert judge_image(IMAGE, RIGHT).word == "good"
    # CRC-32 and SHA-1 of "abc": the published test values of both.
    found = judge_image(b"abc", Wanted(size=3))
    assert (found.word, found.crc32) == ("not known", "352441c2")
    assert found.sha1 == "a9993e364706816aba3e25717850c26c9cd0d89d"


@given(st.binary(max_size=64))
def test_what_was_parted_one_way_is_whole_again_when_joined_so(data):
    ways = [(how, a, b) for how, a, b in parts(data)]
    assert bool(ways) == (len(data) % 2 == 0)
    for _, first, second in ways:
        assert data in [whole for _, whole in joins(first, second)]


def test_unequal_halves_do_not_join():
    with pytest.raises(ValueError, match="do not pair"):
        interleave(b"ab", b"c")


def test_the_same_image_in_three_formats(tmp_path):
    import bincopy

    file = bincopy.BinFile()
    file.add_binary(IMAGE, address=0x8000)
    forms = {"a.bin": IMAGE, "a.hex": file.as_ihex().encode(), "a.s19": file.as_srec().encode()}
    for name, raw in forms.items():
        (tmp_path / name).write_bytes(raw)
        assert read_image(tmp_path / name) == IMAGE
        assert (tmp_path / name).read_bytes() == raw


@pytest.mark.parametrize(
    "raw",
    [
        pytest.param(b"", id="empty"),
        pytest.param(b":0400000001020304F1\n", id="bad-sum-hex"),
        pytest.param(b"S1137AF00A0A0D0000000000000000000000000060\n", id="bad-sum-srec"),
        pytest.param(b":00000001FF\n", id="no-data"),
        pytest.param(b":020000040000FA\n:0100000001FE\n:020000044000BA\n:0100000001FE\n", id="far-apart"),
    ],
)  # fmt: skip
def test_a_damaged_image_file_says_so(tmp_path, raw):
    path = tmp_path / "bad.hex"
    path.write_bytes(raw)
    with pytest.raises(ImageError) as error:
        read_image(path)
    assert "bad.hex" in str(error.value)
    assert error.value.hint
    assert path.read_bytes() == raw


def test_a_line_is_named_only_by_two_cells_that_nothing_else_explains():
    """A dead row and one cell under it: the column that both cross is no second fault."""
    grid = [(r, c) for r in range(2) for c in range(3)]
    found = patterns([(0, 0), (0, 1), (0, 2), (1, 0)], grid)
    assert [(p.kind, p.rows, p.columns) for p in found] == [("row", (0,), ()), ("cell", (1,), (0,))]


def test_two_rows_of_two_that_are_all_dead_are_one_thing():
    grid = [(0, 0), (0, 1), (1, 0), (1, 1)]
    assert [p.kind for p in patterns(grid, grid)] == ["all"]
