"""Reason: from what was read to what to suspect.

For: suggestions by the fuse map and the order of the power tree; and, over the circuit
model, the dictionary of predictions, the odds, groups, and the next test.
May import: `board`, `circuit`, `units`, NumPy (the second half only).
Must not import: `journal`, `checks`, Qt, SQL.
"""

from bench_lamp.reason.evidence import Evidence, PartFact, PointFact
from bench_lamp.reason.suggest import Suggestion, suggestions

__all__ = ["Evidence", "PartFact", "PointFact", "Suggestion", "suggestions"]
