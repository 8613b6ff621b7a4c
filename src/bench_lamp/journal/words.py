"""The words of an event: what is found of it, and how they are compared."""

import re
import unicodedata
from collections.abc import Iterator
from typing import Any

from msgspec import Struct

from bench_lamp.journal.events import Event
from bench_lamp.units.plain import to_plain

#: Kinds that say nothing that anybody looks for.
SILENT = frozenset(("power", "stage", "signed", "struck"))
_WORD = re.compile(r"[^\W_]+")
#: Words of a question that count.
MOST_WORDS = 12


class Hit(Struct, frozen=True, kw_only=True):
    """One event that holds every word."""

    job: str
    event: str
    at: str
    text: str


def words_of_event(event: Event) -> str:
    """Return the words of an event, as they are found and shown.

    >>> from datetime import datetime, UTC
    >>> from bench_lamp.journal.events import PartReplaced
    >>> body = PartReplaced(part="C203", out="47 µF", fitted="tantalum 47 µF")
    >>> words_of_event(Event(id="x", job="QH-001/1", at=datetime(2026, 1, 1, tzinfo=UTC), body=body))
    'C203 replaced 47 µF tantalum 47 µF'
    """
    plain: dict[str, Any] = to_plain(event.body)
    kind = plain.pop("kind")
    lead = next(
        (str(plain.pop(n)) for n in ("part", "target", "point", "test", "place") if plain.get(n)),
        "",
    )
    words = [*_texts(plain)]
    return " ".join(x for x in (lead, kind if kind not in {"action", "note"} else "", *words) if x)


def _texts(value: Any) -> Iterator[str]:
    if isinstance(value, dict):
        for inner in value.values():
            yield from _texts(inner)
    elif isinstance(value, list | tuple):
        for inner in value:
            yield from _texts(inner)
    elif isinstance(value, str) and value:
        yield value
    elif isinstance(value, float) and abs(value) < 1e9:
        yield f"{value:g}"


def words_in(text: str) -> tuple[str, ...]:
    """Return the words of a text, small and without accents.

    >>> words_in("Kühlkörper at J2.4")
    ('kuhlkorper', 'at', 'j2', '4')
    """
    plain = unicodedata.normalize("NFKD", text)
    bare = "".join(c for c in plain if not unicodedata.combining(c))
    return tuple(word.lower() for word in _WORD.findall(bare))


def wanted_words(text: str) -> tuple[str, ...]:
    """Return the words of a question that count."""
    return words_in(text)[:MOST_WORDS]


def holds(event: Event, wanted: tuple[str, ...]) -> bool:
    """Whether an event holds every word, or a word that begins with it."""
    there = words_in(f"{event.job} {words_of_event(event)}")
    return all(any(word.startswith(each) for word in there) for each in wanted)


def hit_of(event: Event) -> Hit:
    """Return an event as it is shown when it was found."""
    return Hit(job=event.job, event=event.id, at=event.at.isoformat(), text=words_of_event(event))
