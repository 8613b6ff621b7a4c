"""The bench and its shelf: where each job stands, why, and what such boards taught."""

from datetime import UTC, datetime, timedelta

import pytest
from msgspec.structs import replace

from bench_lamp.journal.events import Complaint, JobClosed, PartReplaced
from bench_lamp.journal.memory_events import WaitsFor
from bench_lamp.journal.open_events import OpenEnd
from bench_lamp.journal.proof_events import BurnBegun, BurnEnded
from bench_lamp.shop.cures import Repair
from bench_lamp.shop.digest import Digest
from bench_lamp.shop.view import ShopView
from bench_lamp.views.bench import MOST_DONE, bench_words, groups, taught
from bench_lamp.views.shelf import digest_card, matching, shelf, shelf_card
from bench_lamp.views.shelf_places import ShelfPlace

DAY = 86400.0
NOW = datetime(2026, 11, 17, 12, 41, tzinfo=UTC)


def standing(job, **more):
    card = shelf_card(job.seen(**more).case, job.now)
    return card.place, card.why.replace("\u202f", " "), card.word


@pytest.mark.parametrize(
    ("bodies", "place", "why", "word"),
    [
        ((), ShelfPlace.WAITS, "What is wrong with it?", "a place"),
        ((WaitsFor(what="parts", text="C203", until="Friday"),), ShelfPlace.WAITS, "C203, Friday", "part"),
        ((WaitsFor(what="customer", text="offer of 84"),), ShelfPlace.WAITS, "offer of 84", "customer"),
        ((WaitsFor(what="parts", text="x"), WaitsFor(what="")), ShelfPlace.WAITS, "What is wrong with it?", "a place"),
        ((OpenEnd(what="on order", target="C4"),), ShelfPlace.WAITS, "C4 on order", "part"),
        ((PartReplaced(part="F4", out="x", fitted="y"), JobClosed(proved=True)), ShelfPlace.DONE, "F4", "proved"),
        ((JobClosed(),), ShelfPlace.DONE, "no part", "not proved"),
    ],
)  # fmt: skip
def test_where_a_job_stands_and_why(job, bodies, place, why, word):
    job.log(*bodies)
    assert standing(job) == (place, why, word)


def test_a_live_board_needs_somebody(live_job):
    assert standing(live_job) == (ShelfPlace.NEEDS, "It is marked live.", "look at it")
    live_job.log(WaitsFor(what="parts", text="C203"))
    assert standing(live_job)[0] is ShelfPlace.NEEDS, "whatever it waits for"


def test_a_burn_in_waits_until_it_is_due_and_then_needs_somebody(live_job):
    live_job.log(BurnBegun(hours=2, every_min=30, points=("A",)))
    live_job.read(A=5.05)
    place, why, _ = standing(live_job)
    assert (place, why[:13]) == (ShelfPlace.WAITS, "Burn-in until")
    live_job.now += timedelta(minutes=31)
    assert standing(live_job) == (ShelfPlace.NEEDS, "Read A, round 2 of 5", "read it")
    live_job.switch("off")
    assert standing(live_job)[2] == "switch on"
    live_job.log(BurnEnded(word="cut short", reason="customer waits"))
    assert "Burn-in" not in standing(live_job)[1]


def test_a_comeback_is_looked_at_first(job):
    job.log(Complaint(text="resets again"))
    opened = job.state.opened_at.timestamp()
    before = digest("QH-050/0", complaint="resets", closed=opened - 41 * DAY)
    place, why, word = standing(job, shop=ShopView(visits=lambda: (before,)))
    assert (place, word) == (ShelfPlace.NEEDS, "look first")
    assert why.startswith("Came back after 41 days")


def digest(job, **more):
    repair = Repair(part="C2", family="reservoir", word="replaced", cured=True)
    plain = {
        "tag": job.partition("/")[0], "profile": "p", "first": job, "opened": 0.0, "closed": NOW.timestamp() - DAY,
        "proved": True, "minutes": 30.0, "complaint": "hums", "repairs": (repair,), "healthy": True,
    }  # fmt: skip
    return Digest(job=job, **{**plain, **more})


def done(count, **more):
    ends = ((n, NOW.timestamp() - n * DAY) for n in range(count))
    return [digest_card(digest(f"QH-{n:03d}/1", closed=end, **more), "Orrery") for n, end in ends]


def test_the_last_done_ones_are_shown_and_all_of_them_when_one_looks():
    cards = shelf([], done(12), now=NOW)
    (group,) = groups(cards, NOW, is_searched=False)
    assert [c.job for c in group.cards] == [f"QH-{n:03d}/1" for n in range(MOST_DONE)]
    assert group.sub == "12 in all, 7 this week"
    assert len(groups(matching(cards, "c2"), NOW, is_searched=True)[0].cards) == 12


def test_what_is_not_proved_is_counted():
    (group,) = groups(shelf([], done(3, proved=False), now=NOW), NOW, is_searched=False)
    assert group.sub.endswith("3 of these not proved")
    assert {c.word for c in group.cards} == {"not proved"}


def test_headings_stand_in_the_order_of_who_needs_somebody(job, live_job, make_job):
    other = make_job(job.profile, "QH-060/1")
    cards = shelf([other.seen().case, live_job.seen().case], done(1), now=NOW)
    found = groups(cards, NOW, is_searched=False)
    assert [g.title for g in found] == ["Needs you", "Waiting", "Done"]


def test_what_a_kind_taught_is_a_bar_for_each_part():
    repairs = [Repair(part=p, family="x", word="replaced", cured=True) for p in ("C2", "C2", "F4")]
    found = taught(
        "Orrery Nights", [digest(f"QH-{n}/1", repairs=(r,)) for n, r in enumerate(repairs)]
    )
    assert found.rows == (("C2", "2 of 3", 1.0), ("F4", "1 of 3", 0.5))
    assert found.sub == "3 jobs on Orrery Nights"
    assert taught("x", []) is None
    vain = replace(repairs[0], cured=False)
    assert taught("x", [digest("QH-1/1", repairs=(vain,))]) is None


def test_the_day_as_it_is_said():
    assert bench_words(NOW) == "Tuesday 17 November"
