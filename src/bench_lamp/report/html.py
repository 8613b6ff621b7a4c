"""The job sheet as HTML, for the screen, the printer and the PDF."""

from collections.abc import Mapping
from decimal import Decimal
from functools import cache
from typing import TYPE_CHECKING, Literal

from bench_lamp.report.sheet import Sheet
from bench_lamp.shop.bill import Bill, money

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


def sheet_html(
    sheet: Sheet,
    *,
    medium: Literal["screen", "print"] = "screen",
    version: Literal["shop", "customer"] = "shop",
    photos: Mapping[str, str] | None = None,
    photo_width: int = 200,
) -> str:
    """Return the sheet as one HTML page; all text from outside is escaped.

    `photos` says where each photograph comes from, by its sum: those that it lacks are left out.

    The customer's version says what is open in plain words, and leaves out odds, notes and the table.
    """
    template = _environment().get_template("sheet.html")
    known = photos or {}
    shown = [(known[sha], words) for sha, _, words in sheet.photos if sha in known]
    return template.render(
        sheet=sheet, medium=medium, version=version, photos=shown, photo_width=photo_width
    )


def bill_html(
    sheet: Sheet, bill: Bill, *, title: str, date: str, said: tuple[str, ...] = ()
) -> str:
    """Return a bill or an offer as one HTML page for print."""

    def amount(value: Decimal | None) -> str:
        return money(value, bill.currency) if value is not None else "—"

    lines = [
        {"text": x.text, "count": x.count, "each": amount(x.each), "amount": amount(x.amount)}
        for x in bill.lines
    ]
    return (
        _environment()
        .get_template("bill.html")
        .render(
            sheet=sheet,
            title=title,
            date=date,
            said=said,
            lines=lines,
            net=amount(bill.net),
            tax=amount(bill.tax),
            total=amount(bill.total),
            tax_rate=bill.tax_rate,
            unpriced=bill.unpriced,
        )
    )
