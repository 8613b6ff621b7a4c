"""What a change to the hardware undoes: proof, readings, and the limits they are judged by."""

import pytest
from msgspec.structs import replace

from bench_lamp.case.proof import is_proved, proof_progress
from bench_lamp.case.readings import ripple_limit
from bench_lamp.journal.events import ActionDone, PartReplaced


@pytest.fixture
def proved(live_job):
    live_job.read_healthy(*(p.id for p in live_job.profile.test_points))
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
