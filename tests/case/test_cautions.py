"""Cautions: each with the step that it belongs to, on every profile; fuses right for this mains."""

import pytest
from msgspec.structs import replace
from tests.conftest import Job

from bench_lamp.board.blocks import FuseBlock, Inlet, Transformer
from bench_lamp.board.chips import Chip
from bench_lamp.board.condition import TestKind
from bench_lamp.cards.leads import leads
from bench_lamp.cards.power import power_card
from bench_lamp.case import cautions
from bench_lamp.case.cautions import is_mains
from bench_lamp.case.fuses import wanted_fuse
from bench_lamp.case.gates import gates, live_fuses
from bench_lamp.journal.events import CheckNoted, GateMarked, MainsSeen
from bench_lamp.journal.state import ROUND
from bench_lamp.reason.values.tests import Test
from bench_lamp.stages import card_for

PROFILES = ["tessenby-orrery-nights", "ardvane-cinder-dunes", "ostrel-8", "ruskel-36"]


def said(card):
    choices = [c.text for c in (*card.choices, *card.runners)]
    leads_ = [lead.text for lead in card.leads]
    return " | ".join((card.title, *card.cautions, *card.why, *choices, *leads_)).replace(
        "\u202f", " "
    )


@pytest.mark.parametrize("profile_id", PROFILES)
def test_every_caution_of_a_profile_is_shown_before_the_mains_goes_on(library, meter, profile_id):
    profile = library.get(profile_id)
    job = Job(profile, meter)
    hazards = {h.kind: h for h in profile.hazards}
    for card in (power_card(job.seen().case), card_for("wake", *job.seen())):
        assert set(profile.cautions) <= set(card.cautions)
        for kind in ("isolation transformer", "laser", "moving parts"):
            assert kind not in hazards or hazards[kind].text in card.cautions
    job.switch("off")
    for kind in ("picture tube", "hot parts"):
        if kind in hazards:
            assert hazards[kind].text in cautions.for_hands_in(job.seen().case)
            assert hazards[kind].text in card_for("cold", *job.seen()).cautions
    batteries = [c for c in profile.chips if c.family == "battery"]
    look = card_for("intake", *job.seen(focus="look")).cautions
    assert len([c for c in look if "burns skin and eyes" in c]) == len(batteries)


def test_they_are_not_repeated_until_nobody_reads_them(job):
    job.log(GateMarked(gate=ROUND, mark="round done"))
    job.switch("live")
    job.switch("discharged")
    assert cautions.for_hands_in(job.seen().case) == ()
    assert cautions.for_power(job.seen().case, is_whole=False) == (cautions.MAINS,)


def test_a_part_that_is_changed_has_iron_fumes_glasses_and_static(job):
    job.switch("discharged")
    chip = card_for("swap", *job.seen(draft={"part": "U14"})).cautions
    assert set(cautions.SOLDERING) <= set(chip)
    assert cautions.STATIC in chip
    capacitor = card_for("swap", *job.seen(draft={"part": "C2"})).cautions
    assert cautions.STATIC not in capacitor
    battery = card_for("swap", *job.seen(draft={"part": "BT1"})).cautions
    assert any("burns skin" in c for c in battery)


def test_a_battery_that_no_hazard_names_is_one_all_the_same(make_job, ruskel):
    chip = Chip(id="B9", name="cell", family="battery", pins=2, place="left")
    job = make_job(replace(ruskel, chips=(chip,)))
    assert any("B9 left" in c for c in cautions.for_looking(job.seen().case))


def test_contacts_are_worked_with_the_coil_fuse_out_or_a_stick(job):
    job.switch("live")
    assert "F3 out, or an insulated stick" in cautions.for_working_contacts(job.seen().case)[0]
    signs = [c for c in said(card_for("wake", *job.seen())).split(" | ") if "finger" in c.lower()]
    assert not any("touch" in words for words in signs)


@pytest.mark.parametrize("profile_id", PROFILES[:3])
@pytest.mark.parametrize("number", [0, 1])
def test_the_mains_fuse_is_that_of_the_mains_the_set_is_on(library, meter, profile_id, number):
    """No card says the other mains's rating, in any stage that speaks of the fuse."""
    profile = library.get(profile_id)
    here, other = profile.mains[number], profile.mains[1 - number]
    job = Job(profile, meter, looked_at=False)
    for place in ("selector", "sticker"):
        job.log(MainsSeen(place=place, text=f"{here.volts:g} V"))
    job.log(MainsSeen(place="fuse", text=str(here.fuse)))
    job.switch("discharged")
    fuse = profile.block(profile.mains_fuse)
    assert wanted_fuse(job.seen().case, fuse) == str(here.fuse)
    cards = [
        card_for("cold", *job.seen(focus=f"fuse:{fuse.id}")),
        card_for("cold", *job.seen(focus=f"fuse:{fuse.id}", draft={"fuse": fuse.id})),
        card_for("swap", *job.seen(draft={"part": fuse.id, "action": "replaced"})),
        card_for("swap", *job.seen(draft={"part": fuse.id, "action": "replaced", "out": "x"})),
        card_for("trace", *job.seen(focus=f"tone {fuse.id}")),
    ]
    words = " | ".join(said(c) + (c.entry.prefill if c.entry else "") for c in cards)
    right, wrong = (str(x.fuse).replace("\u202f", " ") for x in (here, other))
    assert right in words.replace("\u202f", " ")
    assert f" {wrong}" not in words.replace("\u202f", " ")


def test_while_the_mains_is_not_known_both_ratings_are_named(orrery, meter):
    job = Job(orrery, meter, looked_at=False)
    job.switch("discharged")
    card = card_for("cold", *job.seen(focus="fuse:F1"))
    texts = [c.text.replace("\u202f", " ") for c in card.choices]
    assert texts[:3] == ["Beeps, and is marked 3 A slow", "Beeps, and is marked 6.3 A slow", "Open"]
    job.log(*card.choices[0].log)
    from bench_lamp.case.cold_list import cold_items

    word = next(i.word for i in cold_items(job.seen().case) if i.id == "fuse:F1")
    assert not word.is_done
    assert "which mains?" in word.text


@pytest.mark.parametrize("profile_id", PROFILES[:3])
def test_a_mains_fuse_is_never_checked_with_the_power_on(library, meter, profile_id):
    profile = library.get(profile_id)
    job = Job(profile, meter)
    job.switch("discharged")
    for fuse in profile.fuses:
        card = card_for("cold", *job.seen(focus=f"fuse:{fuse.id}"))
        is_offered = any("power on, both sides" in c.text for c in card.runners)
        assert is_offered is not is_mains(job.seen().case, fuse.from_)
        assert is_offered or any("not checked with the power on" in w for w in card.why)
    job.log(CheckNoted(check=f"fuse:{profile.mains_fuse}", word="judge live"))
    case = job.seen().case
    assert profile.mains_fuse not in {f for g in gates(case) for f, _, _ in live_fuses(case, g)}


@pytest.mark.parametrize("profile_id", PROFILES[:3])
def test_black_and_caution_at_every_net_are_those_of_its_side(library, meter, profile_id):
    profile = library.get(profile_id)
    job = Job(profile, meter)
    job.switch("live")
    case = job.seen().case
    for net in case.tree.nets:
        ways = case.tree.upstream(net)
        first = [b for b in ways if isinstance(b, Inlet)] and not any(
            isinstance(b, Transformer) for b in ways
        )
        (hurts, *_) = cautions.for_net(case, net, 0.0)
        black = leads(case, Test(kind=TestKind.AC, target=net, part=0, seconds=1.0))[1].text
        assert bool(first) is ("Mains between" in hurts) is ("neutral" in black), net
        volts = cautions.source_volts(case, net)
        if volts > 60 and not first:
            assert "One hand, the other off the frame" in hurts, net
    assert isinstance(profile.block(profile.mains_fuse), FuseBlock)


def test_a_set_fed_by_dc_speaks_of_its_supply_and_never_of_mains(library, meter):
    job = Job(library.get("varnholt-vx12"), meter)
    case = job.seen().case
    assert cautions.for_hands_in(case)[0] == "Power not confirmed. Unplug its supply, then Ctrl+P."
    round_card = card_for("wake", *job.seen())
    assert "X1 gets 13.8 V DC; red is plus." in said(round_card)
    job.switch("live")
    case = job.seen().case
    for net in case.tree.nets:
        test = Test(kind=TestKind.DC, target=net, part=0, seconds=1.0)
        found = [*cautions.for_net(case, net, 0.0), *(lead.text for lead in leads(case, test))]
        assert found[0] == cautions.LIVE, net
        assert "braid at the antenna socket" in found, net
    (power, *_) = cautions.for_hands_in(case)
    assert power == "Board is LIVE. Switch off and unplug its supply first, then Ctrl+P."
    assert "ains" not in said(power_card(case))


@pytest.mark.parametrize(("volts", "hurts"), [(90.0, True), (-90.0, True), (13.8, False)])
def test_a_high_dc_inlet_is_named_by_its_volts(live_job, volts, hurts):
    inlet = Inlet(id="X1", to="ht", volts=volts, supply="battery")
    case = replace(live_job.seen().case, profile=replace(live_job.profile, power=(inlet,)))
    (found,) = cautions.for_net(case, "ht", 0.0)
    assert ("90\u202fV" in found) is hurts


@pytest.mark.parametrize("own", ["", "hot heatsink beside it"])
@pytest.mark.parametrize("volts", [-170.0, -12.0, 5.0, 35.0, 60.0, 340.0])
def test_what_a_profile_says_of_a_point_never_takes_the_place_of_its_volts(live_job, own, volts):
    point = replace(live_job.profile.test_points[0], nominal=volts, caution=own)
    found = cautions.for_reading(live_job.seen().case, point)
    assert "One hand" in found[0]
    assert (f"{abs(volts):g}" in found[0]) is (abs(volts) > 50)
    assert found[1:] == ((own,) if own else ())
