"""The workshop's cards and answers: what is said becomes a change, and the card says what is known."""

import pytest
from msgspec.structs import replace

from bench_lamp.board import ProfileLibrary
from bench_lamp.board.blocks import Converter
from bench_lamp.cards.card import Accepted, Asked, Refused
from bench_lamp.views.workshop.answers import chosen, take_workshop
from bench_lamp.views.workshop.cards import workshop_card
from bench_lamp.views.workshop.choosing import take_kind
from bench_lamp.views.workshop.knowledge import knowledge, next_piece
from bench_lamp.views.workshop.picture import workshop_rows
from bench_lamp.views.workshop.rails import duty, rail_words


@pytest.mark.parametrize(
    ("focus", "text", "where", "fields"),
    [
        ("", "TP77 12", ("test_points", "TP77"), {"nominal": "12 V", "design": "11.4..12.6", "assumed": True}),
        ("", "TP77 at J9 6.3~", ("test_points", "TP77"), {"mode": "ac V", "place": "J9", "design": "5.67..6.93"}),
        ("", "TP77 4.4..5 hv", ("test_points", "TP77"), {"design": "4.4..5", "black": "hv", "assumed": None}),
        ("", "A 4.9..5.1", ("test_points", "A"), {"design": "4.9..5.1"}),
        ("", "F77 fuse 2 A fast", ("parts", "F77"), {"kind": "fuse"}),
        ("", "ground lug at the large can", ("grounds", "lug"), {"place": "the large can"}),
        ("", "ground frame at the left edge", ("grounds", "frame"), {"net": "gnd"}),
        ("A", "5.1", ("test_points", "A"), {"nominal": "5.1 V"}),
        ("A", "at the far pad", ("test_points", "A"), {"place": "the far pad"}),
        ("A", "practice 4.9..5.2", ("test_points", "A"), {"practice": "4.9..5.2"}),
        ("A", "printed SENSE", ("test_points", "A"), {"printed": "SENSE"}),
        ("A", "on C1", ("test_points", "A"), {"net": "raw_logic"}),
        ("A", "black frame", ("test_points", "A"), {"black": "frame"}),
        ("A", "alias VCC", ("aliases", "VCC"), None),
        ("A", "AC", ("test_points", "A"), {"mode": "ac V"}),
        ("U1", "5.1 V", ("power", "U1"), {"volts": "5.1 V"}),
        ("U1", "XX 4.9..5.1 frame", ("test_points", "XX"), {"net": "logic5", "design": "4.9..5.1"}),
    ],
)  # fmt: skip
def test_what_is_said_is_a_change(job, focus, text, where, fields):
    answer = take_workshop(*job.seen(focus=focus), text)
    assert isinstance(answer, Accepted), answer
    assert not answer.log
    put = answer.grow[-1]
    assert put.where == where
    if fields is None:
        assert put.value == job.profile.point(focus).net
    else:
        assert {k: put.value.get(k) for k in fields} == fields


@pytest.mark.parametrize(
    ("focus", "text", "says"),
    [
        ("", "", "Nothing was said"),
        ("", "banana", "says nothing"),
        ("A", "banana", "is not a reading"),
        ("A", "on banana", "no net"),
        ("A", "black banana", "no ground"),
        ("A", "practice 5", "not a band"),
        ("A", "alias V CC", "one word"),
        ("U1", "banana", "says nothing about U1"),
        ("T1", "remove", "Remove these first"),
    ],
)
def test_what_is_not_understood_is_refused_with_the_mend(job, focus, text, says):
    answer = take_workshop(*job.seen(focus=focus), text)
    assert isinstance(answer, Refused)
    assert says in f"{answer.what} {answer.mend}"
    assert answer.mend


def test_a_supply_is_chosen_said_and_put_in(job):
    seen = job.seen(draft={"choose": "supply"})
    kinds = workshop_card(*seen).choices
    assert len({c.key for c in kinds}) == len(kinds) == 12
    seen = seen.but(draft=dict(kinds[0].draft))
    assert workshop_card(*seen).title == "Linear supply"
    answer = take_workshop(*seen, "8V 1A")
    assert (answer.draft, answer.focus) == ({}, "")
    assert any(c.where == ("power", "T1") for c in answer.grow)
    assert "volts" in take_workshop(*seen, "1A").what


def test_a_table_is_shown_before_it_is_taken(job):
    text = "TP77, 12\nTP78, banana\n"
    seen = job.seen(draft={"paste": text})
    card = workshop_card(*seen)
    assert card.title == "1 point in what was pasted"
    assert "banana" in " ".join(card.why)
    assert [r.token for r in workshop_rows(*seen).rows] == ["text", "high"]
    assert [c.where[1] for c in chosen(seen.case, card.choices[0].draft)] == ["TP77"]
    none = workshop_card(*job.seen(draft={"paste": "!, !"}))
    assert not none.choices


def test_what_it_knows_and_what_more_would_do(job, ruskel):
    full = {k.name: k.have for k in knowledge(job.profile)}
    assert full["power tree"] == f"{len(job.profile.power)} blocks"
    assert all(full.values())
    assert next_piece(job.profile) is None
    empty = replace(ruskel, test_points=(), power=(), mains=())
    assert next_piece(empty).name == "points"
    assert next_piece(replace(ruskel, power=())).name == "fuses and parts"
    assumed = replace(ruskel.test_points[0], assumed=True)
    some = replace(ruskel, test_points=(assumed, *ruskel.test_points[1:]))
    assert {k.name: k.have for k in knowledge(some)}["limits"] == "4 points, 1 assumed"


@pytest.mark.parametrize(
    ("source", "volts", "steps_up", "share"),
    [
        # By hand: 5/12; 1 - 12/31.5; 5/(5 + 12).
        (12, 5, False, 0.4167),
        (12, 31.5, True, 0.6190),
        (12, -5, False, 0.2941),
        (5, 12, False, 1.0),
    ],
)
def test_the_duty_that_a_converter_s_volts_imply(source, volts, steps_up, share):
    assert duty(source, volts, steps_up=steps_up) == pytest.approx(share, abs=1e-4)


def test_a_rail_says_what_makes_it_and_what_it_feeds(make_job):
    profile = ProfileLibrary().get("larkmoor-24")
    case = make_job(profile).seen().case
    converter = next(b for b in profile.power if isinstance(b, Converter))
    words = " ".join(rail_words(case, converter.to))
    assert f"→ {converter.id}" in words
    assert "its switch is on for about" in words
    assert rail_words(case, "no such net") == ()


def test_a_kind_is_chosen_by_name_or_begun(orrery, ruskel):
    asked = take_kind("orr", (orrery, ruskel))
    assert isinstance(asked, Asked)
    assert [c.draft for c in asked.choices] == [{"describe": orrery.id}, {"begin": "orr"}]
    assert take_kind("…", (orrery,)).mend


def test_every_block_and_point_has_its_card(job):
    for name in (*(b.id for b in job.profile.power), *(p.id for p in job.profile.test_points)):
        card = workshop_card(*job.seen(focus=name))
        assert card.title.startswith(name)
        assert card.entry is not None
