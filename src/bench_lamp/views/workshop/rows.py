"""Rows under a heading, as the workshop shows them."""

from msgspec import Struct


class RowView(Struct, frozen=True, kw_only=True):
    """One row: its name, what is there, and a remark."""

    key: str
    name: str
    have: str
    remark: str
    #: Colour of what is there: a verdict, or `dim`.
    token: str = "text"


class RowsView(Struct, frozen=True):
    """Rows under a heading."""

    heading: str
    note: str
    rows: tuple[RowView, ...]
