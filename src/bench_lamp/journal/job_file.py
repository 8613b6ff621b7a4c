"""A job as a JSON file, read: the events that `report.exports.job_json` writes."""

import json
from pathlib import Path
from typing import Any

from bench_lamp.errors import BenchLampError
from bench_lamp.files import read_bytes
from bench_lamp.journal.events import Event
from bench_lamp.journal.rows import SetAside, to_event

FORMAT = "bench-lamp job 1"
#: Bytes of the largest file that is read.
MOST_BYTES = 32_000_000


class JobFileError(BenchLampError):
    """A file that is no job, or has an event that cannot be read."""


def read_job_file(path: Path) -> tuple[Event, ...]:
    """Return the events of a job's file in order; raise `JobFileError` or `FileError`."""
    try:
        data = json.loads(read_bytes(path, most=MOST_BYTES))
    except (ValueError, RecursionError) as exc:
        raise JobFileError(
            f"{path.name} is no JSON text", hint="Give a job that Bench Lamp exported."
        ) from exc
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise JobFileError(
            f"{path.name} is no job of Bench Lamp", hint=f"Its “format” must be “{FORMAT}”."
        )
    job, entries = data.get("job"), data.get("events")
    if not isinstance(job, str) or not isinstance(entries, list):
        raise JobFileError(f"{path.name} lacks “job” or “events”", hint="Export the job again.")
    events = [_event(path.name, job, n, entry) for n, entry in enumerate(entries, start=1)]
    return tuple(sorted(events, key=lambda event: event.id))


def _event(name: str, job: str, number: int, entry: Any) -> Event:
    body = dict(entry["body"]) if _has_body(entry) else {}
    kind = body.pop("kind", "")
    body["version"] = entry.get("version", 0) if isinstance(entry, dict) else 0
    row = (entry.get("id"), job, entry.get("at"), kind) if isinstance(entry, dict) else ("",) * 4
    found = to_event((*row, json.dumps(body)))
    if isinstance(found, SetAside):
        raise JobFileError(
            f"{name}: event {number} cannot be read: {found.why}", hint="Export the job again."
        )
    return found


def _has_body(entry: Any) -> bool:
    return isinstance(entry, dict) and isinstance(entry.get("body"), dict)
