"""Journal: what was read, done and concluded, and nothing forgotten.

For: the events, the pure fold to `JobState`, the store on disk, its lock.
May import: `board`, `units`; SQLAlchemy, Alembic and sqlite3.
Must not import: any other room.
"""

from bench_lamp.journal.events import Body, Event
from bench_lamp.journal.fold import fold
from bench_lamp.journal.state import JobState, Logged, PowerState, Reading

__all__ = ["Body", "Event", "JobState", "Logged", "PowerState", "Reading", "fold"]
