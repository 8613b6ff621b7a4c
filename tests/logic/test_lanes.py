"""Write/read pairs, captures and blinks: inject a fault, observe, and find it again."""

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from bench_lamp.files import FileError
from bench_lamp.logic.blinks import decode, read_code
from bench_lamp.logic.capture import read_capture
from bench_lamp.logic.capture_rows import CaptureError
from bench_lamp.logic.lanes import PairsError, diagnose, read_pairs, words_for
from bench_lamp.logic.levels import LEVELS, level_words

WALK = [0x00, 0xFF, 0x55, 0xAA, *(1 << i for i in range(8)), *(0xFF ^ (1 << i) for i in range(8))]


def spoil(word, kind, bit, other, noise):
    """What comes back of a word through one injected fault."""
    if kind == "stuck high":
        return word | 1 << bit
    if kind == "stuck low":
        return word & ~(1 << bit)
    if kind == "floating":
        return word & ~(1 << bit) | noise << bit
    level = (word >> bit & 1) & (word >> other & 1)
    if kind == "tied or":
        level = (word >> bit & 1) | (word >> other & 1)
    cleared = word & ~(1 << bit) & ~(1 << other)
    return cleared | level << bit | level << other


kinds = st.sampled_from(["stuck high", "stuck low", "tied and", "tied or", "floating"])


@given(kind=kinds, bit=st.integers(0, 7), step=st.integers(1, 7), words=st.lists(st.integers(0, 255), min_size=1),
       noise=st.lists(st.integers(0, 1), min_size=40, max_size=40))  # fmt: skip
def test_an_injected_fault_is_among_what_fits_whatever_was_written(kind, bit, step, words, noise):
    other = (bit + step) % 8
    pairs = [(w, spoil(w, kind, bit, other, noise[i % 40])) for i, w in enumerate(words)]
    found = diagnose(pairs, 8)
    tied = kind.startswith("tied")
    if tied and "tied" not in found[bit].fits:
        # Never written apart, or apart in nothing that came back wrong: it cannot be told.
        assert all((w >> bit & 1) == (w >> other & 1) for w in words)
    else:
        assert (kind.split()[0] in {"tied"} and other in found[bit].partners) or kind in found[
            bit
        ].fits
    for i in set(range(8)) - {bit, other if tied else bit}:
        assert not found[i].is_bad


@given(kind=kinds.filter(lambda k: k != "floating"), bit=st.integers(0, 7), step=st.integers(1, 7))
def test_a_walking_pattern_names_the_injected_fault_itself(kind, bit, step):
    other = (bit + step) % 8
    found = diagnose([(w, spoil(w, kind, bit, other, 0)) for w in WALK], 8)
    bad = {b.number: b for b in found if b.is_bad}
    if kind.startswith("tied"):
        assert set(bad) == {bit, other}
        assert (bad[bit].state, bad[bit].partners) == ("tied", (other,))
    else:
        assert {n: b.state for n, b in bad.items()} == {bit: kind}


@given(st.integers(0, 7))
def test_a_bit_that_changes_its_mind_is_floating(bit):
    found = diagnose([(0, 0), (0, 1 << bit), (255, 255)], 8)
    assert [b.number for b in found if b.state == "floating"] == [bit]


def test_what_was_never_written_both_ways_is_not_called_good():
    found = diagnose([(0x0F, 0x0F)], 8)
    assert {b.state for b in found} == {"not tried"}
    assert "stuck high" in found[0].fits


@pytest.mark.parametrize(
    ("text", "pairs"),
    [
        pytest.param("55>57 aa>AA", ((0x55, 0x57), (0xAA, 0xAA)), id="hex-with-arrows"),
        pytest.param("55 57 AA AA", ((0x55, 0x57), (0xAA, 0xAA)), id="hex-in-turn"),
        pytest.param("0x0 -> $2", ((0, 2),), id="marked-hex"),
        pytest.param("00000001>00000011", ((1, 3),), id="binary-by-its-width"),
        pytest.param("%101>0b111", ((5, 7),), id="marked-binary"),
        pytest.param("10>10", ((0x10, 0x10),), id="short-digits-are-hex"),
    ],
)
def test_pairs_as_they_are_typed(text, pairs):
    assert read_pairs(text, 8) == pairs


@pytest.mark.parametrize(
    ("text", "what"),
    [
        pytest.param("", "Nothing", id="nothing"),
        pytest.param("55", "pairs need an even number", id="one-word"),
        pytest.param("55>", "no pair", id="half-a-pair"),
        pytest.param("5g>55", "no hex", id="no-number"),
        pytest.param("155>55", "wider than 8", id="too-wide"),
        pytest.param("-1>55", "wider", id="negative"),
        pytest.param("1>1 " * 5000, "More than", id="too-many"),
    ],
)
def test_words_that_are_no_pairs_say_so(text, what):
    with pytest.raises(PairsError, match=what) as error:
        read_pairs(text, 8)
    assert error.value.hint


def test_bad_bits_in_words():
    assert words_for(diagnose([(w, w | 8) for w in WALK], 8)) == "bit 3 stuck high"
    tied = [(w, spoil(w, "tied and", 4, 5, 0)) for w in WALK]
    assert words_for(diagnose(tied, 8)) == "bits 4 and 5 tied together"
    assert words_for(diagnose([(w, w) for w in WALK], 8)) == "every bit as written"


# Captures.


def write(path, rows, head="time,D0,D1,D2,D3"):
    path.write_text("\n".join([head, *rows]) + "\n")
    return path


@pytest.mark.parametrize("scale", [pytest.param(1, id="levels"), pytest.param(4.2, id="volts")])
def test_a_capture_shows_what_each_pin_does(tmp_path, scale):
    rows = [f"{t},{(t % 2) * scale},{scale},0,{(t % 2) * scale}" for t in range(100)]
    found = read_capture(write(tmp_path / "a.csv", rows))
    assert [p.activity for p in found.pins] == ["pulsing", "high", "low", "pulsing"]
    assert [p.edges for p in found.pins] == [99, 0, 0, 99]
    assert [p.same_as for p in found.pins] == [("D3",), (), (), ("D0",)]
    assert found.rows == 100


@pytest.mark.parametrize(
    ("head", "row"),
    [
        pytest.param("Time (s);D0;D1", "{t:.2f};0,02;{level}", id="semicolons-and-decimal-commas"),
        pytest.param("t\tD0\tD1", "{t}\t0,02\t{level}", id="tabs"),
        pytest.param("Second,D0,D1\ns,V,V", "{t},0.02,{level}", id="a-row-of-units"),
    ],
)
def test_a_scopes_own_ways_of_writing_are_read(tmp_path, head, row):
    rows = [row.format(t=t, level="4.8" if t % 2 else "0.1") for t in range(40)]
    found = read_capture(write(tmp_path / "a.csv", rows, head))
    assert [(p.name, p.activity) for p in found.pins] == [("D0", "low"), ("D1", "pulsing")]
    bad = write(tmp_path / "b.csv", [*rows, row.format(t=0, level="?")], head)
    with pytest.raises(CaptureError, match=f"row {42 + head.count(chr(10))}: “\\?” is no level"):
        read_capture(bad)


def test_a_pin_between_the_levels_floats(tmp_path):
    rows = [f"{t},1.4,4.8,0.2,{0.1 if t % 2 else 4.9}" for t in range(50)]
    found = read_capture(write(tmp_path / "a.csv", rows))
    assert [p.activity for p in found.pins] == ["floating", "high", "low", "pulsing"]


def test_volts_that_begin_at_0_and_1_are_volts_from_the_first_row(tmp_path, monkeypatch):
    from bench_lamp.files import lines

    rows = [f"{t},{t % 2},0,{t % 2},1" for t in range(40)] + [f"{t},4.8,0,0.1,1" for t in range(60)]
    path = write(tmp_path / "a.csv", rows)
    whole = read_capture(path)
    monkeypatch.setattr(lines, "PIECE", 100)
    assert read_capture(path) == whole
    assert [p.activity for p in whole.pins] == ["floating", "low", "floating", "floating"]
    assert [p.edges for p in whole.pins] == [1, 0, 0, 0]


def test_columns_for_written_and_read_give_pairs(tmp_path):
    rows = [f"{w & 1},{w >> 1 & 1},{w & 1},1" for w in (0, 1, 2, 3, 2, 1)]
    found = read_capture(write(tmp_path / "a.csv", rows, "w0,w1,r0,r1"))
    assert set(found.pairs) == {(0, 2), (1, 3), (2, 2), (3, 3)}
    assert words_for(diagnose(found.pairs, 2)) == "bit 1 stuck high"


@pytest.mark.parametrize(
    ("text", "what"),
    [
        pytest.param("", "is empty", id="empty"),
        pytest.param("time,D0\n", "no samples", id="names-only"),
        pytest.param("0,1\n1,0\n", "no names", id="no-names"),
        pytest.param("D0,D0\n1,0\n", "twice", id="a-name-twice"),
        pytest.param("D0,D1\n1,0\n1\n", "row 3 has 1 columns", id="short-row"),
        pytest.param("D0,D1\n1,0\n1,x\n", "row 3: “x”", id="no-level"),
        pytest.param("D0,D1\n1,nan\n", "row 2: “nan”", id="not-a-number"),
        pytest.param("D0," * 80 + "D\n", "columns", id="too-many-pins"),
        pytest.param("w0,w1,r0\n1,0,1\n", "2 columns w0 … and 1 r0", id="written-not-read"),
    ],
)
def test_a_malformed_capture_names_the_row(tmp_path, text, what):
    path = tmp_path / "bad.csv"
    path.write_text(text)
    with pytest.raises(CaptureError, match=what) as error:
        read_capture(path)
    assert error.value.hint
    assert path.read_text() == text


def test_the_share_of_a_capture_that_is_read_rises_to_the_whole(tmp_path):
    path = write(tmp_path / "long.csv", [f"{t},0,1,0,1" for t in range(400_000)])
    shares = []
    assert read_capture(path, progress=lambda share: shares.append(share) or True)
    assert len(shares) > 1
    assert shares == sorted(shares)
    assert 0 < shares[0] < 0.9
    assert shares[-1] == pytest.approx(1.0, abs=0.02)


def test_a_capture_can_be_stopped_and_a_binary_file_is_refused(tmp_path):
    path = write(tmp_path / "a.csv", [f"{t},0,1,0,1" for t in range(10)])
    assert read_capture(path, progress=lambda share: False) is None
    path.write_bytes(bytes([0xFF, 0xFE, 0x00]) * 10)
    with pytest.raises(CaptureError):
        read_capture(path)
    with pytest.raises(FileError, match="not there"):
        read_capture(tmp_path / "none.csv")


@given(st.integers(0, 2**32 - 1), st.integers(1, 3))
def test_activity_agrees_with_counting_by_hand(tmp_path_factory, seed, pins):
    levels = np.random.default_rng(seed).integers(0, 2, size=(40, pins + 1))
    path = tmp_path_factory.mktemp("c") / "a.csv"
    head = ",".join(f"P{i}" for i in range(pins + 1))
    write(path, [",".join(map(str, row)) for row in levels], head)
    for pin, column in zip(read_capture(path).pins, levels.T, strict=True):
        assert pin.high == pytest.approx(column.mean())
        assert pin.edges == sum(a != b for a, b in pairwise(column))


# Blinks.


def taps(*groups, gap=0.5, pause=2.0, hold=0.1, start=0.0):
    found, at = [], start
    for count in groups:
        for _ in range(count):
            found.append((at, at + hold))
            at += gap
        at += pause - gap
    return found


@pytest.mark.parametrize(
    ("groups", "code", "rounds"),
    [
        pytest.param((3,), "3", 1, id="three"),
        pytest.param((5, 5, 5), "5", 3, id="five-three-times"),
        pytest.param((2, 3), "2-3", 1, id="two-then-three"),
        pytest.param((2, 3, 2, 3), "2-3", 2, id="the-pair-twice"),
        pytest.param((4, 4, 2), "4", 2, id="the-last-round-broken-off"),
        pytest.param((1, 1, 1), "1", 3, id="one-at-a-time"),
        pytest.param((1,), "1", 1, id="a-single-blink"),
    ],
)
def test_taps_become_a_code(groups, code, rounds):
    found = decode(taps(*groups))
    assert (found.code, found.rounds) == (code, rounds)


@given(
    st.lists(st.integers(2, 7), min_size=1, max_size=3),
    st.floats(0.25, 0.7),
    st.randoms(use_true_random=False),
)
def test_an_unsteady_hand_is_read_all_the_same(groups, gap, random):
    presses = [
        (a + random.uniform(-0.06, 0.06) * gap, b) for a, b in taps(*groups, gap=gap, pause=4 * gap)
    ]
    assert decode(presses).code == decode(taps(*groups, gap=1.0, pause=4.0)).code


def test_uneven_short_presses_are_no_pattern():
    assert decode([(0, 0.05), (0.6, 0.78), (1.2, 1.3)]).code == "3"


def test_long_and_short_presses_make_a_pattern():
    assert decode([(0, 0.1), (0.8, 1.4), (1.9, 2.0)]).code == "SLS"
    assert decode([]) is None


@pytest.mark.parametrize(
    ("text", "code"),
    [
        ("3", "3"),
        ("03", "3"),
        ("2,3", "2-3"),
        ("L S L", "LSL"),
        ("flicker", "flicker"),
        ("", None),
        ("3x", None),
    ],
)
def test_typed_codes(text, code):
    assert read_code(text) == code


@pytest.mark.parametrize("should", LEVELS)
def test_every_level_has_a_meaning_beside_every_other(should):
    assert [level_words(should, found) == "as it should be" for found in LEVELS] == [
        found == should for found in LEVELS
    ]


@given(st.lists(st.tuples(st.integers(0, 7), st.sampled_from(["stuck high", "stuck low"])), min_size=2, max_size=4,
                unique_by=lambda f: f[0]))  # fmt: skip
def test_several_stuck_bits_are_all_named(faults):
    def through(word):
        for bit, kind in faults:
            word = spoil(word, kind, bit, 0, 0)
        return word

    found = {b.number: b.state for b in diagnose([(w, through(w)) for w in WALK], 8) if b.is_bad}
    assert found == dict(faults)


@given(st.integers(1, 32), st.randoms(use_true_random=False))
def test_a_sound_lane_of_any_width_is_good_once_both_levels_were_seen(bits, random):
    words = [0, (1 << bits) - 1, *(random.getrandbits(bits) for _ in range(5))]
    assert {b.state for b in diagnose([(w, w) for w in words], bits)} == {"good"}


def test_three_bits_tied_together_name_each_other():
    def through(word):
        level = 7 if word & 7 == 7 else 0
        return word & ~7 | level

    found = [b for b in diagnose([(w, through(w)) for w in WALK], 8) if b.is_bad]
    # Two of the three may be the pair; an AND of three is never one of a pair alone.
    assert {b.number for b in found} == {0, 1, 2}
    assert all(set(b.partners) <= {0, 1, 2} for b in found)


def test_limits_of_captures_and_images_are_kept(tmp_path, monkeypatch):
    from bench_lamp.logic import capture, image_file

    path = write(tmp_path / "a.csv", [f"{t},0,1,0,1" for t in range(10)])
    monkeypatch.setattr(capture, "MAX_BYTES", 20)
    with pytest.raises(FileError, match="too large"):
        read_capture(path)
    monkeypatch.setattr(image_file, "MOST_BYTES", 4)
    with pytest.raises(image_file.ImageError, match="holds"):
        image_file.read_image(path)
    monkeypatch.setattr(image_file, "MOST_TEXT", 8)
    with pytest.raises(FileError, match="too large"):
        image_file.read_image(path)


@pytest.mark.parametrize(
    ("pairs", "states"),
    [
        pytest.param([(0b01, 0), (0b10, 0), (0b11, 0b11)], ["tied", "tied"], id="an AND of both"),
        pytest.param([(0b01, 3), (0b10, 3), (0b00, 0)], ["tied", "tied"], id="an OR of both"),
        pytest.param(
            [(0b01, 0), (0b10, 0), (0b00, 3)], ["floating"] * 2, id="not as both were written"
        ),
        pytest.param([(0b01, 0), (0b10, 3)], ["inverted", "good"], id="neither AND nor OR"),
        pytest.param([(0b00, 3), (0b11, 0)], ["inverted"] * 2, id="never written apart"),
        pytest.param([(0b01, 2), (0b10, 1)], ["crossed"] * 2, id="they differ"),
    ],
)
def test_bits_are_tied_only_where_all_that_was_read_agrees(pairs, states):
    assert [b.state for b in diagnose(pairs, 2)] == states


@pytest.mark.parametrize("width", [4, 8, 12])
def test_crossed_inverted_and_tied_bits_have_their_own_verdicts(width):
    """A walking bit, and what a lane with two wires changed over, one inverted, three tied makes of it."""
    walk = [*(1 << n for n in range(width)), 0, (1 << width) - 1, 0x555 & (1 << width) - 1]

    def crossed(w):
        a, b = w & 1, w >> 2 & 1
        return w & ~5 | a << 2 | b

    def tied(w):
        return w & ~7 | (7 if w & 7 == 7 else 0)

    assert words_for(diagnose([(w, crossed(w)) for w in walk], width)) == "bits 0 and 2 crossed"
    assert words_for(diagnose([(w, w ^ 2) for w in walk], width)) == "bit 1 inverted"
    three = words_for(diagnose([(w, tied(w)) for w in walk], width))
    assert three == "bits 0 and 1 and 2 tied among themselves"
    both = words_for(diagnose([(w, crossed(w) ^ 2) for w in walk], width))
    assert both == "bit 1 inverted, bits 0 and 2 crossed"


@pytest.mark.parametrize(("text", "count"), [("55 57", 1), ("55 57 AA AA 0 0", 3), ("0 1 2 3", 2)])
def test_words_in_turn_are_pairs(text, count):
    assert len(read_pairs(text, 8)) == count
