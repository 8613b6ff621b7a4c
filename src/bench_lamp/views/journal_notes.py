"""What is wrong with the journal, in lines above everything else."""

from collections.abc import Sequence

from bench_lamp.errors import BenchLampError
from bench_lamp.journal.findings import Report
from bench_lamp.journal.rows import JournalError, SetAside

#: Jobs that are named in one line.
NAMED = 3


def refused_line(error: BenchLampError) -> str:
    """Say why nothing can be logged, and the key that mends it."""
    does_more = isinstance(error, JournalError) and (error.is_taken or error.is_salvageable)
    again = "" if does_more else " F4 tries again."
    return f"Nothing is logged: {error}. {error.hint}{again}"


def aside_line(aside: Sequence[SetAside]) -> str:
    """Say which events are set aside; empty for none."""
    if not aside:
        return ""
    jobs = tuple(dict.fromkeys(a.job or "a job without a name" for a in aside))
    more = f" and {len(jobs) - NAMED} others" if len(jobs) > NAMED else ""
    many = len(aside) > 1
    return (
        f"{len(aside)} event{'s' if many else ''} of {', '.join(jobs[:NAMED])}{more} cannot be read "
        f"and {'are' if many else 'is'} set aside: {aside[0].why}. Nothing was overwritten, all else "
        "is here. F4 puts this line away."
    )


def report_line(report: Report) -> str:
    """Say what a check of the whole journal found; empty when it is sound."""
    if report.pages:
        return f"The journal's file is damaged: {report.pages}. F4 saves what can be read in a new one."
    if report.missing:
        lost = report.missing[0]
        count = len(report.missing)
        words = "An event is" if count == 1 else f"{count} events are"
        return (
            f"{words} missing from the journal, the first from {lost.job}: {lost.followed_by} follows "
            "it. A copy of the journal may have it. F4 puts this line away."
        )
    return aside_line(report.aside)


def salvaged_line(events: int, lost: int, kept_as: str) -> str:
    """Say what came along into the new journal."""
    left = f", {lost} could not be read" if lost else ""
    return f"{events} events are in the new journal{left}. The damaged file is kept as {kept_as}."


def put_away_line(notes: Sequence[str]) -> str:
    """Say the notes that stand, and the key that puts them away; empty for none."""
    return f"{' '.join(notes)} F4 puts this line away." if notes else ""
