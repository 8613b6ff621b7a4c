"""The bench sums of the pocket sheet: pure functions with their formulas and sources.

For: what is reckoned beside the work, by one registry; a sum is one value in one module.
May import: units, checks and circuit. Must not import: case, journal, or anything that draws.
"""

from bench_lamp.sums.registry import SUMS, find_sums, sum_called
from bench_lamp.sums.values import Given, Sum, SumError, SumResult, Worked, worked

__all__ = [
    "SUMS",
    "Given",
    "Sum",
    "SumError",
    "SumResult",
    "Worked",
    "find_sums",
    "sum_called",
    "worked",
]
