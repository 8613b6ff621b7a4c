"""What a table of the shop's parts comes to: movements to log, or why there are none."""

from msgspec import Struct

from bench_lamp.case.case import Case
from bench_lamp.journal.part_events import StockMoved
from bench_lamp.shop.stock_table import read_stock


class StockAnswer(Struct, frozen=True, kw_only=True):
    """Movements that lead to a table, or what is wrong with it, and the mend."""

    moves: tuple[StockMoved, ...] = ()
    what: str = ""
    mend: str = ""
    is_wrong: bool = False


def take_table(case: Case, text: str) -> StockAnswer:
    """Read a table of what lies in the shop; one wrong line, and nothing of it is taken."""
    moves, errors = read_stock(text, case.stock)
    if errors:
        more = f" {len(errors) - 1} more such lines." if errors[1:] else ""
        return StockAnswer(what="The stock was not taken", mend=f"{errors[0]}{more}", is_wrong=True)
    if not moves:
        return StockAnswer(what="The stock is as it was", mend="Every line is here already.")
    return StockAnswer(moves=moves)
