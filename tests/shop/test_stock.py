"""The shop's parts: levels folded from movements, the table both ways, what is offered for a place."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from bench_lamp.case.shop_parts import fitting_stock, pair_words, shop_words
from bench_lamp.journal import JobState
from bench_lamp.journal.events import PartReplaced
from bench_lamp.journal.part_events import StockMoved
from bench_lamp.shop.stock import Level, levels, moves_of
from bench_lamp.shop.stock_table import read_stock, said_stock, stock_csv
from bench_lamp.stages import card_for
from bench_lamp.views.stock import take_table


def state(*moves: tuple[str, str, int], used: tuple[tuple[str, str], ...] = ()) -> JobState:
    return JobState(
        job="J",
        stock=tuple(StockMoved(part=p, place=w, count=n) for p, w, n in moves),
        replaced=tuple(PartReplaced(part="X", out="x", fitted=p, source=w) for p, w in used),
    )


def test_levels_are_what_was_put_in_less_what_was_used_over_all_jobs():
    first = state(("100 uF 350 V", "drawer 12", 5), ("47 uF 350 V", "drawer 12", 2))
    other = state(
        ("47 uF 350 V", "drawer 12", -2),
        used=(("100 uF 350 V", "drawer 12"), ("IC1", "donor QH-099")),
    )
    assert levels((*moves_of(first), *moves_of(other))) == (
        Level(part="100 uF 350 V", place="drawer 12", count=4),
        Level(part="IC1", place="donor QH-099", count=-1),
    )


@pytest.mark.parametrize(
    ("text", "moves", "errors"),
    [
        ("part,place,count\n100 uF 350 V,drawer 12,5\n", [("100 uF 350 V", "drawer 12", 5)], 0),
        ("10k 1 W;drawer 3;20", [("10k 1 W", "drawer 3", 20)], 0),
        ("a\tb\t3", [("a", "b", 3)], 0),
        ("known,drawer 1,7", [("known", "drawer 1", 4)], 0),
        ("known,drawer 1,0", [("known", "drawer 1", -3)], 0),
        ("known,drawer 1,3", [], 0),
        ("a,b", [], 1),
        ("a,b,many\nc,d,2", [("c", "d", 2)], 1),
        (",,5", [], 1),
        ("\n\n", [], 0),
        ("a,b,99999999", [], 1),
        ("x" * 200 + ",b,1", [], 1),
    ],
)
def test_a_table_is_what_lies_there_now(text, moves, errors):
    have = (Level(part="known", place="drawer 1", count=3),)
    found, wrong = read_stock(text, have)
    assert [(m.part, m.place, m.count) for m in found] == moves
    assert len(wrong) == errors
    assert all(w.startswith("line ") for w in wrong)


@given(
    st.lists(
        st.tuples(
            st.sampled_from(["a, b", 'say "x"', "100 µF"]),
            st.sampled_from(["drawer 1", "donor;2"]),
            st.integers(1, 99),
        ),
        max_size=5,
        unique_by=lambda x: x[:2],
    )
)
def test_a_table_that_is_written_is_read_again(rows):
    found = tuple(Level(part=p, place=w, count=n) for p, w, n in rows)
    moves, errors = read_stock(stock_csv(found))
    assert not errors
    assert {(m.part, m.place, m.count) for m in moves} == set(rows)


@given(st.text(max_size=80))
def test_any_table_is_read_or_said_wrong_by_line(text):
    moves, errors = read_stock(text)
    assert all(m.count for m in moves)
    assert all(e.startswith("line ") for e in errors)


def test_a_movement_is_said():
    assert said_stock("stock -2 x 10k 1 W from drawer 3") == StockMoved(
        part="10k 1 W", place="drawer 3", count=-2
    )
    assert said_stock("C4") is None


STOCK = (
    Level(
        part="100 uF 350 V 105C 18x35 pitch 7.5 ripple 0.5 A esr 0.9", place="drawer 12", count=3
    ),
    Level(part="100 uF 400 V", place="drawer 14", count=1),
    Level(part="100 uF 200 V", place="drawer 13", count=9),
    Level(part="47 uF 350 V", place="drawer 12", count=4),
    Level(part="100 uF 350 V 105C", place="drawer 15", count=0),
    Level(part="type TR-405K", place="donor QH-099", count=1),
    Level(part="a box of screws", place="shelf", count=100),
)


def test_what_fits_of_the_shop_comes_first_best_first_and_is_taken_by_one_key(job):
    seen = job.seen(draft={"part": "C4", "action": "replaced", "out": "100 uF 250 V"})
    case = replace(seen.case, stock=STOCK)
    assert [x.place for x in fitting_stock(case, "C4")] == ["drawer 12", "drawer 14"]
    card = card_for("swap", case, seen.hand)
    assert card.choices[0].text == "100\u202fµF 350\u202fV, drawer 12"
    assert card.choices[0].note.startswith("3 there")
    (body,) = card.choices[0].log
    assert (body.fitted, body.source) == (STOCK[0].part, "drawer 12")
    assert [x.place for x in fitting_stock(case, "U1")] == ["donor QH-099"]
    assert fitting_stock(case, "F4") == ()


def test_a_pair_stands_in_where_no_single_part_does_else_what_to_buy_is_said(job):
    two = (Level(part="50 uF 350 V", place="drawer 12", count=2),)
    case = replace(job.seen().case, stock=two)
    assert (
        pair_words(case, "C4")
        == "Two from the shop: 50\u202fµF and 50\u202fµF in parallel, 100\u202fµF."
    )
    words = shop_words(case, "C4")
    assert "To buy: electrolytic 100\u202fµF 250\u202fV" in words[-1]
    assert shop_words(job.seen().case, "C4") == (), "a shop that keeps no stock is not nagged"


def test_one_of_a_kind_is_no_pair(job):
    """A drawer with a single 50 µF cannot give two of them."""
    one = replace(job.seen().case, stock=(Level(part="50 uF 350 V", place="drawer 12", count=1),))
    assert pair_words(one, "C4") == ""
    two = (*one.stock, Level(part="52 uF 350 V", place="drawer 13", count=1))
    words = pair_words(replace(one, stock=two), "C4")
    assert words == "Two from the shop: 50\u202fµF and 52\u202fµF in parallel, 102\u202fµF."


@pytest.mark.parametrize("part", ["F4", "C4"])
def test_a_part_of_the_shop_goes_on_with_the_list(job, part):
    """A fuse is only clipped in, and the next part follows; what is soldered has its steps first."""
    stock = (*STOCK, Level(part="10 A slow 250 V", place="drawer 1", count=2))
    draft = {"part": part, "action": "replaced", "out": "x", "list": "C2 C3", "all": "F4 C4 C2 C3"}
    seen = job.seen(draft=draft)
    choice = card_for("swap", replace(seen.case, stock=stock), seen.hand).choices[0]
    assert choice.log[0].source.startswith("drawer")
    if part == "F4":
        assert (choice.draft["part"], choice.draft["list"]) == ("C2", "C3")
    else:
        assert (choice.draft["step"], choice.draft["list"]) == ("after", "C2 C3")
    alone = job.seen(draft={"part": "F4", "action": "replaced", "out": "x"})
    assert card_for("swap", replace(alone.case, stock=stock), alone.hand).choices[0].go == "rails"


@pytest.mark.parametrize(
    ("text", "what", "moves"),
    [
        ("100 uF 350 V,drawer 2,5", "", 1),
        ("100 uF 350 V,drawer 2", "The stock was not taken", 0),
        ("part,place,count", "The stock is as it was", 0),
        ("a,b\nc,d\ne,f,1", "The stock was not taken", 0),
    ],
)
def test_a_table_with_one_wrong_line_changes_nothing(job, text, what, moves):
    found = take_table(job.seen().case, text)
    assert (found.what, len(found.moves)) == (what, moves)
    assert bool(found.mend) == bool(what)
