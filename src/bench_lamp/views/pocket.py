"""The pocket sheet as values: the sums that match, or one sum with its givens and what comes out."""

from collections.abc import Mapping

from msgspec import Struct

from bench_lamp.sums import SUMS, Sum, SumResult, find_sums, sum_called, worked

#: Sums that a list shows at a time.
MOST = 40


class PocketLine(Struct, frozen=True, kw_only=True):
    """One given of a sum."""

    key: str
    label: str
    unit: str
    hint: str
    text: str
    #: What is wrong with it; empty for nothing.
    error: str = ""


class PocketView(Struct, frozen=True, kw_only=True):
    """What the sheet shows of one sum."""

    id: str
    title: str
    lines: tuple[PocketLine, ...]
    outcomes: tuple[SumResult, ...]
    #: What is missing, or makes no sense.
    message: str
    formula: str
    notes: tuple[str, ...]


def matching(text: str) -> tuple[Sum, ...]:
    """Return the sums that match what was typed."""
    return find_sums(text)[:MOST]


def pocket_view(sum_id: str, typed: Mapping[str, str]) -> PocketView:
    """Return one sum with what was typed; an unknown one is the first."""
    one = sum_called(sum_id) or SUMS[0]
    found = worked(one, typed)
    lines = tuple(
        PocketLine(
            key=g.key,
            label=g.label,
            unit="" if g.is_text else g.unit,
            hint=g.usual or g.hint or ("optional" if g.is_optional else ""),
            text=typed.get(g.key, ""),
            error=found.errors.get(g.key, ""),
        )
        for g in one.givens
    )
    missing = f"Wanted: {', '.join(found.missing)}." if found.missing else ""
    wrong = next((f"{line.label}: {line.error}" for line in lines if line.error), "")
    notes = tuple(
        filter(None, (f"Source: {one.source}.", f"Assumed: {one.assumes}." if one.assumes else ""))
    )
    return PocketView(
        id=one.id,
        title=one.title,
        lines=lines,
        outcomes=found.outcomes,
        message=wrong or found.error or missing,
        formula=one.formula,
        notes=notes,
    )


def note_of(view: PocketView) -> str:
    """Say a worked sum in one line, for the tape: what was given, and what came out."""
    given = ", ".join(
        f"{x.label} {x.text or x.hint}{f' {x.unit}' if x.unit and not x.text.endswith(x.unit) else ''}"
        for x in view.lines
        if x.text
    )
    out = ", ".join(f"{o.label} {o.text}" for o in view.outcomes)
    return f"{view.title}: {given}; {out}"[:400]


def entry_text(outcome: SumResult) -> str:
    """Write a result as one would type it into an entry."""
    return outcome.text.replace("\u202f", " ").replace("−", "-")
