"""The stage Swap: is it the part, what may go in, what is done before power; each step by the real cards."""

import pytest
from tests.seen import take

from bench_lamp.board import ProfileLibrary
from bench_lamp.board.spec_reading import parse_spec
from bench_lamp.cards.card import Accepted, Refused
from bench_lamp.case.facts import facts_of
from bench_lamp.case.needed import marked_words, needed_words, unread_words
from bench_lamp.case.part_spec import judged, wanted_spec, wanted_text
from bench_lamp.case.part_tests import across, expected, judge_measured, parallel_words
from bench_lamp.checks.part_value import (
    Measured,
    judge_capacitor,
    judge_coil,
    judge_fuse,
    judge_resistor,
)
from bench_lamp.journal.events import PartReplaced
from bench_lamp.journal.open_events import OpenEnd
from bench_lamp.journal.part_events import PartMeasured, PlateRead
from bench_lamp.stages import card_for
from bench_lamp.stages.swap.swap_view import changed, swap_view
from bench_lamp.stages.swap.testing import take_measured
from bench_lamp.sums.at_rest import inrush_peak, least_reservoir
from bench_lamp.views.path import path


@pytest.fixture
def ostrel_job(make_job):
    return make_job(ProfileLibrary().get("ostrel-8"))


#: Part, what goes in, and whether it is logged, refused, or shown with its reasons.
OFFERS = [
    ("F4", "10 A slow", "logged"),
    ("F4", "T10A", "logged"),
    ("F4", "16 A slow", "refused"),
    ("F4", "10 A fast", "refused"),
    ("C4", "100 uF 350 V 105C 18x35 pitch 7.5 ripple 0.5 A esr 0.9", "logged"),
    ("C4", "100 uF 250 V", "logged"),
    ("C4", "100 uF 200 V", "shown"),
    ("C4", "47 uF 350 V", "shown"),
    ("C1", "15000 uF 25 V", "logged"),
    ("C1", "22000 uF 25 V", "shown"),
    ("C112", "tantalum 100 uF 10 V", "logged"),
    ("C112", "tantalum 100 uF 6.3 V", "shown"),
    ("BR1", "bridge 35 A 400 V", "logged"),
    ("BR1", "bridge 10 A 400 V", "shown"),
    ("U1", "type TR-405K", "logged"),
    ("U1", "type TR-999", "shown"),
    ("Q1", "type TD-122", "logged"),
    ("Q1", "type TD-44", "shown"),
    ("R99", "anything at all", "logged"),
    ("IC1", "from the donor board", "logged"),
]


@pytest.mark.parametrize(("part", "text", "what"), OFFERS)
def test_what_goes_in_is_logged_refused_or_shown_with_its_reasons(job, part, text, what):
    draft = {"part": part, "action": "replaced", "out": "as it was"}
    assert card_for("swap", *job.seen(draft=draft)).title == f"{part}: what went in?"
    answer = take("swap", *job.seen(draft=draft), text)
    if what == "refused":
        assert isinstance(answer, Refused)
        assert part in answer.what
    elif what == "logged":
        assert answer.log == (PartReplaced(part=part, out="as it was", fitted=text),)
    else:
        assert answer.log == ()
        card = card_for("swap", *job.seen(draft=dict(answer.draft)))
        assert card.title == f"{text} does not fit {part}"
        assert card.why[0]
        again, for_now = card.choices
        assert again.draft == draft
        assert [type(b) for b in for_now.log] == [PartReplaced, OpenEnd]
        assert for_now.log[1].what == "temporary part"


@pytest.mark.parametrize("profile_id", sorted(ProfileLibrary().paths()))
def test_like_for_like_fits_everywhere(make_job, profile_id):
    case = make_job(ProfileLibrary().get(profile_id)).seen().case
    for part in case.profile.part_ids():
        text = wanted_text(case, part)
        if text:
            assert judged(case, part, text).fits, (part, text)


def test_a_part_that_was_soldered_asks_for_what_is_done_before_power(job):
    job.log(PartReplaced(part="BR1", out="x", fitted="bridge 25 A 200 V"))
    card = card_for("swap", *job.seen(draft={"part": "BR1", "step": "after"}))
    assert any("bridges" in lead.text for lead in card.leads)
    assert card.choices[0].go == "rails"
    assert [c.draft["part"] for c in card.runners] == ["C1"], "what dies with it"
    fuse = take(
        "swap", *job.seen(draft={"part": "F4", "action": "replaced", "out": "x"}), "10 A slow"
    )
    assert fuse.go == "rails", "a fuse is only clipped in"


@pytest.mark.parametrize(
    ("typed", "first", "rest"),
    [
        ("Q1 q3, Q5", "Q1", "Q3 Q5"),
        ("kit", "C1", "C112 C203 C2 C3 C4"),
        ("F4", "F4", None),
        ("R1 R2", "R1 R2", None),
    ],
)
def test_several_parts_go_one_after_the_other(job, typed, first, rest):
    answer = take("swap", *job.seen(), typed)
    assert answer.draft["part"] == first
    assert answer.draft.get("list") == rest
    if rest is None:
        return
    draft = {**answer.draft, "out": "x"}
    fitted = take("swap", *job.seen(draft=draft), wanted_text(job.seen().case, first))
    after = card_for("swap", *job.seen(draft=dict(fitted.draft)))
    assert after.choices[0].draft["part"] == rest.split()[0]
    assert after.choices[0].go == ""


def test_what_stays_open_is_an_open_end_until_the_part_is_in(job):
    done = card_for("swap", *job.seen(draft={"part": "C2"})).choices
    left = next(c for c in done if "Left out" in c.text)
    job.log(*left.log)
    assert [e.what for e in job.state.open_ends] == ["left out"]
    assert next(n.note for n in path(job.seen().case) if n.stage == "swap") == "1 open end"
    kept = card_for("swap", *job.seen(draft={"part": "C2", "open": "1"}))
    assert [c.log[0].what for c in kept.choices] == ["link", "line", "socket", "temporary part"]
    job.log(PartReplaced(part="C2", out="x", fitted="y"))
    assert job.state.open_ends == ()


#: What is marked, what was measured, the state, what lies across, the verdict.
CAPACITORS = [
    ("electrolytic 220 uF 25 V", Measured(farads=215e-6), "out", 0.0, "good"),
    ("electrolytic 220 uF 25 V", Measured(farads=120e-6), "out", 0.0, "small"),
    ("electrolytic 220 uF 25 V", Measured(farads=318e-6), "in circuit", 100e-6, "good"),
    ("electrolytic 220 uF 25 V", Measured(farads=120e-6), "in circuit", 100e-6, "small"),
    ("electrolytic 220 uF 25 V", Measured(farads=225e-6), "in circuit", 100e-6, "unclear"),
    ("electrolytic 220 uF 25 V", Measured(farads=900e-6), "in circuit", 0.0, "unclear"),
    ("electrolytic 220 uF 25 V", Measured(farads=900e-6), "one leg lifted", 0.0, "leaky"),
    ("electrolytic 220 uF 25 V", Measured(farads=215e-6, esr=38.0), "out", 0.0, "high ESR"),
    ("electrolytic 220 uF 25 V", Measured(farads=215e-6, leak=5e-3), "out", 0.0, "leaky"),
    ("film 100n 250V", Measured(farads=101e-9), "out", 0.0, "good"),
    ("film 100n 250V", Measured(ohms=0.2), "out", 0.0, "shorted"),
]


@pytest.mark.parametrize(("was", "found", "state", "beside", "word"), CAPACITORS)
def test_a_capacitor_reads_high_with_what_lies_across_and_never_low(
    was, found, state, beside, word
):
    assert judge_capacitor(parse_spec(was), found, state, beside).word == word


@pytest.mark.parametrize(
    ("ohms", "state", "word"),
    [
        (10e3, "in circuit", "good"),
        (7e3, "in circuit", "unclear"),
        (7e3, "out", "bad"),
        (13e3, "in circuit", "bad"),
        (float("inf"), "in circuit", "open"),
    ],
)
def test_a_resistor_reads_low_with_what_lies_across_and_never_high(ohms, state, word):
    assert judge_resistor(parse_spec("resistor 10k 5 %"), Measured(ohms=ohms), state).word == word


def test_a_coil_is_henries_and_ohms_and_a_fuse_in_its_holder_proves_nothing():
    coil = parse_spec("coil 82 uH ohms 0.2")
    assert judge_coil(coil, Measured(ohms=0.2)).word == "unclear", "a wire that is whole"
    assert judge_coil(coil, Measured(henries=80e-6, ohms=0.2)).word == "good"
    assert judge_coil(coil, Measured(henries=20e-6, ohms=0.2)).word == "small"
    assert judge_fuse(Measured(ohms=0.1), "in circuit").word == "unclear"
    assert judge_fuse(Measured(ohms=0.1), "out").word == "good"
    assert judge_fuse(Measured(ohms=1e6), "out").word == "open"


def test_what_lies_across_is_said_in_figures_and_falls_away_with_a_plug(job):
    """C112 and C203 hang on the same +5 V through J2.4 and J6.2; with J6 off only one is left."""
    case = job.seen().case
    assert dict(across(case, "C112")) == {"C203": pytest.approx(47e-6)}
    assert "C203 (47\u202fµF) is across it: together 147\u202fµF." in parallel_words(
        case, "C112", "in circuit"
    )
    assert expected(case, "C112", "in circuit") != expected(case, "C112", "out")
    from bench_lamp.journal.events import ActionDone

    job.log(ActionDone(action="removed for test", target="J6"))
    assert across(job.seen().case, "C112") == ()


@pytest.mark.parametrize(
    ("part", "state", "text", "verdict"),
    [
        ("C4", "out", "11 uF esr 38", "high ESR"),
        ("C4", "out", "104 uF esr 0.9", "good"),
        ("C4", "out", "11 uF", "small"),
        ("F4", "out", "0.1", "good"),
        ("F4", "out", "OL", "open"),
        ("U1", "out", "fail", "bad"),
        ("U1", "out", "pass", "unclear"),
        ("BR1", "one leg lifted", "shorted", "shorted"),
    ],
)
def test_what_is_measured_is_judged_logged_and_goes_to_the_odds(job, part, state, text, verdict):
    job.switch("discharged")
    draft = {"part": part, "test": state}
    answer = take("swap", *job.seen(draft=draft), text)
    assert answer.log == (PartMeasured(part=part, state=state, text=text, verdict=verdict),)
    job.log(*answer.log)
    assert job.state.measured[part].verdict == verdict
    told = dict(facts_of(job.state).seen)
    assert told.get(part) == (None if verdict == "unclear" else f"measured {verdict}")
    card = card_for("swap", *job.seen(draft=dict(answer.draft)))
    assert card.why[0].startswith(f"Measured {state}: ")


@pytest.mark.parametrize("power", ["", "live", "off"])
@pytest.mark.parametrize("state", ["in circuit", "one leg lifted"])
def test_nothing_is_measured_on_a_board_that_is_not_discharged(job, power, state):
    """Unknown is never safe; what is out of the board can be measured whatever the board is."""
    if power:
        job.switch(power)
    draft = {"part": "C2", "test": state}
    card = card_for("swap", *job.seen(draft=draft))
    assert card.entry is None
    assert "1\u202fV" in card.title
    answer = take("swap", *job.seen(draft=draft), "8000 uF")
    assert answer is None or isinstance(answer, Refused)
    assert isinstance(take_measured(*job.seen(draft=draft), "8000 uF"), Refused)
    job.switch("discharged")
    assert card_for("swap", *job.seen(draft=draft)).entry is not None
    assert take("swap", *job.seen(draft=draft), "8000 uF").log
    out = {"part": "C2", "test": "out"}
    job.switch("live")
    assert card_for("swap", *job.seen(draft=out)).entry is not None


def test_what_is_no_measurement_is_refused_with_the_mend(job):
    answer = take("swap", *job.seen(draft={"part": "C4", "test": "out"}), "banana")
    assert isinstance(answer, Refused)
    assert answer.mend
    assert judge_measured(job.seen().case, "R99", "out", "12 k").word == "unclear"


def test_a_measured_part_moves_the_odds(hunted, live_job):
    """A reservoir that measures good is out of question, one that measures small nearly sure."""
    live_job.read(C=0.1)
    before = {s.block: s.odds for s in hunted(live_job).case.insight.suspects}
    live_job.log(PartMeasured(part="C2", state="out", text="8000 uF", verdict="good"))
    after = {s.block: s.odds for s in hunted(live_job).case.insight.suspects}
    assert after.get("C2", 0.0) < 0.2 * before["C2"]
    live_job.log(PartMeasured(part="C2", state="out", text="0.1", verdict="shorted"))
    at_last = {s.block: s.odds for s in hunted(live_job).case.insight.suspects}
    assert at_last["C2"] > 3 * before["C2"]


def test_the_surface_shows_out_beside_in_with_each_rule(job):
    assert swap_view(*job.seen()) is None
    draft = {
        "part": "C4",
        "action": "replaced",
        "out": "100 uF 250 V",
        "fitted": "100 uF 200 V 105C",
    }
    view = swap_view(*job.seen(draft=draft))
    assert (view.out, view.into, view.fits) == ("100 uF 250 V", "100 uF 200 V 105C", False)
    assert view.rules[0].about == "volts", "what is not met stands first"
    assert [m.picture.side for m in view.maps] == ["parts", "solder"]
    assert [name for name, _ in view.ways] == ["Out", "Ways", "Near", "Then"]
    assert "U2" in view.ways[2][1], "24 mm beside C4"
    job.log(PartReplaced(part="C4", out="a", fitted="b"))
    assert changed(job.seen().case).swaps == (("C4", "a", "b"),)


@pytest.mark.parametrize("profile_id", sorted(ProfileLibrary().paths()))
def test_every_part_of_every_board_has_its_surface(make_job, profile_id):
    job = make_job(ProfileLibrary().get(profile_id))
    for part in (*job.profile.part_ids(), "R99"):
        for draft in (
            {"part": part},
            {"part": part, "step": "after"},
            {"part": part, "test": "in circuit"},
        ):
            seen = job.seen(draft=draft)
            view = swap_view(*seen)
            assert view.part == part
            assert card_for("swap", *seen).title


def test_the_makers_changes_come_up_by_themselves(job):
    card = card_for("swap", *job.seen(draft={"part": "C4", "action": "replaced", "out": "x"}))
    assert any("From serial 4000 on: 47 uF 350 V" in text for text in card.why)
    assert wanted_spec(job.seen().case, "C4").ripple == 0.12
    assert isinstance(
        take("swap", *job.seen(draft={"part": "C4", "action": "replaced"}), " "), Refused
    )
    assert isinstance(take("swap", *job.seen(), "c4"), Accepted)


def test_what_the_circuit_needs_is_said_of_a_reservoir(job, orrery):
    """C1 was made 12000 µF for 2 V of ripple on B; the circuit says what would do, and less is more ripple."""
    words = needed_words(job.seen().case, "C1")
    assert len(words) == 1
    assert "the ripple of B stays under" in words[0]
    small, large = (least_reservoir(orrery, "raw_logic", limit) for limit in (2.0, 0.5))
    assert 0 < small < large < 1.0
    assert needed_words(job.seen().case, "F4") == ()
    peak = inrush_peak(orrery, "raw_logic")
    assert peak == pytest.approx(13.8 / 0.078, rel=0.02), "peak over the winding’s ohms"
    assert inrush_peak(orrery, "nothing") == 0.0


def test_a_part_that_cannot_be_read_is_read_elsewhere(job):
    assert "profile’s" in unread_words(job.seen().case, "C4")[0]
    assert "good board" in unread_words(job.seen().case, "R99")[0]
    draft = {"part": "R99", "action": "replaced", "list": "Q1 Q3"}
    card = card_for("swap", *job.seen(draft=draft))
    assert any("good board" in text for text in card.why)
    assert card.why[-1] == "Still to do: Q1, Q3."


@pytest.mark.parametrize(
    ("part", "offers"), [("U1", True), ("T1", True), ("F4", False), ("C2", False)]
)
def test_a_whole_supply_is_replaced_only_in_that_school(job, part, offers):
    plain = card_for("swap", *job.seen(draft={"part": part}))
    assert not any("whole supply" in c.text for c in plain.runners)
    rules = {"whole supply": "replace it"}
    card = card_for("swap", *job.seen(draft={"part": part}, rules=rules))
    assert any("whole supply" in c.text for c in card.runners) is offers
    if offers:
        whole = card_for("swap", *job.seen(draft={"part": part, "whole": "1"}, rules=rules))
        minds = " ".join(whole.why)
        assert "Gives 5.05\u202fV in the place of U1" in minds
        assert "7 lighting is AC and must stay" in minds or "lighting" in minds
        assert "Ties the grounds" in minds
        assert whole.choices[0].log[0].fitted == "a modern supply"


@pytest.mark.parametrize(
    ("part", "out", "says"),
    [
        ("R9", "470", "470 is 47\u202fΩ or 470\u202fΩ: measure it."),
        ("C4", "100 uF", ""),
        ("R9", "4k7", ""),
    ],
)
def test_a_marking_with_two_readings_is_to_be_measured(job, part, out, says):
    words = " ".join(marked_words(job.seen().case, part, out))
    assert words == says


def test_a_list_is_ticked_off(job):
    draft = take("swap", *job.seen(), "F4 C2 C3").draft
    assert swap_view(*job.seen(draft=draft)).ticks == (("F4", False), ("C2", False), ("C3", False))
    fitted = take("swap", *job.seen(draft={**draft, "out": "x"}), "10 A slow")
    assert swap_view(*job.seen(draft=fitted.draft)).ticks == (
        ("F4", True),
        ("C2", False),
        ("C3", False),
    )
    after = take("swap", *job.seen(draft={**fitted.draft, "out": "x"}), "8200 uF 35 V").draft
    assert swap_view(*job.seen(draft=after)).ticks[1] == ("C2", True)


def test_a_chip_tester_speaks_to_the_logic_and_the_twin_gives_a_value(ostrel_job):
    answer = take("swap", *ostrel_job.seen(draft={"part": "U7", "test": "out"}), "fail")
    assert [type(b).__name__ for b in answer.log] == ["PartMeasured", "PartTried"]
    out = take("swap", *ostrel_job.seen(draft={"part": "R40", "action": "replaced"}), "twin 470")
    card = card_for("swap", *ostrel_job.seen(draft={**out.draft, "part": "R40"}))
    assert card.entry.prefill == "470"
    assert any("measure it" in text for text in card.why)
    assert any("From one good board" in text for text in card.why)


def test_what_lies_across_is_named_in_the_verdict(job):
    found = judge_measured(job.seen().case, "C112", "in circuit", "150 uF")
    assert found.text == "150\u202fµF for 100\u202fµF, C203 across it: as marked."


@pytest.mark.parametrize(
    ("part", "says"),
    [
        ("U1", "By the circuit: A must read"),
        ("VR1", "By the circuit: K must read 8.2\u202fV"),
        ("C1", "the ripple of B stays under"),
    ],
)
def test_a_part_that_cannot_be_read_must_make_its_rail_right(job, part, says):
    assert says in needed_words(job.seen().case, part)[0]


def test_what_lies_across_a_rectifier_is_its_winding_in_figures(job):
    """T1's winding for +5 V has 78 mΩ by the circuit."""
    (words,) = parallel_words(job.seen().case, "BR1", "in circuit")
    assert words.startswith("The winding, 78\u202fmΩ, lies across")
    assert parallel_words(job.seen().case, "BR1", "out") == ()


@pytest.mark.parametrize(
    ("part", "fitted", "note"),
    [
        ("C4", "from the donor board", "not said"),
        ("C4", "100 uF 200 V", "does not fit"),
        ("R99", "anything", "knows no rule"),
        ("F4", "10 A slow", "fits in all that is known"),
    ],
)
def test_what_nobody_knows_is_not_said_to_fit(job, part, fitted, note):
    view = swap_view(*job.seen(draft={"part": part, "out": "x", "fitted": fitted}))
    assert note in view.into_note


def test_a_temporary_part_keeps_the_list(job):
    draft = {"part": "C4", "out": "x", "fitted": "100 uF 200 V", "list": "C3", "all": "C4 C3"}
    card = card_for("swap", *job.seen(draft=draft))
    assert card.choices[1].draft["list"] == "C3"


def test_old_tracks_are_spoken_of_with_every_soldered_part(job):
    for part, is_soldered in (("C4", True), ("IC1", True), ("F4", False)):
        ways = dict(swap_view(*job.seen(draft={"part": part})).ways)
        assert ("never pry" in ways.get("Ways", "")) is is_soldered


def test_a_part_that_is_said_at_length_is_named_as_it_is_marked(job):
    text = "electrolytic 100 uF 200 V 105C 22x40 pitch 10 ripple 0.1 A esr 9"
    card = card_for("swap", *job.seen(draft={"part": "C4", "out": "x", "fitted": text}))
    assert card.title == "100\u202fµF 200\u202fV does not fit C4"
    assert card.choices[1].log[0].fitted == text


@pytest.mark.parametrize(
    ("part", "says"),
    [
        pytest.param("F5", "it beeps even when it is open", id="a-fuse-between-winding-and-lamps"),
        pytest.param("F2", "it beeps only when it is whole", id="a-fuse-before-a-rectifier"),
        pytest.param("F1", "Windings lie across it", id="a-fuse-in-the-mains-that-nobody-solves"),
        pytest.param("VR1", "a good one reads 46.8\u202fkΩ here", id="a-resistor"),
        pytest.param("U1", "less than that is the part itself", id="a-regulator"),
    ],
)
def test_what_lies_across_a_part_of_two_ends_is_in_figures(job, part, says):
    assert says in " ".join(parallel_words(job.seen().case, part, "in circuit"))


@pytest.mark.parametrize(
    ("part", "text", "verdict"),
    [
        ("VR1", "46.5k", "good"),
        ("VR1", "12k", "bad"),
        ("VR1", "90k", "bad"),
        ("F5", "0.1", "unclear"),
        ("F2", "0.1", "good"),
        ("F1", "0.1", "unclear"),
    ],
)
def test_a_reading_in_circuit_is_judged_with_what_lies_across(job, part, text, verdict):
    """VR1 has 10 MΩ beside it, so 12 kΩ is its own fault; F5 lies beside 7 Ω of winding and lamps."""
    assert judge_measured(job.seen().case, part, "in circuit", text).word == verdict


def test_a_serial_number_chooses_the_amendments_and_a_later_visit_knows_it(job):
    """C4 of Orrery Nights was changed from serial 4000 on."""

    def words():
        draft = {"part": "C4", "action": "replaced", "out": "burnt"}
        return " ".join(card_for("swap", *job.seen(draft=draft)).why)

    assert "Look at the plate, then say serial" in words()
    answer = take("swap", *job.seen(draft={"part": "C4", "action": "replaced"}), "serial no. 04123")
    assert answer.log == (PlateRead(serial=4123),)
    job.log(*answer.log)
    assert "This board is 4123." in words()
    job.log(PlateRead(serial=2100))
    assert "47 uF 350 V" not in words()


def test_a_dropper_that_cannot_be_read_is_known_by_what_it_carries(job):
    """166.7 V on the raw rail less 8.2 V over 47 kΩ: 158 V and 3.4 mA, 0.53 W, so 1.1 W at least."""
    (_, words) = needed_words(job.seen().case, "VR1")
    assert words.startswith(
        "By the circuit: 158\u202fV across it, 3.4\u202fmA, so made for 1.1\u202fW"
    )
