"""What the shop has beyond one job: the parts in its drawers and on its donor boards.

For: levels that are folded from movements, and their table as CSV.
May import: board and journal. Must not import: case, or anything that draws.
"""

from bench_lamp.shop.stock import Level, levels
from bench_lamp.shop.stock_table import read_stock, stock_csv

__all__ = ["Level", "levels", "read_stock", "stock_csv"]
