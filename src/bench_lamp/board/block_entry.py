"""A block that is changed by typing: `8 A slow`, `12000u 25V`, `at the left edge`, `J4.2 pin`, `remove`."""

from collections.abc import Mapping, Sequence
from typing import Any

from bench_lamp.board.block_moves import inserted, removed, renamed
from bench_lamp.board.blocks import (
    Block,
    Converter,
    Decoupling,
    Diode,
    Dropper,
    DummyLoad,
    FuseBlock,
    Indicator,
    Inlet,
    Load,
    Regulator,
    Reservoir,
    Transformer,
)
from bench_lamp.board.change import Change, Put
from bench_lamp.board.profile import Profile
from bench_lamp.errors import BenchLampError
from bench_lamp.units import FuseRating, UnitError, exact, parse_quantity

#: How the values of each kind are written.
EXAMPLES: Mapping[type, str] = {
    Inlet: "230 V · 12 V 2 A battery red is plus",
    FuseBlock: "8 A slow",
    Transformer: "9.5V, or its winding first: w9 9.5V",
    Diode: "0.4 V",
    Reservoir: "12000u 25V",
    Regulator: "5.05 V 3 A",
    Converter: "31.5 V 0.2 A",
    Dropper: "470 Ω 5.1 V",
    Decoupling: "47u tantalum",
    DummyLoad: "4R7",
    Indicator: "LED · lamp · fan · relay",
    Load: "1.1 A words lamps scores",
}
#: The field of each unit, by the kind of block.
_FIELDS: Mapping[type, Mapping[str, str]] = {
    Inlet: {"V": "volts", "V~": "volts", "A": "limit", "Ω": "ohms", "Hz": "hertz"},
    Diode: {"V": "volts"},
    Reservoir: {"F": "value", "V": "rating"},
    Regulator: {"V": "volts", "A": "limit"},
    Converter: {"V": "volts", "A": "limit", "%": "efficiency"},
    Dropper: {"Ω": "ohms", "V": "zener"},
    Decoupling: {"F": "value"},
    DummyLoad: {"Ω": "ohms"},
    Load: {"A": "amps"},
}
#: What a bare figure is of.
_BARE: Mapping[type, str] = {
    Reservoir: "F",
    Decoupling: "F",
    Load: "A",
    DummyLoad: "Ω",
    Dropper: "Ω",
}
_TECHS = ("tantalum", "electrolytic", "ceramic", "film")
_SHOWS = {"led": "LED", "lamp": "lamp", "fan": "fan", "relay": "relay"}


def block_said(profile: Profile, block: Block, text: str) -> tuple[Change, ...]:
    """Return the changes that a line about a block means.

    Raises
    ------
    BenchLampError
        When it is not understood, with how the values of this block are written.
    """
    head, _, tail = text.strip().partition(" ")
    word, rest = head.lower(), tail.strip()
    if word == "remove" and not rest:
        return removed(profile, block)
    if word == "at" and rest:
        return (Put(("power", block.id), {"place": rest}),)
    if word == "call" and rest:
        return renamed(profile, block, rest)
    found = inserted(profile, block, head, rest)
    if found:
        return found
    fields = _fields(block, text.strip())
    return (Put(("power", block.id), fields),)


def example_of(block: Block) -> str:
    """Return how the values of a block are written; empty for one that has none."""
    return EXAMPLES.get(type(block), "")


def values_of(block: Block) -> str:
    """Say the values that a block has now, as they may be typed; empty for one that has none."""
    if isinstance(block, FuseBlock):
        return str(block.rating)
    if isinstance(block, Transformer):
        return ", ".join(f"{net} {exact(volts, 'V')}" for net, volts in block.to.items())
    if isinstance(block, Indicator):
        return block.shows
    units = {name: unit for unit, name in _FIELDS.get(type(block), {}).items() if unit != "V~"}
    known = ((getattr(block, name, None), unit) for name, unit in units.items())
    words = (_shown(v, unit) for v, unit in known if v is not None)
    extra = (getattr(block, name, "") for name in ("tech", "supply", "polarity"))
    return ", ".join(filter(None, [*words, *map(str, extra)]))


def _shown(value: float, unit: str) -> str:
    """Write a value as a bench writes it: capacitors in microfarads, efficiency in percent."""
    if unit == "F":
        return f"{value * 1e6:g}\u202fµF"
    return exact(100 * value if unit == "%" else value, unit)


def not_understood(block: Block, text: str) -> BenchLampError:
    """Build the error for a line that says nothing about a block."""
    example = example_of(block)
    values = f"{example}, or " if example else ""
    return BenchLampError(
        f"“{text[:24]}” says nothing about {block.id}",
        hint=f"Write {values}at the left edge, J4.2 pin, call F7, remove.",
    )


def _fields(block: Block, text: str) -> dict[str, Any]:
    if isinstance(block, FuseBlock):
        try:
            return {"rating": str(FuseRating.parse(text)).replace("\u202f", " ")}
        except UnitError as exc:
            raise BenchLampError(str(exc), hint=exc.hint or "Write 8 A slow.") from exc
    if isinstance(block, Transformer):
        return _winding(block, text)
    if isinstance(block, Indicator) and text.lower() in _SHOWS:
        return {"shows": _SHOWS[text.lower()]}
    fields = _quantities(block, text)
    if not fields:
        raise not_understood(block, text)
    return fields


def _winding(block: Transformer, text: str) -> dict[str, Any]:
    known = {n.lower(): n for n in block.to}
    name, _, volts = text.partition(" ")
    if name.lower() not in known:
        name, volts = (next(iter(block.to)) if len(block.to) == 1 else ""), text
    found = _read(volts)
    if name.lower() not in known or found is None or found[0] not in {"V", "V~", ""}:
        windings = ", ".join(block.to)
        raise BenchLampError(
            f"Which winding of {block.id}, how many volts?",
            hint=f"Windings: {windings}. Write {next(iter(block.to))} 9.5V.",
        )
    return {"to": {known[name.lower()]: f"{abs(found[1]):g} V"}}


def _quantities(block: Block, text: str) -> dict[str, Any]:
    """Return the fields that figures with a unit mean, and words that the kind knows."""
    units, fields, words = _FIELDS.get(type(block), {}), {}, []
    for word in _joined(text.split()):
        found = _read(word)
        unit = (found[0] or _BARE.get(type(block), "V")) if found else ""
        name = units.get(unit)
        if found is None:
            words.append(word)
        elif name is None:
            raise not_understood(block, text)
        else:
            fields[name] = _written(found[1], unit)
    return {**fields, **_of_words(block, words, text)}


def _joined(words: Sequence[str]) -> list[str]:
    """Return the words with a unit joined to the figure before it: `8 A` is one."""
    joined: list[str] = []
    for word in words:
        is_unit = not any(c.isdigit() for c in word)
        if joined and is_unit and _read(f"{joined[-1]} {word}") and _read(joined[-1]) is not None:
            joined[-1] = f"{joined[-1]} {word}"
        else:
            joined.append(word)
    return joined


def _read(text: str) -> tuple[str, float] | None:
    try:
        found = parse_quantity(text)
    except UnitError:
        return None
    return None if found.is_overload else (found.unit, found.value)


def _written(value: float, unit: str) -> Any:
    """Return a value as the profile has it."""
    if unit == "Hz":
        return round(value)
    if unit == "%":
        return value / 100
    if unit == "F":
        return f"{value * 1e6:g} uF"
    return f"{value:g}" if unit == "Ω" else f"{value:g} {unit.removesuffix('~')}"


def _of_words(block: Block, words: list[str], text: str) -> dict[str, Any]:
    """Return the fields that words mean; refuse words that mean none."""
    if not words:
        return {}
    if isinstance(block, Load) and words[0].lower() == "words":
        return {"words": words[1:]}
    if isinstance(block, Decoupling) and words[0].lower() in _TECHS:
        return {"tech": words[0].lower()}
    if isinstance(block, Inlet) and block.is_dc:
        return _inlet_words(words)
    if isinstance(block, Regulator) and words[0].lower() == "adjustable":
        return {"adjustable": True}
    raise not_understood(block, text)


def _inlet_words(words: list[str]) -> dict[str, Any]:
    """Return what a DC inlet is, and its polarity."""
    known = {"adapter", "battery", "rail"}
    supply = next((w.lower() for w in words if w.lower() in known), None)
    polarity = " ".join(w for w in words if w.lower() not in known)
    found = {"supply": supply, "polarity": polarity or None}
    return {k: v for k, v in found.items() if v}
