"""The stock as a table: `part, place, count`, read with errors by line, and written."""

import csv
import io
import re
from collections.abc import Iterable

from msgspec.structs import replace

from bench_lamp.errors import BenchLampError
from bench_lamp.journal.part_events import StockMoved
from bench_lamp.shop.stock import Level

HEAD = ("part", "place", "count")
#: Longest table, and most of one part.
MOST_LINES, MOST_COUNT, MOST_TEXT = 5000, 100_000, 120
#: Most that one part costs.
MOST_PRICE = 100_000.0
_SAID = re.compile(
    r"(?i)stock\s+([+-]?\d+)\s*x?\s+(.+?)\s+(?:in|from|on)\s+(.+?)(?:\s+@\s*([\d.,]+))?"
)


def said_stock(text: str) -> StockMoved | None:
    """Read a movement as one says it: `stock 5 x 100 uF 350 V in drawer 12 @ 1.20`; None for anything else.

    >>> said_stock("stock 5 x 100 uF 350 V in drawer 12").place
    'drawer 12'
    """
    match = _SAID.fullmatch(" ".join(text.split()))
    if match is None:
        return None
    move = _move(match[2], match[3], match[1])
    return move if match[4] is None else replace(move, price=_price(match[4]))


def _price(text: str) -> float:
    """Read what one costs, with a point or a comma."""
    try:
        value = float(text.replace(",", "."))
    except ValueError as exc:
        raise BenchLampError(f"“{text}” is no price", hint="As 1.20 after an @.") from exc
    if not 0 <= value <= MOST_PRICE:
        raise BenchLampError(f"{value:g} is no price of a part", hint="As 1.20 after an @.")
    return value


def _move(part: str, place: str, count: str) -> StockMoved:
    try:
        number = int(count)
    except ValueError as exc:
        raise BenchLampError(f"“{count[:20]}” is no count", hint="Write a whole number.") from exc
    if not part or not place or not number or abs(number) > MOST_COUNT:
        raise BenchLampError(
            "A part, its place and a count are wanted", hint="100 uF 350 V, drawer 12, 5"
        )
    if len(part) > MOST_TEXT or len(place) > MOST_TEXT:
        raise BenchLampError(
            "Too long for a part or place", hint=f"At most {MOST_TEXT} characters."
        )
    return StockMoved(part=part, place=place, count=number)


def read_stock(
    text: str, have: Iterable[Level] = ()
) -> tuple[tuple[StockMoved, ...], tuple[str, ...]]:
    """Read a table: each line is what lies there now; the movements that lead to it, and errors by line.

    Parameters
    ----------
    text : str
        CSV with a comma, semicolon or tab; a first line with these names is passed over.
    have : iterable of Level
        What is there by the journal: the movement is the difference.
    """
    known = {(x.part, x.place): x.count for x in have}
    wanted: dict[tuple[str, str], int] = {}
    errors = []
    text = text.replace("\r\n", "\n").replace("\r", "\n").replace("\0", "")
    mark = next((m for m in (";", "\t") if m in text.partition("\n")[0]), ",")
    for number, row in enumerate(csv.reader(io.StringIO(text), delimiter=mark), start=1):
        cells = [" ".join(cell.split()) for cell in row]
        if not any(cells) or tuple(c.lower() for c in cells[:3]) == HEAD:
            continue
        if number > MOST_LINES:
            errors.append(f"line {number}: more than {MOST_LINES} lines; split the table")
            break
        try:
            wanted |= _wanted(cells)
        except BenchLampError as exc:
            errors.append(f"line {number}: {exc}. {exc.hint}")
    moves = (
        StockMoved(part=part, place=place, count=count - known.get((part, place), 0))
        for (part, place), count in wanted.items()
    )
    return tuple(m for m in moves if m.count), tuple(errors)


def _wanted(cells: list[str]) -> dict[tuple[str, str], int]:
    if len(cells) < 3:
        raise BenchLampError("Three columns are wanted", hint="part, place, count")
    if cells[2] == "0":
        return {(cells[0], cells[1]): 0}
    move = _move(cells[0], cells[1], cells[2])
    return {(move.part, move.place): move.count}


def stock_csv(found: Iterable[Level]) -> str:
    """Write the levels as CSV, the way that `read_stock` reads them."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(HEAD)
    writer.writerows((x.part, x.place, x.count) for x in found)
    return out.getvalue()
