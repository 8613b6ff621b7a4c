"""What the fuse map makes of the case, where no circuit is weighed."""

from bench_lamp.case.case import Case, remembered
from bench_lamp.case.readings import part_facts, ripple, steady
from bench_lamp.reason.fuse_map.evidence import Evidence, PointFact
from bench_lamp.reason.fuse_map.suggest import Suggestion, suggestions


@remembered
def evidence(case: Case) -> Evidence:
    """Gather what still stands, in the reasoning's own words."""
    points = {}
    for point in case.profile.test_points:
        found = steady(case, point, fresh=True)
        if found:
            noise = ripple(case, point)
            points[point.id] = PointFact(
                verdict=found.judgement.verdict,
                volts=found.reading.value,
                is_noisy=noise.judgement.verdict == "noisy" if noise else None,
            )
    seen = {f.place: f.seen for f in case.state.findings if f.place and f.seen != "nothing"}
    return Evidence(points=points, parts=part_facts(case), seen=seen)


@remembered
def suggested_parts(case: Case) -> tuple[Suggestion, ...]:
    """Return the suggestions that stand, in order."""
    return suggestions(case.profile, evidence(case))
