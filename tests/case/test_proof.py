"""What a change to the hardware undoes: proof, readings, and the limits they are judged by."""

import pytest
from msgspec.structs import replace
from tests.seen import take

from bench_lamp.case.proof import is_proved, proof_progress, unproved
from bench_lamp.case.readings import ripple_limit
from bench_lamp.journal.events import ActionDone, CheckNoted, Complaint, PartReplaced
from bench_lamp.journal.open_events import ComplaintAsked, LoadHung, OpenEnd
from bench_lamp.stages import card_for


@pytest.fixture
def proved(live_job):
    live_job.read_healthy(*(p.id for p in live_job.profile.test_points))
    live_job.works()
    assert is_proved(live_job.seen().case)
    return live_job


@pytest.mark.parametrize(
    "bodies",
    [
        pytest.param(
            (
                ActionDone(action="removed for test", target="J3"),
                ActionDone(action="refitted", target="J3"),
            ),
            id="a connector refitted",
        ),
        pytest.param(
            (
                ActionDone(action="link opened", target="W1"),
                ActionDone(action="link closed", target="W1"),
            ),
            id="a link closed again",
        ),
        pytest.param((ActionDone(action="reseated", target="J3"),), id="a connector re-seated"),
        pytest.param((PartReplaced(part="C4", out="", fitted=""),), id="a part replaced"),
    ],
)
def test_whatever_touched_the_hardware_every_point_is_proved_anew(proved, bodies):
    proved.log(*bodies)
    case = proved.seen().case
    assert not is_proved(case)
    assert proof_progress(case)[0] == 0


def test_the_card_says_why_a_good_reading_from_before_is_wanted_again(proved):
    proved.log(ActionDone(action="reseated", target="J3"))
    before = card_for("prove", *proved.seen(focus="A")).why[0]
    assert "before the last change. Read it again" in before
    proved.read_healthy("A")
    assert "A new reading stands beside it" in card_for("prove", *proved.seen(focus="A")).why[0]


def test_a_connector_put_back_is_no_repair_so_what_was_read_still_stands(proved):
    before = proved.state.last_mend
    proved.log(ActionDone(action="removed for test", target="J3"))
    proved.log(ActionDone(action="refitted", target="J3"))
    assert proved.state.last_mend == before
    assert not any(r.is_stale for r in proved.state.readings)


@pytest.mark.parametrize(
    ("point", "limit"),
    [
        pytest.param("A", 0.101, id="regulated: 2 % of 5.05 V"),
        pytest.param("C", 1.8, id="raw: 10 % of 18 V"),
        pytest.param("E", 3.2, id="raw: 10 % of 32 V"),
        pytest.param("H", 2.8, id="regulated: 2 % of 140 V"),
    ],
)
def test_ripple_limits_by_what_feeds_the_point(job, point, limit):
    bare = replace(job.profile.point(point), ripple=None)
    assert ripple_limit(job.seen().case, bare) == pytest.approx(limit)
    own = replace(bare, ripple=0.25)
    assert ripple_limit(job.seen().case, own) == 0.25


def test_with_nothing_to_read_nothing_is_proved(make_job, ruskel):
    job = make_job(replace(ruskel, test_points=(), functions=(), full_loads=(), burn_in=None))
    assert proof_progress(job.seen().case) == (0, 0)
    assert not is_proved(job.seen().case)
    assert card_for("prove", *job.seen()).title == "Nothing can be proved"


@pytest.mark.parametrize(
    ("body", "undone"),
    [
        (Complaint(text="no sound"), ComplaintAsked(is_gone=True)),
        (
            OpenEnd(what="on order", target="C2"),
            OpenEnd(what="on order", target="C2", is_made_good=True),
        ),
        (
            OpenEnd(what="socket", target="U7"),
            OpenEnd(what="socket", target="U7", is_made_good=True),
        ),
        (LoadHung(load="load on A", is_on=True), LoadHung(load="load on A", is_on=False)),
        (CheckNoted(check="fuse:F2", word="left out"), CheckNoted(check="fuse:F2", word="good")),
    ],
)
def test_what_is_open_keeps_a_board_from_being_proved(proved, body, undone):
    proved.log(body)
    case = proved.seen().case
    assert not is_proved(case)
    assert len(unproved(case)) == 1
    assert any("Not proved" in c for c in card_for("handback", *proved.seen()).cautions)
    proved.log(undone)
    assert is_proved(proved.seen().case)


def test_the_complaint_is_asked_about_anew_after_a_change(proved):
    proved.log(Complaint(text="no sound"), ComplaintAsked(is_gone=True))
    assert is_proved(proved.seen().case)
    proved.log(ActionDone(action="reseated", target="J3"))
    proved.read_healthy()
    proved.works()
    assert unproved(proved.seen().case) == ("The complaint: nobody has said that it is gone.",)
    proved.log(ComplaintAsked(is_gone=False))
    assert not is_proved(proved.seen().case)


def test_a_part_on_order_is_not_replaced_until_it_is(proved):
    draft = {"part": "C2", "action": "replaced", "out": "8200 µF"}
    answer = take("swap", *proved.seen(draft=draft), "on order")
    assert answer.log == (OpenEnd(what="on order", target="C2", text="on order"),)
    proved.log(*answer.log)
    assert proved.state.replaced == ()
    proved.log(PartReplaced(part="C2", out="x", fitted="y"))
    assert proved.state.open_ends == ()


@pytest.mark.parametrize(
    ("part", "stale"),
    [
        pytest.param("IC4", {"L1"}, id="a chip: its supply, and the pin before it"),
        pytest.param("BT1", set(), id="a battery hangs on no rail that is read"),
        pytest.param("K03", set(), id="a coil"),
        pytest.param("F4", {"C", "D", "Q"}, id="a fuse: all behind it"),
    ],
)
def test_a_part_makes_stale_only_what_hangs_on_it(proved, part, stale):
    proved.log(PartReplaced(part=part, out="x", fitted="y"))
    found = {r.target for r in proved.state.readings if r.is_stale}
    assert stale <= found
    assert len(found) <= len(stale) + 1
    assert proof_progress(proved.seen().case)[0] == 0, "Prove reads every point again all the same"


def test_a_part_that_nobody_knows_makes_everything_stale(proved):
    proved.log(PartReplaced(part="R999", out="x", fitted="y"))
    assert all(r.is_stale for r in proved.state.readings)


def test_what_is_prefilled_is_a_marking_or_nothing(library, make_job):
    for name in ("tessenby-orrery-nights", "ardvane-cinder-dunes", "ostrel-8"):
        profile = library.get(name)
        job = make_job(profile)
        for part in profile.part_ids():
            card = card_for("swap", *job.seen(draft={"part": part, "action": "replaced"}))
            marked = card.entry.prefill
            assert not marked or any(c.isdigit() for c in marked), (part, marked)
