"""Writing what a part is, the way that it is read again."""

from bench_lamp.units import exact
from bench_lamp.units.format import capacitance
from bench_lamp.units.part import PartSpec, SpecKind


def spec_text(spec: PartSpec) -> str:
    """Write a part as people say it; read again it is the same.

    >>> from bench_lamp.board.spec_reading import parse_spec
    >>> spec_text(parse_spec("electrolytic 100u 250V 105C 18x36"))
    'electrolytic 100 µF 250 V 105 °C Ø 18 × 36'
    """
    kind = spec.kind.value if spec.kind not in {None, SpecKind.SAFETY} and spec.kind else ""
    unit = spec.kind.unit if spec.kind is not None else "F"
    value = capacitance(spec.value) if unit == "F" else exact(spec.value, unit, figures=10)
    words = (
        kind,
        value if spec.value else "",
        _shown(spec.amps, "A"),
        _shown(spec.volts, "V"),
        _shown(spec.watts, "W"),
        spec.speed,
        spec.grade,
        spec.family,
        _plain(1e9 * spec.access, "{:g}\u202fns"),
        _plain(spec.celsius, "{:g}\u202f°C"),
        _plain(100 * spec.tolerance, "±{:g}\u202f%"),
        _plain(spec.across, "Ø {:g}") + _plain(spec.tall, " × {:g}"),
        _plain(spec.pitch, "pitch {:g}"),
        _shown(spec.ripple, "A", "ripple "),
        _shown(spec.esr, "Ω", "ESR "),
        _shown(spec.breaking, "A", "breaking "),
        "flameproof" * spec.flameproof,
        "fusible" * spec.fusible,
        spec.package,
        _named("type", spec.type),
        spec.role,
        _named("pins", " ".join(spec.pins)),
    )
    return " ".join(filter(None, words))


def _shown(value: float, unit: str, name: str = "") -> str:
    return f"{name}{exact(value, unit)}" if value else ""


def _plain(value: float, shape: str) -> str:
    return shape.format(value) if value else ""


def _named(name: str, text: str) -> str:
    return f"{name} {text}" if text else ""
