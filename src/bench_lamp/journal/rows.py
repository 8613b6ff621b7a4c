"""Events as rows: the one place that knows both forms."""

import json
from collections.abc import Sequence
from datetime import UTC, datetime
from typing import Any

from bench_lamp.errors import BenchLampError
from bench_lamp.journal.events import BODIES, Event
from bench_lamp.units.plain import UnknownFieldError, decoder, to_plain

#: Column order of a row, here and in the table.
COLUMNS = ("id", "job", "at", "kind", "body")
SELECT = f"SELECT {', '.join(COLUMNS)} FROM event"

#: Version of the bodies as they are written now. What is written whole, every field of it, has
#: a version; the journals before that left out defaults and had none, and count as 0.
VERSION = 1

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

    @classmethod
    def newer(cls, event: str, what: str) -> "JournalError":
        """Build the error for an event that a newer version wrote."""
        return cls(
            f"The journal holds an event that this version does not know: {what} ({event})",
            hint="Nothing was changed. Open it with the newer Bench Lamp that wrote it.",
        )


def to_row(event: Event) -> dict[str, str]:
    """Return the row of an event, by column."""
    body = {"version": VERSION, **to_plain(event.body, whole=True)}
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
    body_type: Any = BODIES.get(kind)
    if body_type is None:
        raise JournalError.newer(event_id, f"its kind is {kind!r}")
    try:
        plain = json.loads(body)
        version = plain.pop("version", 0)
        if version not in range(VERSION + 1):
            raise JournalError.newer(event_id, f"version {version} of {kind!r}")
        built = decoder(body_type)(plain)
        return Event(id=event_id, job=job, at=datetime.fromisoformat(at), body=built)
    except UnknownFieldError as exc:
        raise JournalError.newer(event_id, str(exc)) from exc
    except JournalError:
        raise
    except (ValueError, TypeError, AttributeError, BenchLampError) as exc:
        raise JournalError.damaged(f"event {event_id}", exc) from exc
