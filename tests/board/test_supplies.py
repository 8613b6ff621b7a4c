"""Whole supplies, blocks that are changed by a line, and tables of points: each loads as it is."""

import pytest

from bench_lamp.board import FeedTree, Profile, ProfileLibrary
from bench_lamp.board.block_entry import block_said, values_of
from bench_lamp.board.blocks import Load, Transformer
from bench_lamp.board.change import Drop, Put, point_put
from bench_lamp.board.grow import begun, grown
from bench_lamp.board.point_table import read_table, table_changes
from bench_lamp.board.supply.kinds import KINDS, kind_of
from bench_lamp.board.supply.putting import supply_said
from bench_lamp.board.supply.usual_parts import (
    fuse_amps,
    rated_volts,
    reservoir_farads,
    winding_volts,
)
from bench_lamp.circuit import compile_tree
from bench_lamp.errors import BenchLampError


class Desk:
    """A profile that is described step by step, each step loaded from its file."""

    def __init__(self, own) -> None:
        self.own = own
        self.profile: Profile = begun("Try one", own, {}).profile

    def do(self, *changes) -> Profile:
        paths = ProfileLibrary(own=self.own).paths()
        self.profile = grown("try-one", changes, self.own, paths).profile
        return self.profile

    def add(self, kind: str, text: str) -> Profile:
        return self.do(*supply_said(kind_of(kind), text, self.profile))

    def say(self, block: str, text: str) -> Profile:
        return self.do(*block_said(self.profile, self.profile.block(block), text))

    def way(self, net: str) -> list[str]:
        return [b.id for b in FeedTree.of(self.profile).upstream(net)]


@pytest.fixture
def desk(tmp_path):
    return Desk(tmp_path)


def test_every_kind_of_supply_goes_in_by_its_own_example_and_is_solved(desk):
    for kind in KINDS[:-1]:
        desk.add(kind.id, kind.example)
    desk.add("mains", KINDS[-1].example)
    tree = compile_tree(desk.profile)
    assert len(tree.parts) == 7, "six windings, and the adapter"
    loads = [b for b in desk.profile.power if isinstance(b, Load)]
    assert all(FeedTree.of(desk.profile).upstream(b.net) for b in loads)
    assert [o.volts for o in desk.profile.mains] == [230, 115]
    assert str(desk.profile.block(desk.profile.mains_fuse).rating) == "1.6\u202fA slow"


def test_a_linear_supply_is_the_chain_that_its_name_says(desk):
    desk.add("linear", "5V 3A from 9V~")
    net = desk.profile.point("5V").net
    assert desk.way(net) == ["X1", "F1", "T1", "F2", "BR1", "C1", "U1", "J1.1"]
    assert desk.profile.block("T1").to == {"w9": 9.0}
    desk.add("linear", "12V 1A")
    assert len([b for b in desk.profile.power if isinstance(b, Transformer)]) == 1, (
        "one transformer"
    )
    assert desk.profile.block("T1").to == {"w9": 9.0, "w15_5": 15.5}


def test_what_was_said_before_takes_its_place_in_the_supply(desk):
    ground = Put(("grounds", "lug"), {"net": "gnd", "place": "the lug"})
    point = {"net": "5V", "black": "lug", "mode": "dc V"}
    desk.do(
        ground,
        point_put("MAIN5", **point | {"net": "MAIN5", "name": "logic", "nominal": "5.05 V"}),
        point_put("MAIN5-raw", **point | {"net": "MAIN5-raw", "name": "raw"}),
        Put(("parts", "U7"), {"name": "regulator", "kind": "regulator", "feeds": "MAIN5"}),
        Put(("parts", "F4"), {"name": "fuse", "kind": "fuse"}),
    )
    found = desk.add("linear", "5V 3A")
    assert desk.way(found.point("MAIN5").net)[-5:] == ["F4", "BR1", "C1", "U7", "J1.1"]
    assert found.point("MAIN5-raw").net == "raw5"
    assert found.point("MAIN5").black == "lug"
    assert not found.parts
    assert len(found.test_points) == 2


@pytest.mark.parametrize(
    ("kind", "text", "says"),
    [
        ("linear", "3A", "How many volts"),
        ("linear", "5V 900A", "no supply"),
        ("linear", "5V from banana", "no net, point or block"),
        ("step-up", "31.5V", "Fed from which"),
        ("step-up", "5V from 12V", "no step-up"),
        ("step-down", "31.5V from 12V", "no step-down"),
        ("negative", "12V 1A", "below 0"),
        ("zener", "15V from 12V", "no more volts"),
        ("sense", "U77 from 12V", "Which regulator"),
        ("mains", "230V", "names no"),
        ("mains", "", "Which volts"),
    ],
)
def test_a_supply_that_cannot_be_is_refused_with_how_it_is_written(desk, kind, text, says):
    desk.add("linear", "12V 1A")
    with pytest.raises(BenchLampError, match=says) as caught:
        supply_said(kind_of(kind), text, desk.profile)
    assert caught.value.hint


@pytest.mark.parametrize(
    ("work", "value"),
    [
        # By hand: (5 + 4 + 2 × 0.9) / 1.15 = 9.4, to half a volt 9.5.
        (lambda: winding_volts(5, regulated=True, drops=2), 9.5),
        (lambda: winding_volts(-12, regulated=True, drops=1), 14.5),
        # 1 A for 10 ms at 1.5 V of ripple are 6667 µF; half wave, twice as long a gap.
        (lambda: reservoir_farads(1.0, 9.0), 6800e-6),
        (lambda: reservoir_farads(1.0, 9.0, half_wave=True), 15000e-6),
        # 50 V: 6 % are 3 V: 4 A × 10 ms / 3 V = 13300 µF.
        (lambda: reservoir_farads(4.0, 50.0), 15000e-6),
        # 9 V × √2 × 1.2 × 1.1 = 16.8 V.
        (lambda: rated_volts(9.0), 25.0),
        # 1.7 × 3 A × 1.25 = 6.4 A.
        (lambda: fuse_amps(1.7 * 3), 8.0),
    ],
)
def test_usual_values_by_hand(work, value):
    assert work() == pytest.approx(value)


@pytest.mark.parametrize(
    ("block", "text", "now"),
    [
        ("F2", "5 A fast", "5\u202fA fast"),
        ("C1", "10000u 16V", "10000\u202fµF, 16\u202fV"),
        ("C1", "4700 uF", "4700\u202fµF, 25\u202fV"),
        ("U1", "5.05 V 2 A", "5.05\u202fV, 2\u202fA"),
        ("T1", "9.3V", "w9 9.3\u202fV"),
        ("T1", "w9 8.8 V", "w9 8.8\u202fV"),
        ("LOAD1", "1.1 A", "1.1\u202fA"),
        ("LOAD1", "0.9", "0.9\u202fA"),
        ("X1", "115 V 60 Hz", "115\u202fV, 60\u202fHz, mains"),
    ],
)
def test_a_block_is_changed_by_typing_its_values(desk, block, text, now):
    desk.add("linear", "5V 3A from 9V~")
    assert values_of(desk.say(block, text).block(block)) == now


def test_blocks_go_in_behind_others_and_what_they_feed_follows(desk):
    desk.add("linear", "5V 3A from 9V~")
    net = desk.profile.point("5V").net
    desk.say("C1", "W3 wire")
    desk.say("W3", "S2 switch")
    desk.say("U1", "C9 decoupling 47u tantalum")
    desk.say("J1.1", "FAN load 0.1 A")
    assert desk.way(net)[-5:] == ["C1", "W3", "S2", "U1", "J1.1"]
    assert desk.profile.block("C9").net == desk.profile.block("U1").to
    assert desk.profile.block("FAN").net == net
    desk.say("W3", "remove")
    assert desk.way(net)[-4:] == ["C1", "S2", "U1", "J1.1"]
    desk.say("J1.1", "remove")
    assert desk.way(desk.profile.point("5V").net)[-1] == "U1"
    compile_tree(desk.profile)


def test_a_block_is_called_otherwise_wherever_it_is_named(desk):
    desk.add("linear", "5V 3A")
    desk.add("sense", "U1 from 5V")
    desk.say("U1", "call Q7")
    desk.say("F1", "call FX")
    assert desk.profile.block("SENSE1").of == "Q7"
    assert desk.profile.mains_fuse == "FX"
    assert desk.say("FX", "at the rear").block("FX").place == "the rear"


@pytest.mark.parametrize(
    ("block", "text", "says"),
    [
        ("F2", "banana", "names no speed"),
        ("C1", "5 A", "says nothing about C1"),
        ("T1", "remove", "feeds F2"),
        ("U1", "call F2", "another part"),
        ("U1", "F2 pin", "in the tree already"),
        ("U1", "a!b pin", "cannot be a name"),
        ("BR1", "12 V", "says nothing about BR1"),
        ("T1", "w7 9V", "Which winding"),
    ],
)
def test_a_line_that_says_nothing_is_refused(desk, block, text, says):
    desk.add("linear", "5V 3A from 9V~")
    with pytest.raises(BenchLampError, match=says) as caught:
        block_said(desk.profile, desk.profile.block(block), text)
    assert caught.value.hint


BAR = """\
Point | Nominal | Limits | Place
------|---------|--------|------
TP1 | 5 V | 4.75-5.25 | U1 pin 3
TP2 | -12V | ±5% | J2
TP3 | 6.3V~ | |
TP4 | banana | |
TP5 | 31.6 | 28 to 36 | C14
TP1 | 5 | | again
"""


@pytest.mark.parametrize(
    ("text", "points", "problems"),
    [
        (BAR, {"TP1": "4.75..5.25", "TP2": "-12.6..-11.4", "TP3": "5.67..6.93", "TP5": "28..36"},
         {6: "is not a reading", 8: "twice"}),
        ("TP1, 5 V, 4.8..5.2, \"U1, pin 3\"\nTP2; 12 V; 11..13\n", {"TP1": "4.8..5.2", "TP2": "11..13"}, {}),
        ("name\tpoint\tmin\tmax\nlogic\tA\t4.75\t5.25\n", {"A": "4.75..5.25"}, {}),
        ("A  5.05 V  4.8..5.2  lower left\n", {"A": "4.8..5.2"}, {}),
        ("+5V\n+12V\n", {"+5V": "4.75..5.25", "+12V": "11.4..12.6"}, {}),
        ("a!b, 5\nTP7, 5, 6..4\nTP8, , ±5%\n", {"TP7": "4..6"}, {1: "cannot be the name", 3: "nominal is missing"}),
        ("TP1, 5, , , x\n", {"TP1": "4.75..5.25"}, {}),
    ],
)  # fmt: skip
def test_a_table_becomes_points_and_each_bad_line_is_named(desk, text, points, problems):
    table = read_table(text, desk.profile)
    assert {r.id: r.fields.get("design") for r in table.good if r.id in points} == points
    assert {r.line for r in table.bad} == set(problems)
    assert all(problems[r.line] in r.problem for r in table.bad)
    found = desk.do(*table_changes(table, desk.profile))
    assert {p.id: str(p.design) for p in found.test_points if p.id in points} == points


def test_a_table_that_is_too_long_is_refused_at_once(desk):
    assert read_table("TP1, 5\n" * 20_000, desk.profile).bad
    assert read_table("\n".join(f"TP{n}, 5" for n in range(600)), desk.profile).bad
    assert not read_table("", desk.profile).rows


def test_a_point_of_a_table_that_is_known_is_only_changed(desk):
    desk.add("linear", "5V 3A")
    net = desk.profile.point("5V").net
    found = desk.do(
        *table_changes(read_table("5V, 5.05, 4.8..5.3, C3\n", desk.profile), desk.profile)
    )
    assert (found.point("5V").net, found.point("5V").nominal, found.point("5V").place) == (
        net,
        5.05,
        "C3",
    )


def test_dropping_what_is_not_there_changes_nothing(desk):
    assert desk.do(Drop(("parts", "nothing"))) == desk.profile
