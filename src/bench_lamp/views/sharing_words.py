"""Words about the journal that several benches share."""

from bench_lamp.case.clock import local
from bench_lamp.errors import BenchLampError
from bench_lamp.journal.findings import Holder


def lost_line(error: BenchLampError, waiting: int) -> str:
    """Say that the server does not answer, and what becomes of what is entered."""
    count = {0: "Nothing waits", 1: "1 entry waits"}.get(waiting, f"{waiting} entries wait")
    return f"{error}. What is entered is kept here and sent when it answers. {count} to be sent."


def held_line(holder: Holder) -> str:
    """Say that another bench has the open job, while it is looked at here."""
    return (
        f"{holder.job} is open at {holder.who}, since {local(holder.since, '%H:%M')}: "
        "here it can be looked at. Ctrl+Shift+O takes it over; ask there first, the board may be live."
    )


def refused_words(holder: Holder) -> tuple[str, str]:
    """Say that another bench has a job open, and the way to have it here."""
    return (
        f"{holder.job} is open at {holder.who}, since {local(holder.since, '%H:%M')}",
        "Nothing was logged. Ctrl+Shift+O takes it over: ask there first, the board may be live.",
    )


def taken_over_words(holder: Holder) -> tuple[str, str]:
    """Say that another bench has taken the open job over."""
    return (
        f"{holder.who} has taken {holder.job} over",
        "It can be looked at here. Ctrl+Shift+O takes it back.",
    )


def held_words(name: str, address: str) -> str:
    """Say what this bench is called, and whether it shares its journal."""
    shared = "shares the shop’s journal" if address else "keeps its own journal"
    return f"This bench is “{name}” and {shared}"
