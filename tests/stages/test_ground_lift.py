"""A ground that is lifted: what hangs on it reads low against itself, and right against the first one."""

import pytest
from tests.conftest import Job

from bench_lamp.board.load import load_profile
from bench_lamp.case.facts import facts_of
from bench_lamp.case.hand import Hand
from bench_lamp.circuit import compile_tree
from bench_lamp.errors import BenchLampError
from bench_lamp.reason.insight_of import insight_of
from bench_lamp.reason.power.dictionary import build_dictionary
from bench_lamp.reason.power.engine import Engine
from bench_lamp.stages.trace.cards import test_card as made_card
from bench_lamp.stages.trace.free_entry import free_entry_card, take_free_entry

CINDER = "ardvane-cinder-dunes"


@pytest.fixture(scope="module")
def cinder_engine(library):
    profile = library.get(CINDER)
    book = build_dictionary(compile_tree(profile))
    return Engine.of(book, {p.net: p.seconds for p in profile.test_points})


@pytest.fixture
def cinder(library, meter):
    job = Job(library.get(CINDER), meter)
    job.switch("live")
    return job


@pytest.fixture
def weighed(cinder, cinder_engine):
    """Return a maker of the case with the reasoning's insight."""

    def make():
        insight = insight_of(cinder_engine, cinder.profile, facts_of(cinder.state, cinder.profile))
        return cinder.seen(insight=insight).case

    return make


def odds(case, block):
    return sum(s.odds for s in case.insight.suspects if s.block == block)


def test_low_at_the_board_and_right_at_the_supply_is_the_return_or_nothing_much(cinder, weighed):
    """The sense line makes good what the plus side drops; it cannot see the ground."""
    cinder.read(TP5=5.12, G5=4.5)
    assert odds(weighed(), "J1.22") > 0.8
    assert odds(weighed(), "J1.2") < 0.1


@pytest.mark.parametrize(
    ("lift", "low", "high"),
    [("0.55", 0.97, 1.0), ("0.03", 0.0, 0.5)],
    ids=["3.6 A through 0.15 Ω", "a sound contact drops 40 mV"],
)
def test_the_volts_from_ground_to_ground_settle_it(cinder, weighed, lift, low, high):
    cinder.read(TP5=5.12, G5=4.6)
    answer = take_free_entry(weighed(), Hand(), f"lift game_gnd {lift}")
    (body,) = answer.log
    assert (body.target, body.mode, body.value) == ("J1.22", "drop", pytest.approx(float(lift)))
    cinder.log(body)
    assert low <= odds(weighed(), "J1.22") <= high


def test_the_card_puts_red_on_the_lifted_ground_and_black_on_the_first(cinder, weighed):
    cinder.read(TP5=5.12, G5=4.6)
    case = weighed()
    attempt = next(t for t in case.insight.tries if t.test.name == "drop J1.22")
    card = made_card(case, case.insight, attempt)
    assert card.title == "Volts from game ground to star"
    leads = {lead.kind: lead.text for lead in card.leads}
    assert leads["red"].startswith("game ground: edge connector")
    assert leads["black"].startswith("star: star washer")
    assert "millivolts" in leads["meter"]
    assert not any("neither goes to ground" in words for words in card.cautions)


def test_a_ground_without_a_return_is_refused_with_the_ones_that_there_are(cinder, job):
    refused = take_free_entry(cinder.seen().case, Hand(), "lift audio_gnd 0.3")
    assert "game_gnd" in refused.mend
    assert "returns: game_gnd" in take_free_entry(job.seen().case, Hand(), "lift frame 0.3").mend
    assert any("lift game_gnd" in line for line in free_entry_card(cinder.seen().case).why)
    assert not any("lift" in line for line in free_entry_card(job.seen().case).why)


@pytest.mark.parametrize(
    ("ground", "says"), [("nowhere", "nowhere"), ("star", "what all is measured from")]
)
def test_a_return_of_no_ground_or_of_the_first_is_an_error_of_the_profile(
    tmp_path, library, ground, says
):
    text = library.paths()[CINDER].read_text(encoding="utf-8")
    path = tmp_path / "cinder.board.yaml"
    path.write_text(text.replace("returns: game_gnd", f"returns: {ground}"), encoding="utf-8")
    with pytest.raises(BenchLampError) as told:
        load_profile(path)
    assert says in str(told.value)
    assert "returns" in str(told.value)
