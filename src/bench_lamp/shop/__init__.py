"""What the shop has beyond one job: the parts in its drawers and on its donor boards.

For: levels that are folded from movements, and their table as CSV.
May import: board and journal. Must not import: case, or anything that draws.
"""

from bench_lamp.shop.stock import Level, levels

__all__ = ["Level", "levels"]
