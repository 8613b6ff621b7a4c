"""What a bench sum is: what it is given, how it is worked, what comes out."""

import math
from collections.abc import Callable, Iterable, Mapping

from msgspec import Struct
from msgspec.structs import replace

from bench_lamp.errors import BenchLampError
from bench_lamp.units import UnitError, exact, parse_quantity
from bench_lamp.units.format import capacitance

#: Units that a bench number may carry; any other is written behind the number as it stands.
PARSED = frozenset(("V", "V~", "A", "Ω", "F", "H", "W", "s", "Hz", "%"))


class SumError(BenchLampError):
    """SumValues with which a sum makes no sense, with what would make some."""


class Given(Struct, frozen=True, kw_only=True):
    """One thing that a sum is given."""

    key: str
    label: str
    #: Empty for plain text.
    unit: str = ""
    #: What is taken where nothing is typed; empty where it must be typed.
    usual: str = ""
    hint: str = ""
    is_text: bool = False
    #: Whether the sum works without it.
    is_optional: bool = False
    #: Whether it may be 0 or below.
    is_signed: bool = False


def number(
    key: str,
    label: str,
    unit: str = "",
    *,
    usual: str = "",
    hint: str = "",
    is_optional: bool = False,
) -> Given:
    """Return a given that is a number above 0."""
    return Given(key=key, label=label, unit=unit, usual=usual, hint=hint, is_optional=is_optional)


def signed(
    key: str,
    label: str,
    unit: str = "",
    *,
    usual: str = "",
    hint: str = "",
    is_optional: bool = False,
) -> Given:
    """Return a given that may be 0 or below."""
    found = number(key, label, unit, usual=usual, hint=hint, is_optional=is_optional)
    return replace(found, is_signed=True)


def text(
    key: str, label: str, *, usual: str = "", hint: str = "", is_optional: bool = False
) -> Given:
    """Return a given that is plain text."""
    found = number(key, label, usual=usual, hint=hint, is_optional=is_optional)
    return replace(found, is_text=True)


class SumResult(Struct, frozen=True, kw_only=True):
    """One thing that comes out."""

    label: str
    text: str
    #: In the base unit; None for words.
    value: float | None = None
    unit: str = ""


class SumValues:
    """What was given, by name: numbers in base units, or text."""

    def __init__(self, numbers: Mapping[str, float], texts: Mapping[str, str]) -> None:
        self._numbers, self._texts = numbers, texts

    def __getattr__(self, key: str) -> float:
        return self._numbers[key]

    def __contains__(self, key: str) -> bool:
        return key in self._numbers or key in self._texts

    def text(self, key: str) -> str:
        """Return what was given as text."""
        return self._texts.get(key, "")


class Sum(Struct, frozen=True, kw_only=True):
    """One bench sum."""

    id: str
    title: str
    givens: tuple[Given, ...]
    #: As one would write it on paper.
    formula: str
    #: Where it is from.
    source: str
    work: Callable[[SumValues], Iterable[SumResult]]
    #: What it takes for granted.
    assumes: str = ""
    #: Other words under which it is found.
    words: str = ""


class Worked(Struct, frozen=True, kw_only=True):
    """A sum with what was typed: results, or what is missing or wrong by given."""

    outcomes: tuple[SumResult, ...] = ()
    errors: Mapping[str, str] = {}
    #: What is wrong with all of it together, and the mend.
    error: str = ""
    missing: tuple[str, ...] = ()


def outcome(label: str, value: float, unit: str, *, figures: int = 3) -> SumResult:
    """Return a figure with its unit; units without prefixes stand behind it unscaled.

    >>> outcome("rise", 40.0, "K").text
    '40 K'
    """
    if unit == "F":
        return SumResult(
            label=label, text=capacitance(value, figures=figures), value=value, unit=unit
        )
    if unit in PARSED - {"%", "V~"}:
        return SumResult(
            label=label, text=exact(value, unit, figures=figures), value=value, unit=unit
        )
    shown = f"{value:.{figures}g}"
    number = shown if "e" not in shown else f"{float(shown):.0f}" if abs(value) >= 1 else shown
    return SumResult(
        label=label,
        text=f"{number.replace('-', '−')}\u202f{unit}".rstrip("\u202f"),
        value=value,
        unit=unit,
    )


def words(label: str, text: str) -> SumResult:
    """Return words that come out."""
    return SumResult(label=label, text=text)


def worked(one: Sum, typed: Mapping[str, str]) -> Worked:
    """Work a sum with what was typed, as a bench writes it; never raises for what was typed."""
    said = {g.key: typed.get(g.key, "").strip() or g.usual for g in one.givens}
    present = [g for g in one.givens if said[g.key]]
    missing = tuple(g.label for g in one.givens if g not in present and not g.is_optional)
    numbers, errors = _numbers([g for g in present if not g.is_text], said)
    if errors or missing:
        return Worked(errors=errors, missing=missing)
    return _done(one, SumValues(numbers, {g.key: said[g.key] for g in present if g.is_text}))


def _done(one: Sum, values: SumValues) -> Worked:
    try:
        found = tuple(one.work(values))
    except BenchLampError as exc:
        return Worked(error=f"{exc}. {exc.hint}")
    except (ArithmeticError, ValueError):
        return Worked(error="These values make no sense together. Look at their sizes.")
    if any(x.value is not None and not math.isfinite(x.value) for x in found):
        return Worked(error="These values make no sense together. Look at their sizes.")
    if not found:
        lacking = " or ".join(g.label for g in one.givens if g.is_optional and g.key not in values)
        return Worked(error=f"Too little is given. Give {lacking}.")
    return Worked(outcomes=found)


def _numbers(
    givens: Iterable[Given], said: Mapping[str, str]
) -> tuple[dict[str, float], dict[str, str]]:
    numbers, errors = {}, {}
    for given in givens:
        try:
            numbers[given.key] = _number(given, said[given.key])
        except BenchLampError as exc:
            errors[given.key] = f"{exc}. {exc.hint}"
    return numbers, errors


def _number(given: Given, text: str) -> float:
    if given.unit in PARSED:
        found = parse_quantity(text, given.unit).value
    else:
        tidy = text.removesuffix(given.unit).strip() if given.unit else text
        found = parse_quantity(tidy).value
    if not math.isfinite(found):
        raise UnitError(f"{text} is no value to reckon with", hint="Write a number.")
    if found <= 0 and not given.is_signed:
        raise UnitError(f"{given.label} must be more than 0", hint="Write it without a sign.")
    return found
