"""Reading what stands on a part, and writing it: letter and digit codes, colours, volts, tolerances.

For: every reading of a marking, with the code that it is read by.
May import: units. Must not import: any other room.
"""

from bench_lamp.units.marking.reading import read_marking
from bench_lamp.units.marking.values import CLASSES, Marked, MarkingCode, MarkingError, PartClass

__all__ = ["CLASSES", "Marked", "MarkingCode", "MarkingError", "PartClass", "read_marking"]
