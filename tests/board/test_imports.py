"""Parts lists and netlists: what they name becomes parts, chips, lanes and rails; the rest is said."""

import re

import pytest
from msgspec.structs import replace

from bench_lamp.board import Profile, ProfileLibrary
from bench_lamp.board.change import Put
from bench_lamp.board.grow import begun, grown
from bench_lamp.board.netlist import (
    NetlistError,
    is_spice,
    netlist_changes,
    read_netlist,
    read_spice,
)
from bench_lamp.board.parts_list import is_parts_list, kind_by_letters, parts_changes, read_parts
from bench_lamp.report.spice import spice_text
from bench_lamp.views.workshop.pasting import read_paste

PARTS = """\
Reference, Value, Place
F1, "fuse, 8 A slow", upper row
"C1, C2, C5-C7", 100u 25V,
U3, 5 V regulator, on the fin
, nothing,
U3, again,
a!b, x,
"""
NETS = """\
(export (version D)
  (components
    (comp (ref U1) (value "work rom"))
    (comp (ref U2) (value "main cpu"))
    (comp (ref C4) (value "100n"))
    (comp (ref F1) (value "fuse 3 A")))
  (nets
    (net (code 1) (name "+5V") (node (ref U1) (pin 24)) (node (ref U2) (pin 40)) (node (ref C4) (pin 1)))
    (net (code 2) (name "GND") (node (ref U1) (pin 12)) (node (ref U2) (pin 20)) (node (ref C4) (pin 2)))
    (net (code 3) (name "/D0") (node (ref U1) (pin 9)) (node (ref U2) (pin 30)))
    (net (code 4) (name "/D1") (node (ref U1) (pin 10)) (node (ref U2) (pin 31)))
    (net (code 5) (name "/D2") (node (ref U1) (pin 11)) (node (ref U2) (pin 32)))
    (net (code 6) (name "/D3") (node (ref U1) (pin 13)) (node (ref U2) (pin 33)))
    (net (code 7) (name "/CS") (node (ref U1) (pin 18)) (node (ref U2) (pin 5)))
    (net (code 8) (name "Net-(F1-Pad1)") (node (ref F1) (pin 1)) (node (ref C4) (pin 3)))))
"""
SPICE = """\
* a small supply
V1 in 0 DC 12
R1 in mid 4k7
+ ; goes on
D1 mid out DX
XU1 in out 0 REG5
.end
"""


@pytest.fixture
def empty() -> Profile:
    return Profile(format="bench-lamp board 1", id="new", name="New", test_points=())


def loaded(tmp_path, changes) -> Profile:
    first = begun("Try one", tmp_path, {}).profile
    return grown(first.id, changes, tmp_path, ProfileLibrary(own=tmp_path).paths()).profile


def test_a_parts_list_names_parts_with_their_kind(tmp_path, empty):
    assert is_parts_list(PARTS)
    found = read_parts(PARTS)
    good = {p.id: (p.kind, p.name) for p in found if not p.problem}
    assert good["F1"] == ("fuse", "fuse, 8 A slow")
    assert {"C1", "C2", "C5", "C6", "C7"} <= set(good)
    assert good["U3"] == ("regulator", "5 V regulator")
    problems = {p.line: p.problem for p in found if p.problem}
    assert set(problems) == {5, 6, 7}
    assert "twice" in problems[6]
    made = loaded(tmp_path, parts_changes(found, empty))
    assert {p.id for p in made.parts} == set(good)
    assert next(p for p in made.parts if p.id == "F1").place == "upper row"


@pytest.mark.parametrize(
    ("name", "value", "kind"),
    [("F1", "", "fuse"), ("BR2", "", "rectifier"), ("C112", "", "capacitor"), ("SW1", "", "switch"),
     ("U3", "Regulator 5 V", "regulator"), ("U3", "", "chip"), ("R7", "", "other"), ("7", "", "other")],
)  # fmt: skip
def test_a_kind_by_the_letters_of_its_name(name, value, kind):
    assert kind_by_letters(name, value) == kind


def test_what_is_in_the_tree_stays(orrery):
    assert not parts_changes(read_parts("ref,value\nF4,other\n"), orrery)


def test_a_netlist_becomes_chips_lanes_rails_and_parts(tmp_path, empty):
    found = read_netlist(NETS)
    made = loaded(tmp_path, netlist_changes(found, empty))
    assert {c.id: c.family for c in made.chips} == {"U1": "rom", "U2": "cpu"}
    assert made.chip("U1").lines == ("D0", "D1", "D2", "D3", "CS")
    assert [(p.pin, p.line) for p in made.chip("U1").probes][:2] == [(9, "D0"), (10, "D1")]
    assert [(x.id, x.lines) for x in made.lanes] == [("D", ("D0", "D1", "D2", "D3"))]
    rail = made.point("+5V")
    assert (rail.assumed, rail.design.low, rail.place) == (True, 4.75, "U1 pin 24")
    assert made.grounds["gnd"].net == "GND"
    assert {p.id: p.kind for p in made.parts} == {"C4": "capacitor", "F1": "fuse"}
    assert made.has_suspects, "the logic reasons at once"


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("(export (components", "bracket is missing"),
        ("(a))", "bracket too many"),
        ("(a)", "no parts"),
        ("(" * 60 + ")" * 60, "too deep"),
        ("(x" + "y" * 5_000_001 + ")", "too long"),
    ],
)
def test_a_netlist_that_is_none_is_refused(text, says):
    with pytest.raises(NetlistError, match=says) as caught:
        read_netlist(text)
    assert caught.value.hint


def test_spice_text_names_parts_and_nets():
    assert is_spice(SPICE)
    assert not is_spice(PARTS)
    assert not is_spice("TP1, 5\nTP2, 12\n")
    found = read_spice(SPICE)
    assert found.parts == {"V1": "DC", "R1": "4k7", "D1": "DX", "U1": "REG5"}
    assert {r for r, _, _ in found.nets["out"]} == {"D1", "U1"}
    assert found.is_return("0")


def test_a_paste_is_read_as_what_it_is(empty):
    assert read_paste(NETS, empty).what == "2 parts, 2 chips, 1 lane, 1 point"
    assert read_paste(PARTS, empty).what == "7 parts"
    assert read_paste("TP1, 5\n", empty).what == "1 point"
    bad = read_paste("(export (components", empty)
    assert not bad.changes
    assert "bracket" in bad.problems[0]


@pytest.mark.parametrize("profile_id", sorted(ProfileLibrary().paths()))
def test_the_tree_goes_out_as_spice_text_that_is_read_again(profile_id):
    profile = ProfileLibrary().get(profile_id)
    text = spice_text(profile)
    assert text.isascii()
    assert text.endswith(".end\n")
    assert len(read_spice(text).parts) > 5
    words = set(re.split(r"[\s,:]+", text))
    for block in profile.power:
        plain = re.sub(r"\W", "_", block.id)
        assert any(w[1:] == plain or w.startswith((f"D{plain}_", block.id)) for w in words if w), (
            block.id
        )


def test_a_bridge_goes_out_as_four_diodes_over_a_floating_winding(orrery):
    text = spice_text(orrery)
    assert "DBR1_1 ac_logic raw_logic DR" in text
    assert "DBR1_2 sec_logic_b raw_logic DR" in text
    # By hand: 9.3 V RMS are 13.15 V at their peak.
    assert "Vsec_logic sec_logic_s sec_logic_b SIN(0 13.15 50)" in text
    # 5.05 V over 1.1 A are 4.545 Ω; the load hangs on a net of 5 V.
    assert "RCPU cpu5 0 4.545" in text


def test_a_negative_half_wave_is_turned_round():
    text = spice_text(replace(ProfileLibrary().get("ostrel-8")))
    assert "DD3 rawm secm DR" in text
    assert isinstance(netlist_changes(read_spice(text), ProfileLibrary().get("ostrel-8"))[0], Put)
