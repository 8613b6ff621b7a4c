"""All bench sums, in the order of the sheet, and how one is found."""

from bench_lamp.sums import codes, heat, numbers, parts, radio, supply, transformers, wires
from bench_lamp.sums.values import Sum

SUMS: tuple[Sum, ...] = (
    *codes.SUMS,
    *parts.SUMS,
    *supply.SUMS,
    *transformers.SUMS,
    *heat.SUMS,
    *wires.SUMS,
    *radio.SUMS,
    *numbers.SUMS,
)


def sum_called(sum_id: str) -> Sum | None:
    """Return the sum of that id, if there is one."""
    return next((s for s in SUMS if s.id == sum_id), None)


def find_sums(text: str) -> tuple[Sum, ...]:
    """Return the sums whose title or other words have each word of a text; all for nothing."""
    wanted = text.lower().split()
    found = [s for s in SUMS if all(w in f"{s.title} {s.words} {s.id}".lower() for w in wanted)]
    return tuple(sorted(found, key=lambda s: not s.title.lower().startswith(text.lower().strip())))
