"""The picture of a setting that is carried over: dial, needle, states."""

from bench_lamp.board.trims import TransferTrim
from bench_lamp.cards.picture import BenchPicture, PictureRow
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.trims.carrying import references_of, target_of
from bench_lamp.case.trims.rounds import reads_of, round_of, since_live, steps_done
from bench_lamp.case.trims.turning import turning_of
from bench_lamp.stages.trim.kinds.transfer.cards import STATE, as_turning
from bench_lamp.stages.trim.kinds.turning.picture import dials, needle
from bench_lamp.units import exact


def transfer_picture(case: Case, hand: Hand, trim: TransferTrim) -> BenchPicture:
    """Return the dial, the needle, and the states with what the reference showed."""
    want, told = target_of(case, trim), round_of(case, trim)
    done = steps_done(since_live(case, told))
    rows = []
    for state in trim.states:
        reference = next((v for s, _, v in references_of(case, trim) if s == state), None)
        reads = reads_of(told, state)
        rows.append(
            PictureRow(
                id=state,
                cells=(
                    state,
                    exact(reference, "V", figures=4) if reference else "",
                    exact(reads[-1].value, "V", figures=4) if reads else "",
                    "read here" if state == trim.state else "",
                ),
                verdict="within" if f"{STATE}{state}" in done else "",
                word="reached" if f"{STATE}{state}" in done else "",
                is_here=state == trim.state and f"{STATE}{state}" in done,
            )
        )
    if want is None:
        return BenchPicture(title=trim.name, heads=HEADS, rows=tuple(rows))
    turning = as_turning(trim, want)
    now = turning_of(case, turning)
    return BenchPicture(
        title=trim.name,
        sub=f"{trim.model}, {trim.setting_text or exact(trim.setting, 'V')}",
        dials=dials(case, hand, turning, now),
        needles=(needle(turning.readings[0], reads_of(told, trim.state), now),),
        heads=HEADS,
        rows=tuple(rows),
    )


HEADS = ("state", "reference shows", "this one", "")
