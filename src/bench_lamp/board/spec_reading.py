"""Reading what a part is from one line, as people say it: `electrolytic 100 uF 250 V 105C 18x36 pitch 7.5`."""

import re
from collections.abc import Callable

from msgspec.structs import replace

from bench_lamp.errors import BenchLampError
from bench_lamp.units import UnitError, parse_quantity
from bench_lamp.units.marking import MarkingError, PartClass, read_marking
from bench_lamp.units.marking.tolerances import DIELECTRICS
from bench_lamp.units.part import PartSpec, SpecKind

#: Longest line that is read.
MOST = 160
_WORDS: dict[str, SpecKind] = {c.value: c for c in SpecKind} | {
    "elko": SpecKind.ELECTROLYTIC, "bridge": SpecKind.RECTIFIER, "choke": SpecKind.INDUCTOR,
    "coil": SpecKind.INDUCTOR, "ic": SpecKind.CHIP, "safety": SpecKind.SAFETY,
    "zener": SpecKind.DIODE, "schottky": SpecKind.DIODE,
}  # fmt: skip
ROLES = ("reservoir", "timing", "coupling", "bypass")
#: Logic families by their levels and speed; written behind the type.
FAMILIES = ("TTL", "LS", "ALS", "AS", "S-TTL", "HC", "HCT", "AC", "ACT", "CMOS", "NMOS", "ECL")
SAFETY_CLASSES = ("X1", "X2", "X3", "Y1", "Y2", "Y4")


def _figure(text: str, unit: str = "") -> float:
    found = parse_quantity(
        text.replace("1/4", "0.25").replace("1/2", "0.5").replace("1/8", "0.125"), unit
    )
    if not 0 < found.value < 1e12:
        raise UnitError(f"{text} is no figure of a part", hint="Write it above 0.")
    return found.value


_N = r"\d+(?:[.,]\d+)?"
#: Field, what it looks like, its unit. Words first, so that their figures are not taken for others.
_FIGURES: tuple[tuple[str, str, str], ...] = (
    ("pitch", rf"pitch\s*({_N})(?:\s*mm)?", ""),
    ("ripple", rf"ripple\s*({_N}\s*m?A)\b", "A"),
    ("esr", rf"(?:esr|dcr|ohms)\s*({_N}\s*[mk]?)(?:Ω|R|ohms?)?(?=\s|,|$)", "Ω"),
    ("breaking", rf"breaking\s*({_N}\s*k?A)\b", "A"),
    ("access", rf"({_N})\s*ns\b", ""),
    ("celsius", rf"({_N})\s*°?C\b", ""),
    ("tolerance", rf"(?:±|\+/-)?\s*({_N})\s*%", ""),
    ("volts", rf"({_N}\s*[mk]?V)(?:DC|AC|~)?(?=\s|,|$)", "V"),
    ("watts", rf"((?:1/[248]|{_N})\s*m?W)\b", "W"),
    ("amps", rf"({_N}\s*m?A)\b", "A"),
)
_SIZE = re.compile(rf"(?:Ø\s*)?({_N})\s*[x×]\s*({_N})(?:\s*mm)?", re.IGNORECASE)
_PINS = re.compile(r"\bpins?\s+(.+)$", re.IGNORECASE)
_TYPE = re.compile(r"\btype\s+(\S+)", re.IGNORECASE)
_PACKAGE = re.compile(r"\b(TO-?\d+\w*|DIP-?\d+|SO-?\d+|axial|radial|DO-?\d+)\b", re.IGNORECASE)
_HERTZ = re.compile(rf"({_N}\s*[kM]?Hz)\b", re.IGNORECASE)
_FUSE_CAP = re.compile(rf"\b([TF])\s*({_N})\s*(m?)A?\b")


def parse_spec(text: str, kind: SpecKind | None = None) -> PartSpec:
    """Read what a part is, as one says it.

    Parameters
    ----------
    text : str
        `electrolytic 100 uF 250 V 105C 18x36 pitch 7.5`, `8 A slow 250 V breaking 1500 A`,
        `10k 1 W flameproof 5 %`, `regulator type TR-405 TO-220 pins in ground out`.
    kind : SpecKind, optional
        The class where the text names none.

    Raises
    ------
    BenchLampError
        When something in it says nothing of a part.

    Examples
    --------
    >>> found = parse_spec("electrolytic 100 uF 250 V 105C 18x36 pitch 7.5")
    >>> round(found.value * 1e6), found.volts, found.celsius, found.across, found.pitch
    (100, 250.0, 105.0, 18.0, 7.5)
    """
    if len(text) > MOST:
        raise BenchLampError("Too long for one part", hint=f"Say it in {MOST} characters.")
    if match := _FUSE_CAP.fullmatch(text.strip()):
        amps = _figure(match[2]) * (1e-3 if match[3] else 1.0)
        speed = "slow" if match[1] == "T" else "fast"
        return PartSpec(kind=SpecKind.FUSE, amps=amps, speed=speed)
    left = [" ".join(text.replace("µ", "u").replace("μ", "u").split())]
    found: dict[str, object] = {}

    def cut(pattern: re.Pattern[str], take: Callable[[re.Match[str]], None]) -> None:
        match = pattern.search(left[0])
        if match is not None:
            take(match)
            left[0] = f"{left[0][: match.start()]} {left[0][match.end() :]}"

    cut(_PINS, lambda m: found.update(pins=tuple(re.split(r"[\s,/]+", m[1].strip().lower()))))
    cut(_TYPE, lambda m: found.update(type=m[1].upper()))
    cut(_HERTZ, lambda m: found.update(value=_figure(m[1], "Hz")))
    cut(_PACKAGE, lambda m: found.update(package=m[1].upper()))
    cut(_SIZE, lambda m: found.update(across=_figure(m[1]), tall=_figure(m[2])))
    for name, shape, unit in _FIGURES:
        share = {"tolerance": 0.01, "access": 1e-9}.get(name, 1.0)
        cut(
            re.compile(shape, re.IGNORECASE if name != "celsius" else 0),
            lambda m, name=name, unit=unit, share=share: found.update(
                {name: share * _figure(m[1], unit)}
            ),  # type: ignore[misc]
        )
    _take_words(left[0].replace(",", " ").split(), found, kind)
    spec = PartSpec(**found)  # type: ignore[arg-type]
    return replace(spec, kind=spec.kind or kind or _kind_of(spec, text))


def _take_words(words: list[str], found: dict[str, object], kind: SpecKind | None) -> None:
    rest = []
    for word in words:
        said = _said(word)
        found.update(said)
        if not said and word.lower() != "capacitor":
            rest.append(word)
    if rest:
        _take_rest(" ".join(rest), found, kind or found.get("kind"))  # type: ignore[arg-type]


def _said(word: str) -> dict[str, object]:
    """Return what one word says of a part; empty where it says nothing."""
    low, high = word.lower(), word.upper()
    if low in _WORDS:
        grade = {"grade": low} if low in {"zener", "schottky"} else {}
        return {"kind": _WORDS[low], **grade}
    if low in {"flameproof", "fusible"}:
        return {low: True}
    if high in SAFETY_CLASSES:
        return {"grade": high, "kind": SpecKind.SAFETY}
    if high in FAMILIES:
        return {"family": high}
    if high in DIELECTRICS:
        return {"grade": high}
    if low in ROLES:
        return {"role": low}
    return {"speed": low} if low in {"slow", "fast"} else {}


def _take_rest(text: str, found: dict[str, object], kind: SpecKind | None) -> None:
    """Take what is left: a value as it is marked, or a type."""
    if kind is not None and not kind.unit:
        found["type"] = text.upper()
        return
    try:
        marked = read_marking(text, kind.marked_as if kind is not None else None)[0]
    except MarkingError as exc:
        raise BenchLampError(f"“{text[:30]}” says nothing of a part", hint=exc.hint) from exc
    found["value"] = marked.value
    if marked.volts:
        found.setdefault("volts", marked.volts)
    if marked.tolerance is not None:
        found.setdefault("tolerance", max(marked.tolerance))
    if kind is None and marked.part is not PartClass.CAPACITOR:
        found["kind"] = SpecKind(marked.part.value)


def _kind_of(spec: PartSpec, text: str) -> SpecKind | None:
    if spec.speed and spec.amps and not spec.value:
        return SpecKind.FUSE
    if "hz" in text.lower() and spec.value:
        return SpecKind.CRYSTAL
    return None
