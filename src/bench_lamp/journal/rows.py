"""Events as rows: the one place that knows both forms."""

import json
import math
import re
from collections.abc import Iterable, Sequence
from datetime import UTC, datetime
from typing import Any

from msgspec import Struct

from bench_lamp.errors import BenchLampError
from bench_lamp.journal.events import BODIES, Event
from bench_lamp.journal.sums import SUMMED, Parent, parents_text, row_sum
from bench_lamp.units.plain import UnknownFieldError, decoder, to_plain

#: What an event is read from. Rows of the first schema have no more.
COLUMNS = ("id", "job", "at", "kind", "body")

#: Version of the bodies as they are written now. What is written whole, every field of it, has
#: a version; the journals before that left out defaults and had none, and count as 0.
VERSION = 1
#: Bytes of the largest body; the longest series of pairs has a quarter of it.
MOST_BODY = 256_000
#: A number beyond this, in base units, is none that was ever measured.
MOST_NUMBER = 1e15

_ID = re.compile(r"[0-9a-f]{8}-[0-9a-f]{4}-7[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}")
#: The year 2200, in milliseconds since 1970: an id beyond it is no moment of this program.
_LAST_MS = 7_258_118_400_000

#: Values of a row as they are stored, in the order of `SUMMED`, and its sum.
Stored = Sequence[Any]


class JournalError(BenchLampError):
    """The journal cannot be read or written; `hint` says the mend."""

    #: What of it can be read may be put into a new one.
    is_salvageable: bool = False
    #: Another window writes it.
    is_taken: bool = False
    #: The file that was open is no longer in its place.
    is_moved: bool = False

    @classmethod
    def damaged(cls, what: str, why: object) -> "JournalError":
        """Build the error for a file that does not make sense."""
        error = cls(
            f"The journal is damaged: {what} ({why})",
            hint="Press F4 to save what can be read into a new journal; this one is kept beside it.",
        )
        error.is_salvageable = True
        return error


class SetAside(Struct, frozen=True, kw_only=True):
    """An event that cannot be used: it stays where it is, and everything else opens."""

    event: str
    job: str
    why: str


def to_row(event: Event, parents: Iterable[Parent]) -> dict[str, str]:
    """Return the row of an event, by column; raise `JournalError` when it cannot be stored."""
    body = {"version": VERSION, **to_plain(event.body, whole=True)}
    kind = body.pop("kind")
    row = {
        "id": event.id,
        "job": event.job,
        "at": event.at.astimezone(UTC).isoformat(timespec="milliseconds"),
        "kind": kind,
        "body": json.dumps(body, ensure_ascii=False),
        "parents": parents_text(parents),
    }
    try:
        stored = [row[name].encode() for name in SUMMED]
    except UnicodeEncodeError as exc:
        raise JournalError(
            "A text has a broken character in it", hint="Nothing was logged: type it again."
        ) from exc
    if len(row["body"].encode()) > MOST_BODY:
        raise JournalError(
            f"An entry is larger than {MOST_BODY // 1000} kB",
            hint="Nothing was logged: shorten the text.",
        )
    if isinstance(found := to_event(stored[: len(COLUMNS)]), SetAside):
        raise JournalError(f"This cannot be stored: {found.why}", hint="Nothing was logged.")
    return {**row, "sum": row_sum(stored)}


def to_event(row: Stored) -> Event | SetAside:
    """Return the event of a row of `COLUMNS`, as text or as stored bytes, or why it is set aside."""
    try:
        event_id, job, at, kind, body = (_text(value) for value in row)
        return _event(event_id, job, at, kind, body)
    except UnknownFieldError as exc:
        why = f"a newer Bench Lamp wrote it: {exc}"
    except (json.JSONDecodeError, RecursionError):
        why = "its content is cut off, or is not a record"
    except UnicodeDecodeError:
        why = "it holds bytes that are not text"
    except (ValueError, TypeError, AttributeError, BenchLampError) as exc:
        why = str(exc) or type(exc).__name__
    return SetAside(event=shown(row[0]), job=shown(row[1]), why=why[:200])


def _event(event_id: str, job: str, at: str, kind: str, body: str) -> Event:
    if not is_id(event_id):
        raise ValueError("its id is not valid")
    body_type: Any = BODIES.get(kind)
    if body_type is None:
        raise ValueError(f"a newer Bench Lamp wrote it: its kind is {kind[:40]!r}")
    plain = _DECODER.decode(body)
    if not isinstance(plain, dict):
        raise ValueError("its content is not a record")
    version = plain.pop("version", 0)
    if version not in range(VERSION + 1):
        raise ValueError(f"a newer Bench Lamp wrote it: version {version} of {kind!r}")
    built = decoder(body_type)(plain)
    moment = datetime.fromisoformat(at)
    if moment.tzinfo is None:
        raise ValueError("its time has no time zone")
    return Event(id=event_id, job=job, at=moment, body=built)


def is_id(text: str) -> bool:
    """Whether a text is an id of this program."""
    return bool(_ID.fullmatch(text)) and int(text[:8] + text[9:13], 16) < _LAST_MS


def _text(value: object) -> str:
    if isinstance(value, bytes):
        if len(value) > MOST_BODY:
            raise ValueError(f"it has more than {MOST_BODY // 1000} kB")
        return value.decode()
    if isinstance(value, str):
        return value
    raise ValueError("one of its columns does not hold text")


def as_text(value: object) -> str:
    """Return a stored value as text, whatever it is: bytes that are not text become marks."""
    return value.decode("utf-8", "replace") if isinstance(value, bytes) else str(value)


def shown(value: object) -> str:
    """Return as much of a stored value as a message has room for."""
    return as_text(value)[:80]


def _number(text: str) -> float:
    value = float(text)
    if abs(value) > MOST_NUMBER:
        raise ValueError(f"{text[:20]} is not a possible reading")
    return value


def _whole(text: str) -> int:
    if len(text) > 20:
        raise ValueError(f"{text[:20]} is not a possible count")
    return int(text)


def _overload(text: str) -> float:
    """Take the two constants that a meter can show; NaN is none."""
    if text == "NaN":
        raise ValueError("NaN is not a reading")
    return math.inf if text == "Infinity" else -math.inf


_DECODER = json.JSONDecoder(parse_float=_number, parse_int=_whole, parse_constant=_overload)
