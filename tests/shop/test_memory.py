"""The shop's memory: bands, odds, what cured, comebacks, promises; against figures done by hand."""

import math
from datetime import UTC, datetime, timedelta
from statistics import median

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from bench_lamp.checks.repair_odds import RepairCounts, learnt_factors, seen_words
from bench_lamp.journal.events import ActionDone, JobClosed, PartReplaced
from bench_lamp.journal.fold import fold
from bench_lamp.journal.memory_events import FaultCalled, TimeSaid
from bench_lamp.journal.open_events import ComplaintAsked
from bench_lamp.practice.demo_winters import winter_events
from bench_lamp.shop.bands import learnt_band
from bench_lamp.shop.cures import Repair
from bench_lamp.shop.digest import Digest, digest_of
from bench_lamp.shop.history import (
    alike,
    came_back,
    comeback,
    mean_tests,
    nearness,
    promises,
    usual_minutes,
    what_fails,
    wilson,
    words_of,
)
from bench_lamp.shop.memory import ShopMemory
from bench_lamp.units import Band

DAY = 86400.0


def digest(job="QH-001/1", **more):
    plain = {
        "tag": job.partition("/")[0], "profile": "p", "first": f"{job}", "opened": 0.0, "closed": 1.0,
        "proved": True, "minutes": 30.0, "complaint": "", "healthy": True,
    }  # fmt: skip
    return Digest(job=job, **{**plain, **more})


@pytest.mark.parametrize(
    ("values", "profile", "low", "high"),
    [
        # Median 5.04, deviations 0.04 0.02 0 0.02 0.04: median 0.02, so 2 × 1.4826 × 0.02 = 0.0593.
        ([5.0, 5.02, 5.04, 5.06, 5.08], None, 4.98, 5.10),
        # Half and half with 4.9..5.1: centre 5.02, half (0.0593 + 0.1)/2 = 0.0797.
        ([5.0, 5.02, 5.04, 5.06, 5.08], Band(4.9, 5.1), 4.94, 5.10),
        # One wild board among seven moves nothing: the median deviation is still 0.1.
        ([34.9, 35.0, 35.0, 35.1, 35.1, 35.2, 60.0], None, 34.8, 35.4),
        ([12.0] * 6, None, 12.0, 12.0),
        ([-5.02, -5.0, -5.0, -4.98, -4.96], None, -5.06, -4.94),
    ],
)
def test_a_band_by_median_and_robust_spread(values, profile, low, high):
    found = learnt_band(values, profile)
    assert (found.band.low, found.band.high) == (pytest.approx(low), pytest.approx(high))
    assert found.boards == len(values)


def test_four_boards_are_no_practice():
    assert learnt_band([5.0] * 4, Band(4.9, 5.1)) is None


@given(st.lists(st.floats(-200, 200), min_size=5, max_size=40))
def test_a_band_holds_its_median_whatever_the_boards_read(values):
    found = learnt_band(values, None)
    slack = (found.band.width + 1e-9) / 2 + 1e-9
    assert found.band.low - slack <= median(values) <= found.band.high + slack
    assert math.isfinite(found.band.width)


# Odds. By hand: pins 2 of 4 of the prior, 20 + 20 repairs: (0.5·20 + 20)/40 = 0.75, a factor 1.5;
# within, J2.4 has (0.5·20 + 20)/40 = 0.75, another 1.5.


def test_factors_by_hand():
    counts = RepairCounts(parts={"J2.4": 20}, families={"pin": 20}, jobs=20)
    found = learnt_factors(
        {"J2.4": 1, "J3.5": 1, "F4": 2}, {"J2.4": "pin", "J3.5": "pin", "F4": "fuse"}, counts
    )
    assert found == {
        "J2.4": pytest.approx(2.25),
        "J3.5": pytest.approx(0.75),
        "F4": pytest.approx(0.5),
    }


PARTS = st.dictionaries(st.sampled_from("ABCDEFGH"), st.floats(0.01, 10), min_size=1)


@given(PARTS, st.dictionaries(st.sampled_from("ABCDEFGHX"), st.integers(0, 50)))
def test_factors_keep_the_sum_and_no_part_is_lost(prior, cured):
    family = {p: "even" if ord(p) % 2 else "odd" for p in "ABCDEFGHX"}
    families = {}
    for part, n in cured.items():
        families[family[part]] = families.get(family[part], 0) + n
    found = learnt_factors(prior, family, RepairCounts(parts=cured, families=families, jobs=9))
    assert sum(prior[p] * f for p, f in found.items()) == pytest.approx(sum(prior.values()))
    assert all(f > 0 for f in found.values())


def test_what_never_failed_here_is_said_with_nothing():
    counts = RepairCounts(parts={"C2": 4}, vain={"C2": 2, "U1": 1}, jobs=31)
    assert seen_words(counts, "C2") == "seen here 4 of 31, in vain twice"
    assert seen_words(counts, "U1") == "seen here 0 of 31, in vain once"
    assert seen_words(counts, "F9") == ""


# What cured.


@pytest.fixture
def told(live_job):
    live_job.read(C=0.1)
    live_job.read_healthy("A")
    return live_job


def repairs(job, *, proved):
    job.log(JobClosed(proved=proved))
    return [(r.part, r.cured) for r in digest_of(job.state, job.profile).repairs]


def test_what_was_bad_and_is_good_before_the_next_repair_was_cured(told):
    told.log(PartReplaced(part="C1", out="x", fitted="y"))
    told.read(C=0.1)
    told.log(PartReplaced(part="F4", out="x", fitted="y"))
    told.read(C=18.0)
    told.log(ActionDone(action="reseated", target="J3"))
    assert repairs(told, proved=False) == [("C1", False), ("F4", True), ("J3", False)]


def test_the_last_repair_of_a_job_that_ended_well_cured(told):
    told.log(PartReplaced(part="U7", out="x", fitted="y"), ComplaintAsked(is_gone=True))
    assert repairs(told, proved=False) == [("U7", True)]


def test_a_struck_repair_is_none(told):
    event = told.log(PartReplaced(part="U7", out="x", fitted="y"))
    from bench_lamp.journal.events import Struck

    told.log(Struck(event=event, reason="wrong job"))
    assert repairs(told, proved=True) == []


def test_a_digest_holds_odds_family_readings_and_time(told):
    told.log(
        FaultCalled(part="F4", odds=0.93, tests=4), PartReplaced(part="F4", out="x", fitted="y")
    )
    told.read_healthy()
    told.now += timedelta(hours=3)
    told.log(JobClosed(proved=True))
    found = digest_of(told.state, told.profile)
    assert found.repairs[0] == Repair(
        part="F4", family="fuse", word="replaced", cured=True, odds=0.93, tests=4
    )
    assert found.bad == {"C": 0.1}
    assert found.readings["C"] == pytest.approx(17.95)
    # Every entry ten seconds after the last; three hours away count two minutes.
    entries = len(told.state.tape) - 2
    assert found.minutes == pytest.approx(entries / 6 + 2, abs=0.01)
    told.log(TimeSaid(minutes=95))
    assert digest_of(told.state, told.profile).minutes == 95


# History.


def test_a_comeback_is_soon_with_an_overlapping_complaint():
    before = digest("QH-012/1", opened=0, closed=DAY, complaint="Half the lamps dead")
    for days, words, back in (
        (41, "lamps flicker", True),
        (179, "the lamp again", True),
        (181, "lamps flicker", False),
        (41, "no sound at all", False),
        (41, "", False),
    ):
        now = digest("QH-012/2", opened=(1 + days) * DAY, closed=0, complaint=words)
        assert (comeback(now, [before]) is not None) == back, (days, words)
    assert comeback(before, []) is None


def test_words_of_a_complaint():
    assert words_of("Half the lamps dead, then it RESETS!") == {"lamp", "dead", "reset"}
    assert words_of("") == frozenset()


@pytest.mark.parametrize(
    ("good", "of", "low", "high"),
    [(9, 10, 0.652, 0.977), (0, 10, 0.0, 0.213), (10, 10, 0.787, 1.0)],
)
def test_wilsons_interval(good, of, low, high):
    assert wilson(good, of) == (pytest.approx(low, abs=1e-3), pytest.approx(high, abs=1e-3))


def test_what_fails_counts_a_part_once_a_job():
    two = (Repair(part="C2", family="reservoir", word="replaced", cured=True),) * 2
    vain = Repair(part="U1", family="regulator", word="replaced", cured=False)
    found = what_fails(
        [digest("QH-001/1", repairs=(*two, vain)), digest("QH-002/1", repairs=(two[0],))]
    )
    assert [(f.part, f.count, f.jobs) for f in found] == [("C2", 2, 2)]
    assert usual_minutes([digest(minutes=20), digest(minutes=50), digest(minutes=30)]) == 30


def test_the_nearest_evidence_comes_first():
    repair = (Repair(part="F4", family="fuse", word="replaced", cured=True),)
    now = digest("QH-050/1", complaint="lamps dead", bad={"C": 0.1, "D": 0.0})
    same = digest("QH-001/1", complaint="lamps dead", bad={"C": 0.1, "D": 0.0}, repairs=repair)
    half = digest("QH-002/1", complaint="lamps dim", bad={"C": 12.0}, repairs=repair)
    other = digest("QH-003/1", complaint="no sound", bad={"A": 3.0}, repairs=repair)
    assert nearness(now, same) > nearness(now, half) > nearness(now, other) == 0
    assert [d.job for _, d in alike(now, [other, half, same, now])] == ["QH-001/1", "QH-002/1"]


def test_promises_are_counted_by_what_was_said():
    def called(odds, cured):
        return digest(
            repairs=(Repair(part="x", family="o", word="r", cured=cured, odds=odds, tests=4),)
        )

    found = promises(
        [called(0.93, True), called(0.95, True), called(0.91, False), called(0.6, True)]
    )
    assert [(p.low, p.called, p.cured) for p in found] == [(0.5, 1, 1), (0.9, 3, 2)]
    assert found[1].said == pytest.approx(0.93)
    assert mean_tests([called(0.9, True), called(0.9, False)]) == 4


# Kept up to date, not worked out anew.

JOBS = st.builds(
    digest,
    job=st.sampled_from([f"QH-{t:03d}/{v}" for t in range(4) for v in (1, 2)]),
    healthy=st.booleans(),
    readings=st.dictionaries(st.sampled_from("AC"), st.sampled_from([5.0, 5.1, 18.0])),
    repairs=st.lists(
        st.builds(Repair, part=st.sampled_from(["F4", "C2"]), family=st.just("fuse"), word=st.just("replaced"),
                  cured=st.booleans()), max_size=2).map(tuple),
    profile=st.sampled_from(["p", "q"]),
)  # fmt: skip


@given(st.lists(st.tuples(st.booleans(), JOBS), max_size=20))
def test_whatever_comes_and_goes_it_is_as_if_counted_anew(steps):
    memory = ShopMemory()
    for puts, job in steps:
        if puts:
            memory.put(job)
        else:
            memory.drop(job.job)
    anew = ShopMemory()
    anew.take(memory.digests.values())
    for kind in ("p", "q"):
        assert memory.repairs(kind) == anew.repairs(kind)
        assert memory.of_kind(kind) == anew.of_kind(kind)
        for point in "AC":
            values = memory._values.get((kind, point, ""), [])
            assert values == anew._values.get((kind, point, ""), [])
            boards = {d.tag for d in memory.of_kind(kind) if d.healthy and point in d.readings}
            assert len(values) == len(boards), "a board counts once"


def test_a_board_counts_with_its_newest_visit():
    memory = ShopMemory()
    for tag in range(5):
        memory.put(digest(f"QH-{tag:03d}/1", readings={"A": 5.0}))
    memory.put(digest("QH-000/2", readings={"A": 5.2}))
    band = memory.band("p", "A", None)
    assert band.values == (5.0, 5.0, 5.0, 5.0, 5.2)
    memory.drop("QH-000/2")
    assert memory.band("p", "A", None).values == (5.0,) * 5
    assert memory.band("p", "A", None, mains="115 V") is None, "another mains is another condition"


def test_two_winters_of_the_demo_have_something_to_show(library):
    profiles = {p.id: p for p in library.all()}
    now = datetime(2026, 11, 17, 12, 41, tzinfo=UTC)
    events = winter_events(profiles, frozenset({"QH-017"}), now=now)
    assert events == winter_events(profiles, frozenset({"QH-017"}), now=now), (
        "the same for the same seed"
    )
    jobs = {}
    for event in events:
        jobs.setdefault(event.job, []).append(event)
    memory = ShopMemory()
    for own in jobs.values():
        state = fold(profiles[own[0].body.profile], own)
        if state.closed_at:
            memory.put(digest_of(state, profiles[state.profile_id]))
    assert len({j.partition("/")[0] for j in jobs}) >= 58
    orrery = memory.of_kind("tessenby-orrery-nights")
    assert len(orrery) > 20
    assert what_fails(orrery)[0].part == "J2.4"
    assert came_back([*orrery])
    profile = profiles["tessenby-orrery-nights"]
    for point in profile.test_points:
        learnt = memory.band(profile.id, point.id, point.practice, "230 V")
        assert learnt.boards > 20
        assert point.design.low <= learnt.own.middle <= point.design.high + 0.5
    assert replace(orrery[0], tag="x") != orrery[0]
