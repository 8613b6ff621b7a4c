"""The job sheet as a value: everything on the paper, already in words."""

from collections.abc import Iterator
from datetime import datetime

from msgspec import Struct

from bench_lamp.board import TestPoint
from bench_lamp.cards.aside import hours_words
from bench_lamp.case.case import Case
from bench_lamp.case.proof import is_proved, proof_progress
from bench_lamp.case.proving.burn import burn_doubts, burn_of
from bench_lamp.case.proving.drift import hours_text
from bench_lamp.case.proving.ends import loose_ends
from bench_lamp.case.proving.loads import is_held, load_doubts
from bench_lamp.case.proving.run import run_doubts, tried
from bench_lamp.case.readings import judged
from bench_lamp.case.remembered_jobs import own_digest
from bench_lamp.case.selftest_list import selftest_items
from bench_lamp.case.trims.items import trim_lines
from bench_lamp.checks.mains import check_mains
from bench_lamp.journal import Reading
from bench_lamp.report.ladder_svg import ladder_svg
from bench_lamp.shop.bill import Bill, bill_of
from bench_lamp.shop.business import NO_BUSINESS, Business
from bench_lamp.shop.digest import minutes_at_bench
from bench_lamp.stages.handback.cards import open_ends
from bench_lamp.units import band_text, percent


class SheetReading(Struct, frozen=True, kw_only=True):
    """One test point on the sheet: as it came in, and as it leaves."""

    point: str
    name: str
    expected: str
    drawing: str
    before: str
    before_verdict: str
    #: Empty when it was read only once.
    after: str
    after_verdict: str


class Sheet(Struct, frozen=True, kw_only=True):
    """The job sheet."""

    job: str
    tag: str
    board: str
    maker: str
    visit: int
    opened: str
    closed: str
    complaint: str
    came_with: str
    mains: str
    findings: tuple[str, ...]
    readings: tuple[SheetReading, ...]
    #: What the board told of itself: `Boot blinks: 5 blinks`.
    self_tests: tuple[str, ...]
    replaced: tuple[tuple[str, str, str], ...]
    actions: tuple[str, ...]
    #: What was set, before and after.
    trims: tuple[str, ...]
    proof: str
    open_ends: tuple[str, ...]
    advice: tuple[str, ...]
    cautions: tuple[str, ...]
    meter: str
    #: What is still open, in words that the customer understands.
    open_words: tuple[str, ...] = ()
    #: Why the finding is believed: what was called with which odds, by how many readings.
    believed: tuple[str, ...] = ()
    #: What was tried of what the customer does, the full loads and the burn-in.
    tried: tuple[str, ...] = ()
    #: What of that fails, or was not tried.
    untried: tuple[str, ...] = ()
    notes: tuple[str, ...] = ()
    #: At the bench, in words.
    time: str = ""
    bill: Bill | None = None
    shop: Business = NO_BUSINESS
    signed: str = ""
    #: Photographs as they stand on paper: sum, ending, and what is written under each.
    photos: tuple[tuple[str, str, str], ...] = ()
    #: Readings before and after as a drawing: SVG; empty for none.
    ladder: str = ""


def make_sheet(case: Case) -> Sheet:
    """Return the sheet of a job as it stands."""
    state, profile = case.state, case.profile
    done, total = proof_progress(case)
    proof = f"{done} of {total} points read good since the last change"
    return Sheet(
        job=state.job,
        tag=state.tag,
        board=profile.name,
        maker=profile.maker,
        visit=len(case.visits) + 1,
        opened=_day(state.opened_at),
        closed=_day(state.closed_at),
        complaint=state.complaint,
        came_with=state.came_with,
        mains=check_mains(profile.mains, state.mains).reason,
        findings=tuple(
            f"{f.seen} {f.place}".strip() for f in state.findings if f.seen != "nothing"
        ),
        readings=tuple(_row(case, p) for p in profile.test_points if _read(case, p)),
        self_tests=tuple(f"{i.name}: {i.words}" for i in selftest_items(case) if i.words),
        replaced=tuple((r.part, r.out, r.fitted) for r in state.replaced),
        trims=trim_lines(case),
        actions=tuple(f"{a.target} {a.action}" for a in state.mended),
        proof=("Proved: " if is_proved(case) else "Not proved: ") + proof + ".",
        open_ends=open_ends(case) if state.closed_at is None else (),
        advice=state.advice,
        cautions=profile.cautions,
        meter=case.meter.name,
        open_words=tuple(end.customer for end in loose_ends(case)),
        believed=tuple(_believed(case)),
        tried=tuple(_tried(case)),
        untried=(*run_doubts(case), *load_doubts(case), *burn_doubts(case)),
        notes=state.notes,
        time=hours_words(minutes_at_bench(state)),
        bill=job_bill(case),
        shop=case.business,
        signed=state.signed,
        photos=tuple(_photos(case)),
        ladder=ladder_svg(case),
    )


def job_bill(case: Case) -> Bill:
    """Return the bill of a job: its time, and what was fitted."""
    fitted = [(r.fitted, r.source) for r in case.state.replaced if r.fitted]
    return bill_of(minutes_at_bench(case.state), fitted, case.stock, case.business)


def _photos(case: Case) -> Iterator[tuple[str, str, str]]:
    """Yield the photographs of each part together, before and after beside each other."""
    order = {"before": 0, "": 1, "after": 2}
    for photo in sorted(case.state.photos, key=lambda p: (p.about, order[p.when])):
        words = " ".join(x for x in (photo.about or "the board", photo.when) if x)
        yield photo.sha256, photo.suffix, words


def _believed(case: Case) -> Iterator[str]:
    """Say what was called when each part was mended, and whether it cured."""
    for repair in own_digest(case).repairs:
        is_open = case.state.closed_at is None
        how = "cured" if repair.cured else "not proved yet" if is_open else "changed nothing"
        odds = f", at {percent(repair.odds)} after {repair.tests} readings" if repair.odds else ""
        yield f"{repair.part} {repair.word}{odds}: {how}."


def _tried(case: Case) -> Iterator[str]:
    works = [t.step for t in tried(case).values() if t.word == "works"]
    if works:
        yield f"Works: {', '.join(works)}."
    held = [f.point for f in case.profile.full_loads if is_held(case, f)]
    if held:
        yield f"Holds its full load: {', '.join(held)}."
    burn = burn_of(case)
    if burn is not None and burn.end is not None and burn.end.word == "held":
        yield f"Ran {hours_text(burn.on_s)}: {burn.end.reason or 'held'}"


def _day(at: datetime | None) -> str:
    return at.astimezone().strftime("%Y-%m-%d %H:%M") if at else ""


def _read(case: Case, point: TestPoint) -> Reading | None:
    return case.state.first(point.id, point.mode)


def _row(case: Case, point: TestPoint) -> SheetReading:
    unit = "V~" if point.mode == "ac V" else "V"
    first = case.state.first(point.id, point.mode)
    last = case.state.latest(point.id, point.mode)
    before = judged(case, point, first) if first else None
    after = judged(case, point, last) if last and last is not first else None
    return SheetReading(
        point=point.id,
        name=point.name,
        expected=band_text(point.band, unit) if point.band else "",
        drawing=band_text(point.design, unit) if point.design and not point.assumed else "",
        before=before.text if before else "",
        before_verdict=before.judgement.word if before else "",
        after=after.text if after else "",
        after_verdict=after.judgement.word if after else "",
    )
