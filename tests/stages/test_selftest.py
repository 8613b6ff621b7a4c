"""The stage Self-test without a window: cards, answers, patterns, pictures, clues."""

import random
import zlib

import pytest
from tests.conftest import Job
from tests.seen import Seen, parted, place, take

from bench_lamp.cards.card import Accepted, Refused
from bench_lamp.cards.commands import AskPower, ChooseFile, FileKind, ReadFiles
from bench_lamp.case.case import Case
from bench_lamp.case.facts import facts_of
from bench_lamp.case.next_stage import suggested
from bench_lamp.case.proof import is_proved
from bench_lamp.case.results import cells_now, code_now
from bench_lamp.case.selftest_list import current_test, selftest_items
from bench_lamp.errors import BenchLampError
from bench_lamp.journal.events import (
    ActionDone,
    CheckNoted,
    Finding,
    PartReplaced,
    PowerConfirmed,
    StageMarked,
    Struck,
)
from bench_lamp.journal.logic_events import (
    CellsMarked,
    ImageJudged,
    LaneRead,
    PartTried,
    PinProbed,
    RoundBegun,
    SelfTestSeen,
)
from bench_lamp.logic.capture_rows import CaptureError
from bench_lamp.logic.image_file import ImageError
from bench_lamp.logic.joining import interleave
from bench_lamp.logic.lanes import diagnose, words_for
from bench_lamp.reason.history import joint_history
from bench_lamp.reason.insight_of import insight_of
from bench_lamp.reason.logic.engine import LogicEngine
from bench_lamp.report import make_sheet
from bench_lamp.stages import card_for
from bench_lamp.stages.handback.cards import open_ends
from bench_lamp.stages.selftest.capture_files import lane_from_capture
from bench_lamp.stages.selftest.coverage import covers
from bench_lamp.stages.selftest.image_files import judge_files, wanted_of
from bench_lamp.stages.selftest.kinds import cards_of
from bench_lamp.stages.selftest.samples import found_file, found_files
from bench_lamp.stages.selftest.walk import beside
from bench_lamp.views.find import catalogue, search
from bench_lamp.views.path import path
from bench_lamp.views.tape import tape

WALK = (0x00, 0xFF, 0x55, 0xAA)


@pytest.fixture
def at(library, meter):
    """Return a maker of live jobs on a profile, every need met."""

    def make(profile_id):
        job = Job(library.get(profile_id), meter)
        job.switch("live")
        for test in job.profile.self_tests:
            if test.needs:
                job.log(CheckNoted(check=f"need:{test.id}", word="good"))
        return job

    return make


@pytest.fixture
def ostrel(at):
    return at("ostrel-8")


@pytest.fixture
def cinder(at):
    return at("ardvane-cinder-dunes")


@pytest.fixture
def nights(at):
    return at("tessenby-orrery-nights")


def say(job, text, focus):
    """Type one answer on the stage's card, and log it if it is taken."""
    answer = take("selftest", *job.seen(**parted(focus)), text)
    if isinstance(answer, Accepted):
        job.log(*answer.log)
    return answer


def press(job, key, focus, **draft):
    """Press a key of the stage's card; return where the lamp goes then."""
    card = card_for("selftest", *job.seen(**parted(focus), draft=draft))
    choice = next(c for c in (*card.choices, *card.runners) if c.key == key)
    job.log(*choice.log)
    return choice


def words(job, item):
    seen = job.seen()
    found = next(i for i in selftest_items(seen.case) if i.id == item)
    return cards_of(found).pattern_words(seen.case, found)


def status(job):
    return {i.id: i.status for i in selftest_items(job.seen().case)}


# What the board can tell.


def test_the_list_is_the_profiles_own_and_counts(nights):
    assert list(status(nights)) == [
        "blinks", "switches", "lamps", "displays", "coils", "sounds", "settings", "lane:SW", "lane:DB", "lane:SND",
        "pins",
    ]  # fmt: skip
    assert set(status(nights).values()) == {"waiting"}
    sizes = {i.id: len(i.cells) for i in selftest_items(nights.seen().case)}
    assert (sizes["switches"], sizes["lamps"], sizes["displays"], sizes["coils"]) == (
        56,
        60,
        32,
        19,
    )


def test_without_self_tests_the_stage_teaches_what_could_stand_there(ruskel, meter):
    job = Job(ruskel, meter)
    card = card_for("selftest", *job.seen())
    assert "no self-tests" in card.title
    assert "Blinks" in card.why[0]
    assert suggested(job.seen().case) != "selftest"


def test_needs_are_asked_first_and_once(library, meter):
    job = Job(library.get("tessenby-orrery-nights"), meter)
    card = card_for("selftest", *job.seen(focus="switches"))
    assert card.title == "Make ready for Switch matrix"
    assert [lead.text for lead in card.leads] == ["coin door open", "balls out of the outhole"]
    assert any("outhole reads closed" in line for line in card.why)
    press(job, "1", "switches")
    assert card_for("selftest", *job.seen(focus="switches")).title == "Switch on for Switch matrix"
    job.switch("live")
    assert card_for("selftest", *job.seen(focus="switches")).title.startswith("Work 1.1")


def test_no_test_is_run_on_a_board_that_is_marked_off(ostrel, cinder):
    for job in (ostrel, cinder):
        job.switch("off")
        for found in selftest_items(job.seen().case):
            card = card_for("selftest", *job.seen(focus=found.id))
            if found.kind in {"images", "beeps"}:
                assert card.entry is not None
            else:
                assert card.title == f"Switch on for {found.name}"
                assert not any(c.log for c in card.choices)
    asked = say(ostrel, "2", "beeps")
    assert asked.question == "The board is marked off. Is it live now?"
    ostrel.log(*asked.choices[0].log)
    assert isinstance(say(ostrel, "2", "beeps"), Accepted)
    assert (
        "Power off before a chip" in card_for("selftest", *cinder.seen(focus="images")).cautions[0]
    )


# Codes.


@pytest.mark.parametrize(
    ("text", "code", "state", "says", "parts"),
    [
        pytest.param("5", "5", "good", "Proved:", (), id="all-five"),
        pytest.param(
            "3", "3", "bad", "Not reached: the display and sound", ("IC6",), id="three-blinks"
        ),
        pytest.param("0", "0", "bad", "Not reached: the processor runs", ("IC3", "IC1"), id="none"),
        pytest.param(
            "stuck on", "on", "bad", "held in reset", ("IC1", "IC2", "IC3"), id="stuck-on"
        ),
        pytest.param(
            "flicker", "flicker", "bad", "again and again", ("IC2", "IC4", "IC3"), id="flicker"
        ),
        pytest.param("7", "7", "bad", "More than the 5", (), id="miscounted"),
        pytest.param("2-2", "2-2", "bad", "not in this profile", (), id="unknown-pattern"),
    ],
)
def test_a_count_says_what_it_proves_and_whom_it_accuses(nights, text, code, state, says, parts):
    assert isinstance(say(nights, text, "blinks"), Accepted)
    assert code_now(nights.seen().case, "blinks") == code
    assert status(nights)["blinks"] == state
    card = card_for("selftest", *nights.seen(focus="blinks"))
    assert any(says in line for line in card.why)
    assert tuple(lead.text.partition(":")[0] for lead in card.leads) == parts
    assert all(
        nights.profile.chip(part).place in lead.text
        for part, lead in zip(parts, card.leads, strict=True)
    )
    assert card.choices[0].go == ("selftest" if state == "good" else "trace")


def test_taps_in_time_with_the_lamp_fill_the_entry(nights):
    taps = "0.000-0.100 0.500-0.610 1.000-1.100 3.200-3.300 3.700-3.800 4.200-4.300"
    card = card_for("selftest", *nights.seen(focus="blinks", draft={"taps": taps}))
    assert card.entry.taps
    assert (card.entry.prefill, card.title) == ("3", "Tapped: 3, the same in 2 rounds")
    assert card.why[-1].startswith("Not reached: the display and sound I/O chip")


@pytest.mark.parametrize("text", ["", "x", "many", "3 4 5 six"])
def test_what_is_no_count_changes_nothing(nights, text):
    before = len(nights.events)
    answer = say(nights, text, "blinks")
    assert isinstance(answer, Refused)
    assert "Space" in answer.mend
    assert len(nights.events) == before


def test_a_letter_of_the_test_rom_is_a_code_or_marks_its_chip(cinder):
    assert isinstance(say(cinder, "3", "test-rom"), Accepted)
    assert code_now(cinder.seen().case, "test-rom") == "3"
    cinder.log(RoundBegun(test="test-rom"))
    answer = say(cinder, "c", "test-rom")
    assert (answer.focus, answer.cell) == ("memory", "1.2")
    assert cells_now(cinder.seen().case, "memory")["1.2"].mark == "dead"
    assert isinstance(say(cinder, "Z", "test-rom"), Refused)


def test_nothing_runs_so_the_processors_pins_come_first(ostrel):
    say(ostrel, "off", "beeps")
    seen = ostrel.seen()
    assert current_test(*seen).id == "pins"
    card = card_for("selftest", *seen)
    assert (card.title, card.expect) == ("Probe U1 pin 11, supply", "high")
    focus = place(press(ostrel, "h", ""))
    assert card_for("selftest", *ostrel.seen(**parted(focus))).title == "Probe U1 pin 6, clock"
    press(ostrel, "l", focus)
    marks = cells_now(ostrel.seen().case, "pins")
    assert (marks["U1:11"].mark, marks["U1:6"].mark) == ("good", "low")
    assert any(
        "clock: should be pulsing; does not move" in line
        for t in tape(ostrel.seen().case)
        for line in t.explanation
    )


# Memory.


@pytest.mark.parametrize(
    ("text", "says"),
    [
        pytest.param("M", "M23: bit 3 of bank 2 alone", id="one-letter"),
        pytest.param(
            "a b c d e f g h", "All 8 bits of bank 1, upper row: its select CAS1", id="a-bank"
        ),
        pytest.param("D M", "Bit 3 in every bank: the data path MD3", id="a-data-line"),
        pytest.param("1.0 2.7", "M10: bit 0 of bank 1 alone", id="two-chips"),
        pytest.param("ABCDEFGHJKLMNPQR", "Every bit of every bank", id="everything"),
    ],
)
def test_the_letters_mark_their_chips_and_the_pattern_is_read(cinder, text, says):
    spelt = " ".join(text) if len(text) == 16 and " " not in text else text
    assert isinstance(say(cinder, spelt, "memory"), Accepted)
    assert len(cells_now(cinder.seen().case, "memory")) == 16
    assert any(line.startswith(says) for line in words(cinder, "memory"))


def test_memory_by_arrow_and_enter(cinder):
    item = next(i for i in selftest_items(cinder.seen().case) if i.id == "memory")
    cell = beside(cinder.seen().case, item, "1.0", 1, 0)
    assert cell == "2.0"
    assert isinstance(say(cinder, "", "memory"), Refused)
    say(cinder, "", f"memory@{cell}")
    assert cells_now(cinder.seen().case, "memory")["2.0"].mark == "dead"
    say(cinder, "", f"memory@{cell}")
    assert cells_now(cinder.seen().case, "memory")["2.0"].mark == "good"
    say(cinder, "", f"memory@{cell}")
    say(cinder, "ok", "memory")
    found = cells_now(cinder.seen().case, "memory")
    assert [c for c, m in found.items() if m.mark == "dead"] == ["2.0"]
    assert len(found) == 16


# Matrices.


def mark(job, test, mark_word, *cells, showed=""):
    job.log(CellsMarked(test=test, cells=cells, mark=mark_word, showed=showed))


ROW2 = tuple(f"2.{c}" for c in range(1, 9))
COLUMN3 = tuple(f"{r}.3" for r in range(1, 8))
SOME = ("1.1", "1.2", "3.1", "3.2", "5.1", "5.2")


@pytest.mark.parametrize(
    ("marks", "says"),
    [
        pytest.param([("good", SOME), ("dead", ROW2)], "Row 2 dead: drive IC9, connector J8.2, line SR2.", id="row"),
        pytest.param([("good", SOME), ("dead", COLUMN3)], "Column 3 dead: drive IC8, connector J8.12, line SC3.",
                     id="column"),
        pytest.param([("good", SOME), ("dead", ("4.1",))], "4.1 comet saucer alone: its contact", id="one-contact"),
        pytest.param([("dead", (*ROW2, *SOME))], "Nothing at all", id="all"),
        pytest.param([("good", SOME), ("stuck", ("6.1",))], "6.1 Saturn target closed for good", id="stuck"),
        pytest.param([("finger only", ("1.6",))], "1.6: wired well; bend or clean the actuator", id="ball-too-light"),
        pytest.param([("stuck", ("1.1", "1.4", "3.4", "3.1"))], "1.1 is a ghost of three closed", id="ghost"),
    ],
)  # fmt: skip
def test_matrix_patterns_name_drive_and_connector_pin(nights, marks, says):
    for word, cells in marks:
        mark(nights, "switches", word, *cells)
    assert any(line.startswith(says) for line in words(nights, "switches")), words(
        nights, "switches"
    )


def test_two_columns_swapped(nights):
    for row in (1, 2, 3):
        mark(nights, "switches", "another", f"{row}.2", showed=f"{row}.5")
        mark(nights, "switches", "another", f"{row}.5", showed=f"{row}.2")
    (line,) = words(nights, "switches")
    assert line.startswith("Columns 2 and 5 swapped: drive IC8, connector J8.11, line SC2 and")


def test_the_walk_goes_on_by_itself_and_leaves_out_what_is_not_fitted(nights):
    focus = "switches"
    seen = []
    for _ in range(56):
        card = card_for("selftest", *nights.seen(**parted(focus)))
        seen.append(card.title.split()[1])
        focus = place(press(nights, "c", focus))
    assert len(set(seen)) == 56
    assert not set(seen) & set(nights.profile.self_test("switches").not_fitted)
    assert status(nights)["switches"] == "good"
    assert card_for("selftest", *nights.seen(**parted(focus))).title == "All marked: none bad"


def test_what_a_finger_closes_may_not_close_under_the_ball(nights):
    card = card_for("selftest", *nights.seen(focus="switches", cell="5.1"))
    assert [c.text for c in card.choices][:2] == [
        "Closes under the ball",
        "A finger closes it, the ball does not",
    ]
    assert "ball" in card.why[0]
    plain = card_for("selftest", *nights.seen(focus="switches", cell="2.1"))
    assert "last switch that closed" in plain.why[0]
    press(nights, "f", "switches@5.1")
    assert not facts_of(nights.state, nights.profile).logic[0].bad


def test_another_one_shows_is_asked_and_taken_by_name_or_place(nights):
    choice = press(nights, "w", "switches@2.1")
    draft = dict(choice.draft)
    card = card_for("selftest", *nights.seen(focus=choice.focus, cell=choice.cell, draft=draft))
    assert card.title == "2.1 was worked: what showed?"
    for text, good in (("9.9", False), ("2.1", False), ("nonsense", False), ("left bumper", True)):
        answer = take(
            "selftest", *nights.seen(focus=choice.focus, cell=choice.cell, draft=draft), text
        )
        assert isinstance(answer, Accepted) == good
    assert answer.log[0] == CellsMarked(
        test="switches", cells=("2.1",), mark="another", showed="2.3"
    )


def test_the_rest_of_a_row_and_of_all_by_one_key(nights):
    press(nights, "d", "lamps@2.1")
    press(nights, "Alt+r", "lamps@2.2")
    marks = cells_now(nights.seen().case, "lamps")
    assert sorted(marks) == [f"2.{c}" for c in range(1, 9)]
    press(nights, "Alt+g", "lamps")
    item = next(i for i in selftest_items(nights.seen().case) if i.id == "lamps")
    assert (item.done, item.bad, item.status) == (60, 1, "bad")


@pytest.mark.parametrize(
    ("here", "down", "along", "there"),
    [("2.2", 1, 0, "3.2"), ("2.2", 0, -1, "2.1"), ("1.1", -1, 0, "1.1"), ("7.6", 0, 1, "7.6"), ("8.1", 0, 1, "8.2"),
     ("6.8", 1, 0, "7.6")],
)  # fmt: skip
def test_arrows_go_from_cell_to_cell_and_over_what_is_not_fitted(nights, here, down, along, there):
    item = next(i for i in selftest_items(nights.seen().case) if i.id == "switches")
    assert beside(nights.seen().case, item, here, down, along) == there


# Coils, sounds, displays.


def test_a_coil_that_stays_in_means_switch_off_now(nights):
    press(nights, "f", "coils@K01")
    press(nights, "l", "coils@K05")
    card = card_for("selftest", *nights.seen(focus="switches"))
    assert card.title == "Switch off now"
    assert "K05 left sling stays in. It burns in seconds" in card.cautions[0]
    nights.log(*card.choices[0].log)
    assert nights.state.power.power == "off"
    nights.log(PowerConfirmed(power="live"))
    assert card_for("selftest", *nights.seen(focus="coils")).title != "Switch off now"
    assert words(nights, "coils")[0].startswith("K05 stays in: its transistor is shorted")


@pytest.mark.parametrize(
    ("test", "dead", "good", "says"),
    [
        pytest.param(
            "coils",
            ("K01", "K02"),
            ("K05", "K06"),
            "What works without the processor works",
            id="logic",
        ),
        pytest.param(
            "coils",
            ("K05", "K06"),
            ("K01",),
            "Those that need no processor are dead too",
            id="drive",
        ),
        pytest.param(
            "coils", ("K01", "K02", "K05"), (), "None of them: the supply or its fuse", id="supply"
        ),
        pytest.param("coils", ("K03",), ("K01",), "K03: K03, Q3", id="one-coil"),
        pytest.param(
            "sounds",
            ("N1", "N2", "N4"),
            ("N0",),
            "What works without the processor works",
            id="command-lines",
        ),
    ],
)
def test_special_ones_split_drive_from_logic(nights, test, dead, good, says):
    mark(nights, test, "dead", *dead)
    if good:
        mark(nights, test, "good", *good)
    assert any(line.startswith(says) for line in words(nights, test)), words(nights, test)


@pytest.mark.parametrize(
    ("text", "dark"),
    [
        ("", "good"),
        ("g", "dark g"),
        ("gb", "dark bg"),
        ("all", "dark abcdefg"),
        ("=0", "dark g"),
        ("= ", "dark abcdefg"),
    ],
)
def test_a_digit_by_its_dark_segments_or_by_what_it_shows(nights, text, dark):
    assert isinstance(say(nights, text, "displays@P2.3"), Accepted)
    assert cells_now(nights.seen().case, "displays")["P2.3"].mark == dark


def test_a_segment_dark_everywhere_and_a_word_that_is_none(nights):
    assert isinstance(say(nights, "xyz", "displays"), Refused)
    say(nights, "d*", "displays")
    assert words(nights, "displays") == (
        "Segment d dark everywhere: what all displays share before the latches.",
    )


def test_one_pair_of_displays_is_named_by_its_latch(nights):
    cells = next(i for i in selftest_items(nights.seen().case) if i.id == "displays").cells
    pair = tuple(c for c in cells if c.startswith(("P3", "P4")))
    mark(nights, "displays", "dark b", *pair)
    mark(nights, "displays", "good", *(c for c in cells if c not in pair))
    assert words(nights, "displays") == (
        "Player 3, player 4 together: what they share, line P34b of IC14.",
    )
    clue = facts_of(nights.state, nights.profile).logic[0]
    assert len(clue.bad) == 14
    parts = LogicEngine.of(nights.profile)
    named = insight_of(None, nights.profile, facts_of(nights.state, nights.profile), parts).suspects
    assert named[0].block == "IC14"


# Settings.


def test_lost_settings_point_at_battery_or_memory_and_what_to_set_again_is_a_list(nights):
    press(nights, "2", "settings")
    assert status(nights)["settings"] == "bad"
    assert words(nights, "settings")[0].startswith(
        "Lost at each start: BT1, settings battery; IC7, settings memory; SW1, memory protect"
    )
    parts = insight_of(
        None, nights.profile, facts_of(nights.state, nights.profile), LogicEngine.of(nights.profile)
    )
    assert {s.block for s in parts.suspects[:3]} == {"BT1", "IC7", "SW1"}
    card = card_for("selftest", *nights.seen(focus="settings"))
    assert (card.title, card.choices[0].go) == ("Lost at each start", "trace")
    assert [lead.text.partition(":")[0] for lead in card.leads] == ["BT1", "IC7", "SW1"]
    nights.log(PartReplaced(part="BT1", out="old", fitted="new"))
    assert facts_of(nights.state, nights.profile).logic == ()
    press(nights, "1", "settings")
    titles = []
    focus = "settings"
    for _ in range(4):
        titles.append(card_for("selftest", *nights.seen(**parted(focus))).title)
        focus = place(press(nights, "1", focus))
    assert titles[0] == "Free play: setting 09 to 1"
    assert status(nights)["settings"] == "good"


def test_a_leaking_battery_spreads_its_suspects(nights):
    engine = LogicEngine.of(nights.profile)
    say(nights, "flicker", "blinks")
    before = insight_of(
        None, nights.profile, facts_of(nights.state, nights.profile), engine
    ).by_block
    nights.log(Finding(seen="leaking", place="BT1"))
    after = insight_of(
        None, nights.profile, facts_of(nights.state, nights.profile), engine
    ).by_block
    assert after["IC4"] > 1.5 * before["IC4"]


def test_a_new_rom_is_not_accused_by_the_read_out_of_the_old_one(cinder):
    judged = ImageJudged(image="R3", file="a", size=1, crc32="0", sha1="0", verdict="wrong")
    cinder.log(judged, PartReplaced(part="R2", out="old", fitted="new"))
    assert [c.target for c in facts_of(cinder.state, cinder.profile).logic] == ["R3"]
    cinder.log(PartReplaced(part="R3", out="old", fitted="new"))
    assert facts_of(cinder.state, cinder.profile).logic == ()


# Lanes, captures, who can do this.


def test_a_lane_from_pairs_to_suspects(ostrel):
    assert isinstance(say(ostrel, "00>00 FF>F7 55>55 AA>A2", "lane:PA"), Accepted)
    assert {i.id: i.words for i in selftest_items(ostrel.seen().case)}[
        "lane:PA"
    ] == "bit 3 stuck low"
    insight = insight_of(
        None, ostrel.profile, facts_of(ostrel.state, ostrel.profile), LogicEngine.of(ostrel.profile)
    )
    seen = Seen(
        Case(profile=ostrel.profile, state=ostrel.state, meter=ostrel.meter, insight=insight)
    )
    lane = next(x for x in ostrel.profile.lanes if x.id == "PA")
    found = covers(seen.case, lane, diagnose([(0xFF, 0xF7), (0, 0)], 8))
    assert [c.part for c in found[:2]] == ["U7", "J2"]
    assert found[0].effort == "socket, 40 pins, reached from outside, donor at hand"
    assert (found[0].bad, found[0].of_bad, found[0].good) == (1, 1, 7)
    assert [(c.part, c.test, c.seconds) for c in found[:3]] == [
        ("U7", "probe U7 pin 1", 16), ("J2", "re-seat J2", 110), ("RN1", "lift or unsolder it", 300),
    ]  # fmt: skip
    card = card_for("selftest", *ostrel.seen(focus="lane:PA"))
    assert card.title == "PA: bit 3 stuck low"
    assert card.choices[0].go == "trace"
    assert card.why == ("PA3: wrong in 2 of 4 words.",)
    press(ostrel, "3", "lane:PA")
    assert card_for("selftest", *ostrel.seen(focus="lane:PA")).entry is not None


def test_a_bit_seen_at_one_level_only_is_asked_for_at_the_other(ostrel):
    say(ostrel, "0F>0F", "lane:PB")
    card = card_for("selftest", *ostrel.seen(focus="lane:PB"))
    assert card.why[0].startswith("Bits 0, 1, 2, 3, 4, 5, 6, 7 were only seen at one level")
    say(ostrel, "F0>F0", "lane:PB")
    assert status(ostrel)["lane:PB"] == "good"


@pytest.mark.parametrize("text", ["", "5", "55>", "1FF>00", "zz>zz"])
def test_what_is_no_pair_changes_nothing(ostrel, text):
    before = len(ostrel.events)
    assert isinstance(say(ostrel, text, "lane:PA"), Refused)
    assert len(ostrel.events) == before


@pytest.mark.parametrize(
    ("columns", "says"),
    [
        pytest.param({3: "0"}, "bit 3 stuck low", id="stuck-low"),
        pytest.param({0: "1"}, "bit 0 stuck high", id="stuck-high"),
        pytest.param({5: "same-as-4"}, "bits 4 and 5 tied together", id="tied"),
        pytest.param({}, "every bit as written", id="all-move"),
    ],
)
def test_a_capture_by_the_lanes_own_names(tmp_path, library, columns, says):
    lane = next(x for x in library.get("ostrel-8").lanes if x.id == "PA")
    rows, chance = [], random.Random(5)
    for t in range(64):
        levels = [str(chance.getrandbits(1)) for _ in range(8)]
        for bit, word in columns.items():
            levels[bit] = levels[4] if word == "same-as-4" else word
        rows.append(",".join([str(t), *levels]))
    path = tmp_path / "probe.csv"
    path.write_text("\n".join(["time," + ",".join(lane.lines), *rows]))
    body = lane_from_capture(lane, path, lambda share: True)
    assert body.source == "probe.csv"
    assert words_for(diagnose(zip(body.wrote, body.came, strict=True), 8)) == says
    assert lane_from_capture(lane, path, lambda share: False) is None


def test_a_capture_of_other_pins_is_refused_and_one_of_half_a_lane_says_only_that(
    tmp_path, library
):
    lane = next(x for x in library.get("ostrel-8").lanes if x.id == "PA")
    path = tmp_path / "a.csv"
    path.write_text("time,X0,X1\n0,1,0\n1,0,1\n")
    with pytest.raises(CaptureError, match="no column of PA"):
        lane_from_capture(lane, path, lambda share: True)
    path.write_text("time,PA0,PA1\n0,1,0\n1,0,1\n")
    body = lane_from_capture(lane, path, lambda share: True)
    bits = diagnose(zip(body.wrote, body.came, strict=True), 8)
    assert [b.state for b in bits] == ["good"] * 2 + ["not tried"] * 6
    path.write_text("w0,w1,r0,r1\n0,0,0,1\n1,0,1,1\n")
    assert set(zip(*(lambda b: (b.wrote, b.came))(lane_from_capture(lane, path, lambda s: True)), strict=True)) == {
        (0, 2), (1, 3)
    }  # fmt: skip
    head = ",".join(f"{letter}{bit}" for letter in "wr" for bit in range(9))
    path.write_text(f"{head}\n{','.join('0' * 18)}\n")
    with pytest.raises(CaptureError, match="written on 9 lines, PA has 8"):
        lane_from_capture(lane, path, lambda share: True)


# Images.


def image_bytes(profile, image_id):
    return wanted_of(next(i for i in profile.images if i.id == image_id)).data


def test_the_images_that_ship_have_the_sums_of_the_profile(library):
    profile = library.get("ardvane-cinder-dunes")
    for image in profile.images:
        data = image_bytes(profile, image.id)
        assert (len(data), f"{zlib.crc32(data):08x}") == (image.size, image.crc32)


@pytest.fixture
def judged(tmp_path, library):
    """Write each piece to a file of its own, judge them, and see that no file was touched."""
    profile = library.get("ardvane-cinder-dunes")

    def judge(image, *pieces):
        paths = [tmp_path / f"{letter}.bin" for letter, _ in zip("abc", pieces, strict=False)]
        for file, data in zip(paths, pieces, strict=True):
            file.write_bytes(data)
        try:
            return [(b.image, b.verdict, b.text) for b in judge_files(profile, image, paths)]
        finally:
            assert [file.read_bytes() for file in paths] == list(pieces)

    judge.data = {i.id: image_bytes(profile, i.id) for i in profile.images}
    return judge


def test_an_image_is_judged_by_itself_and_a_mix_up_is_named(judged):
    assert judged("R1", judged.data["R1"]) == [("R1", "good", "")]
    assert "image of R3" in judged("R2", judged.data["R3"])[0][2]
    assert "A10" in judged("R3", judged.data["R3"][:1024] * 2)[0][2]
    assert [(i, v) for i, v, _ in judged("R1", judged.data["R1"] * 2)] == [("R1", "good")]
    assert judged("R4", judged.data["R4"] * 4) == [
        ("R4", "good", "read as a larger part, 4 times over")
    ]


def test_a_pair_is_found_however_it_was_read(judged):
    one, two = judged.data["R1"], judged.data["R2"]
    ways = {
        "byte by byte in turn": [interleave(one, two)],
        "byte by byte, the odd ones first": [interleave(two, one)],
        "one after the other": [one + two],
        "one after the other, the second first": [two + one],
        "": [one, two],
        "the second file first": [two, one],
    }
    for how, files in ways.items():
        assert judged("R1", *files) == [("R1", "good", how), ("R2", "good", how)]
    spoilt = bytes([two[0] ^ 1, *two[1:]])
    assert [v for _, v, _ in judged("R1", one + spoilt)] == ["good", "wrong"]
    assert all(
        "image of R4" in text for *_, text in judged("R1", judged.data["R4"], judged.data["R4"])
    )


def test_two_pieces_of_one_image_are_joined_however_they_were_cut(judged):
    whole = judged.data["R4"]
    ways = {
        "end to end": (whole[:500], whole[500:]),
        "end to end, the second first": (whole[1024:], whole[:1024]),
        "byte by byte in turn": (whole[::2], whole[1::2]),
        "byte by byte, the second first": (whole[1::2], whole[::2]),
    }
    for how, files in ways.items():
        assert judged("R4", *files) == [("R4", "good", f"joined {how}")]
    (found,) = judged("R4", whole[:1024], bytes(1024))
    assert found[1] == "wrong"
    assert found[2].endswith("joined end to end")


@pytest.mark.parametrize(
    ("pieces", "what", "mend"),
    [
        pytest.param([b""], "a.bin is empty", "again", id="empty"),
        pytest.param([b"abc"], "3 bytes, 2048 wanted", "as 2048 bytes", id="short"),
        pytest.param([bytes(range(256)) * 4], "only 1024 of 2048", "A8, A9 make no", id="half"),
        pytest.param([b"x" * 4095], "4095 bytes, 2048 wanted", "lines never move", id="odd-length"),
        pytest.param([b"ab", b"c"], "3 bytes, 2048 wanted", "as 2048 bytes", id="two-short-pieces"),
        pytest.param([b"a", b"b", b"c"], "3 files were named", "two of a pair", id="three-files"),
    ],
)
def test_a_file_of_another_size_says_nothing_of_the_part(judged, pieces, what, mend):
    with pytest.raises(ImageError, match=what) as error:
        judged("R3", *pieces)
    assert mend in error.value.hint
    with pytest.raises(ImageError, match="no image R9"):
        judged("R9", *pieces)


def test_the_image_card_leads_to_the_file_and_says_what_it_was(cinder):
    card = card_for("selftest", *cinder.seen(focus="images"))
    assert (card.title, card.entry.field) == ("Open the image of R1", "image")
    assert card.runners[0].command == ChooseFile(FileKind.IMAGE, "R1")
    answer = say(cinder, "/tmp/r1.bin", "images")
    assert answer.command == ReadFiles(FileKind.IMAGE, "R1", ("/tmp/r1.bin",))
    assert isinstance(say(cinder, "", "images"), Refused)
    for name in ("R1", "R2", "R3", "R4"):
        verdict = "wrong" if name == "R3" else "good"
        cinder.log(ImageJudged(image=name, file=f"{name}.bin", size=2048, crc32="0" * 8, sha1="0" * 40,
                               verdict=verdict, text="both halves are the same"))  # fmt: skip
    card = card_for("selftest", *cinder.seen(focus="images"))
    assert card.title == "R3 not right"
    assert card.choices[0].go == "trace"
    insight = insight_of(
        None, cinder.profile, facts_of(cinder.state, cinder.profile), LogicEngine.of(cinder.profile)
    )
    assert insight.suspects[0].block == "R3"


@pytest.mark.parametrize("text", ["a" * 300, "~nobody/r1.bin", "a\0b", "/", ".", "a + "])
def test_whatever_is_typed_as_a_file_gets_a_message(library, text):
    profile = library.get("ardvane-cinder-dunes")
    with pytest.raises(BenchLampError) as error:
        judge_files(profile, "R1", found_files(text))
    assert error.value.hint
    lane = library.get("ostrel-8").lanes[0]
    with pytest.raises(BenchLampError):
        lane_from_capture(lane, found_files(text)[0], lambda share: True)


# Repairs, rounds, undo.


def test_a_repair_sets_the_results_aside_and_keeps_the_testers_word(ostrel):
    say(ostrel, "00>00 FF>F7", "lane:PA")
    say(ostrel, "off", "beeps")
    ostrel.log(
        PartTried(part="U9", how="tester", result="pass"),
        PartTried(part="U9", how="pulled", result="same"),
    )
    assert len(facts_of(ostrel.state, ostrel.profile).logic) == 4
    ostrel.log(PartReplaced(part="U7", out="x", fitted="y"))
    assert [c.kind for c in facts_of(ostrel.state, ostrel.profile).logic] == ["tester"]
    assert (status(ostrel)["lane:PA"], status(ostrel)["beeps"]) == ("again", "again")


def test_a_new_round_keeps_what_was_before_beside_it(ostrel):
    mark(ostrel, "harness", "good", "H1", "H2")
    mark(ostrel, "harness", "dead", "H3")
    ostrel.log(RoundBegun(test="harness"))
    assert status(ostrel)["harness"] == "waiting"
    mark(ostrel, "harness", "good", "H1", "H2", "H3")
    item = next(i for i in selftest_items(ostrel.seen().case) if i.id == "harness")
    drawn = cards_of(item).picture(*ostrel.seen(), item)
    assert [(c.before, c.word) for c in drawn.cells[:3]] == [
        ("passes", "passes"),
        ("passes", "passes"),
        ("fails", "passes"),
    ]


def test_a_struck_mark_is_as_if_it_had_never_been(nights):
    mark(nights, "switches", "dead", "2.3")
    event = nights.events[-1].id
    assert status(nights)["switches"] == "partly"
    nights.log(Struck(event=event, reason="undone"))
    assert status(nights)["switches"] == "waiting"
    assert facts_of(nights.state, nights.profile).logic == ()


def test_the_path_counts_and_the_stage_is_done_by_ones_own_word(ostrel):
    ostrel.read_healthy()
    assert suggested(ostrel.seen().case) == "selftest"
    view = next(v for v in path(ostrel.seen().case) if v.stage == "selftest")
    assert (view.state, view.note) == ("not begun", "")
    say(ostrel, "2", "beeps")
    view = next(v for v in path(ostrel.seen().case) if v.stage == "selftest")
    assert (view.state, view.note) == ("under way", "1 of 9")
    say(ostrel, "FF>F7 00>00", "lane:PA")
    assert suggested(ostrel.seen().case) == "trace"
    assert next(v for v in path(ostrel.seen().case) if v.stage == "selftest").note == "1 bad"
    ostrel.log(StageMarked(stage="selftest", mark="done"))


# Trace.


def weighed(job, **more):
    facts = facts_of(job.state, job.profile)
    engine = LogicEngine.of(job.profile)
    return job.seen(insight=insight_of(None, job.profile, facts, engine), **more)


def test_trace_offers_probe_swap_and_tester_in_words_and_takes_their_answers(ostrel):
    say(ostrel, "00>00 FF>F7 55>55 AA>A2", "lane:PA")
    seen = weighed(ostrel)
    assert {"U7", "J2"} <= {s.block for s in seen.case.insight.suspects[:3]}
    swap = next(t for t in seen.case.insight.tries if t.test.name == "donor U7")
    card = card_for("trace", *weighed(ostrel, focus=swap.test.name))
    assert card.title.startswith("Switch off, swap U7 from the donor")
    ostrel.switch("discharged")
    card = card_for("trace", *weighed(ostrel, focus=swap.test.name))
    assert "drawer 4" in card.leads[-1].text
    assert [c.command for c in card.choices] == [AskPower(), None, None]
    assert any("static" in c for c in card.cautions)
    before = seen.case.insight.by_block["U7"]
    ostrel.log(*card.choices[2].log)
    after = weighed(ostrel)
    assert after.case.insight.by_block["U7"] > max(before, 0.9)
    called = card_for("trace", *after)
    assert called.title == "Replace U7"
    assert any("U7 swapped, it is gone" in line for line in called.why)


def test_still_the_same_moves_the_odds_to_the_connector(ostrel):
    say(ostrel, "00>00 FF>F7 55>55 AA>A2", "lane:PA")
    ostrel.log(PartTried(part="U7", how="donor", result="same"))
    seen = weighed(ostrel)
    assert seen.case.insight.suspects[0].block == "J2"
    against = next(s for s in seen.case.insight.suspects if s.block == "U7").speaks_against
    assert against[0].text == "U7 swapped, still the same"


def test_how_the_odds_moved_is_kept_for_the_logic_too(ostrel):
    say(ostrel, "00>00 FF>F7 55>55 AA>A2", "lane:PA")
    ostrel.log(PinProbed(part="U7", pin=1, level="low"))
    facts = facts_of(ostrel.state, ostrel.profile)
    moments = joint_history(None, facts, LogicEngine.of(ostrel.profile))
    assert [m.text for m in moments] == [
        "before the first reading",
        "PA: bit 3 stuck low",
        "U7 pin 1 low",
    ]
    odds = [{k: o for k, _, o in m.odds}.get("U7: logic", 0.0) for m in moments]
    assert odds[0] < odds[1] < odds[2]
    stopped = joint_history(None, facts, LogicEngine.of(ostrel.profile), go_on=lambda: False)
    assert stopped == ()


@pytest.mark.parametrize("name", ["ostrel-8", "ardvane-cinder-dunes", "tessenby-orrery-nights"])
def test_every_item_has_a_card_a_picture_and_words_on_the_tape(at, name):
    job = at(name)
    for item in selftest_items(job.seen().case):
        card = card_for("selftest", *job.seen(focus=item.id))
        assert card.title
        assert card.entry or card.choices
        assert cards_of(item).picture(*job.seen(), item).title
    job.log(
        SelfTestSeen(test="boot", code="2"), CellsMarked(test="coils", cells=("K01",), mark="weak"),
        LaneRead(lane="D", wrote=(1,), came=(3,)), PartTried(part="U7", how="pulled", result="gone"),
        PinProbed(part="X", pin=1, level="high"), RoundBegun(test="lamps"),
        ImageJudged(image="R1", file="a", size=1, crc32="0", sha1="0", verdict="not known"),
    )  # fmt: skip
    assert all(tile.title for tile in tape(job.seen().case)[-7:])


@pytest.mark.parametrize(
    ("text", "body"),
    [
        pytest.param("U7 pin 1 low", PinProbed(part="U7", pin=1, level="low"), id="a-pin"),
        pytest.param(
            "u7 pin 40 p", PinProbed(part="U7", pin=40, level="pulsing"), id="a-letter-will-do"
        ),
        pytest.param(
            "U9 pulled same", PartTried(part="U9", how="pulled", result="same"), id="pulled"
        ),
        pytest.param(
            "U7 swapped gone", PartTried(part="U7", how="donor", result="gone"), id="swapped"
        ),
        pytest.param(
            "U9 tester fails", PartTried(part="U9", how="tester", result="fail"), id="tester"
        ),
        pytest.param(
            "J2 reseated same", PartTried(part="J2", how="reseated", result="same"), id="in-vain"
        ),
        pytest.param(
            "J2 reseated gone", ActionDone(action="reseated", target="J2"), id="re-seated-is-mended"
        ),
        pytest.param("U7 pin 41 low", None, id="no-such-pin"),
        pytest.param("U7 pin 4 warm", None, id="no-such-level"),
        pytest.param("U7 hugged same", None, id="no-such-thing"),
        pytest.param("RES pin 3 low", None, id="no-such-chip"),
    ],
)
def test_anything_else_that_was_done_on_the_logic_is_taken_in_words(ostrel, text, body):
    answer = take("trace", *ostrel.seen(focus="else"), text)
    if body is None:
        assert isinstance(answer, Refused)
        assert answer.mend
    else:
        assert answer.log == (body,)


def test_a_repair_is_proved_by_the_test_that_failed(ostrel):
    ostrel.read_healthy()
    say(ostrel, "00>00 FF>F7 55>55 AA>A2", "lane:PA")
    seen = ostrel.seen()
    assert not is_proved(seen.case)
    assert card_for("prove", *seen).title == "Not proved: Port A, keyboard rows, bit 3 stuck low"
    assert "Not proved. Port A, keyboard rows: bit 3 stuck low." in open_ends(seen.case)
    assert make_sheet(seen.case).self_tests == ("Port A, keyboard rows: bit 3 stuck low",)
    ostrel.log(PartReplaced(part="U7", out="x", fitted="y"))
    ostrel.read_healthy()
    card = card_for("prove", *ostrel.seen())
    assert card.title == "Repeat the self-test: Port A, keyboard rows"
    assert card.choices[0].focus == "lane:PA"
    say(ostrel, "00>00 FF>FF 55>55 AA>AA", "lane:PA")
    ostrel.works()
    assert card_for("prove", *ostrel.seen()).title == "All points read again, all good"
    assert is_proved(ostrel.seen().case)


def test_tests_and_chips_are_found_by_name(ostrel):
    found = catalogue((), ostrel.seen().case, ())
    assert search(found, "harness")[0].kind == "test"
    chip = next(f for f in search(found, "printer latch") if f.kind == "part")
    assert (chip.target, chip.detail) == ("U9", "printer latch, rear")


def test_the_samples_that_ship_are_found_by_their_bare_name(library, tmp_path):
    profile = library.get("ardvane-cinder-dunes")
    (found,) = judge_files(profile, "R3", [found_file("cinder-r3-read.hex")])
    assert found.verdict == "wrong"
    assert found.text.startswith("address line A6 makes no difference: stuck, or not connected")
    pair = judge_files(profile, "R1", [found_file("cinder-r1-r2-pair.bin")])
    assert [(b.image, b.verdict) for b in pair] == [("R1", "good"), ("R2", "good")]
    lane = next(x for x in library.get("ostrel-8").lanes if x.id == "PA")
    body = lane_from_capture(lane, found_file("ostrel-port-a.csv"), lambda share: True)
    assert words_for(diagnose(zip(body.wrote, body.came, strict=True), 8)) == "bit 3 stuck low"
    assert found_file("../secret.bin").name == "secret.bin"
    assert [f.name for f in found_files("a.bin + b.bin")] == ["a.bin", "b.bin"]
    odd = tmp_path / "even + odd.bin"
    odd.write_bytes(b"x")
    assert found_files(str(odd)) == [odd]
    assert str(found_file(str(tmp_path / "cinder-r3-read.hex"))).startswith(str(tmp_path))


@pytest.mark.parametrize(
    ("profile", "test", "cells", "mark", "tile", "clue"),
    [
        ("tessenby-orrery-nights", "displays", ("P2.3",), "dark g", "P2 digit 4 dark g", "Displays: P2 digit 4 g bad"),
        ("ardvane-cinder-dunes", "memory", ("2.3",), "dead", "M23 dead", "Memory grid: M23 bad"),
        ("tessenby-orrery-nights", "switches", ("2.3",), "dead", "2.3 dead", "Switch matrix: 2.3 bad"),
        ("tessenby-orrery-nights", "coils", ("K01", "K02", "K03", "K04"), "weak", "K01, K02, K03 and 1 more weak",
         "Coils, one by one: 4 bad"),
    ],
)  # fmt: skip
def test_cells_are_named_on_the_tape_and_in_the_evidence_as_they_lie_on_the_board(
    at, profile, test, cells, mark, tile, clue
):
    job = at(profile)
    job.log(CellsMarked(test=test, cells=cells, mark=mark))
    assert tape(job.seen().case)[-1].title == tile
    assert facts_of(job.state, job.profile).logic[0].text == clue
