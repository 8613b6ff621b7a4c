"""Events as rows: the one place that knows both forms."""

import json
from collections.abc import Sequence
from datetime import UTC, datetime
from typing import Any

from bench_lamp.errors import BenchLampError
from bench_lamp.journal.events import BODIES, Event
from bench_lamp.units.plain import decoder, to_plain

#: Column order of a row, here and in the table.
COLUMNS = ("id", "job", "at", "kind", "body")
SELECT = f"SELECT {', '.join(COLUMNS)} FROM event"

Row = Sequence[Any]


class JournalError(BenchLampError):
    """The journal cannot be read or written; `hint` says the mend."""

    @classmethod
    def damaged(cls, what: str, why: object) -> "JournalError":
        """Build the error for a file or event that does not make sense."""
        return cls(
            f"The journal is damaged: {what} ({why})",
            hint="Nothing was changed. Copy the folder away, then restore the newest backup beside it.",
        )


def to_row(event: Event) -> dict[str, str]:
    """Return the row of an event, by column."""
    body = to_plain(event.body)
    kind = body.pop("kind")
    return {
        "id": event.id,
        "job": event.job,
        "at": event.at.astimezone(UTC).isoformat(timespec="milliseconds"),
        "kind": kind,
        "body": json.dumps(body, ensure_ascii=False),
    }


def to_event(row: Row) -> Event:
    """Return the event of a row; raise `JournalError` when it makes no sense."""
    event_id, job, at, kind, body = row
    try:
        body_type: Any = BODIES[kind]
        build = decoder(body_type)
        return Event(
            id=event_id, job=job, at=datetime.fromisoformat(at), body=build(json.loads(body))
        )
    except KeyError as exc:
        raise JournalError(
            f"The journal holds an event of kind {exc}, which this version does not know",
            hint="Open it with the newer Bench Lamp that wrote it.",
        ) from exc
    except (ValueError, TypeError, BenchLampError) as exc:
        raise JournalError.damaged(f"event {event_id}", exc) from exc
