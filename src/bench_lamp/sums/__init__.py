"""The bench sums of the pocket sheet: pure functions with their formulas and sources.

For: what is reckoned beside the work, by one registry; a sum is one value in one module.
May import: units, checks and circuit. Must not import: case, journal, or anything that draws.
"""

from bench_lamp.sums.registry import SUMS, find_sums, sum_called
from bench_lamp.sums.values import Given, Outcome, Sum, SumError, Worked, worked

__all__ = [
    "SUMS",
    "Given",
    "Outcome",
    "Sum",
    "SumError",
    "Worked",
    "find_sums",
    "sum_called",
    "worked",
]
