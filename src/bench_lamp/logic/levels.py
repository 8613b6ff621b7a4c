"""Levels at a pin: what should be there, what was found, and what the difference says."""

from typing import Literal, get_args

Level = Literal["high", "low", "pulsing", "floating"]
LEVELS: tuple[Level, ...] = get_args(Level)

_WORDS = {
    ("pulsing", "high"): "does not move: nothing drives it, or it is held high",
    ("pulsing", "low"): "does not move: held low",
    ("pulsing", "floating"): "nothing drives it: an open pin, joint or track, or a dead output",
    ("high", "low"): "held low: a short, or something asks for it",
    ("high", "pulsing"): "it moves and should rest high: something comes and goes",
    ("high", "floating"): "not pulled up: an open resistor or track",
    ("low", "high"): "not at low: an open ground or a dead driver",
    ("low", "pulsing"): "it moves and should rest low",
    ("low", "floating"): "not tied low: an open track",
    ("floating", "high"): "held high",
    ("floating", "low"): "held low",
    ("floating", "pulsing"): "something drives it that should not",
}


def level_words(should: Level, found: Level) -> str:
    """Say what a level means beside the one that should be there.

    >>> level_words("pulsing", "pulsing")
    'as it should be'
    """
    return "as it should be" if should == found else _WORDS[should, found]
