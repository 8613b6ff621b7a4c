"""What earlier jobs say of this one: bands that count, a reading that is right here, odds that move, what is logged."""

import pytest
from msgspec.structs import replace

from bench_lamp.cards.reading_card import reading_card
from bench_lamp.case.calls import with_call
from bench_lamp.case.facts import facts_of
from bench_lamp.case.practice import practice_of
from bench_lamp.case.readings import RIGHT_HERE, judge_value, steady
from bench_lamp.case.remembered_jobs import comeback_words, readings_that_moved
from bench_lamp.checks.repair_odds import RepairCounts
from bench_lamp.checks.verdict import Practice
from bench_lamp.journal.events import ActionDone, Complaint, PartReplaced, Struck
from bench_lamp.journal.memory_events import FaultCalled, PracticeSaid
from bench_lamp.reason.insight_of import insight_of
from bench_lamp.shop.bands import learnt_band
from bench_lamp.shop.cures import Repair
from bench_lamp.shop.digest import Digest
from bench_lamp.shop.view import ShopView
from bench_lamp.units import Band
from bench_lamp.views.history import history_page

DAY = 86400.0


def shop(**more):
    return ShopView(**more)


def test_what_five_boards_read_is_what_is_expected(live_job):
    learnt = learnt_band([41.0, 41.2, 41.4, 41.6, 41.8], None)
    seen = live_job.seen(shop=shop(bands={"E": learnt}))
    point = live_job.profile.point("E")
    assert practice_of(seen.case, point) == learnt.band
    card = reading_card(*seen, point)
    assert card.expect.replace("\u202f", " ").startswith("40.8")
    assert "5 good boards" in card.expect_notes[0]
    found = judge_value(seen.case, point, "dc V", 41.4, resolution=0.1)
    assert found.practice is Practice.USUAL_HERE


def test_41_volts_here_is_right(live_job):
    live_job.read(E=41.0)
    assert steady(live_job.seen().case, live_job.profile.point("E")).judgement.is_bad
    board, kind = reading_card(*live_job.seen(focus="E"), live_job.profile.point("E")).runners
    assert (board.log[0].scope, kind.log[0].scope) == ("board", "kind")
    event = live_job.log(*board.log)
    found = steady(live_job.seen().case, live_job.profile.point("E")).judgement
    assert (found.word, found.is_good) == (RIGHT_HERE, True)
    assert not reading_card(*live_job.seen(focus="E"), live_job.profile.point("E")).runners
    live_job.read(E=45.0)
    assert steady(live_job.seen().case, live_job.profile.point("E")).judgement.is_bad, (
        "45 V is another matter"
    )
    live_job.log(Struck(event=event, reason="it was not"))
    live_job.read(E=41.0)
    assert steady(live_job.seen().case, live_job.profile.point("E")).judgement.is_bad


@pytest.mark.parametrize(("scope", "counts"), [("kind", True), ("board", False)])
def test_what_was_said_on_another_board_counts_for_its_kind_only(live_job, scope, counts):
    said = PracticeSaid(point="E", value=41.0, resolution=0.1, scope=scope)
    live_job.read(E=41.2)
    seen = live_job.seen(shop=shop(said=(said,)))
    assert steady(seen.case, live_job.profile.point("E")).judgement.is_good == counts


@pytest.mark.parametrize("value", [0.0, float("inf"), -35.0])
def test_what_is_no_reading_of_a_sound_board_is_never_offered_as_right(live_job, value):
    live_job.read(E=value)
    assert not reading_card(*live_job.seen(focus="E"), live_job.profile.point("E")).runners


def test_the_shops_repairs_move_the_odds_and_say_how_much(live_job, engine):
    live_job.log(Complaint(text="half the lamps dead"))
    live_job.read(C=0.1)
    plain = insight_of(engine, live_job.profile, facts_of(live_job.state))
    counts = RepairCounts(parts={"C2": 12}, families={"reservoir": 12}, jobs=12)
    moved = insight_of(engine, live_job.profile, facts_of(live_job.state, repairs=counts))
    before, after = plain.by_block["C2"], moved.by_block["C2"]
    assert after > 1.5 * before
    row = next((s for s in moved.suspects if s.block == "C2"), None)
    if row is not None:
        assert row.unlearnt < row.odds
    assert all(s.unlearnt < 0 for s in plain.suspects)
    again = insight_of(engine, live_job.profile, facts_of(live_job.state))
    assert again.by_block["C2"] == pytest.approx(before), "and back"


def test_what_was_called_is_written_down_with_the_repair(live_job, hunted):
    live_job.log(Complaint(text="half the lamps dead"))
    live_job.read(C=0.1)
    case = hunted(live_job).case
    top = case.insight.suspects[0]
    call, repair = with_call(case, (PartReplaced(part=top.block, out="x", fitted="y"),))
    assert isinstance(call, FaultCalled)
    assert (call.part, call.tests) == (top.block, 1)
    assert call.odds >= top.odds
    assert isinstance(repair, PartReplaced)
    assert len(with_call(case, (ActionDone(action="removed for test", target=top.block),))) == 1
    assert len(with_call(replace(case, insight=None), (repair,))) == 1


def visit(number, *, opened, readings, complaint="resets", ripple=None):
    repair = Repair(part="J2.4", family="pin", word="reseated", cured=True)
    return Digest(
        job=f"QH-050/{number}", tag="QH-050", profile="x", first=f"{number}", opened=opened, closed=opened,
        proved=True, minutes=30, complaint=complaint, repairs=(repair,), readings=readings,
        ripple=ripple or {}, healthy=True, advice=("watch J2",),
    )  # fmt: skip


def test_a_reservoir_that_ages_shows_over_the_years(live_job):
    """Ripple of 0.2, 0.3 and now 0.42 V: more than twice what it was."""
    visits = tuple(
        visit(n, opened=n * 400 * DAY, readings={"E": 35.0}, ripple={"E": r})
        for n, r in enumerate((0.2, 0.3))
    )
    live_job.read(E=35.1)
    live_job.read("ac V", E=0.42)
    seen = live_job.seen(shop=shop(visits=lambda: visits))
    (moved,) = readings_that_moved(seen.case)
    assert (moved.point, moved.mode, moved.values) == ("E", "ripple", (0.2, 0.3, 0.42))
    assert moved.share == pytest.approx(1.1)


def test_a_comeback_is_said_with_what_was_done_then(live_job):
    opened = live_job.state.opened_at.timestamp()
    before = (visit(0, opened=opened - 41 * DAY, readings={}),)
    live_job.log(Complaint(text="it resets again"))
    seen = live_job.seen(shop=shop(visits=lambda: before))
    assert (
        comeback_words(seen.case) == "Came back after 41 days: same complaint. Then: J2.4 reseated."
    )
    page = history_page(seen.case)
    assert page.alarm == comeback_words(seen.case)
    assert [v[2] for v in page.visits] == [False, True]
    assert page.sections[0].rows[1].cells[3:] == ("J2.4 reseated", "watch J2")
    assert comeback_words(live_job.seen().case) == ""


def test_the_page_of_a_first_board_says_what_will_stand_there(job):
    page = history_page(job.seen().case)
    assert all(s.rows or s.empty for s in page.sections)
    assert practice_of(job.seen().case, job.profile.point("E")) == Band(34, 37)
