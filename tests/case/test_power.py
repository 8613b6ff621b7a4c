"""The power state ages, ends with the program, and belongs to one board of a bench."""

from datetime import timedelta

import pytest
from msgspec.structs import replace

from bench_lamp.cards.power import live_question, power_words
from bench_lamp.case import cautions
from bench_lamp.case.power import LASTS, is_live_elsewhere, relied_on


def at(job, minutes=0, **more):
    now = job.now + timedelta(minutes=minutes)
    return relied_on(job.state, now, **{"since": None, "is_elsewhere": False, **more})


@pytest.mark.parametrize("power", ["off", "discharged", "live"])
@pytest.mark.parametrize(
    ("minutes", "is_known"), [(0, True), (29.9, True), (30.1, False), (900, False)]
)
def test_it_is_not_confirmed_after_half_an_hour_without_an_entry(job, power, minutes, is_known):
    job.switch(power)
    power_now = at(job, minutes).power
    assert power_now.is_known is is_known
    assert (power_now.power == power) is is_known
    assert power_now.at is not None


def test_an_entry_keeps_it_and_a_restart_ends_it(job):
    job.switch("live")
    job.now += timedelta(minutes=25)
    job.read(A=5.0)
    assert at(job, 20).power.is_live
    assert not at(job, 20, since=job.now - timedelta(minutes=1)).power.is_known
    assert at(job, 20, since=job.now - LASTS).power.is_live


def test_a_state_that_is_not_confirmed_is_neither_live_nor_off(job):
    job.switch("discharged")
    case = replace(job.seen().case, state=at(job, 31))
    assert power_words(case.state.power) == "POWER NOT CONFIRMED"
    assert "not confirmed" in cautions.for_hands_in(case)[0]
    assert "no confirmed power state" in live_question(case).question
    assert not case.state.power.is_for_hands
    assert case.state.power.logged == "off"


def test_one_bench_has_one_live_board_unless_the_shop_says_otherwise(make_job, orrery):
    first, second, closed = (make_job(orrery, f"QH-05{n}/1") for n in range(3))
    first.switch("live")
    second.now += timedelta(minutes=5)
    second.switch("live")
    states = [first.state, second.state, closed.state]
    states = [replace(s, job=j.name) for s, j in zip(states, (first, second, closed), strict=True)]
    assert is_live_elsewhere(states, "QH-050/1", {})
    assert not is_live_elsewhere(states, "QH-051/1", {})
    assert not is_live_elsewhere(states, "QH-050/1", {"live boards": "several"})
    assert not at(first, is_elsewhere=True).power.is_known
    first.switch("off")
    assert at(first, is_elsewhere=True).power.power == "off", "off stays off"
