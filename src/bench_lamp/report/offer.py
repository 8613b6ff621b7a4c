"""An offer before the repair: what was found, which parts it takes, and the usual time of such jobs."""

from collections.abc import Iterator

from bench_lamp.board.spec_text import spec_text
from bench_lamp.case.case import Case
from bench_lamp.case.part_spec import wanted_spec
from bench_lamp.case.shop_parts import fitting_stock
from bench_lamp.shop.bill import Bill, bill_of
from bench_lamp.shop.digest import minutes_at_bench
from bench_lamp.shop.history import usual_minutes
from bench_lamp.units import percent

#: Odds from which on a part is offered; and minutes where no such job was ever done.
LEAST_ODDS, USUAL_MINUTES = 0.5, 60.0


def offered_parts(case: Case) -> tuple[str, ...]:
    """Return the parts that are likely, found by eye, or on order."""
    insight = case.insight
    likely = [s.block for s in insight.suspects if s.odds >= LEAST_ODDS] if insight else []
    seen = [
        f.place for f in case.state.findings if f.place and f.seen in {"bulged", "burnt", "leaking"}
    ]
    ordered = [e.target for e in case.state.open_ends if e.what == "on order"]
    known = set(case.profile.part_ids())
    return tuple(
        dict.fromkeys(
            p for p in (*likely, *seen, *ordered) if p in known and p not in case.state.renewed
        )
    )


def offer_bill(case: Case) -> Bill:
    """Return what a repair will cost: the usual time of such jobs, at least what was used, and the parts."""
    usual = usual_minutes(case.shop.of_kind()) or USUAL_MINUTES
    parts = [_in_stock(case, part) for part in offered_parts(case)]
    return bill_of(max(usual, minutes_at_bench(case.state)), parts, case.stock, case.business)


def _in_stock(case: Case, part: str) -> tuple[str, str]:
    """Return the shop's part that fits best with its place, else what is wanted."""
    fits = fitting_stock(case, part)
    if fits:
        return fits[0].part, fits[0].place
    return f"{part} {spec_text(wanted_spec(case, part))}".strip(), ""


def offer_words(case: Case) -> Iterator[str]:
    """Say what was found, and how sure that is."""
    insight = case.insight
    for part in offered_parts(case):
        odds = sum(s.odds for s in insight.suspects if s.block == part) if insight else 0.0
        yield f"{part}: {percent(odds)} likely to be it." if odds else f"{part}: seen by eye."
    if not offered_parts(case):
        yield "Nothing is found yet: this is for the work alone."
