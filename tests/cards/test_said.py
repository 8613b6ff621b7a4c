"""What is said of a point: the point exists, with what was said, and at most one question."""

import pytest
from msgspec.structs import replace

from bench_lamp.board import Ground, Profile
from bench_lamp.board.change import point_put
from bench_lamp.cards.card import Accepted, Asked, Refused
from bench_lamp.cards.said import Said, read_said, take_said
from bench_lamp.cards.said_part import take_said_part
from bench_lamp.units import Band
from bench_lamp.views.find import catalogue, search

TWO = {
    "gnd": Ground(net="gnd", place="the lug"),
    "hv": Ground(net="hv", place="C9", name="hot ground"),
}


@pytest.fixture
def sketch() -> Profile:
    return Profile(format="bench-lamp board 1", id="new", name="New", test_points=())


@pytest.fixture
def at_bench(make_job, sketch):
    """Return a maker of a live job on a profile without points, with these grounds."""

    def make(**grounds: Ground):
        job = make_job(replace(sketch, grounds=grounds))
        job.switch("live")
        return job.seen()

    return make


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("5V 5.08", Said(name="5V", value="5.08")),
        ("C14+ 31.6 gnd", Said(name="C14+", value="31.6", ground="gnd")),
        ("TP3 12~", Said(name="TP3", value="12~")),
        ("-5 at J2.4 -5.18", Said(name="-5", place="J2.4", value="-5.18")),
        (
            "A at J2 pin 4 5,08 V chassis",
            Said(name="A", place="J2 pin 4", value="5,08 V", ground="chassis"),
        ),
        ("TP3 4.75..5.25", Said(name="TP3", limits=Band(4.75, 5.25))),
        (
            "TP3 at C9 4.75..5.25 gnd",
            Said(name="TP3", place="C9", limits=Band(4.75, 5.25), ground="gnd"),
        ),
        ("TP3 OL", Said(name="TP3", value="OL")),
        ("5.08", None),
        ("5 08", None),
        ("12 V", None),
        ("F4 open", None),
        ("hello world", None),
        ("TP3 5..4", None),
    ],
)
def test_a_line_is_taken_apart(sketch, text, said):
    assert read_said(text, sketch) == said


@pytest.mark.parametrize(
    ("text", "fields", "value"),
    [
        (
            "5V 5.08",
            {"nominal": "5 V", "design": "4.75..5.25", "assumed": True, "place": "5V"},
            5.08,
        ),
        (
            "C14+ 31.6 gnd",
            {"nominal": None, "design": None, "assumed": None, "place": "C14+"},
            31.6,
        ),
        ("TP3 12~", {"mode": "ac V", "design": None}, 12.0),
        ("-5 at J2.4 -5.18", {"nominal": "-5 V", "design": "-5.5..-4.5", "place": "J2.4"}, -5.18),
    ],
)
def test_a_reading_makes_its_point_and_ground(at_bench, text, fields, value):
    answer = take_said(*at_bench(), text)
    ground, point = answer.grow
    assert ground.where == ("grounds", "gnd")
    assert {k: point.value[k] for k in fields} == fields
    assert point.value["black"] == "gnd"
    assert (answer.log[0].value, answer.log[0].target) == (value, point.where[1])


def test_which_ground_is_asked_once_where_there_are_two(at_bench):
    asked = take_said(*at_bench(**TWO), "5V 5.08")
    assert isinstance(asked, Asked)
    assert [c.text for c in asked.choices] == ["gnd", "hot ground"]
    (put,) = asked.choices[1].grow
    assert (put.value["black"], asked.choices[1].again) == ("hv", True)
    assert take_said(*at_bench(**TWO), "5V 5.08 hv").grow[-1].value["black"] == "hv"


def test_a_reading_that_needs_the_power_asks_for_it_first(make_job, sketch):
    asked = take_said(*make_job(sketch).seen(), "5V 5.08")
    live, off = asked.choices
    assert live.again
    assert not live.grow
    assert off.grow


@pytest.mark.parametrize(
    ("text", "answer", "says"),
    [
        ("C 18.2", Accepted, ""),
        ("C 18.2 gnd", Refused, "is read against"),
        ("TP99 12.1", Asked, "is new here"),
        ("TP99 12.1 frame", Asked, "is no point of this profile"),
        ("12! 5.1", type(None), ""),
        ("a!b 5.1", Refused, "cannot be a name"),
        ("C 4.7k", Asked, "kV"),
        ("C 4.7 ohm", Refused, "live board"),
    ],
)
def test_on_a_described_board_a_slip_is_asked_about(job, text, answer, says):
    job.switch("live")
    found = take_said(*job.seen(), text)
    assert isinstance(found, answer)
    assert says in getattr(found, "what", getattr(found, "question", ""))


def test_limits_that_are_said_are_no_longer_assumed(at_bench):
    new = take_said(*at_bench(), "5V 4.8..5.2")
    assert new.grow[-1].value["assumed"] is None
    assert new.grow[-1].value["design"] == "4.8..5.2"
    assert not new.log


def test_limits_of_a_known_point_replace_its_own(job):
    assert take_said(*job.seen(), "A 4.9..5.1").grow == (
        point_put("A", design="4.9..5.1", assumed=None),
    )
    far = take_said(*job.seen(), "A 11..13").grow[0].value
    assert far["nominal"] is None


@pytest.mark.parametrize(
    ("text", "kind", "feeds", "name"),
    [
        ("F9 fuse 8 A slow", "fuse", "A", "fuse 8 A slow"),
        ("BR9 bridge for C", "rectifier", "C", "bridge"),
        ("U9 regulator", "regulator", "A", "regulator"),
    ],
)
def test_a_part_is_named_as_one_says_it(job, text, kind, feeds, name):
    put = take_said_part(job.seen().case, text, rail="A").grow[0]
    assert put.where[0] == "parts"
    assert put.value == {"name": name, "kind": kind, "feeds": feeds}


def test_a_part_of_the_tree_or_for_no_rail_is_refused(job):
    case = job.seen().case
    assert "in the tree" in take_said_part(case, "F4 fuse").what
    assert "no point" in take_said_part(case, "F9 fuse for XX").what
    assert take_said_part(case, "C 18.2") is None


def test_other_names_of_a_net_are_the_same_rail(make_job, orrery):
    job = make_job(replace(orrery, aliases={"VCC": "logic5", "MAIN5": "cpu5"}))
    job.switch("live")
    assert take_said(*job.seen(), "vcc 5.01").log[0].target == "A"
    assert take_said(*job.seen(), "logic5 5.01").log[0].target == "A"
    assert take_said(*job.seen(), "MAIN5 5.01").log[0].target == "L1"
    found = [f.title for f in search(catalogue((), job.seen().case, ()), "vcc")]
    assert found[0].startswith("A ")
