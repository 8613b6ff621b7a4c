"""What is wrong with the journal, in lines above everything else, and the key that mends it."""

from collections.abc import Sequence

from bench_lamp.errors import BenchLampError
from bench_lamp.journal.findings import Report, Salvaged
from bench_lamp.journal.rows import JournalError, SetAside

#: Jobs that are named in one line.
NAMED = 3


def refusal(error: BenchLampError) -> tuple[str, str]:
    """Say that nothing is logged; then why, and the mend with the key."""
    has_key = isinstance(error, JournalError) and (
        error.is_taken or error.is_salvageable or error.is_moved
    )
    again = "" if has_key else " Press F4 to try again."
    return "Nothing is logged", f"{error}. {error.hint}{again}"


def whole_line(report: Report, aside: Sequence[SetAside], notes: Sequence[str]) -> str:
    """Say what was found while the journal can be written, and the key; empty for nothing."""
    if report.pages:
        return (
            f"The journal's file is damaged: {report.pages}. "
            "Press F4 to save what can be read into a new journal."
        )
    said = [words for words in (_missing(report), _aside(aside), *notes) if words]
    return " ".join([*said, "Press F4 to hide this line."]) if said else ""


def salvaged_note(found: Salvaged) -> str:
    """Say what came along into the new journal."""
    left = f", {found.lost} could not be read" if found.lost else ""
    return (
        f"{found.events} events are in the new journal{left}. "
        f"The damaged file is kept as {found.kept_as}."
    )


def _missing(report: Report) -> str:
    if not report.missing:
        return ""
    first, count = report.missing[0], len(report.missing)
    words = "1 event is" if count == 1 else f"{count} events are"
    return (
        f"{words} missing from the journal, the first from {first.job}, before event "
        f"{first.followed_by}. Look for it in a copy of the journal."
    )


def _aside(aside: Sequence[SetAside]) -> str:
    if not aside:
        return ""
    jobs = tuple(dict.fromkeys(a.job or "a job without a name" for a in aside))
    more = f" and {len(jobs) - NAMED} others" if len(jobs) > NAMED else ""
    words = "1 event" if len(aside) == 1 else f"{len(aside)} events"
    verbs = "cannot be read and is" if len(aside) == 1 else "cannot be read and are"
    return (
        f"{words} of {', '.join(jobs[:NAMED])}{more} {verbs} set aside: {aside[0].why}. "
        "Nothing was overwritten; everything else is here."
    )
