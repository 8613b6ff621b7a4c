"""What stops the switching on: everything bad that could do harm, on every profile, at every door."""

import pytest
from tests.conftest import Job

from bench_lamp.board.blocks import Rectifier, Reservoir
from bench_lamp.cards.power import live_question, power_card
from bench_lamp.case.cold_verdicts import junction_target, junctions_of
from bench_lamp.case.fuse_map import evidence
from bench_lamp.case.stops import stops, wake_stops
from bench_lamp.journal.events import (
    ActionDone,
    CheckNoted,
    Finding,
    FuseFitted,
    MainsSeen,
    PartReplaced,
    ReadingTaken,
    SeriesTaken,
    Struck,
    Swept,
)
from bench_lamp.journal.logic_events import CellsMarked
from bench_lamp.logic.marks import LOCKED_ON
from bench_lamp.stages import card_for

PROFILES = ["tessenby-orrery-nights", "ardvane-cinder-dunes", "ostrel-8", "ruskel-36"]


def reading(target, mode, value):
    return ReadingTaken(target=target, mode=mode, value=value, resolution=0.01, power="discharged")


def harmful_parts(profile):
    """Yield fuses, rows, chips and coils that could do harm, with the events that say so."""
    for fuse in profile.fuses:
        yield fuse.id, (FuseFitted(fuse=fuse.id, text="bridged"),)
        yield fuse.id, (FuseFitted(fuse=fuse.id, text="25 A fast"),)
    for row in profile.rows:
        yield row.id, (Swept(target=row.id, beeped=row.parts),)
    for chip in profile.pin_maps:
        more = next(n for n in range(1, chip.pins + 1) if n not in chip.low)
        yield chip.id, (Swept(target=chip.id, beeped=(*map(str, chip.low), str(more))),)
    for coil in (c for c in profile.coils if c.ohms and c.fitted):
        yield coil.id, (reading(coil.id, "ohm", 0.7 * coil.ohms.low),)


def harmful_readings(profile, case):
    """Yield shorted junctions, rails and capacitors, with the events that say so."""
    parts = [b.id for b in profile.power if isinstance(b, Rectifier)]
    for part in (*parts, *(s.id for s in profile.semiconductors)):
        junction = junctions_of(case, part)[0]
        yield (
            part,
            tuple(
                reading(junction_target(part, junction, reverse=r), "diode", 0.01)
                for r in (False, True)
            ),
        )
    for point in (p for p in profile.test_points if p.mode == "dc V"):
        yield point.id, (reading(point.id, "ohm", 0.2),)
    for block in (b for b in profile.power if isinstance(b, Reservoir)):
        series = SeriesTaken(target=block.id, mode="ohm", seconds=(1, 2, 3), values=(0.5, 0.5, 0.5))
        yield block.id, (series,)


@pytest.mark.parametrize("profile_id", PROFILES)
def test_every_known_bad_thing_stops_at_every_door_until_it_is_mended(library, meter, profile_id):
    profile = library.get(profile_id)
    count = 0
    case = Job(profile, meter).seen().case
    for part, bodies in (*harmful_parts(profile), *harmful_readings(profile, case)):
        job = Job(profile, meter)
        job.switch("discharged")
        job.log(*bodies)
        case = job.seen().case
        found = wake_stops(case)
        assert found, (part, bodies)
        assert all(part in s.key for s in found), (part, found)
        plain = [
            b
            for c in power_card(case).choices
            for b in c.log
            if b.power == "live" and not b.against
        ]
        assert not plain
        assert "against the stop" in live_question(case).choices[0].text
        wake = card_for("wake", *job.seen())
        assert wake.title == "Do not switch on"
        job.log(*wake.choices[-1].log)
        assert wake_stops(job.seen().case) == (), "going on against it is one key"
        assert stops(job.seen().case) == found
        job.log(Swept(target="none", beeped=()), MainsSeen(place="fuse", text="none"))
        assert [s.key for s in wake_stops(job.seen().case)][:1] == (
            ["mains"] if profile.mains else []
        )
        count += 1
    assert count >= (5 if profile.power else 4)


@pytest.mark.parametrize(
    "bodies",
    [
        (reading("K01", "ohm", float("inf")),),
        (FuseFitted(fuse="F4", text="none"),),
        (CheckNoted(check="switch:SW1", word="bad", text="does not open"),),
        (CheckNoted(check="capacitor:C2", word="bad", text="2 mF: dried out"),),
    ],
)
def test_what_is_open_or_dry_harms_nothing_and_does_not_stop(job, bodies):
    job.switch("discharged")
    job.log(*bodies)
    assert wake_stops(job.seen().case) == ()


@pytest.mark.parametrize("profile_id", PROFILES)
def test_a_mains_side_that_was_not_looked_at_stops_also_after_a_strike(library, meter, profile_id):
    profile = library.get(profile_id)
    job = Job(profile, meter, looked_at=False)
    assert [s.key for s in wake_stops(job.seen().case)] == ["mains"]
    whole = Job(profile, meter)
    assert wake_stops(whole.seen().case) == ()
    fuse = next(e for e in whole.events if isinstance(e.body, MainsSeen) and e.body.place == "fuse")
    whole.log(Struck(event=fuse.id, reason="misread"))
    assert [s.key for s in wake_stops(whole.seen().case)] == ["mains"]
    if profile.mains_fuse:
        whole.log(PartReplaced(part=profile.mains_fuse, out="x", fitted=str(profile.mains[0].fuse)))
        assert wake_stops(whole.seen().case) == ()


def test_a_coil_that_stayed_in_stops_until_its_fuse_is_out(job):
    test = next(t for t in job.profile.self_tests if t.id == "coils")
    step = next(s for s in test.steps if s.fitted)
    job.log(CellsMarked(test=test.id, cells=(step.id,), mark=LOCKED_ON))
    (stop,) = stops(job.seen().case)
    assert (
        stop.text
        == f"{step.id} {step.name} stayed in. Take F3, the coil fuse, out before the next start."
    )
    job.log(ActionDone(action="removed for test", target="F1"))
    assert len(stops(job.seen().case)) == 1, "another fuse says nothing"
    job.log(ActionDone(action="removed for test", target="F3"))
    assert stops(job.seen().case) == ()


def test_what_was_seen_without_a_place_points_at_no_part(job):
    job.log(
        Finding(seen="burnt", place=""),
        Finding(seen="nothing", place="BR2"),
        Finding(seen="burnt", place="C2"),
    )
    assert evidence(job.seen().case).seen == {"C2": "burnt"}
