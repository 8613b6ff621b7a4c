"""Units: numbers as a bench writes them, both ways, and plain data for values.

For: parsing what is typed or marked, engineering notation, fuse ratings, bands,
and turning frozen values into plain data and back.
May import: the standard library and `bench_lamp.errors`.
Must not import: any other room.
"""

from bench_lamp.units.band import Band
from bench_lamp.units.format import band_text, engineering, exact, percent
from bench_lamp.units.fuse import FuseRating
from bench_lamp.units.quantity import Quantity, UnitError, parse_quantity

__all__ = [
    "Band",
    "FuseRating",
    "Quantity",
    "UnitError",
    "band_text",
    "engineering",
    "exact",
    "parse_quantity",
    "percent",
]
