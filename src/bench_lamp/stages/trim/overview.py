"""All that is set on a board, as rows: what is left, what was set, what was left alone."""

from bench_lamp.cards.picture import BenchPicture, PictureRow
from bench_lamp.case.case import Case
from bench_lamp.case.trims.items import trim_items, trim_lines

SHAPES = {"right": "within", "left": "edge", "under way": "noisy", "not begun": ""}


def overview(case: Case) -> BenchPicture:
    """Return the list of all things that are set."""
    items = trim_items(case)
    rows = tuple(
        PictureRow(
            id=i.trim.id,
            cells=(i.trim.name, i.trim.place),
            verdict=SHAPES[i.status],
            word=i.words or i.status,
        )
        for i in items
    )
    return BenchPicture(
        title="All that is set" if items else "Nothing to set",
        heads=("what", "where") if items else (),
        rows=rows,
        words=trim_lines(case)
        or (
            "Adjusters, channels, gauges and switches stand here once a profile names them (trims:).",
        ),
    )
