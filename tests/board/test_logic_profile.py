"""Chips, lanes, self-tests and images in a profile: what is refused, with its line and its mend."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from bench_lamp.board import ProfileError, load_profile
from bench_lamp.board.written import parse_lines
from bench_lamp.errors import BenchLampError
from bench_lamp.logic.graph import LogicGraph, good_code

HEAD = """\
format: bench-lamp board 1
id: small
name: Small
grounds: {gnd: {net: gnd, place: screw}}
test_points:
  - {id: A, name: five, net: five, black: gnd, mode: dc V, nominal: 5 V, design: 4.75..5.25}
"""
CHIPS = """\
chips:
  - {id: U1, name: port, family: io, pins: 40, lines: "PA0..3 CS"}
  - {id: M0, name: memory 0, family: ram, lines: MD0}
  - {id: M1, name: memory 1, family: ram, lines: MD1}
  - {id: J1, name: plug, family: connector, lines: PA0..3}
"""


def load(tmp_path, text):
    path = tmp_path / "small.board.yaml"
    path.write_text(HEAD + text)
    return load_profile(path)


GOOD = (
    CHIPS
    + """\
lanes: [{id: PA, name: port A, lines: PA0..3}]
images: [{id: R, part: U1, size: 4, crc32: 0badcafe}]
self_tests:
  - {id: b, name: blinks, kind: blinks, steps: [{proves: runs, parts: [U1]}], codes: [{code: SL, means: x, lines: CS}]}
  - {id: p, name: program, kind: program, good: OK, codes: [{code: A, means: x, parts: [M0]}]}
  - {id: m, name: memory, kind: memory, data: MD0..1, letters: AB,
     banks: [{id: k, name: k, chips: [M0, M1], select: CS}]}
  - {id: s, name: keys, kind: switches, rows: [{line: PA0, drive: U1}], columns: [{line: PA1}, {line: PA2}],
     not_fitted: ["1.2"]}
  - {id: d, name: digits, kind: displays,
     displays: [{id: D1, name: d, strobes: PA0..1, segments: "CS CS CS CS CS CS CS"}]}
  - {id: c, name: coils, kind: coils,
     steps: [{id: K1, name: k, parts: [U1], lines: PA3}, {id: K2, name: k, fitted: false}]}
  - {id: t, name: settings, kind: settings, kept_by: [M0], set_again: [one]}
"""
)


def test_every_kind_of_self_test_is_read(tmp_path):
    profile = load(tmp_path, GOOD)
    assert [t.kind for t in profile.self_tests] == [
        "blinks", "program", "memory", "switches", "displays", "coils", "settings",
    ]  # fmt: skip
    assert [good_code(t) for t in profile.self_tests] == ["1", "OK", *["good"] * 5]
    graph = LogicGraph.of(profile)
    assert graph.all_units("m") == {"1.0", "1.1"}
    assert graph.all_units("s") == {"1.1"}
    assert graph.all_units("c") == {"K1"}
    assert len(graph.all_units("d")) == 14
    assert graph.units["m"]["CS"] == {"1.0", "1.1"}
    assert graph.units["m"]["MD1"] == {"1.1"}
    assert graph.chips["S11"].family == "switch"
    assert set(profile.part_ids()) >= {"U1", "M0", "J1", "S11"}
    memory = profile.self_test("m")
    assert [memory.letter_of(c) for c in ("1.0", "1.1")] == ["A", "B"]
    assert [memory.cell_of(x) for x in ("a", "B", "C", "AB", "")] == ["1.0", "1.1", "", "", ""]


#: Name, what stands in the profile, the field that is named, and what is said of it.
WRONG = """\
lane-line | lanes: [{id: PA, name: a, lines: PB0..1}] | lanes[0].lines | did you mean “PA0”
empty-lane | lanes: [{id: PA, name: a, lines: ''}] | lanes[0].lines | 1 to 32 bits
long-range | lanes: [{id: PA, name: a, lines: PA0..99}] | lanes[0].lines | At most 64
step-part | self_tests: [{%b, steps: [{proves: x, parts: [U9]}]}] | self_tests[0] | no part is called “U9”
code-line | self_tests: [{%b, codes: [{code: x, means: x, lines: ZZ}]}] | self_tests[0] | no signal line is called “ZZ”
no-good | self_tests: [{id: p, name: p, kind: program, codes: []}] | self_tests[0].good | missing
no-such-kind | self_tests: [{id: p, name: p, kind: hologram}] | self_tests[0].kind | 'blinks', 'beeps'
no-such-field | self_tests: [{%b, stepz: []}] | self_tests[0].stepz | no field
uneven-banks | self_tests: [{%m, banks: [{%k, chips: [M0]}, {%k, chips: [M0, M1]}]}] | self_tests[0].banks | same number
letters | self_tests: [{%m, letters: ABC, banks: [{%k, chips: [M0, M1]}]}] | self_tests[0].letters | 3 letters for 2
data-lines | self_tests: [{%m, data: MD0, banks: [{%k, chips: [M0, M1]}]}] | self_tests[0].data | 1 lines for 2 bits
no-rows | self_tests: [{%s, rows: [], columns: [{line: PA0}]}] | self_tests[0].rows | 1 to 32
off-the-grid | self_tests: [{%s, %g, not_fitted: ['2.1']}] | self_tests[0] | “2.1” is no cell
no-numbers | self_tests: [{%s, %g, names: {'one': x}}] | self_tests[0] | write row.column
drive | self_tests: [{%s, rows: [{line: PA1, drive: U7}], columns: [{line: PA0}]}] | self_tests[0] | “U7”
segments | self_tests: [{%d, displays: [{id: D, name: d, strobes: PA0, segments: PA0..3}]}] | self_tests[0] | seven
step-line | self_tests: [{id: c, name: c, kind: coils, steps: [{id: K, name: k, lines: QQ}]}] | self_tests[0] | “QQ”
kept-by | self_tests: [{%t, kept_by: [BT9]}] | self_tests[0] | “BT9”
twice | self_tests: [{%t}, {%t}] | self_tests[1].id | stands here twice
image-part | images: [{id: R, part: U8, size: 4, crc32: 0badcafe}] | images[0].part | “U8”
image-size | images: [{%i, size: 0, crc32: 0badcafe}] | images[0].size | 16 MiB
image-crc | images: [{%i, size: 4, crc32: xyz}] | images[0].crc32 | 8 hex digits
image-sha | images: [{%i, size: 4, crc32: 0badcafe, sha1: ab}] | images[0].sha1 | 40 hex
image-path | images: [{%i, size: 4, crc32: 0badcafe, file: ../../secret}] | images[0].file | without a path
image-odd | images: [{%i, size: 4, crc32: 0badcafe, odd: Q}] | images[0].odd | “Q”
"""
SHORT = {
    "%b": "id: b, name: b, kind: blinks", "%m": "id: m, name: m, kind: memory", "%k": "id: k, name: k",
    "%s": "id: s, name: s, kind: switches", "%g": "rows: [{line: PA1}], columns: [{line: PA0}]",
    "%d": "id: d, name: d, kind: displays", "%t": "id: t, name: t, kind: settings", "%i": "id: R, part: U1",
}  # fmt: skip


def wrong_profiles():
    for row in WRONG.splitlines():
        name, text, field, says = row.split(" | ")
        for short, long in SHORT.items():
            text = text.replace(short, long)
        yield pytest.param(text, field, says, id=name.strip())


@pytest.mark.parametrize(("text", "field", "says"), list(wrong_profiles()))
def test_a_contradiction_names_its_field_and_its_mend(tmp_path, text, field, says):
    with pytest.raises(ProfileError) as error:
        load(tmp_path, CHIPS + text)
    problem = error.value.problems[0]
    assert problem.field.startswith(field)
    assert says in problem.message
    assert problem.line > 7


def test_a_supply_must_be_a_net_of_the_tree_where_there_is_one(tmp_path):
    power = "power: [{id: X, kind: inlet, to: five, volts: 230 V}]\n"
    load(tmp_path, power + CHIPS.replace("pins: 40", "pins: 40, supply: five"))
    with pytest.raises(ProfileError, match="no net is called “fife”; did you mean “five”"):
        load(tmp_path, power + CHIPS.replace("pins: 40", "pins: 40, supply: fife"))


@given(st.integers(0, 40), st.integers(0, 40), st.sampled_from(["D", "PA", "A_"]))
def test_a_range_of_lines_is_spelt_out_both_ways(first, last, head):
    names = parse_lines(f"{head}{first}..{last}")
    assert len(names) == abs(last - first) + 1
    assert (names[0], names[-1]) == (f"{head}{first}", f"{head}{last}")
    assert parse_lines(" ".join(names)) == names


def test_a_range_that_is_no_lane_any_more_is_refused():
    with pytest.raises(BenchLampError, match="1001 lines"):
        parse_lines("A0..1000")


@pytest.mark.parametrize("name", ["ostrel-8", "ardvane-cinder-dunes", "tessenby-orrery-nights"])
def test_the_shipped_profiles_hang_together(library, name):
    profile = library.get(name)
    graph = LogicGraph.of(profile)
    lines = {line for found in graph.touches.values() for line in found if "/" not in line}
    driven = [line for found in graph.drives.values() for line in found if "/" not in line]
    plugs = {c.id for c in profile.chips if c.family == "connector"}
    alone = [
        line
        for part, found in graph.drives.items()
        if part not in plugs
        for line in found
        if "/" not in line
    ]
    assert set(driven) == lines
    assert len(alone) == len(set(alone)), "each line has one driver"
    for chip in profile.chips:
        assert all(near in graph.chips for near in chip.near)
        assert all(
            1 <= pin.pin <= chip.pins and (not pin.line or pin.line in chip.lines)
            for pin in chip.probes
        )
    assert profile.donor
