"""The picture of strengths by use: a row a stage, the panel’s line, the coil’s time."""

from bench_lamp.board.trims import GripStage, StagesTrim
from bench_lamp.cards.picture import BenchPicture, DialView, LineView, PictureRow
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.trims import grip
from bench_lamp.case.trims.rounds import all_told, came_at, turned_by
from bench_lamp.stages.trim.kinds.stages.cards import clock_of
from bench_lamp.stages.trim.turns_of import made
from bench_lamp.trim.panel import shown_at
from bench_lamp.units.turns import turn_text

#: Places at which the line is drawn.
PLACES = 13


def stages_picture(case: Case, hand: Hand, trim: StagesTrim) -> BenchPicture:
    """Return dials, rows of the stages, the panel’s line and the coil’s time."""
    use = grip.use_of(case, trim)
    wanted = grip.stages_for(trim, use)
    here = next((s.id for s in wanted if not grip.is_right(case, trim, use, s)), "")
    return BenchPicture(
        title=f"{trim.name}{f' · {use}' if use else ''}",
        sub=trim.place,
        dials=_dials(case, hand, trim, here),
        heads=("stage", "must have", "panel", "has", "adjuster"),
        rows=tuple(_row(case, trim, use, stage, here) for stage in trim.stages),
        spare=(4,),
        line=_line(case, trim),
        coil=clock_of(trim, grip.coil_of(case, trim)),
    )


def _row(case: Case, trim: StagesTrim, use: str, stage: GripStage, here: str) -> PictureRow:
    want, have = grip.preset(trim, use, stage), grip.read_at(case, trim, stage)
    panel = grip.panel_for(case, trim, want) if want is not None else None
    word = ""
    if have is not None and want is not None:
        word = (
            "within" if grip.is_right(case, trim, use, stage) else "low" if have < want else "high"
        )
    left_alone = "as it is" if use else ""
    return PictureRow(
        id=stage.id,
        cells=(
            stage.name,
            f"{want:g}\u202fV" if want is not None else left_alone,
            f"about {panel[0]:.0f} ± {panel[1]:.0f}" if panel else "",
            f"{have:.1f}\u202fV" if have is not None else "",
            stage.adjuster,
        ),
        verdict=word,
        word=word,
        is_here=stage.id == here,
    )


def _dials(case: Case, hand: Hand, trim: StagesTrim, here: str) -> tuple[DialView, ...]:
    told = all_told(case, trim)
    came, total = came_at(told), turned_by(told)
    name, turns = made(hand)
    return tuple(
        DialView(
            id=s.adjuster,
            name=f"{s.adjuster} {s.name}",
            sub=_sub(came.get(s.adjuster, "not written down"), total.get(s.adjuster, 0.0)),
            now=total.get(s.adjuster, 0.0),
            next=turns if name == s.adjuster else 0.0,
            travel=1.0,
            turn_text=f"{turn_text(turns)} turn" if turns and name == s.adjuster else "",
            is_lit=s.id == here,
        )
        for s in trim.stages
    )


def _sub(came: str, total: float) -> str:
    return f"came: {came} · {turn_text(total)} turn so far" if total else f"came: {came}"


def _line(case: Case, trim: StagesTrim) -> LineView | None:
    if not trim.panel:
        return None
    pairs, line = grip.pairs_of(case, trim), grip.line_of(case, trim)
    if line is None:
        words = f"{len(pairs)} of 3 pairs: the panel is not trusted yet"
        return LineView(pairs=pairs, line=(), words=words)
    step = (line.high - line.low) / (PLACES - 1)
    drawn = []
    for number in range(PLACES):
        true = line.low + number * step
        found = shown_at(line, true, least=trim.panel / 12**0.5)
        if found is not None:
            drawn.append((true, *found))
    law = f"panel = {line.offset:+.1f} + {line.slope:.2f} × true".replace("-", "−")
    words = f"{law}, from {line.low:.0f} to {line.high:.0f}\u202fV"
    return LineView(pairs=pairs, line=tuple(drawn), words=words)
