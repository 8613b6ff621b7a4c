"""What an instrument read of a thing that is set, as events; typed readings go the same way."""

from collections.abc import Iterable, Sequence

from bench_lamp.board.trims import StagesTrim, Trim, TurnTrim
from bench_lamp.cards.card import Accepted
from bench_lamp.case.case import Case
from bench_lamp.case.trims.gauge import CLEANED
from bench_lamp.case.trims.grip import PANEL
from bench_lamp.instrument.protocol import TrimRequest, TrimShown
from bench_lamp.journal.events import Body, ReadingTaken
from bench_lamp.journal.trim_events import (
    AdjusterFound,
    AdjusterTurned,
    PanelPaired,
    TrimRead,
    TrimStep,
)


def trim_request(case: Case, trim: Trim, whats: Sequence[str], state: str = "") -> TrimRequest:
    """Return what is asked of a linked instrument, with all that was turned in this job."""
    turned = tuple(
        (t.body.adjuster, t.body.turns)
        for t in case.state.trims.get(trim.id, ())
        if isinstance(t.body, AdjusterTurned)
    )
    return TrimRequest(
        trim=trim.id,
        whats=tuple(whats),
        turned=turned,
        cleaned=frozenset(_cleaned(case, trim)),
        state=state,
        is_live=trim.live,
    )


def _cleaned(case: Case, trim: Trim) -> Iterable[str]:
    """Yield contacts and tracks that were cleaned."""
    for told in case.state.trims.get(trim.id, ()):
        match told.body:
            case TrimStep(step=step, text=text) if step == CLEANED:
                yield text
            case AdjusterFound(adjuster=name, word="dirty"):
                yield name


def trim_result(case: Case, request: TrimRequest, shown: TrimShown, source: str) -> Accepted:
    """Take what an instrument read of a thing that is set."""
    trim = case.profile.trim(request.trim)
    if trim is None:
        return Accepted()
    values = dict(zip(request.whats, shown.values, strict=True))
    if isinstance(trim, StagesTrim) and request.state == PANEL:
        return Accepted(log=_paired(case, trim, values))
    return Accepted(log=tuple(read_bodies(case, trim, values, source)))


def read_bodies(
    case: Case, trim: Trim, values: dict[str, tuple[float, float]], source: str = ""
) -> Iterable[Body]:
    """Yield the events of readings: value and last digit by what was read.

    A quantity that is a test point counts there, too.
    """
    points = {}
    if isinstance(trim, TurnTrim):
        points = {r.id: r.point for r in trim.readings if r.point}
    for what, (value, digit) in values.items():
        yield TrimRead(trim=trim.id, what=what, value=value, resolution=digit, source=source)
        point = case.profile.point(points.get(what, ""))
        if point is not None:
            yield ReadingTaken(
                target=point.id,
                mode=point.mode,
                value=value,
                resolution=digit,
                meter=source,
                power=case.state.power.logged,
            )


def _paired(
    case: Case, trim: StagesTrim, values: dict[str, tuple[float, float]]
) -> tuple[Body, ...]:
    """Return the panel's figure with the true volts that were read of the same stage."""
    from bench_lamp.case.trims.rounds import reads_of

    found: list[Body] = []
    for what, (shown, _) in values.items():
        reads = reads_of(case.state.trims.get(trim.id, ()), what)
        if reads:
            found.append(PanelPaired(trim=trim.id, shown=shown, true=reads[-1].value))
    return tuple(found)
