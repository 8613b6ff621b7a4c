"""What is said aloud: point and lead first, then the verdict; short words, units as they are spoken."""

import re

from bench_lamp.cards.card import Card
from bench_lamp.views.tape import Tile

#: How much is said, by name.
HOW_MUCH = ("off", "short", "whole")
_UNITS = (
    (r"mV~", " millivolts AC"), (r"V~", " volts AC"), (r"mV\b", " millivolts"), (r"kV\b", " kilovolts"),
    (r"V\b", " volts"), (r"kΩ", " kiloohms"), (r"MΩ", " megaohms"), (r"Ω", " ohms"), (r"mA\b", " milliamps"),
    (r"A\b", " amps"), (r"Hz\b", " hertz"), (r"µF", " microfarads"),
)  # fmt: skip


def verdict_words(tile: Tile) -> str:
    """Say what was logged: `C 18.2 volts, within`."""
    return spoken(f"{tile.title}, {tile.verdict or tile.detail}")


def point_words(card: Card, how_much: str) -> str:
    """Say what is next: the point, and where its leads go when all of it is said."""
    target = card.entry.target if card.entry is not None else ""
    if not target:
        return spoken(card.title)
    if how_much != "whole":
        return spoken(target)
    leads = [f"{lead.kind} on {lead.text}" for lead in card.leads if lead.kind in {"red", "black"}]
    return spoken(", ".join([card.title, *leads]))


def spoken(text: str) -> str:
    """Return a text as it is read aloud.

    >>> spoken("C 18.2\u202fV, within"), spoken("OL, absent"), spoken("TP3 4.7\u202fkΩ")
    ('C 18.2 volts, within', 'over range, absent', 'TP3 4.7 kiloohms')
    """
    plain = text.replace("\u202f", "").replace("\u00a0", " ").replace("−", "minus ")
    for pattern, words in _UNITS:
        plain = re.sub(rf"(?<=\d)\s*{pattern}", words, plain)
    plain = re.sub(r"\bOL\b", "over range", plain)
    return " ".join(re.sub(r"[^\w\s.,+-]", " ", plain).split())
