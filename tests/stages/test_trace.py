"""Trace with the circuit behind it: cards, outcomes, suspects, the tree, and what else was done."""

import math

import pytest
from msgspec.structs import replace
from tests.seen import take

from bench_lamp.board import Profile
from bench_lamp.board.blocks import DummyLoad, FuseBlock, Inlet, Load, Sense, Transformer
from bench_lamp.board.condition import TestKind
from bench_lamp.cards.card import Accepted, Entry, Refused, Typed
from bench_lamp.cards.commands import AskPower
from bench_lamp.cards.flow_words import flow_cautions
from bench_lamp.cards.leads import figure, leads, net_title, span
from bench_lamp.cards.preview import Preview, preview_reading
from bench_lamp.cards.reading_entry import take_reading
from bench_lamp.case.facts import facts_of, fitted_profile, set_aside
from bench_lamp.case.hand import Hand
from bench_lamp.case.looking_back import moment_at
from bench_lamp.case.next_stage import suggested
from bench_lamp.case.next_test import lit_try
from bench_lamp.case.proof import is_proved
from bench_lamp.case.suspects import suspect_rows
from bench_lamp.circuit import compile_tree
from bench_lamp.journal.events import (
    ActionDone,
    Complaint,
    Finding,
    PartReplaced,
    PowerConfirmed,
    ReadingTaken,
)
from bench_lamp.reason.insight_of import insight_of
from bench_lamp.reason.power.dictionary import build_dictionary
from bench_lamp.reason.power.engine import Engine
from bench_lamp.reason.values.tests import OFF, Test
from bench_lamp.stages import card_for
from bench_lamp.stages.handback.cards import open_ends
from bench_lamp.stages.trace.cards import test_card as made_card
from bench_lamp.stages.trace.free_entry import take_free_entry
from bench_lamp.stages.trace.suspects_view import suspects_view
from bench_lamp.stages.trace.tree import block_facts, tree_picture
from bench_lamp.stages.trace.tree_layout import lay_out
from bench_lamp.units import FuseRating, percent
from bench_lamp.views.path import path
from bench_lamp.views.tape import tape


def plain(text: str) -> str:
    return text.replace("\u202f", " ")


@pytest.fixture
def lamps_out(live_job):
    """The demo's start: logic good, lamp supply absent, its fuse's far side dead."""
    live_job.read(A=5.08, B=10.4, C=0.1, Q=0.0)
    return live_job


def test_the_next_test_says_where_each_lead_goes_and_what_each_outcome_means(lamps_out, hunted):
    card = card_for("trace", *hunted(lamps_out))
    assert card.title == "AC volts before F4"
    words = {lead.kind: lead.text for lead in card.leads}
    assert words["red"] == "F4, the clip on T1’s side; upper row, third"
    assert words["black"] == "BR2, the other ~ lug"
    assert words["meter"] == "AC volts"
    assert (card.entry.target, card.entry.mode, card.entry.unit) == ("sec_lamp", "ac V", "V~")
    means = {plain(o.reads): o.means for o in card.outcomes}
    assert means["near 0"] == "T1 winding open"
    assert any(m.startswith("good to here: F4 open") for m in means.values())
    assert card.why[0].endswith("power stays on.")
    assert "bit" in card.effort
    assert [r.key for r in card.runners] == ["Alt+o", "Alt+s"]
    unfolded = card_for("trace", *hunted(lamps_out, focus="more"))
    assert [r.key for r in unfolded.runners] == ["Alt+a", "Alt+b", "Alt+c", "Alt+s"]


def test_the_story_of_two_faults_in_the_reasonings_own_words(lamps_out, hunted):
    """Winding good, fuse called; replaced and swept; the second fault shows, and is called too."""
    job = lamps_out
    job.log(Finding(seen="corroded", place="J3"))
    job.log(ReadingTaken(target="sec_lamp", mode="ac V", value=15.7, resolution=0.1, power="live"))
    job.switch("discharged")
    job.read("ohm", C=52.0)
    called = card_for("trace", *hunted(job))
    assert (called.kind, plain(called.title)) == ("Found, most likely", "Replace F4, 10 A slow")
    assert any("BR2 shorted" in line for line in called.why)
    job.log(PartReplaced(part="F4", out="10 A slow", fitted="10 A slow"))
    sweep = card_for("trace", *hunted(job))
    assert (sweep.kind, sweep.title) == ("Sweep", "Read C, +18 V lamps")
    assert [r.target for r in set_aside(job.state)] == ["C", "Q", "C"]
    job.switch("live")
    job.read(C=17.9, Q=15.6, D=5.05)
    # What the logic has was perhaps read there: nothing is called on it.
    assert hunted(job).case.insight.called is None
    job.read(D=13.4)
    second = card_for("trace", *hunted(job))
    assert second.title == "Confirm that it is off" or second.title.startswith("Look at J3.5")
    assert hunted(job).case.insight.called.block == "J3.5"
    job.log(ActionDone(action="reseated", target="J3.5"))
    job.read(D=17.8)
    job.read_healthy("E", "D2", "G", "H", "L1", "D1")
    assert hunted(job).case.insight.nothing > 0.8


@pytest.mark.parametrize(
    ("power", "title", "key_log"),
    [("live", "Switch off, then ohms on C", ()), ("discharged", "Ohms on C", None)],
)
def test_ohms_are_never_asked_for_on_a_live_board(lamps_out, hunted, power, title, key_log):
    lamps_out.switch(power)
    seen = hunted(lamps_out)
    attempt = next(
        t for t in seen.case.insight.tries if t.test.kind == "ohm" and not t.test.condition.out
    )
    card = card_for("trace", *hunted(lamps_out, focus=attempt.test.name))
    assert card.title == title
    assert (card.entry is None) is (power == "live")
    if power == "live":
        assert card.choices[0].command == AskPower()


def test_no_card_of_the_hunt_wants_power_off_work_done_live(live_job, hunted):
    """Every test that is proposed on a live board is volts, or asks for the power first."""
    live_job.read(A=0.5, B=8.9)
    seen = hunted(live_job)
    for attempt in seen.case.insight.tries:
        card = card_for("trace", *hunted(live_job, focus=attempt.test.name))
        is_hands_on = attempt.test.kind in {"ohm", "tone"} or attempt.test.condition.out
        assert bool(card.entry is None or card.entry.mode in {"dc V", "ac V", "drop", "A"})
        if is_hands_on:
            assert [c.command for c in card.choices] == [AskPower()]
            assert "LIVE" in card.cautions[0]


@pytest.fixture
def shorted(job):
    """The +5 V rail down, and half an ohm to ground."""
    job.switch("live")
    job.read(A=0.5, B=8.9)
    job.switch("discharged")
    job.read("ohm", A=0.6)
    return job


def test_the_short_hunt_from_the_rail_to_the_part(shorted, hunted):
    job = shorted
    # Along the wire, near the short reads a little less than far from it: a quick look is offered.
    job.read("ohm", D1=0.6, L1=0.6)
    card = card_for("trace", *hunted(job))
    assert card.title in {"Unplug J2, then ohms on A", "Unplug J6, then ohms on A"}
    assert "two shorts" in card.outcomes[-1].means
    assert math.isnan(card.outcomes[-1].low)
    job.log(*card.choices[0].log)
    assert len(job.state.out) == 1
    (name,) = job.state.out
    if name == "J2":
        job.log(
            ActionDone(action="refitted", target="J2"),
            ActionDone(action="removed for test", target="J6"),
        )
    job.read("ohm", A=52.0)
    seen = hunted(job)
    assert {f.block for f, _ in seen.case.insight.suspects[0].members} == {"C203", "DRV"}
    assert seen.case.insight.suspects[0].odds > 0.9
    lift = card_for("trace", *seen)
    assert lift.title == "Lift C203, then ohms on D1"
    assert {o.means.partition(":")[0] for o in lift.outcomes[:2]} >= {"DRV shorted"}
    job.log(*lift.choices[0].log)
    job.read("ohm", D1=48.0)
    called = card_for("trace", *hunted(job))
    assert called.title == "Replace C203"
    assert any("C203, J6 is off" in caution for caution in called.cautions)
    job.log(PartReplaced(part="C203", out="47 µF", fitted="47 µF"))
    assert not is_proved(job.seen().case)
    assert card_for("prove", *job.seen()).title == "Put J6 back first"
    assert any("J6 is still off" in line for line in open_ends(job.seen().case))
    assert suggested(job.seen().case) == "trace"
    job.log(*card_for("prove", *job.seen()).choices[0].log)
    assert job.state.out == frozenset()


def test_ohms_that_rise_only_a_little_are_said_to_fit_nothing(shorted, hunted):
    """Two shorts: with J6 off, a little more, still low; with J2 off as well, gone."""
    job = shorted
    job.log(ActionDone(action="removed for test", target="J6"))
    job.read("ohm", A=0.7)
    job.log(ActionDone(action="removed for test", target="J2"))
    job.read("ohm", A=150.0)
    job.log(ActionDone(action="refitted", target="J2"))
    job.log(ReadingTaken(target="drv5", mode="ohm", value=0.8, resolution=0.1, out=("J6",)))
    seen = hunted(job)
    assert seen.case.insight.is_poor
    card = card_for("trace", *seen)
    assert card.title == "Nothing on the list explains this well"
    assert any("two faults at once" in line for line in card.why)


@pytest.mark.parametrize(
    ("typed", "logged"),
    [
        ("J3 off", ActionDone(action="removed for test", target="J3")),
        ("c2 lifted", ActionDone(action="removed for test", target="C2")),
        ("reseated j3", ActionDone(action="reseated", target="J3")),
        ("F4 open", ReadingTaken(target="F4", mode="tone", value=1.0, power="discharged",
                                 meter="hearthwell-60")),
        ("f4 ok", ReadingTaken(target="F4", mode="tone", value=0.0, power="discharged",
                               meter="hearthwell-60")),
        ("bulged C2", Finding(seen="bulged", place="C2")),
        ("power discharged", PowerConfirmed(power="discharged")),
        ("c 4.1 ohm", ReadingTaken(target="C", mode="ohm", value=4.1, resolution=0.1, black="frame",
                                   power="discharged", meter="hearthwell-60")),
        ("lamp18 3R9", ReadingTaken(target="C", mode="ohm", value=3.9, resolution=0.1, black="frame",
                                    power="discharged", meter="hearthwell-60")),
        ("sec_lamp 0.4 ohm", ReadingTaken(target="sec_lamp", mode="ohm", value=0.4, resolution=0.1,
                                          power="discharged", meter="hearthwell-60")),
        ("twin E 37.8", ReadingTaken(target="E", mode="dc V", value=37.8, resolution=0.1, power="live",
                                     meter="hearthwell-60", twin="twin")),
    ],
)  # fmt: skip
def test_anything_else_that_was_done_is_taken_as_it_is_said(job, typed, logged):
    job.switch("discharged")
    card = card_for("trace", *job.seen(focus="else"))
    assert card.entry.field == "did"
    answer = take("trace", *job.seen(focus="else"), typed)
    assert answer == Accepted(log=(logged,), focus="")


@pytest.mark.parametrize(
    ("typed", "target", "mode"),
    [
        ("C 18.2", "C", "dc V"), ("Q 15.1", "Q", "ac V"), ("C 0.3 V~", "C", "ac V"),
        ("sec_lamp 15.8", "sec_lamp", "ac V"), ("raw_disp 160", "raw_disp", "dc V"),
    ],
)  # fmt: skip
def test_volts_are_taken_in_the_mode_of_their_place(live_job, typed, target, mode):
    (body,) = take("trace", *live_job.seen(focus="else"), typed).log
    assert (body.target, body.mode, body.power) == (target, mode, "live")


def test_what_is_out_goes_along_with_each_reading(live_job):
    live_job.log(ActionDone(action="removed for test", target="J3"))
    (body,) = take("trace", *live_job.seen(focus="else"), "C 18.9").log
    assert body.out == ("J3",)


@pytest.mark.parametrize(
    ("typed", "says"),
    [
        ("hello", "names no test"),
        ("J3 on", "J3 is not off"),
        ("C1 open", "no fuse or switch"),
        ("twin Z9 4", "no point"),
        ("power maybe", "no power state"),
        ("reseated QQ", "no part"),
        ("F4 blown", "live board"),
        ("C 4 ohm", "live board"),
        ("C abc", "names no test"),
    ],
)
def test_what_is_not_understood_changes_nothing_and_says_the_mend(live_job, typed, says):
    answer = take("trace", *live_job.seen(focus="else"), typed)
    assert isinstance(answer, Refused)
    assert says in answer.what
    assert answer.mend


def test_facts_leave_out_what_a_repair_made_stale_and_keep_the_rest(live_job):
    job = live_job
    job.read(A=5.08, C=0.1, E=35.1)
    job.read(C=0.2)
    assert [c.text for c in facts_of(job.state).clues] == [
        "A 5.08\u202fV",
        "E 35.10\u202fV",
        "C 0.20\u202fV",
    ]
    job.log(PartReplaced(part="F4", out="x", fitted="x"))
    facts = facts_of(job.state)
    assert [c.target for c in facts.clues] == ["logic5", "coil32"]
    assert facts.mended == {"F4"}
    job.switch("off")
    job.read(A=0.0)
    assert [c.target for c in facts_of(job.state).clues] == ["logic5", "coil32"]


def test_a_reading_behind_something_pulled_is_evidence_and_no_verdict(live_job):
    job = live_job
    job.read(C=18.0, D=17.9)
    job.log(ActionDone(action="removed for test", target="J3"))
    job.read(C=18.8, D=0.0)
    assert job.state.latest("D", "dc V").value == 17.9
    cut = facts_of(job.state).clues[-1]
    assert (cut.target, cut.value, cut.out) == ("lamp_drv", 0.0, {"J3"})
    assert not [p.id for p in job.profile.test_points if p.id in path(job.seen().case)]


@pytest.mark.parametrize(
    ("fitted", "microfarads"),
    [("15000 µF 35 V", 15000), ("15000uF", 15000), ("12000 µF 25 V", 12000), ("the same", 12000)],
)
def test_a_fitted_part_of_another_value_changes_the_model(live_job, fitted, microfarads):
    live_job.log(PartReplaced(part="C1", out="12000 µF 25 V", fitted=fitted))
    profile = fitted_profile(live_job.profile, live_job.state)
    assert profile.block("C1").value == pytest.approx(microfarads * 1e-6)
    assert (profile is live_job.profile) is (microfarads == 12000)


def test_suspects_unfold_into_what_speaks_for_and_against(lamps_out, hunted):
    view = suspects_view(*hunted(lamps_out, focus="F4: open"))
    picked = next(r for r in view.rows if r.is_picked)
    details = {heading: plain(words) for heading, words in picked.details}
    assert "C 0.10 V (it would read 0.00 V)" in details["for"]
    assert "BR2 shorted, blew F4" in details["one of"]
    assert details["but"].endswith("would clear it")
    assert "usual spread" in details["assumed"]
    assert "kept for something not on this list" in view.note
    # A fault may be there beside one of another part, so the odds can come to more than one.
    assert sum(r.odds for r in view.rows) <= 1.2
    block = suspects_view(*hunted(lamps_out, focus="U1")).picked
    assert block[0] == "U1"
    assert any("A 5.08" in line for line in block[1])


def test_the_past_shows_the_odds_of_that_moment(lamps_out, hunted):
    now = hunted(lamps_out)
    assert [plain(m.text) for m in now.case.moments] == [
        "before the first reading", "A 5.08 V", "B 10.40 V", "C 0.10 V", "Q 0.00 V~",
    ]  # fmt: skip
    past = hunted(lamps_out, replay=1)
    assert plain(suspects_view(*past).note) == "as it stood after A 5.08 V"
    lamp = [next((o for k, _, o in m.odds if k == "F4: open"), 0.0) for m in now.case.moments]
    assert lamp[-1] > 0.5 > 0.2 > lamp[0]
    picture = tree_picture(*past, moment=past.case.moments[1])
    assert picture.labels["logic5"].is_read
    assert not picture.labels["lamp18"].is_read


def test_the_tree_shows_what_is_proved_what_is_dead_and_what_is_suspected(lamps_out, hunted):
    picture = tree_picture(*hunted(lamps_out))
    assert (
        picture.blocks["U1"].state
        == picture.blocks["C1"].state
        == picture.blocks["F1"].state
        == "live"
    )
    assert picture.blocks["BR2"].state == "dead"
    assert picture.nets["lamp18"] == picture.nets["lamp_drv"] == "dead"
    assert picture.nets["coil32"] == "plain"
    assert picture.blocks["F4"].odds > 0.4
    assert picture.blocks["F3"].odds == 0.0
    assert (picture.labels["lamp18"].verdict, plain(picture.labels["lamp18"].text)) == (
        "absent",
        "0.10 V",
    )
    assert plain(picture.labels["coil32"].text) == "32.0 V"
    assert picture.labels["sec_lamp"].is_next
    lamps_out.log(
        ReadingTaken(target="sec_lamp", mode="ac V", value=15.7, resolution=0.1, power="live")
    )
    assert tree_picture(*hunted(lamps_out)).labels["sec_lamp"].verdict == "within"
    lamps_out.switch("discharged")
    lamps_out.read(F4=1.0)
    lamps_out.log(ActionDone(action="removed for test", target="J3"))
    states = tree_picture(*hunted(lamps_out)).blocks
    assert (states["F4"].state, states["J3.5"].state) == ("open", "out")


def test_the_layout_has_no_two_blocks_in_one_place_and_every_block_once(orrery, ruskel):
    layout = lay_out(orrery)
    spots = [(p.column, p.row) for p in layout.places]
    assert len(set(spots)) == len(spots) == len(orrery.power)
    at = {p.block.id: p for p in layout.places}
    assert at["CPU"].column == at["LAMPS"].column == layout.columns - 1
    assert at["F4"].row == at["BR2"].row == at["C2"].row == at["LAMPS"].row
    assert at["U1"].column < at["J2.4"].column < at["C112"].column
    assert at["J6.2"].row == at["J2.4"].row + 1
    assert {w.end for w in layout.wires} == {p.block.id for p in layout.places} - {"X1"}
    assert lay_out(ruskel).places == ()


@pytest.fixture(params=["shipped", "two transformers", "one behind another", "mains and DC"])
def profiles(request, library):
    """Return profiles with the sources that a board can have."""
    if request.param == "shipped":
        return [p for p in library.all() if p.power]
    roots = {"T1": "mains", "T2": "one" if request.param == "one behind another" else "mains"}
    windings = {"T1": "one", "T2": "two"}
    power = [
        Inlet(id="X1", to="line", volts=230.0),
        FuseBlock(id="F1", from_="line", to="mains", rating=FuseRating(1.0, "slow")),
        *(Transformer(id=t, from_=roots[t], to={windings[t]: 9.0}) for t in windings),
        *(Load(id=f"L{n}", net=n, amps=0.1) for n in windings.values()),
    ]
    if request.param == "mains and DC":
        power[3] = Inlet(id="X2", to="two", volts=3.6, supply="battery")
    return [
        Profile(format="bench-lamp board 1", id="x", name="x", test_points=(), power=tuple(power))
    ]


def test_every_block_stands_once_whatever_feeds_the_board(profiles):
    for profile in profiles:
        layout = lay_out(profile)
        spots = [(p.column, p.row) for p in layout.places]
        drawn = {b.id for b in profile.power if not isinstance(b, Sense | DummyLoad)}
        assert len(set(spots)) == len(spots), profile.id
        assert sorted(p.block.id for p in layout.places) == sorted(drawn), profile.id
        begins = {b.id for b in profile.power if isinstance(b, Inlet)}
        assert sorted(w.end for w in layout.wires) == sorted(drawn - begins), profile.id
        assert max(row for _, row in spots) < layout.rows, profile.id
        assert compile_tree(profile) is not None, profile.id


def test_typing_says_what_the_figure_would_mean(lamps_out, hunted):
    seen = hunted(lamps_out)
    entry = card_for("trace", *seen).entry
    assert preview_reading(*seen, entry, "0.0").implies == "T1 winding open"
    assert preview_reading(*seen, entry, "15.6").implies.startswith("good to here")
    assert preview_reading(*seen, entry, "x") == Preview()


@pytest.mark.parametrize(
    ("kind", "low", "high", "text"),
    [
        ("dc", 17.2, 18.3, "17.2 to 18.3 V"),
        ("dc", 0.0, 0.0, "0.00 V"),
        ("ac", 13.87, 18.5, "13.9 to 18.5 V~"),
        ("ohm", 52.0, 2e7, "over 52.0 Ω"),
        ("ohm", 2e6, 2e7, "open"),
        ("ohm", 950.0, 4700.0, "950 to 4.7 kΩ"),
        ("tone", 0.0, 1.0, ""),
    ],
)
def test_ranges_are_written_with_no_more_digits_than_they_deserve(kind, low, high, text):
    assert plain(span(kind, low, high)).replace("950 Ω to", "950 to") == text


@pytest.mark.parametrize(
    ("net", "name"),
    [
        ("lamp18", "C, +18 V lamps"), ("sec_lamp", "before F4"), ("raw_disp", "C4 +"),
        ("disp_hv", "after J5.1"), ("ac_disp", "after F6"), ("mains", "after F1"),
    ],
)  # fmt: skip
def test_every_net_has_a_name_for_a_person(job, net, name):
    assert net_title(job.seen().case, net) == name


def test_black_goes_to_the_ground_of_the_same_supply(job):
    tests = {"raw_disp": "display return", "sec_coil": "winding", "ac_disp": "winding"}
    for net, word in tests.items():
        kind = TestKind.DC if net == "raw_disp" else TestKind.AC
        found = leads(
            job.seen().case, Test(kind=kind, target=net, part=0, seconds=8, condition=OFF)
        )
        assert word in found[1].text, net


def test_odds_are_never_said_to_be_none_or_certain():
    assert [plain(percent(x)) for x in (0.0, 0.004, 0.5, 0.994, 1.0)] == [
        "under 1 %", "under 1 %", "50 %", "over 99 %", "over 99 %",
    ]  # fmt: skip
    assert plain(figure("dc", -4.98)) == "−4.98 V"


def test_skipped_suggestions_and_picked_tests(lamps_out, hunted):
    first = lit_try(*hunted(lamps_out)).test.name
    skipped = hunted(lamps_out, skipped=frozenset({f"trace:{first}"}))
    assert lit_try(*skipped).test.name != first
    third = hunted(lamps_out).case.insight.tries[2].test.name
    assert lit_try(*hunted(lamps_out, focus=third)).test.name == third
    assert suspect_rows(hunted(lamps_out).case)[0].part == "F4"
    assert block_facts(hunted(lamps_out).case, "nothing") == ()


def test_with_a_likely_short_and_the_power_on_the_next_step_is_off(job, hunted):
    job.switch("live")
    job.read(A=0.58, B=8.9)
    seen = hunted(job)
    card = card_for("trace", *seen)
    assert card.title == "Switch off: a short is likely"
    assert card.choices[0].command == AskPower()
    onward = card_for("trace", *seen.but(skipped=frozenset({"trace-off"})))
    assert onward.title != card.title
    job.switch("discharged")
    assert "Ohms" in card_for("trace", *hunted(job)).title


@pytest.mark.parametrize(
    "profile_id", ["tessenby-orrery-nights", "ardvane-cinder-dunes", "ostrel-8", "ruskel-36"]
)
def test_no_bad_point_ends_in_a_blank_without_a_model(library, make_job, profile_id):
    """Each point bad by itself, on any profile, whole or without its tree: there is always a next step."""
    whole = library.get(profile_id)
    for profile in (whole, replace(whole, power=())):
        for point in profile.test_points:
            job = make_job(profile)
            job.switch("live")
            job.read_healthy()
            job.read(**{point.id: 0.3 * point.nominal})
            card = card_for("trace", *job.seen())
            assert card.choices or card.entry, (profile.id, point.id, card.title)
            assert card.title
            assert card.why


def test_a_moment_that_is_gone_is_now(hunted, lamps_out):
    seen = hunted(lamps_out, replay=99)
    assert moment_at(*seen) is None
    assert suspects_view(*seen).rows == suspects_view(*hunted(lamps_out)).rows
    past = hunted(lamps_out, replay=0)
    assert moment_at(*past).event == ""
    assert suspects_view(*past).note == "before the first reading"


def test_a_mended_part_that_is_accused_again_is_not_called_a_second_time(live_job, hunted):
    """F4 was replaced, and reads as before: the card says so, and what else it may be."""
    live_job.log(PartReplaced(part="J2.4", out="crimp", fitted="crimp"))
    live_job.read(A=5.08, B=10.4)
    for _ in range(2):
        live_job.read(L1=3.9)
    seen = hunted(live_job)
    insight = seen.case.insight
    accused = [s for s in insight.suspects if s.block == "J2.4"]
    assert accused
    assert insight.called is None or insight.called.block != "J2.4"
    if insight.is_not_cured:
        assert card_for("trace", *seen).title.startswith("Not cured: J2.4")


def test_two_bad_supplies_are_said_to_be_two_things(live_job, hunted):
    for _ in range(2):
        live_job.read(A=5.05, B=10.4, C=0.0, Q=0.0, H=0.0, E=35.5)
    view = suspects_view(*hunted(live_job))
    assert view.note.startswith("two things, probably")


@pytest.fixture
def radio(library, make_job):
    """A Varnholt VX-12, live: it has a DC inlet and an LED."""
    job = make_job(library.get("varnholt-vx12"))
    job.switch("live")
    return job


@pytest.fixture(scope="module")
def radio_engine(library):
    profile = library.get("varnholt-vx12")
    seconds = {p.net: p.seconds for p in profile.test_points}
    return Engine.of(build_dictionary(compile_tree(profile)), seconds)


@pytest.fixture
def heard(radio, radio_engine):
    """Return a maker of situations of the radio with the reasoning's insight in them."""
    return lambda **more: radio.seen(
        insight=insight_of(radio_engine, radio.profile, facts_of(radio.state)), **more
    )


@pytest.mark.parametrize(
    ("line", "mode", "target", "value"),
    [
        ("J1.3 drop 0.75", "drop", "J1.3", 0.75),
        ("F1 across 12m", "drop", "F1", 0.012),
        ("X1 0.85 A", "A", "X1", 0.85),
        ("X1 850 mA", "A", "X1", 0.85),
        ("P3 100 Hz", "Hz", "P3", 100.0),
        ("J1.3 moved", "wiggle", "J1.3", 1.0),
        ("J1.3 moved same", "wiggle", "J1.3", 0.0),
        ("U1 cooled", "cool", "U1", 1.0),
        ("U1 frozen same", "cool", "U1", 0.0),
        ("C1 heated changes", "heat", "C1", 1.0),
        ("D9 dim", "look", "D9", 0.5),
        ("D9 out", "look", "D9", 0.0),
        ("D9 flash", "look", "D9", -1.0),
    ],
)
def test_what_is_read_of_a_part_goes_in_as_one_says_it(radio, line, mode, target, value):
    answer = take_free_entry(radio.seen().case, Hand(), line)
    (body,) = answer.log
    assert (body.mode, body.target, body.value) == (mode, target, pytest.approx(value))
    radio.log(body)
    (clue,) = facts_of(radio.state).clues
    assert clue.target in {target, "sw13"}
    assert clue.text.startswith(target)
    tile = tape(radio.seen().case)[-1]
    assert tile.title.startswith(target)
    assert "power live" in plain(" ".join(tile.explanation))


@pytest.mark.parametrize(
    ("name", "title", "caution"),
    [
        ("cool U1", "Cool U1, and watch", "Spray burns skin"),
        ("heat C1", "Heat C1, and watch", "Hot metal"),
    ],
)
def test_what_is_cooled_or_heated_says_first_what_can_hurt(radio, heard, name, title, caution):
    case = heard().case
    kind, target = name.split()
    test = replace(case.insight.tries[0].test, kind=TestKind(kind), target=target)
    card = made_card(case, case.insight, replace(case.insight.tries[0], test=test))
    assert card.title == title
    assert any(words.startswith(caution) for words in card.cautions)
    assert [c.text for c in card.choices[:2]] == ["Nothing changes", "It changes"]
    (body,) = card.choices[1].log
    assert (body.mode, body.target, body.value) == (kind, target, 1.0)


@pytest.mark.parametrize("line", ["J1.3 cooled", "U1 moved", "P3 heated"])
def test_only_silicon_and_electrolytics_are_cooled_and_only_contacts_moved(radio, line):
    answer = take_free_entry(radio.seen().case, Hand(), line)
    assert not getattr(answer, "log", ())


@pytest.mark.parametrize(
    ("line", "mode", "value", "text"),
    [
        ("C1 1900 uF", "F", 1.9e-3, "C1 1900 µF"),
        ("C1 esr 0.38", "esr", 0.38, "C1 ESR 0.38 Ω"),
        ("C1 esr 2R2", "esr", 2.2, "C1 ESR 2.2 Ω"),
    ],
)
def test_a_capacitor_is_measured_in_circuit_with_the_board_discharged(
    radio, radio_engine, line, mode, value, text
):
    live = take_free_entry(radio.seen().case, Hand(), line)
    assert "live board" in live.what
    radio.switch("discharged")
    (body,) = take_free_entry(radio.seen().case, Hand(), line).log
    assert (body.target, body.mode, body.value) == ("C1", mode, pytest.approx(value))
    radio.log(body)
    (clue,) = facts_of(radio.state).clues
    assert plain(clue.text) == text
    tile = tape(radio.seen().case)[-1]
    assert plain(tile.title) == text
    assert "discharged" in plain(" ".join(tile.explanation))
    assert len(radio_engine.weigh(facts_of(radio.state)).taken) == 1
    radio.log(PartReplaced(part="C1", out="x", fitted="y"))
    assert facts_of(radio.state).clues == ()


def test_a_capacitance_of_farads_is_refused_and_a_bare_one_is_in_microfarads(radio):
    radio.switch("discharged")
    refused = take_free_entry(radio.seen().case, Hand(), "C1 1900 F")
    assert "no reservoir" in refused.what
    assert "8200 uF" in refused.mend
    entry = Entry(kind="reading", target="C1", mode="F")
    (body,) = take_reading(radio.seen().case, Hand(), entry, Typed(text="1900")).log
    assert body.value == pytest.approx(1.9e-3)


@pytest.mark.parametrize(
    ("name", "title", "unit"),
    [
        ("farads C1", "Capacitance of C1, in circuit", "µF"),
        ("esr C1", "ESR of C1, in circuit", "Ω"),
    ],
)
def test_the_card_of_a_capacitor_asks_for_the_power_off_first(radio, heard, name, title, unit):
    kind, target = name.split()

    def asked():
        case = heard().case
        test = replace(
            case.insight.tries[0].test, kind=TestKind(kind), target=target, condition=OFF
        )
        return made_card(case, case.insight, replace(case.insight.tries[0], test=test))

    card = asked()
    assert (
        card.title
        == f"Switch off, then {title[:1].lower() if unit == 'µF' else title[:1]}{title[1:]}"
    )
    assert card.entry is None
    radio.switch("discharged")
    card = asked()
    assert (card.title, card.entry.unit) == (title, unit)
    assert [lead.text.partition(";")[0] for lead in card.leads[:2]] == [
        "C1, the + lead",
        "C1, the − lead",
    ]
    assert any("below 1\u202fV" in words for words in card.cautions) or card.cautions == ()


@pytest.mark.parametrize(
    ("target", "how", "is_series"),
    [
        ("X1", "the supply’s display, or a clamp for DC", False),
        ("F1", "a clamp for DC around its wire, zeroed first", False),
        ("J2.1", "DC amperes, in series with its wire: power off, meter in, power on", True),
    ],
)
def test_a_current_is_read_by_what_suits_it(radio, heard, target, how, is_series):
    case = heard().case
    test = replace(case.insight.tries[0].test, kind=TestKind.AMPS, target=target)
    card = made_card(case, case.insight, replace(case.insight.tries[0], test=test))
    assert card.title == f"Current at {target}"
    assert card.leads[-1].text == how
    assert any("volts socket" in words for words in card.cautions) == is_series


def test_where_the_meter_stands_for_a_fuse_its_own_fuse_is_said_first(radio):
    case = radio.seen().case
    small = replace(case.profile.block("F1"), to="lonely")
    assert (
        flow_cautions(case, small)[0] == "The meter’s own fuse stands in for F1: 3\u202fA at most."
    )
    assert flow_cautions(case, case.profile.block("F1")) == ()


def test_what_feeds_an_indicator_is_answered_from_the_tree(radio):
    asked = take_free_entry(radio.seen().case, Hand(), "what feeds D9")
    assert asked.question == "D9 is fed by U2 ← S1 ← D1 ← F1 ← X1."


def test_a_look_of_no_kind_is_refused_with_the_words_that_are(radio):
    refused = take_free_entry(radio.seen().case, Hand(), "D9 purple")
    assert "dim" in refused.mend


def test_the_hunt_asks_for_a_look_and_takes_it_by_a_key(radio, heard):
    card = card_for("trace", *heard(focus="look D9"))
    assert card.title == "Look at D9"
    assert [lead.kind for lead in card.leads] == ["hand", "fed"]
    assert [c.text for c in card.choices][:3] == ["It is lit", "It is dim", "It is dark"]
    assert {o.reads for o in card.outcomes} >= {"lit", "dark"}
    radio.log(*card.choices[2].log)
    blocks = {f.block for f, _ in heard().case.insight.suspects[0].members}
    assert blocks <= {"X1", "F1", "U2", "D1", "S1"}


def test_both_leads_on_a_part_carry_its_rail(radio, heard):
    radio.log(Complaint(text="no sound"))
    radio.read(P4=11.3)
    card = card_for("trace", *heard(focus="drop J1.3"))
    assert card.title == "Volts across J1.3"
    assert card.entry.mode == "drop"
    assert any("neither goes to ground" in line for line in card.cautions)
    assert [lead.text for lead in card.leads][:2] == [
        "J1.3, the joint of the pin on the feeding side",
        "J1.3, the crimp behind the contact; not ground",
    ]


def test_a_change_to_a_part_makes_old_what_was_read_of_its_neighbours(radio):
    radio.log(ReadingTaken(target="J1.3", mode="drop", value=0.75, power="live"))
    radio.log(PartReplaced(part="S1", out="x", fitted="y"))
    assert facts_of(radio.state).clues == ()


@pytest.mark.parametrize(
    ("line", "what"),
    [
        ("J1 drop 0.3", "J1 has several contacts"),
        ("C1 drop 0.3", "C1 is not read with both leads"),
        ("AUDIO across 0.3", "AUDIO is not read with both leads"),
        ("U1 0.3 A", "The current through U1"),
        ("F1 drop much", "not a reading"),
        ("mains 230", "No mains comes into this board"),
    ],
)
def test_what_cannot_be_read_of_a_part_is_refused(radio, line, what):
    refused = take_free_entry(radio.seen().case, Hand(), line)
    assert what in refused.what
    assert refused.mend


def test_volts_beyond_the_range_are_no_evidence(radio):
    radio.log(
        ReadingTaken(target="P3", mode="dc V", value=0.0, overload=True, power="live"),
        ReadingTaken(target="J1.3", mode="drop", value=0.0, overload=True, power="live"),
        ReadingTaken(target="C1", mode="F", value=0.0, overload=True, power="discharged"),
        ReadingTaken(target="C1", mode="esr", value=0.0, overload=True, power="discharged"),
    )
    assert facts_of(radio.state).clues == ()


@pytest.mark.parametrize("volts", [116.0, 236.0])
def test_the_mains_that_was_read_goes_into_every_expectation(job, engine, volts):
    job.log(*take_free_entry(job.seen().case, Hand(), f"mains {volts}").log)
    facts = facts_of(job.state, job.profile)
    wired = min((o.volts for o in job.profile.mains), key=lambda v: abs(v - volts))
    assert facts.mains == pytest.approx(volts / wired)
    high = insight_of(engine, job.profile, replace(facts, mains=1.04)).expected["lamp18"]
    low = insight_of(engine, job.profile, replace(facts, mains=0.96)).expected["lamp18"]
    assert high[0] > low[0] + 0.5
    assert high[1] - high[0] < 4.0, "narrower than for a mains that nobody read"


def test_no_mains_at_the_inlet_says_that_none_comes_in(job, engine):
    job.log(*take_free_entry(job.seen().case, Hand(), "mains 0").log)
    insight = insight_of(engine, job.profile, facts_of(job.state, job.profile))
    assert insight.suspects[0].fault.kind.value == "no mains"


@pytest.mark.parametrize("name", ["look D9", "wiggle J1.3", "cool U1", "heat C1"])
def test_what_is_seen_of_a_board_that_is_off_asks_for_the_power(radio, heard, name):
    """No card without a way on: the power first, then what to look at."""
    radio.log(Complaint(text="no sound"))
    radio.read(P4=11.0, P8=0.1)
    shown = next(t.test for t in heard().case.insight.tries if t.test.kind.is_on_part)
    attempt = replace(
        heard().case.insight.tries[0],
        test=replace(shown, kind=TestKind(name.split()[0]), target=name.split()[1]),
    )
    live = made_card(heard().case, heard().case.insight, attempt)
    assert live.asks is not None, "F8 takes it from a linked board"
    assert [c.key for c in live.choices][:2] == ["1", "2"]
    radio.switch("off")
    off = made_card(heard().case, heard().case.insight, attempt)
    assert off.title.startswith("Switch on, then ")
    assert [c.command for c in off.choices] == [AskPower()]


@pytest.mark.parametrize(
    ("kind", "value", "said"),
    [("look", 0.0, "off"), ("look", 0.97, "on"), ("hertz", 100.0, "100 Hz"), ("drop", 0.012, "12 mV"),
     ("amps", 0.787, "0.79 A")],
)  # fmt: skip
def test_what_a_suspect_would_show_is_said_in_words_or_with_its_unit(kind, value, said):
    assert plain(figure(kind, value)) == said


@pytest.mark.parametrize(
    ("kind", "low", "high", "said"),
    [
        ("drop", 0.0007, 0.009, "up to 9 mV"),
        ("drop", 0.0001, 0.0008, "under 1 mV"),
        ("drop", 0.009, 14.5, "9 mV to 14.5 V"),
        ("amps", 0.7, 0.84, "0.70 to 0.84 A"),
        ("hertz", 92.0, 109.0, "92 to 109 Hz"),
    ],
)
def test_ranges_on_a_part_have_no_more_digits_than_they_deserve(kind, low, high, said):
    assert plain(span(kind, low, high)) == said


def test_a_suspect_that_a_look_speaks_of_has_no_bare_figure(radio, heard):
    radio.log(*take_free_entry(radio.seen().case, Hand(), "D9 out").log)
    radio.log(*take_free_entry(radio.seen().case, Hand(), "J1.3 moved").log)
    first = heard().case.insight.suspects[0]
    words = " ".join(text for _, text in suspects_view(*heard(focus=first.key)).rows[0].details)
    assert "D9 off (it would read off)" in words or "J1.3 moved" in words
    assert "it would read 0" not in plain(words)


def test_a_hunt_of_fifteen_tests_says_so_once(radio, heard):
    nets = ("guarded", "lamp13", "front9", "osc9", "disp5", "rf9", "log5")
    radio.log(Complaint(text="crackles"))
    for net in nets:
        for mode, value in (("dc V", 13.0 if "13" in net or net == "guarded" else 9.0 if "9" in net else 5.0),
                            ("ac V", 0.01)):  # fmt: skip
            radio.log(ReadingTaken(target=net, mode=mode, value=value, power="live"))
    radio.log(*take_free_entry(radio.seen().case, Hand(), "J1.3 drop 4m").log)
    seen = heard(skipped=frozenset({"trace-poor", "trace-spent", "trace-called"}))
    card = card_for("trace", *seen)
    assert (card.id, card.title) == ("trace-long", "15 tests, and nothing called yet")
    after = heard(skipped=frozenset({"trace-poor", "trace-spent", "trace-called", "trace-long"}))
    assert card_for("trace", *after).id != "trace-long"


def test_a_profile_whose_inlet_has_no_volts_stops_nothing(job):
    power = tuple(replace(b, volts=0.0) if isinstance(b, Inlet) else b for b in job.profile.power)
    bare = replace(job.profile, power=power, mains=())
    job.log(ReadingTaken(target="X1", mode="ac V", value=230.0, power="off"))
    assert facts_of(job.state, bare).mains is None
