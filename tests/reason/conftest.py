"""Clues written in a line each, and the odds of faults by name."""

import pytest

from bench_lamp.reason.values.clues import Clue


def clues(*written: str) -> tuple[Clue, ...]:
    """Return clues from `dc lamp18 0.1` or `ohm logic5 0.9 without J6`."""
    found = []
    for number, line in enumerate(written):
        kind, target, value, *rest = line.split()
        out = frozenset(rest[1:]) if rest else frozenset()
        found.append(Clue(event=f"e{number}", kind=kind, target=target, value=float(value), out=out,
                          text=line))  # fmt: skip
    return tuple(found)


@pytest.fixture
def odds_of():
    """Return the odds of some faults together, by name."""

    def total(weighed, *names: str) -> float:
        odds, _ = weighed.posterior.odds()
        faults = weighed.posterior.dictionary.faults
        return float(sum(odds[i] for i, f in enumerate(faults) if f.name in names))

    return total
