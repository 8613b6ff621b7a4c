"""The cold round: its order, each kind of check, and what it says must be mended."""

import pytest
from msgspec.structs import replace
from tests.seen import take

from bench_lamp.cards.card import Accepted, Refused
from bench_lamp.cards.power import power_card
from bench_lamp.case.cold_list import cold_items, cold_progress, current_check
from bench_lamp.case.cold_verdicts import peers_ohms
from bench_lamp.case.stops import cold_stops
from bench_lamp.journal.events import (
    CheckNoted,
    Complaint,
    Finding,
    FuseFitted,
    MainsSeen,
    PartReplaced,
    ReadingTaken,
    SeriesTaken,
    Swept,
)
from bench_lamp.stages import card_for
from bench_lamp.stages.cold.checks import cold_picture
from bench_lamp.units import Band


@pytest.fixture
def cold_job(job):
    job.switch("discharged")
    return job


def item(seen, name: str):
    return next(i for i in cold_items(seen.case) if i.id == name)


def answer(job, focus: str, text: str, **more):
    """Type an answer on a check's card and log it; return what it was."""
    taken = take("cold", *job.seen(focus=focus, **more), text)
    if isinstance(taken, Accepted):
        job.log(*taken.log)
    return taken


def test_the_round_turns_the_knob_twice_and_asks_once_for_discharged(job, hunted):
    card = card_for("cold", *job.seen())
    assert card.title == "Off, unplugged, below 1\u202fV?"
    assert any("C4" in line and "s, at" in line.replace("\u202f", " ") for line in card.why)
    job.log(*card.choices[0].log)
    knobs = [i.knob for i in cold_items(job.seen().case)]
    assert knobs == sorted(knobs, key=["tone", "diode", "ohm"].index)
    assert card_for("cold", *job.seen()).title.startswith("F1: continuity")
    done, total = cold_progress(job.seen().case)
    assert (done, total) == (0, len(knobs) - 1)
    assert not any("chime" in i.title for i in cold_items(job.seen().case)), "not fitted: not asked"


def test_the_reasonings_favourites_come_first_within_each_position_of_the_knob(cold_job, hunted):
    cold_job.log(Complaint(text="half the lamps dead"))
    found = cold_items(hunted(cold_job).case)
    for knob in ("tone", "ohm"):
        flags = [i.is_favourite for i in found if i.knob == knob]
        assert flags == sorted(flags, reverse=True)
    assert current_check(*hunted(cold_job)).target == "F4"
    live = hunted(cold_job).but(insight=None)
    assert current_check(*live).target == "F1"


@pytest.mark.parametrize(
    ("typed", "text", "is_bad"),
    [
        ("10 A slow", "beeps, and is the right one", False),
        ("T10A", "beeps, and is the right one", False),
        ("10 A fast", "10 A fast fitted, 10 A slow belongs there", True),
        ("16 A slow", "16 A slow fitted, 10 A slow belongs there", True),
        ("bridged", "bridged; it must be 10 A slow", True),
        ("none", "no fuse in the holder", True),
    ],
)
def test_a_fuse_must_tone_and_be_the_right_one(cold_job, typed, text, is_bad):
    cold_job.read(F4=0.0)
    assert isinstance(answer(cold_job, "fuse:F4", typed, draft={"fuse": "F4"}), Accepted)
    word = item(cold_job.seen(), "fuse:F4").word
    assert word.text.replace("\u202f", " ") == text
    is_harmful = is_bad and typed != "none"
    assert bool(cold_stops(cold_job.seen().case)) is is_harmful, "what is open harms nothing"
    stopped = power_card(cold_job.seen().case).cautions[0].startswith("Do not switch on")
    assert stopped is is_harmful
    if is_bad:
        cold_job.log(PartReplaced(part="F4", out="x", fitted="10 A slow"))
        assert cold_stops(cold_job.seen().case) == ()


def test_the_mains_fuse_is_judged_for_this_mains(cold_job):
    for place in ("selector", "sticker"):
        cold_job.log(MainsSeen(place=place, text="115 V"))
    answer(cold_job, "fuse:F1", "6.3 A slow", draft={"fuse": "F1"})
    assert not item(cold_job.seen(), "fuse:F1").is_bad
    answer(cold_job, "fuse:F1", "3 A slow", draft={"fuse": "F1"})
    assert item(cold_job.seen(), "fuse:F1").is_bad


def test_a_fuse_card_offers_the_holder_and_judging_it_live(cold_job):
    card = card_for("cold", *cold_job.seen(focus="fuse:F4"))
    assert card.choices[3].log == (Finding(seen="corroded", place="F4"),)
    cold_job.log(*card.runners[0].log)
    assert item(cold_job.seen(), "fuse:F4").word.text.startswith("check with power on")
    assert [type(b) for b in card.choices[0].log] == [ReadingTaken, FuseFitted]


def junctions(job, part: str, *values: str) -> None:
    """Type readings for a part's junctions in the card's own order."""
    for value in values:
        assert isinstance(answer(job, f"junction:{part}", value), Accepted)


@pytest.mark.parametrize(
    ("values", "verdict", "is_bad"),
    [
        (("0.55", "OL") * 4, "within", False),
        (("0.55", "OL", "0.02", "0.02", "0.55", "OL", "0.55", "OL"), "absent", True),
        (("0.55", "OL", "OL", "OL", "0.55", "OL", "0.55", "OL"), "absent", True),
        (("0.55", "OL", "0.3", "OL", "0.55", "OL", "0.55", "OL"), "noisy", False),
    ],
)
def test_a_bridge_is_judged_by_four_junctions_each_way(cold_job, values, verdict, is_bad):
    junctions(cold_job, "BR2", *values)
    found = item(cold_job.seen(), "junction:BR2")
    assert (found.word.verdict, found.is_bad, found.is_done) == (verdict, is_bad, True)
    assert len(cold_picture(*cold_job.seen(focus="junction:BR2")).junctions) == 4


def test_a_picked_junction_stays_under_the_lamp_until_both_ways_are_read(cold_job):
    first = take("cold", *cold_job.seen(focus="junction:D30"), "0.6")
    assert first.focus == "junction:D30"
    cold_job.log(*first.log)
    assert take("cold", *cold_job.seen(focus="junction:D30"), "OL").focus is None


def test_a_darlington_blocks_from_collector_to_emitter(cold_job):
    junctions(cold_job, "Q3", "0.9", "OL", "0.62", "OL", "OL", "0.55")
    assert not item(cold_job.seen(), "junction:Q3").is_bad


def test_rails_in_ohms_both_ways_against_model_last_visit_and_other_boards(
    cold_job, hunted, make_job, orrery
):
    before = make_job(orrery, "QH-051/1")
    before.read("ohm", C=61.0)
    card = card_for(
        "cold", *hunted(cold_job, focus="ohms:C", last_visit=before.state, peers=(before.state,))
    )
    assert card.expect.endswith("Ω")
    note = card.expect_notes[0].replace("\u202f", " ")
    assert "by the model" in note
    assert "last visit 61.00 Ω" in note
    assert "1 other board 61 Ω" in note
    first = take("cold", *hunted(cold_job, focus="ohms:C"), "58")
    assert first.focus == "ohms:C"
    cold_job.log(*first.log)
    swapped = card_for("cold", *hunted(cold_job, focus="ohms:C"))
    assert swapped.leads[0].text == "frame braid at the left edge"
    second = take("cold", *hunted(cold_job, focus="ohms:C"), "21")
    assert second.log[0].swapped
    cold_job.log(*second.log)
    assert item(hunted(cold_job), "ohms:C").word.verdict == "within"


def test_other_boards_count_by_one_polarity_and_whole_readings(cold_job, make_job, orrery):
    other = make_job(orrery, "QH-051/1")
    other.read("ohm", C=61.0, D=0.4)
    whole = {"target": "C", "mode": "ohm", "resolution": 0.1}
    other.log(
        ReadingTaken(value=20.0, swapped=True, **whole),
        ReadingTaken(value=900.0, out=("J6",), **whole),
        ReadingTaken(value=0.0, overload=True, **whole),
    )
    third = make_job(orrery, "QH-052/1")
    third.read("ohm", C=65.0)
    case = cold_job.seen(peers=(other.state, third.state)).case
    assert peers_ohms(case, orrery.point("C")) == (63.0, 2)
    assert peers_ohms(case, orrery.point("D")) is None


def test_less_than_an_ohm_is_a_short_and_no_overload(cold_job):
    cold_job.log(SeriesTaken(target="C2", mode="ohm", seconds=(1, 2, 3), values=(0.4, 0.4, 0.4)))
    assert item(cold_job.seen(), "capacitor:C2").word.text == "short or leaky"
    cold_job.log(SeriesTaken(target="C2", mode="ohm", seconds=(1, 2, 3), values=(-1, -1, -1)))
    assert item(cold_job.seen(), "capacitor:C2").word.text == "open"


@pytest.mark.parametrize(
    ("point", "first", "second", "verdict"),
    [("C", "0.6", "0.6", "absent"), ("C", "9000", "4000", "high"), ("E", "600", "260", "low")],
)
def test_rails_that_are_off_in_ohms(cold_job, hunted, point, first, second, verdict):
    for text in (first, second):
        taken = take("cold", *hunted(cold_job, focus=f"ohms:{point}"), text)
        cold_job.log(*taken.log)
    found = item(hunted(cold_job), f"ohms:{point}")
    assert found.word.verdict == verdict
    assert bool(cold_stops(hunted(cold_job).case)) is (verdict == "absent")


@pytest.mark.parametrize(
    ("first", "second", "word", "verdict"),
    [
        ("150", "60", "150 Ω / 60 Ω", "within"),
        ("90", "60", "90 Ω / 60 Ω: low", "low"),
        ("150", "40", "150 Ω / 40 Ω: low", "low"),
        ("1500", "60", "1.500 kΩ / 60 Ω: high, is the load connected?", "high"),
        ("5", "5", "a short", "absent"),
    ],
)
def test_what_good_boards_read_in_ohms_comes_before_the_model(
    cold_job, first, second, word, verdict
):
    """On a board without a tree it is all there is: here 100 to 200 Ω, swapped 50 to 80 Ω."""
    points = tuple(
        replace(p, cold=Band(100, 200), cold_swapped=Band(50, 80)) if p.id == "C" else p
        for p in cold_job.profile.test_points
    )
    cold_job.profile = replace(cold_job.profile, test_points=points)
    card = card_for("cold", *cold_job.seen(focus="ohms:C"))
    assert card.expect.replace("\u202f", " ") == "100 to 200 Ω"
    assert card.expect_notes[0].startswith("as good boards read")
    for text in (first, second):
        cold_job.log(*take("cold", *cold_job.seen(focus="ohms:C"), text).log)
    found = item(cold_job.seen(), "ohms:C").word
    assert word in found.text.replace("\u202f", " ")
    assert found.verdict == verdict


def test_a_polarity_that_nobody_knows_still_has_its_short(cold_job):
    """Only the swapped leads' ohms are known, and the board has no model: 0.3 Ω is a short all the same."""
    points = tuple(
        replace(p, cold_swapped=Band(50, 80)) if p.id == "C" else p
        for p in cold_job.profile.test_points
    )
    cold_job.profile = replace(cold_job.profile, test_points=points)
    assert card_for("cold", *cold_job.seen(focus="ohms:C")).expect == ""
    cold_job.log(*take("cold", *cold_job.seen(focus="ohms:C"), "0.3").log)
    found = item(cold_job.seen(), "ohms:C").word
    assert found.is_bad
    assert "a short" in found.text


@pytest.mark.parametrize(
    ("typed", "verdict"),
    [
        ("120 270 440 630", "within"),
        ("1:120 2:270 4:630", "within"),
        ("100 100 100", "noisy"),
        ("OL OL OL", "low"),
        ("3k OL OL OL", "low"),
        ("8.1 mF", "within"),
        ("3 mF", "absent"),
    ],
)
def test_an_electrolytic_by_its_charging_or_its_capacitance(cold_job, typed, verdict):
    assert isinstance(answer(cold_job, "capacitor:C2", typed), Accepted)
    assert item(cold_job.seen(), "capacitor:C2").word.verdict == verdict


def test_the_charging_is_drawn_beside_what_the_value_would_do(cold_job):
    cold_job.log(
        SeriesTaken(target="C2", mode="ohm", seconds=(1.0, 2.0, 3.0), values=(120.0, 270.0, -1.0))
    )
    picture = cold_picture(*cold_job.seen(focus="capacitor:C2"))
    assert len(picture.points) == 3
    assert picture.points[-1][1] == 1.0
    heights = [h for _, h in picture.expected]
    assert heights == sorted(heights)


@pytest.mark.parametrize(
    ("beeped", "text", "is_bad"),
    [
        ("19", "none shorted", False),
        ("3 19", "Q3 shorted; test U14 next", True),
        ("q3, q12 19", "Q3, Q12 shorted; test U14, U15 next", True),
        ("none", "Q19 should beep: move the lead to the ground", False),
    ],
)
def test_a_sweep_names_the_shorted_ones_and_their_drivers(cold_job, beeped, text, is_bad):
    answer(cold_job, "row:Q-row", beeped)
    found = item(cold_job.seen(), "row:Q-row")
    assert (found.word.text, found.is_bad) == (text, is_bad)
    drivers = [
        i.target for i in cold_items(cold_job.seen().case) if i.kind == "chip" and i.is_favourite
    ]
    assert bool(drivers) is is_bad


def test_a_chip_is_mapped_by_taps_or_by_typing(cold_job):
    seen = cold_job.seen(focus="chip:U14", draft={"pins": "3 8"})
    states = {p.name: p.state for p in cold_picture(*seen).pins}
    assert (states["3"], states["8"], states["1"]) == ("found", "expected and found", "plain")
    assert card_for("cold", *seen).entry.prefill == "3 8"
    answer(cold_job, "chip:U14", "3 8")
    assert "burnt through" in item(cold_job.seen(), "chip:U14").word.text
    answer(cold_job, "chip:U14", "none")
    assert not item(cold_job.seen(), "chip:U14").is_done, "the lead is moved, and it is toned again"
    states = {p.name: p.state for p in cold_picture(*cold_job.seen(focus="chip:U14")).pins}
    assert states["8"] == "missing"


def test_a_shorted_coil_links_its_driver(cold_job):
    answer(cold_job, "coil:K03", "0.5")
    found = item(cold_job.seen(), "coil:K03")
    assert found.word.text.endswith("short; Q3 with it")
    assert item(cold_job.seen(), "junction:Q3").is_favourite
    assert any("K03" in stop.text for stop in cold_stops(cold_job.seen().case))
    card = card_for("cold", *cold_job.seen(focus="coil:K03"))
    assert card.runners[0].log == (Finding(seen="burnt", place="K03"),)


def test_switches_and_parts_without_a_marking(cold_job):
    card = card_for("cold", *cold_job.seen(focus="switch:SW1"))
    assert "C to NC must open" in card.why[1]
    cold_job.log(*card.choices[2].log)
    assert item(cold_job.seen(), "switch:SW1").is_bad
    taken = answer(cold_job, "unknown:part", "0.66 0.62 OL OL OL OL")
    assert taken.log[0].text.startswith("NPN transistor; 1 base")
    assert isinstance(answer(cold_job, "unknown:part", "0.6 OL"), Refused)
    assert isinstance(answer(cold_job, "unknown:part", "660 620 OL OL OL OL"), Refused)


@pytest.mark.parametrize(
    ("typed", "word", "shape", "starts"),
    [
        ("Q5 660mV 620mV OL OL OL OL", "good", "within", "Q5: NPN transistor; 1 base"),
        ("Q5 0 OL 0 OL OL OL", "cannot tell", "noisy", "Q5: shorted, or a charged"),
        ("Q5 0 OL 0 OL OL OL bridged", "bad", "absent", "Q5: shorted"),
        ("OL OL OL OL OL 0.5 0.01 OL", "good", "within", "N-channel MOSFET; 1 gate, 2 drain"),
    ],
)
def test_six_readings_say_what_a_part_is_or_why_they_cannot(cold_job, typed, word, shape, starts):
    taken = answer(cold_job, "unknown:part", typed)
    assert taken.log[0].word == word
    assert taken.log[0].text.startswith(starts)
    cold_job.log(*taken.log)
    check = taken.log[0].check
    found = item(cold_job.seen(), check)
    assert (found.word.verdict, found.is_bad) == (shape, word == "bad")
    card = card_for("cold", *cold_job.seen(focus=check))
    assert (card.why_heading, card.why[0]) == ("Last result", taken.log[0].text)


def test_each_part_that_was_named_keeps_its_own_result(cold_job):
    """A good Q6 does not take the short of Q5 away; a part without a name has the last word only."""
    for typed in ("Q5 0 OL 0 OL OL OL bridged", "Q6 0.66 0.62 OL OL OL OL"):
        cold_job.log(*answer(cold_job, "unknown:part", typed).log)
    assert item(cold_job.seen(), "unknown:Q5").is_bad
    assert item(cold_job.seen(), "unknown:Q6").word.verdict == "within"
    assert not item(cold_job.seen(), "unknown:part").is_bad


@pytest.mark.parametrize(
    ("focus", "typed", "says"),
    [
        ("row:Q-row", "99", "not in this row"),
        ("row:Q-row", "  ", "Nothing was typed"),
        ("chip:U14", "17", "not on a package"),
        ("chip:U14", "x", "Only pin numbers"),
        ("capacitor:C2", "12", "1 were typed"),
        ("capacitor:C2", "2:1k 1:2k 3:4k", "must rise"),
        ("capacitor:C2", "a b c", "a"),
        ("junction:BR2", "zz", "zz"),
    ],
)
def test_nonsense_is_refused_with_a_mend_and_nothing_is_logged(cold_job, focus, typed, says):
    taken = answer(cold_job, focus, typed)
    assert isinstance(taken, Refused)
    assert says in taken.what
    assert taken.mend


def test_the_technicians_own_word_stands_until_the_part_is_new(cold_job):
    cold_job.log(CheckNoted(check="coil:K01", word="bad", text="cooked"))
    assert item(cold_job.seen(), "coil:K01").word.text == "cooked"
    cold_job.log(PartReplaced(part="K01", out="x", fitted="y"))
    assert item(cold_job.seen(), "coil:K01").word.text == ""
    cold_job.log(Swept(target="Q-row", beeped=("Q3",)))
    assert item(cold_job.seen(), "row:Q-row").is_bad


def test_house_rules_change_what_the_cards_ask_for(cold_job):
    sight = card_for(
        "cold", *cold_job.seen(focus="capacitor:C2", rules={"electrolytics": "on sight"})
    )
    assert sight.why[0].startswith("House rule")
    assert sight.runners[0].draft == {"part": "C2"}
    leg = card_for("cold", *cold_job.seen(focus="junction:BR2", rules={"in circuit": "lift a leg"}))
    assert leg.why[1].startswith("Lift one leg")


def test_the_round_ends_with_what_must_be_mended_or_the_way_on(cold_job):
    skipped = frozenset(f"cold:{i.id}" for i in cold_items(cold_job.seen().case))
    assert card_for("cold", *cold_job.seen(skipped=skipped)).kind == "Cold check"
    for found in cold_items(cold_job.seen().case):
        cold_job.log(CheckNoted(check=found.id, word="good"))
    card = card_for("cold", *cold_job.seen())
    assert (card.title, card.choices[0].go) == ("Cold checks done", "wake")
    cold_job.log(CheckNoted(check="fuse:F4", word="bad", text="bridged"))
    card = card_for("cold", *cold_job.seen())
    assert (card.cautions, card.choices[0].go) == (("F4: bridged.",), "swap")


@pytest.mark.parametrize(
    ("year", "says", "replaces"),
    [(1981, "About 45 years: it is replaced", True), (2002, "About 24 years: the test decides", False),
     (2001, "About 25 years: it is replaced", True), (None, "names no year", False)],
)  # fmt: skip
def test_electrolytics_by_age_are_judged_by_the_year_of_the_kind(cold_job, year, says, replaces):
    seen = cold_job.seen(focus="capacitor:C2", rules={"electrolytics": "by age"})
    card = card_for("cold", *seen.but(profile=replace(seen.case.profile, year=year)))
    assert says in card.why[0]
    assert bool(card.runners) is replaces
