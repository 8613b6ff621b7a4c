"""Lines of text that a hand-held meter streams: their pattern is learnt from three samples and what was shown.

A line is cut into words and figures. What stays the same in all samples must stay the same; where a word
changes with what was shown, the words that were seen there are the only ones that are known. Anything else
is no reading.
"""

import re
from collections.abc import Mapping, Sequence

import msgspec
from msgspec import Struct

from bench_lamp.instrument.display import MOST_LINE, sample_of, scaled
from bench_lamp.instrument.sample import DeviceError, Sample

#: Samples that a pattern is learnt from, at the least.
LEAST = 3
_PART = re.compile(
    r"[+-]?(?:\d+\.\d*|\.\d+|\d+)|[+-]?(?:O\.L|OL)|[A-Za-zµμΩ~%°]+|[^\sA-Za-z0-9µμΩ~%°.+-]|[+-]"
)
_FIGURE = re.compile(r"[+-]?(?:\d+\.\d*|\.\d+|\d+|O\.L|OL)")


class Meaning(Struct, frozen=True):
    """What the changing words of a line mean: a mode, and what a figure is multiplied by, as power of ten."""

    mode: str
    power: int


class TaughtLines(Struct, frozen=True, kw_only=True):
    """How a meter writes its lines."""

    #: Parts of a line: a text that must be there, `#` for the figure, `*` for a word that changes.
    parts: tuple[str, ...]
    #: What the changing words mean, joined by a space.
    meanings: Mapping[str, Meaning]

    def to_text(self) -> str:
        """Return it as one line, for the settings."""
        return msgspec.json.encode(self).decode()

    @classmethod
    def from_text(cls, text: str) -> "TaughtLines":
        """Read one again; raise `DeviceError` when it is none."""
        try:
            return msgspec.json.decode(text, type=cls)
        except (msgspec.DecodeError, RecursionError) as exc:
            raise DeviceError("The taught pattern cannot be read", hint="Teach it anew.") from exc

    def read(self, line: str, at: float) -> Sample:
        """Return what a line shows; raise `DeviceError` for one that is not wholly known."""
        found = _parts(line)
        if len(found) != len(self.parts):
            raise _unknown(line)
        figure, words = "", []
        for part, wanted in zip(found, self.parts, strict=True):
            if wanted == "#" and _FIGURE.fullmatch(part):
                figure = part
            elif wanted == "*":
                words.append(part)
            elif part != wanted:
                raise _unknown(line)
        meaning = self.meanings.get(" ".join(words))
        if meaning is None or not figure:
            raise _unknown(line)
        plain = scaled(figure.replace("O.L", "OL"), "", meaning.mode, at)
        digit = float(f"{plain.resolution:g}e{meaning.power}") if plain.resolution else 0.0
        value = plain.value if plain.is_over else float(f"{figure}e{meaning.power}")
        return Sample(at=at, mode=meaning.mode, value=value, resolution=digit, flags=plain.flags)


def teach(samples: Sequence[tuple[str, str]]) -> TaughtLines:
    """Learn a pattern from lines and what the display showed meanwhile.

    Raises
    ------
    DeviceError
        With fewer than three samples, or when they contradict each other.

    >>> pattern = teach([("DC 5.081 V", "5.081 V"), ("DC 12.00 V", "12.00 V"), ("DC 450.1 mV", "450.1 mV")])
    >>> pattern.parts, pattern.read("DC -0.10 mV", 0.0).value
    (('DC', '#', '*'), -0.0001)
    """
    if len(samples) < LEAST:
        raise DeviceError("A pattern is learnt from three lines", hint="Take different readings.")
    lines = [_parts(line) for line, _ in samples]
    shown = [sample_of(text, 0.0) for _, text in samples]
    if len({len(parts) for parts in lines}) != 1:
        raise DeviceError(
            "The lines differ in their number of words", hint="Take them in one mode."
        )
    at = _figure_at(lines, shown)
    parts, changing = [], []
    for number, column in enumerate(zip(*lines, strict=True)):
        if number == at:
            parts.append("#")
        elif len(set(column)) == 1 and not _FIGURE.fullmatch(column[0]):
            parts.append(column[0])
        else:
            parts.append("*")
            changing.append(number)
    meanings: dict[str, Meaning] = {}
    for line, seen in zip(lines, shown, strict=True):
        words = " ".join(line[n] for n in changing)
        meaning = Meaning(seen.mode, _power(line[at], seen))
        if meanings.setdefault(words, meaning) != meaning:
            raise DeviceError(
                "Two lines with the same words were shown differently",
                hint="Read the display again.",
            )
    return TaughtLines(parts=tuple(parts), meanings=meanings)


def _parts(line: str) -> list[str]:
    if len(line) > MOST_LINE:
        raise _unknown(line)
    return _PART.findall(line)


def _figure_at(lines: Sequence[Sequence[str]], shown: Sequence[Sample]) -> int:
    """Return which part is the figure: where each line's, times a power of ten, is what was shown."""
    for number in range(len(lines[0])):
        if all(
            _FIGURE.fullmatch(line[number]) and _fits(line[number], seen)
            for line, seen in zip(lines, shown, strict=True)
        ):
            return number
    raise DeviceError(
        "None of the figures is what the display showed", hint="Type it as shown: 5.081 V."
    )


def _fits(figure: str, seen: Sample) -> bool:
    try:
        _power(figure, seen)
    except DeviceError:
        return False
    return True


def _power(figure: str, seen: Sample) -> int:
    """Return the power of ten between a written figure and what was shown."""
    is_over = "L" in figure
    if is_over or seen.is_over:
        if is_over and seen.is_over:
            return 0
        raise _unknown(figure)
    for power in (0, -3, 3, -6, 6, -9, 9, -12, -1, -2, 1, 2, -4, -5):
        if float(f"{figure}e{power}") == seen.value and seen.value:
            return power
    raise _unknown(figure)


def _unknown(line: str) -> DeviceError:
    return DeviceError(f"“{line.strip()[:40]}” is no line of this meter", hint="It is not logged.")
