"""The history of a board and of its kind as a page: visits, what moved, what fails, jobs like this, promises."""

from collections.abc import Sequence
from datetime import UTC, datetime
from typing import Literal

from msgspec import Struct

from bench_lamp.case.case import Case
from bench_lamp.case.clock import local
from bench_lamp.case.remembered_jobs import (
    comeback_words,
    done_words,
    jobs_like_this,
    own_digest,
    readings_that_moved,
)
from bench_lamp.shop.digest import Digest
from bench_lamp.shop.history import came_back, mean_tests, promises, usual_minutes, what_fails
from bench_lamp.units import exact, percent

#: Rows of each table.
MOST_FAILS, MOST_MOVED = 6, 5


class HistoryRow(Struct, frozen=True, kw_only=True):
    """One line: cells, a verdict's shape, and a bar."""

    cells: tuple[str, ...]
    verdict: str = ""
    #: Length of its bar, from 0 to 1, and its interval; None for no bar.
    bar: float | None = None
    span: tuple[float, float] = (0.0, 0.0)
    #: The job that it opens; empty for none.
    job: str = ""


class HistorySection(Struct, frozen=True, kw_only=True):
    """Lines under one heading."""

    title: str
    sub: str = ""
    kind: Literal["rows", "bars"] = "rows"
    rows: tuple[HistoryRow, ...] = ()
    #: What stands there when there is nothing yet.
    empty: str = ""


class HistoryPage(Struct, frozen=True, kw_only=True):
    """All that the page shows."""

    title: str
    #: Said first, and at once; empty for nothing.
    alarm: str
    #: Visits on the strip of time: seconds, name, and whether it is this one.
    visits: tuple[tuple[float, str, bool], ...]
    sections: tuple[HistorySection, ...]


def history_page(case: Case) -> HistoryPage:
    """Return the history of the board on the bench, and of its kind."""
    visits = (*case.shop.visits(), own_digest(case))
    kind = case.shop.of_kind()
    return HistoryPage(
        title=f"{case.state.tag}, {case.profile.name}",
        alarm=comeback_words(case),
        visits=tuple((v.opened, day(v.opened), v.job == case.state.job) for v in visits),
        sections=(
            _visits(case, visits),
            _moved(case, visits),
            _fails(case, kind),
            _alike(case),
            _promises(kind),
        ),
    )


def day(seconds: float) -> str:
    """Write a day: `17 Nov 2026`; empty where nobody knows."""
    return local(datetime.fromtimestamp(seconds, UTC), "%d %b %Y").lstrip("0") if seconds else ""


def _visits(case: Case, visits: Sequence[Digest]) -> HistorySection:
    rows = tuple(
        HistoryRow(
            cells=(v.job, day(v.opened), f"“{v.complaint}”", done_words(v), "; ".join(v.advice)),
            verdict="within" if v.proved else "edge",
            job=v.job,
        )
        for v in reversed(visits)
    )
    return HistorySection(title="Visits", sub="complaint, what was done, advice", rows=rows)


def _moved(case: Case, visits: Sequence[Digest]) -> HistorySection:
    found = readings_that_moved(case)[:MOST_MOVED]
    rows = tuple(
        HistoryRow(
            cells=(
                m.point,
                f"{m.name}{' ripple' if m.mode else ''}",
                " → ".join(
                    exact(v, "V~" if m.mode else "V", figures=4) for v in m.values if v is not None
                ),
                f"{'+' if m.share > 0 else '−'}{percent(abs(m.share))}",
            ),
            verdict="edge",
        )
        for m in found
    )
    empty = "Nothing moved by 2\u202f% or more." if len(visits) > 1 else "This is its first visit."
    return HistorySection(title="Readings that moved", sub="as it left", rows=rows, empty=empty)


def _fails(case: Case, kind: Sequence[Digest]) -> HistorySection:
    fails = what_fails(kind)[:MOST_FAILS]
    top = max((f.high for f in fails), default=1.0)
    rows = tuple(
        HistoryRow(
            cells=(f.part, f"{f.count} of {f.jobs}", f"in vain {f.vain}" if f.vain else ""),
            bar=f.count / f.jobs / top,
            span=(f.low / top, f.high / top),
        )
        for f in fails
    )
    minutes, back = usual_minutes(kind), len(came_back(kind))
    sub = f"{len(kind)} jobs, usually {minutes:.0f}\u202fmin, {back} came back" if kind else ""
    return HistorySection(
        title=f"What fails on {case.profile.name}",
        sub=sub,
        kind="bars",
        rows=rows,
        empty="No other board of this kind was handed back yet.",
    )


def _alike(case: Case) -> HistorySection:
    rows = tuple(
        HistoryRow(
            cells=(d.job, day(d.opened), f"“{d.complaint}”", done_words(d), percent(near)),
            verdict="within" if d.proved else "edge",
            job=d.job,
        )
        for near, d in jobs_like_this(case)
    )
    return HistorySection(
        title="Like this one",
        sub="complaint, what was bad, what was seen",
        rows=rows,
        empty="No earlier job shares complaint, bad readings or findings.",
    )


def _promises(kind: Sequence[Digest]) -> HistorySection:
    rows = tuple(
        HistoryRow(
            cells=(
                f"called at {p.low:.0%} to {p.high:.0%}",
                f"{p.cured} of {p.called} cured",
                f"said {p.said:.0%} on the average",
            ),
            verdict="within" if p.interval[0] <= p.said <= p.interval[1] else "edge",
            bar=p.cured / p.called,
            span=p.interval,
        )
        for p in promises(kind)
    )
    tests = mean_tests(kind)
    sub = f"{tests:.1f} readings to what cured, on the average" if tests else ""
    return HistorySection(
        title="Does it keep its promises?",
        sub=sub,
        kind="bars",
        rows=rows,
        empty="Nothing was called and mended on this kind yet.",
    )
