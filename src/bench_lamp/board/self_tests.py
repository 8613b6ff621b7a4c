"""What a board can tell of itself: blinks, test programs, memory, matrices, displays, steps."""

from collections.abc import Mapping
from enum import StrEnum
from typing import Literal

from msgspec import field

from bench_lamp.board.written import FromFile, Lines, Seconds


class SelfTestKind(StrEnum):
    """What a board can tell of itself; the values are those of the profile's files."""

    BLINKS = "blinks"
    BEEPS = "beeps"
    PROGRAM = "program"
    MEMORY = "memory"
    SWITCHES = "switches"
    LAMPS = "lamps"
    DISPLAYS = "displays"
    COILS = "coils"
    SOUNDS = "sounds"
    HARNESS = "harness"
    SETTINGS = "settings"
    LANE = "lane"
    PINS = "pins"
    IMAGES = "images"


class Need(FromFile, frozen=True, kw_only=True):
    """What must be so before a test says anything: a good board fails without it."""

    id: str
    #: Asked as it stands: `coin door open`.
    text: str
    #: What a good board shows without it.
    without: str = ""


class Code(FromFile, frozen=True, kw_only=True):
    """A code that a test can show, with what it means."""

    #: As it is shown: `3`, `2-3`, `SLS`, `A`, `on`, `off`, `flicker`.
    code: str
    means: str
    #: Parts that it speaks of, the likeliest first.
    parts: tuple[str, ...] = ()
    #: Signal lines that it speaks of.
    lines: Lines = ()
    place: str = ""


class _Test(FromFile, frozen=True, kw_only=True):
    """What all self-tests have."""

    id: str
    name: str
    #: How it is started, and where it shows.
    how: str = ""
    place: str = ""
    needs: tuple[Need, ...] = ()
    #: Supply net without which it says nothing at all.
    supply: str = ""
    seconds: Seconds = 30.0


class BlinkStep(FromFile, frozen=True, kw_only=True):
    """What one more blink proves; when it does not come, these parts are suspected."""

    proves: str
    parts: tuple[str, ...] = ()
    lines: Lines = ()


class BlinkTest(_Test, frozen=True, kw_only=True):
    """A lamp that blinks, or a speaker that beeps, once for each step that went well."""

    kind: Literal["blinks", "beeps"]
    steps: tuple[BlinkStep, ...] = ()
    #: Patterns, and the lamp stuck on, stuck off or flickering.
    codes: tuple[Code, ...] = ()


class ProgramTest(_Test, frozen=True, kw_only=True):
    """A test ROM: it shows a code for what it found."""

    kind: Literal["program"]
    #: Socket that it goes into.
    socket: str = ""
    #: What is shown when all is well.
    good: str
    codes: tuple[Code, ...] = ()


class Bank(FromFile, frozen=True, kw_only=True):
    """A row of memory chips that are selected together."""

    id: str
    name: str
    #: Bit 0 first.
    chips: tuple[str, ...]
    #: Its select line.
    select: str = ""


class MemoryTest(_Test, frozen=True, kw_only=True):
    """Banks and bits of a memory, as they lie on the board."""

    kind: Literal["memory"]
    banks: tuple[Bank, ...]
    #: Data lines, bit 0 first; address lines of all banks.
    data: Lines = ()
    address: Lines = ()
    #: The code of each chip, bank by bank, bit 0 first: `ABCDEFGH IJKLMNOP`.
    letters: str = ""

    def cell_of(self, code: str) -> str:
        """Return the cell, as `2.5` (bank and bit, both from 1 and 0), of a shown code."""
        letters = "".join(self.letters.split())
        index = letters.find(code.strip().upper()) if len(code.strip()) == 1 else -1
        width = len(self.banks[0].chips)
        return f"{index // width + 1}.{index % width}" if index >= 0 else ""

    def letter_of(self, cell: str) -> str:
        """Return the code that the test shows for a cell; empty where it has none."""
        letters = "".join(self.letters.split())
        bank, _, bit = cell.partition(".")
        return letters[(int(bank) - 1) * len(self.banks[0].chips) + int(bit)] if letters else ""


class GridLine(FromFile, frozen=True, kw_only=True):
    """A row or column of a matrix: its signal line, and the connector pin that it leaves by."""

    line: str
    pin: str = ""
    #: Part that drives or reads it.
    drive: str = ""


class MatrixTest(_Test, frozen=True, kw_only=True):
    """Switches or lamps in rows and columns; cells are `row.column`, both from 1."""

    kind: Literal["switches", "lamps"]
    rows: tuple[GridLine, ...]
    columns: tuple[GridLine, ...]
    names: Mapping[str, str] = field(default_factory=dict)
    not_fitted: tuple[str, ...] = ()
    #: Cells that a ball works, and a finger does otherwise.
    ball: tuple[str, ...] = ()
    #: A cell's own part is this letter with its number: `S23`.
    letter: str = "S"
    #: Whether its test shows only the last switch that closed.
    last_closed: bool = False

    def cells(self) -> tuple[str, ...]:
        """Return the fitted cells, row by row."""
        both = (
            f"{r}.{c}"
            for r in range(1, len(self.rows) + 1)
            for c in range(1, len(self.columns) + 1)
        )
        return tuple(cell for cell in both if cell not in self.not_fitted)

    def part_of(self, cell: str) -> str:
        """Return the name of a cell's own switch or lamp."""
        return f"{self.letter}{cell.replace('.', '')}"


class Display(FromFile, frozen=True, kw_only=True):
    """One display: its digits' strobes and its segment lines; displays may share both."""

    id: str
    name: str
    #: One for each digit, the leftmost first.
    strobes: Lines
    #: Seven, a (top) to g (middle).
    segments: Lines


class DisplayTest(_Test, frozen=True, kw_only=True):
    """All displays showing eights, or counting."""

    kind: Literal["displays"]
    displays: tuple[Display, ...]


class Step(FromFile, frozen=True, kw_only=True):
    """One coil, sound or harness step."""

    id: str
    name: str
    parts: tuple[str, ...] = ()
    lines: Lines = ()
    fitted: bool = True
    #: Works without the processor too: it separates drive from logic.
    special: bool = False


class StepsTest(_Test, frozen=True, kw_only=True):
    """Coils, sounds or the steps of a test harness, one by one."""

    kind: Literal["coils", "sounds", "harness"]
    steps: tuple[Step, ...]


class SettingsTest(_Test, frozen=True, kw_only=True):
    """Whether settings survive a start, and what is to be set again afterwards."""

    kind: Literal["settings"]
    #: Parts that keep them.
    kept_by: tuple[str, ...] = ()
    set_again: tuple[str, ...] = ()


SelfTest = (
    BlinkTest | ProgramTest | MemoryTest | MatrixTest | DisplayTest | StepsTest | SettingsTest
)
