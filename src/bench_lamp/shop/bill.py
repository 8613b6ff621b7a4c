"""The bill: labour by minutes, parts by their price, tax; every amount to the last coin."""

from collections.abc import Iterable, Sequence
from decimal import ROUND_HALF_UP, Decimal

from msgspec import Struct

from bench_lamp.shop.business import Business
from bench_lamp.shop.stock import Level

CENT = Decimal("0.01")


class BillLine(Struct, frozen=True, kw_only=True):
    """One line of a bill."""

    text: str
    #: As it is written: `1`, `41 min`.
    count: str
    #: What one costs, and the line; None where nobody knows the price.
    each: Decimal | None
    amount: Decimal | None


class Bill(Struct, frozen=True, kw_only=True):
    """A bill, or an offer."""

    lines: tuple[BillLine, ...]
    net: Decimal
    tax: Decimal
    total: Decimal
    #: As it is written: `20 %`; empty for no tax.
    tax_rate: str
    currency: str
    #: Parts whose price nobody knows.
    unpriced: tuple[str, ...] = ()


def money(amount: Decimal, currency: str) -> str:
    """Write an amount.

    >>> money(Decimal("1234.5"), "€")
    '€\u202f1234.50'
    """
    return f"{currency}\u202f{amount.quantize(CENT, ROUND_HALF_UP)}"


def bill_of(
    minutes: float, parts: Iterable[tuple[str, str]], levels: Sequence[Level], shop: Business
) -> Bill:
    """Return the bill of a job.

    Parameters
    ----------
    minutes : float
        At the bench.
    parts : iterable of (str, str)
        What was fitted, and the place that it came from; empty for elsewhere.
    levels : sequence of Level
        The shop's parts, with their prices.
    shop : Business
        What an hour costs, the tax and the currency.

    Notes
    -----
    Each line is rounded to a hundredth, half up; the tax is of the sum of the lines.
    """
    lines = []
    if shop.rate > 0:
        rate = Decimal(str(shop.rate))
        amount = (rate * Decimal(str(round(minutes))) / 60).quantize(CENT, ROUND_HALF_UP)
        lines.append(
            BillLine(
                text="Work at the bench",
                count=f"{round(minutes)}\u202fmin",
                each=rate,
                amount=amount,
            )
        )
    prices = {(x.part, x.place): x.price for x in levels if x.price >= 0}
    by_part = {x.part: x.price for x in levels if x.price >= 0}
    unpriced = []
    for part, place in parts:
        price = prices.get((part, place), by_part.get(part, -1.0))
        known = Decimal(str(price)).quantize(CENT, ROUND_HALF_UP) if price >= 0 else None
        if known is None:
            unpriced.append(part)
        lines.append(BillLine(text=part, count="1", each=known, amount=known))
    net = sum((x.amount for x in lines if x.amount is not None), Decimal(0)).quantize(CENT)
    tax = (net * Decimal(str(shop.tax))).quantize(CENT, ROUND_HALF_UP)
    return Bill(
        lines=tuple(lines),
        net=net,
        tax=tax,
        total=net + tax,
        tax_rate=f"{100 * shop.tax:g}\u202f%" if shop.tax else "",
        currency=shop.currency,
        unpriced=tuple(unpriced),
    )
