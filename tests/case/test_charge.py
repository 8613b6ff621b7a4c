"""What holds a charge: one answer for cautions, the first card, the panel and the confirmation."""

import math

import pytest
from msgspec.structs import replace
from tests.seen import take

from bench_lamp.board.blocks import Rectifier, Reservoir
from bench_lamp.cards.card import Accepted, Asked, Entry, Refused, Typed
from bench_lamp.cards.charge_card import take_left
from bench_lamp.cards.power import power_card, power_words
from bench_lamp.cards.reading_entry import take_reading
from bench_lamp.case import cautions
from bench_lamp.case.charge import MEASURE_ALL, charge_lines, charges, discharge_s, discharge_words
from bench_lamp.journal.events import ActionDone, PartReplaced, PowerConfirmed, ReadingTaken
from bench_lamp.stages import STAGES, card_for
from bench_lamp.units import parse_quantity

#: Winding of the coil supply and of the displays, in volts; a reservoir behind it holds the peak.
COIL_V, DISPLAY_V = 25.4, 118.0
ALL = ["tessenby-orrery-nights", "ardvane-cinder-dunes", "ostrel-8", "ruskel-36"]


def held(case):
    return {c.name: c for c in charges(case)}


@pytest.mark.parametrize(
    ("volts", "farads", "ohms", "down_to", "seconds"),
    [(165.0, 100e-6, 1000.0, 30.0, 0.1705), (35.0, 4.7e-3, 1000.0, 30.0, 0.7245),
     (29.0, 1.0, 1000.0, 30.0, 0.0), (9.6, 33e-3, 1000.0, 1.0, 74.64)],
)  # fmt: skip
def test_discharge_by_hand(volts, farads, ohms, down_to, seconds):
    """t = R·C·ln(V₀/V₁): 1000 · 100e-6 · ln 5.5 = 0.1705 s; 33 · ln 9.6 = 74.64 s."""
    assert discharge_s(volts, farads, ohms, down_to=down_to) == pytest.approx(seconds, rel=1e-3)


def test_each_capacitor_holds_the_peak_of_its_winding_at_most(job, hunted):
    job.switch("off")
    for case in (job.seen().case, hunted(job).case):
        found = held(case)
        # A high mains and an unloaded winding lift it by up to 6 %.
        assert found["C3"].volts == pytest.approx(COIL_V * math.sqrt(2), rel=0.06)
        assert found["C4"].volts == pytest.approx(DISPLAY_V * math.sqrt(2), rel=0.08)
        assert found["C3"].joules == pytest.approx(0.5 * 4.7e-3 * found["C3"].volts ** 2)
        assert {c.name for c in charges(case) if c.is_dangerous} == {"C3", "C4"}
        text = cautions.for_hands_in(case)[0]
        assert all(name in text for name in ("C3", "C4"))
        assert {line[0] for line in charge_lines(case)} >= {"C3", "C4"}
        words = discharge_words(case)
        assert [w.partition(":")[0] for w in words[:-1]] == [c.name for c in charges(case)][:2]
        assert words[-1] == MEASURE_ALL


def test_only_a_reading_since_it_was_switched_off_says_what_is_left(job):
    """0.1 V with F3 open, F3 replaced, on and off again: C3 is full."""
    full = pytest.approx(COIL_V * math.sqrt(2), rel=0.01)
    job.switch("live")
    job.read(E=0.1)
    assert held(job.seen().case)["C3"].volts == full
    job.switch("off")
    assert held(job.seen().case)["C3"].volts == full, "a reading with it on is none of what is left"
    job.log(ReadingTaken(target="C3", mode="dc V", value=0.1, resolution=0.1, power="off"))
    assert held(job.seen().case)["C3"].volts == 0.1
    job.log(PartReplaced(part="F3", out="5 A slow", fitted="5 A slow"))
    assert held(job.seen().case)["C3"].volts == 0.1
    job.switch("live")
    job.switch("off")
    assert held(job.seen().case)["C3"].volts == full
    job.log(ReadingTaken(target="H", mode="dc V", value=0.0, resolution=0.1, power="off"))
    assert held(job.seen().case)["C4"].volts > 160, "H is behind U2: C4 may be full"
    job.log(ReadingTaken(target="C3", mode="dc V", value=0.1, resolution=0.1, power="off"))
    job.log(ActionDone(action="refitted", target="F3"), PowerConfirmed(power="live"))
    job.switch("off")
    assert held(job.seen().case)["C3"].volts == full


def test_more_than_it_should_counts_and_beyond_the_range_is_not_known(job):
    job.switch("live")
    job.read(E=52.0)
    job.switch("off")
    assert held(job.seen().case)["C3"].volts == 52.0
    job.log(ReadingTaken(target="C3", mode="dc V", value=0.0, overload=True, power="off"))
    assert held(job.seen().case)["C3"].volts == math.inf


def test_a_capacitor_of_which_nothing_is_known_is_dangerous(job):
    job.switch("off")
    profile = job.profile
    bare = tuple(
        replace(b, rating=None) if isinstance(b, Reservoir) else b
        for b in profile.power
        if not isinstance(b, Rectifier)
    )
    case = replace(job.seen().case, profile=replace(profile, power=bare, test_points=()))
    assert all(c.is_dangerous for c in charges(case))
    assert "C4 (volts not known)" in cautions.for_hands_in(case)[0]
    assert any("Read it across" in words for words in discharge_words(case))
    assert charge_lines(case)[0][1:] == ("volts not known", "read it before hands go in")


@pytest.mark.parametrize("volts", [48.0, 170.0, -40.0])
def test_a_point_above_30_volts_counts_where_no_capacitor_is_known(make_job, ruskel, volts):
    points = (replace(ruskel.test_points[0], nominal=volts),)
    job = make_job(replace(ruskel, test_points=points))
    job.switch("off")
    name = points[0].id
    assert name in cautions.for_hands_in(job.seen().case)[0]
    assert any(f"{name}: {abs(volts):g}\u202fV" in w for w in card_for("cold", *job.seen()).why)


@pytest.mark.parametrize("profile_id", ALL)
def test_no_sentence_concludes_that_something_is_safe(library, make_job, profile_id):
    """Whatever is known or not: every card of every stage, in each power state."""
    claims = ("is safe", "nothing here holds", "harmless", "no danger", "cannot hurt", "under 30 v already",
              "is discharged", "not dangerous", "no charge")  # fmt: skip
    whole = library.get(profile_id)
    bare = replace(whole, power=(), test_points=(), cautions=(), wake=None)
    for profile in (whole, bare, replace(whole, test_points=())):
        job = make_job(profile)
        for power in ("", "off", "live", "discharged"):
            if power:
                job.switch(power)
            case = job.seen().case
            cards = [stage.card(*job.seen()) for stage in STAGES] + [power_card(case)]
            said = [
                w
                for c in cards
                for w in (c.title, *c.cautions, *c.why, *(x.text for x in c.choices))
            ]
            said += [*discharge_words(case), *(w for line in charge_lines(case) for w in line)]
            for words in said:
                assert not any(claim in words.lower() for claim in claims), words
            if power == "off":
                assert any("30\u202fV" in c for c in cautions.for_hands_in(case))
                assert MEASURE_ALL in discharge_words(case)


def test_the_confirmation_carries_what_was_reached(job):
    job.switch("off")
    one, thirty = power_card(job.seen().case).choices[1], power_card(job.seen().case).choices[3]
    assert (one.log[0].below, thirty.log[0].below) == (1.0, 30.0)
    job.log(*thirty.log)
    power = job.state.power
    assert (power.is_for_hands, power.is_for_ohms) == (True, False)
    assert power_words(power) == "OFF, BELOW 30\u202fV"
    assert cautions.for_hands_in(job.seen().case) == ()
    assert "below 1\u202fV" in cautions.for_ohms(job.seen().case)[0]
    assert card_for("cold", *job.seen()).title == "Off, unplugged, below 1\u202fV?"
    job.log(*one.log)
    assert job.state.power.is_for_ohms
    assert cautions.for_ohms(job.seen().case) == ()


def test_ohms_ask_once_for_one_volt_and_never_against_a_reading(job):
    entry = Entry(kind="reading", unit="Ω", target="C", mode="ohm")

    def asked(mode="ohm"):
        return take_reading(*job.seen(), replace(entry, mode=mode), Typed(text="52"))

    for power in ("", "off"):
        if power:
            job.switch(power)
        answer = asked()
        assert isinstance(answer, Asked)
        assert "below 1\u202fV" in answer.question
        assert answer.choices[0].log == (PowerConfirmed(power="discharged", below=1.0),)
    job.log(ReadingTaken(target="C1", mode="dc V", value=9.6, resolution=0.1, power="off"))
    assert asked().choices == (), "it was read above 1 V: read it again"
    offered = power_card(job.seen().case).choices
    assert [c.key for c in offered] == ["1", "4", "3"], "below 1 V is not offered against a reading"
    assert "C1 read 9.6\u202fV" in offered[1].note
    job.switch("discharged")
    assert isinstance(asked(), Accepted)


def test_what_is_left_is_typed_across_the_capacitor_itself(job):
    job.switch("off")
    card = card_for("cold", *job.seen())
    pick = next(c for c in card.choices if "Type what is left" in c.text)
    seen = job.seen(draft=dict(pick.draft))
    card = card_for("cold", *seen)
    assert card.title == "Volts left on C3"
    assert [lead.text for lead in card.leads[:2]] == [
        "C3, the + lead; lower right",
        "C3, the − lead",
    ]
    answer = take("cold", *seen, "0.4")
    assert isinstance(answer, Accepted)
    assert (answer.log[0].target, answer.log[0].power) == ("C3", "off")
    job.log(*answer.log)
    assert held(job.seen().case)["C3"].volts == 0.4
    assert ("C3", "0.4\u202fV read", "since it was switched off") in charge_lines(job.seen().case)
    job.switch("live")
    card = card_for("cold", *job.seen(draft=dict(pick.draft)))
    assert card.entry is None, "not while it is live"
    answer = take_left(job.seen().case, "C3", parse_quantity("0.4", "V"), "")
    assert isinstance(answer, Refused)
