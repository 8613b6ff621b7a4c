"""Time at the bench, in words."""

from datetime import datetime

from bench_lamp.journal import JobState


def at_bench(state: JobState, now: datetime) -> str:
    """Return how long a job has been open: `0:41 at bench`, `3 days here`."""
    if state.opened_at is None:
        return ""
    if state.closed_at is not None:
        return f"handed back {local(state.closed_at, '%d.%m.%Y')}"
    minutes = max(int((now - state.opened_at).total_seconds() // 60), 0)
    if minutes < 24 * 60:
        return f"{minutes // 60}:{minutes % 60:02d} at bench"
    days = minutes // (24 * 60)
    return f"{days} day{'s' if days > 1 else ''} here"


def local(at: datetime, form: str = "%H:%M") -> str:
    """Write a moment in the bench's own time zone."""
    return at.astimezone().strftime(form)
