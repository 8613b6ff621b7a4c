"""What a typed reading means: logged, asked about once, or refused."""

import math

import pytest

from bench_lamp.cards.card import Accepted, Asked, Entry, Refused, Typed
from bench_lamp.cards.instrument import shown_text
from bench_lamp.cards.reading_entry import judge_typed, take_reading
from bench_lamp.instrument import Shown
from bench_lamp.journal.events import MainsSeen, PowerConfirmed, ReadingTaken
from bench_lamp.stages import stage_of

DC = Entry(kind="reading", unit="V", target="A", mode="dc V")
LAMPS = Entry(kind="reading", unit="V", target="C", mode="dc V")
AC = Entry(kind="reading", unit="V~", target="G", mode="ac V")
TONE = Entry(kind="reading", unit="Ω", target="F4", mode="tone")


@pytest.mark.parametrize(
    ("entry", "text", "mode", "value"),
    [
        pytest.param(DC, "5.08", "dc V", 5.08, id="plain"),
        pytest.param(DC, "5,08 V", "dc V", 5.08, id="comma"),
        pytest.param(DC, "12 mV~", "ac V", 0.012, id="ripple-by-its-unit"),
        pytest.param(AC, "7.2", "ac V", 7.2, id="ac-point"),
        pytest.param(AC, "7.2 V", "ac V", 7.2, id="volts-without-a-sign-mean-the-points-mode"),
        pytest.param(DC, "OL", "dc V", 0.0, id="overload"),
        pytest.param(DC, "0.02", "dc V", 0.02, id="dead-rail-is-no-slip"),
    ],
)
def test_a_good_entry_becomes_one_reading(live_job, entry, text, mode, value):
    answer = take_reading(*live_job.seen(), entry, Typed(text=text))
    assert isinstance(answer, Accepted)
    (body,) = answer.log
    assert isinstance(body, ReadingTaken)
    assert (body.target, body.mode, body.power) == (entry.target, mode, "live")
    assert body.value == pytest.approx(value)
    assert body.overload is (text == "OL")
    assert body.meter == "hearthwell-60"


@pytest.mark.parametrize(
    ("entry", "text", "what", "mend"),
    [
        (DC, "abc", "not a reading", "such as"),
        (DC, "", "not a reading", "such as"),
        (DC, "12 Ω", "ohms reading on a live board", "Switch off"),
        (DC, "4k7 ohm", "ohms reading on a live board", "Switch off"),
        (TONE, "0.2", "continuity test on a live board", "Switch off"),
        (AC, "7.2 V dc", "G is an AC point", "Set the meter to AC"),
        (DC, "3 A", "A where V was expected", "in V"),
    ],
)
def test_a_bad_entry_is_refused_with_the_mend(live_job, entry, text, what, mend):
    answer = take_reading(*live_job.seen(), entry, Typed(text=text))
    assert isinstance(answer, Refused)
    assert what in answer.what
    assert mend in answer.mend


def test_ohms_at_a_voltage_point_are_refused_when_it_is_off_too(job):
    answer = take_reading(*job.seen(), DC, Typed(text="12 ohm"))
    assert isinstance(answer, Refused)
    assert "DC volts" in answer.what


@pytest.mark.parametrize(
    ("entry", "text", "question", "meant"),
    [
        pytest.param(DC, "5080", "5.08 kV at a 5.05 V point", 5.08, id="factor-1000"),
        pytest.param(DC, "5.08 mV", "5.08 mV at a 5.05 V point", 5.08, id="mV-for-V"),
        pytest.param(DC, "-5.08", "are the leads swapped", 5.08, id="sign"),
        pytest.param(DC, "5.0 V~", "of ripple on a", 5.0, id="meter-left-on-ac"),
        pytest.param(LAMPS, "140", "Wrong point or ground", None, id="another-point"),
    ],
)
def test_a_doubtful_entry_is_asked_about_once(live_job, entry, text, question, meant):
    answer = take_reading(*live_job.seen(), entry, Typed(text=text))
    assert isinstance(answer, Asked)
    assert question in answer.question.replace("\u202f", " ")
    logged = {choice.key: choice.log[0] for choice in answer.choices}
    assert "y" in logged
    if meant is not None:
        assert logged["m"].value == pytest.approx(meant)
        assert logged["m"].mode == "dc V"


def test_what_was_meant_keeps_the_digits(live_job):
    answer = take_reading(*live_job.seen(), DC, Typed(text="5080"))
    assert isinstance(answer, Asked)
    assert answer.choices[0].log[0].resolution == pytest.approx(0.001)


def test_volts_on_a_board_marked_off_ask_whether_it_is_live(job):
    answer = take_reading(*job.seen(), DC, Typed(text="5.08"))
    assert isinstance(answer, Asked)
    live, still_off = answer.choices
    assert live.again
    assert live.log == (PowerConfirmed(power="live"),)
    assert still_off.log[0].power == "off"


def test_the_question_names_the_stop_when_the_mains_do_not_agree(job):
    job.log(MainsSeen(place="selector", text="230 V"), MainsSeen(place="fuse", text="6.3 A slow"))
    answer = take_reading(*job.seen(), DC, Typed(text="5.08"))
    assert isinstance(answer, Asked)
    assert "against the stop" in answer.choices[0].text
    assert "3\u202fA slow" in answer.choices[0].log[0].against


@pytest.mark.parametrize(
    ("entry", "text", "verdict", "rest"),
    [
        (DC, "5.08", "within", "usual"),
        (DC, "4.5", "low", ""),
        (DC, "0.1", "absent", "F2 feeds it"),
        (LAMPS, "0", "absent", "F4 feeds it"),
        (DC, "0.3 ~", "noisy", "peak to peak"),
        (DC, "4.", "low", ""),
        (DC, "abc", "", ""),
        (DC, "", "", ""),
        (Entry(kind="text", field="look"), "2 c1", "", "C1"),
        (Entry(kind="text", field="look"), "2", "", "where?"),
        (Entry(kind="text", field="complaint"), "anything", "", ""),
    ],
)
def test_the_verdict_stands_while_it_is_typed(live_job, entry, text, verdict, rest):
    stage = stage_of("rails" if entry.kind == "reading" else "intake")
    shown = stage.preview(*live_job.seen(), entry, text)
    assert shown.verdict == verdict
    assert rest in shown.implies


def test_an_unknown_target_has_no_verdict(live_job):
    assert judge_typed(live_job.seen().case, Entry(kind="reading", target="ZZ"), "5") is None


@pytest.mark.parametrize(
    ("value", "resolution"),
    [(5.0812, 0.0), (5.0812, 0.0001), (5.0812, 1.0), (-0.0004, 0.0), (1e-9, 0.0), (138.25, 0.01)],
)
def test_what_an_instrument_shows_is_logged_as_it_is_never_through_its_text(
    live_job, value, resolution
):
    """The text on screen is rounded to the resolution; the default of 0 would make 5 of 5.0812."""
    shown = Shown(value=value, resolution=resolution)
    typed = Typed(text=shown_text(shown), source="bench meter", shown=shown)
    answer = take_reading(*live_job.seen(), DC, typed)
    asked = answer.choices[-1].log if isinstance(answer, Asked) else answer.log
    (body,) = asked
    assert (body.value, body.resolution, body.meter) == (value, resolution, "bench meter")
    assert not body.overload


def test_an_overload_that_an_instrument_shows_is_one_in_the_journal(live_job):
    shown = Shown(value=math.inf, resolution=0.1)
    typed = Typed(text=shown_text(shown), source="bench meter", shown=shown)
    (body,) = take_reading(*live_job.seen(), DC, typed).log
    assert (body.value, body.overload) == (0.0, True)
