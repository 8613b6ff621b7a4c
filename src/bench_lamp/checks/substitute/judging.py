"""One offered part judged by the rules of its class, and several ranked."""

from collections.abc import Callable, Iterable, Iterator

from msgspec import Struct

from bench_lamp.checks.substitute import capacitors, others, semiconductors
from bench_lamp.checks.substitute.values import Around, Rule, State
from bench_lamp.units.part import PartSpec, SpecKind

_RULES: dict[SpecKind, Callable[[PartSpec, PartSpec, Around], Iterator[Rule]]] = {
    **{kind: capacitors.rules for kind in SpecKind if kind.is_capacitor},
    **others.KINDS,
    **semiconductors.KINDS,
}


class Verdict(Struct, frozen=True, kw_only=True):
    """What the rules say of one offered part."""

    rules: tuple[Rule, ...]

    @property
    def broken(self) -> tuple[Rule, ...]:
        """The rules that are not met."""
        return tuple(r for r in self.rules if r.state is State.NOT_MET)

    @property
    def open(self) -> tuple[Rule, ...]:
        """The rules of which the offered part says nothing."""
        return tuple(r for r in self.rules if r.state is State.NOT_SAID)

    @property
    def fits(self) -> bool:
        """Whether it fits in all that is known."""
        return not self.broken


def judge(want: PartSpec, have: PartSpec, around: Around | None = None) -> Verdict:
    """Judge an offered part against the one that was there.

    Parameters
    ----------
    want : PartSpec
        What is known of the part that was there.
    have : PartSpec
        What is offered; what it does not say is `NOT_SAID`, never met.
    around : Around, optional
        What the circuit says.

    Notes
    -----
    A class without rules, or one that nobody has said, gives no rule: nothing is known then.
    """
    kind = want.kind or have.kind
    if kind is None:
        return Verdict(rules=())
    return Verdict(rules=tuple(_RULES[kind](want, have, around or Around())))


def best_first(
    want: PartSpec, offered: Iterable[tuple[str, PartSpec]], around: Around | None = None
) -> tuple[tuple[str, PartSpec, Verdict], ...]:
    """Return the offered parts that fit, the best first: fewest unknowns, then nearest by value and volts."""
    found = []
    for name, have in offered:
        verdict = judge(want, have, around)
        if verdict.fits and verdict.rules:
            found.append((name, have, verdict))
    return tuple(sorted(found, key=lambda f: (len(f[2].open), _distance(want, f[1]), f[0])))


def _distance(want: PartSpec, have: PartSpec) -> float:
    """Return how far a part lies from the one that was there: by value, then by volts and watts."""
    pairs = (
        (want.value, have.value, 4.0),
        (want.volts, have.volts, 1.0),
        (want.watts, have.watts, 1.0),
        (want.amps, have.amps, 1.0),
    )
    return sum(weight * abs(b / a - 1) for a, b, weight in pairs if a and b)
