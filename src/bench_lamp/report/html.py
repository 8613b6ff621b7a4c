"""The job sheet as HTML, for the screen, the printer and the PDF."""

from functools import cache
from typing import TYPE_CHECKING, Literal

from bench_lamp.report.sheet import Sheet

if TYPE_CHECKING:
    from jinja2 import Environment


@cache
def _environment() -> "Environment":
    from jinja2 import Environment, PackageLoader, StrictUndefined

    return Environment(
        loader=PackageLoader("bench_lamp", "resources/templates"),
        autoescape=True,
        undefined=StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
    )


def sheet_html(sheet: Sheet, *, medium: Literal["screen", "print"] = "screen") -> str:
    """Return the sheet as one HTML page; all text from outside is escaped."""
    return _environment().get_template("sheet.html").render(sheet=sheet, medium=medium)
