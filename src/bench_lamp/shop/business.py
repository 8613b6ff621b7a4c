"""The shop itself: its name on the sheet, what an hour costs, tax and currency, the size of its labels."""

import math
import re
from collections.abc import Mapping

from msgspec import Struct
from msgspec.structs import fields, replace

from bench_lamp.errors import BenchLampError

#: Longest name or line; most of an hour; label sides in mm.
MOST_TEXT, MOST_RATE, MOST_SIGN, LABEL_MM = 120, 10_000.0, 4, (12.0, 210.0)
_SIZE = re.compile(r"([\d.,]+)\s*[x×]\s*([\d.,]+)(?:\s*mm)?")


class Business(Struct, frozen=True, kw_only=True):
    """What the shop is on paper; nothing of it is needed."""

    name: str = ""
    #: Lines under the name, with `;` between them.
    address: str = ""
    #: Stands before an amount: `€`.
    currency: str = "€"
    #: What an hour of work costs; 0 where labour is not on the bill.
    rate: float = 0.0
    #: As a share; 0 for none.
    tax: float = 0.0
    #: Width and height of a label, in mm.
    label_w: float = 62.0
    label_h: float = 29.0


NO_BUSINESS = Business()


#: What is said of sharing the journal: where the server is, what this bench is called.
SHARING = ("database", "bench")
MOST_ADDRESS = 400


def said_of_sharing(text: str) -> tuple[str, str] | None:
    """Return what is said of sharing the journal, `database` or `bench` and which; None for anything else.

    Raises
    ------
    BenchLampError
        When it is no address of a server.

    >>> said_of_sharing("bench north"), said_of_sharing("database"), said_of_sharing("rate 38")
    (('bench', 'north'), ('database', ''), None)
    """
    word, _, rest = text.strip().partition(" ")
    word, rest = word.lower().rstrip(":"), rest.strip()
    if word not in SHARING:
        return None
    is_server = rest.startswith(("postgresql://", "postgresql+psycopg://"))
    if len(rest) > MOST_ADDRESS or (word == "database" and rest and not is_server):
        raise BenchLampError(
            f"“{rest[:40]}” is no address of a server",
            hint="database postgresql+psycopg://name@host/database, or database alone for none",
        )
    return word, rest


def changed(business: Business, text: str) -> Business:
    """Return a shop after one thing was said of it: `name Tidemill Lane Workshop`, `rate 38`, `tax 20 %`.

    Raises
    ------
    BenchLampError
        When it makes no sense.

    >>> changed(Business(), "tax 20 %").tax, changed(Business(), "label 62x29").label_h
    (0.2, 29.0)
    """
    word, _, rest = " ".join(text.split()).partition(" ")
    word, rest = word.lower().rstrip(":"), rest.strip()
    if word in {"name", "address"} and len(rest) <= MOST_TEXT:
        return replace(business, **{word: rest})
    if word == "currency" and 0 < len(rest) <= MOST_SIGN:
        return replace(business, currency=rest)
    if word == "rate":
        return replace(business, rate=_between(rest, MOST_RATE))
    if word == "tax":
        return replace(business, tax=_between(rest.removesuffix("%"), 100.0) / 100)
    size = _SIZE.fullmatch(rest) if word == "label" else None
    if size is None:
        raise BenchLampError(
            f"“{text.strip()[:40]}” says nothing of the shop, or is too long",
            hint="name … · address …; … · currency € · rate 38 · tax 20 % · label 62x29 · bench … · database …",
        )
    sides = (_figure(size[1]), _figure(size[2]))
    if not all(LABEL_MM[0] <= side <= LABEL_MM[1] for side in sides):
        raise BenchLampError(f"A label of {rest} cannot be", hint="Both sides in mm: label 62x29")
    return replace(business, label_w=sides[0], label_h=sides[1])


def _between(text: str, most: float) -> float:
    value = _figure(text)
    if not 0 <= value <= most:
        raise BenchLampError(f"{text.strip()[:20]} cannot be", hint="rate 38 · tax 20 %")
    return value


def _figure(text: str) -> float:
    try:
        value = float(text.strip().replace(",", "."))
    except ValueError as exc:
        raise BenchLampError(
            f"“{text.strip()[:20]}” is no number", hint="rate 38 · tax 20 %"
        ) from exc
    if not math.isfinite(value):
        raise BenchLampError(f"“{text.strip()[:20]}” is no number", hint="rate 38 · tax 20 %")
    return value


def as_settings(business: Business) -> dict[str, str]:
    """Return a shop as texts by name, for the settings file."""
    return {f.name: str(getattr(business, f.name)) for f in fields(Business)}


def from_settings(texts: Mapping[str, str]) -> tuple[Business, tuple[str, ...]]:
    """Return a shop from texts by name, and the names of those that make no sense: these are the default."""
    found, odd = Business(), []
    for field in fields(Business):
        text = texts.get(field.name, "")
        if not text:
            continue
        try:
            value = float(text) if field.type is float else text[:MOST_TEXT]
        except ValueError:
            odd.append(field.name)
            continue
        if isinstance(value, float) and not (math.isfinite(value) and 0 <= value <= MOST_RATE):
            odd.append(field.name)
            continue
        found = replace(found, **{field.name: value})
    return found, tuple(odd)
