"""What chips, lanes and self-tests say of each other: parts, lines and supplies that must exist."""

import re
from collections.abc import Iterable, Iterator

from bench_lamp.board.blocks import block_inputs, block_outputs
from bench_lamp.board.naming import Loc, unknown_name
from bench_lamp.board.profile import Profile
from bench_lamp.board.self_tests import (
    BlinkStep,
    BlinkTest,
    Code,
    DisplayTest,
    MatrixTest,
    MemoryTest,
    ProgramTest,
    SelfTest,
    SettingsTest,
    Step,
    StepsTest,
)

#: Widest matrix and longest lane that can be drawn.
MOST_CELLS = 32


def check_logic(profile: Profile) -> Iterator[tuple[Loc, str]]:
    """Yield each contradiction as (path of the field, message with its mend)."""
    if not profile.chips and not profile.self_tests and not profile.lanes:
        return
    parts = profile.part_ids()
    lines = tuple({line for chip in profile.chips for line in chip.lines})
    for index, test in enumerate(profile.self_tests):
        here: Loc = ("self_tests", index)
        yield from _names(here, "part", _parts_of(test), parts)
        yield from _names(here, "signal line", _lines_of(test), lines)
        yield from _shape(here, test)
    for index, lane in enumerate(profile.lanes):
        yield from _names(("lanes", index, "lines"), "signal line", lane.lines, lines)
        if not 0 < len(lane.lines) <= MOST_CELLS:
            yield ("lanes", index, "lines"), f"a lane has 1 to {MOST_CELLS} bits"
    yield from _supplies(profile)
    yield from _images(profile, parts)


def _supplies(profile: Profile) -> Iterator[tuple[Loc, str]]:
    """Check the supplies that tests and chips name; without a power tree there is nothing to name."""
    nets = tuple({n for b in profile.power for n in (*block_inputs(b), *block_outputs(b))})
    named = [("self_tests", i, t.supply) for i, t in enumerate(profile.self_tests)]
    named += [("chips", i, c.supply) for i, c in enumerate(profile.chips)]
    for field, index, supply in named:
        if supply and nets:
            yield from _names((field, index, "supply"), "net", [supply], nets)


def _names(
    here: Loc, what: str, names: Iterable[str], known: tuple[str, ...]
) -> Iterator[tuple[Loc, str]]:
    for name in dict.fromkeys(names):
        if name not in known:
            yield here, unknown_name(what, name, known)


def _parts_of(test: SelfTest) -> list[str]:
    if isinstance(test, BlinkTest):
        return [*_parts(test.steps), *_parts(test.codes)]
    if isinstance(test, MemoryTest):
        return [chip for bank in test.banks for chip in bank.chips]
    if isinstance(test, MatrixTest):
        return [line.drive for line in (*test.rows, *test.columns) if line.drive]
    if isinstance(test, SettingsTest):
        return list(test.kept_by)
    if isinstance(test, ProgramTest):
        return _parts(test.codes)
    return _parts(test.steps) if isinstance(test, StepsTest) else []


def _parts(entries: Iterable[BlinkStep | Code | Step]) -> list[str]:
    return [part for entry in entries for part in entry.parts]


def _lines_of(test: SelfTest) -> list[str]:
    if isinstance(test, BlinkTest):
        return [*_lines(test.steps), *_lines(test.codes)]
    if isinstance(test, MemoryTest):
        selects = [bank.select for bank in test.banks if bank.select]
        return [*selects, *test.data, *test.address]
    if isinstance(test, MatrixTest):
        return [line.line for line in (*test.rows, *test.columns)]
    if isinstance(test, DisplayTest):
        return [n for display in test.displays for n in (*display.strobes, *display.segments)]
    if isinstance(test, ProgramTest):
        return _lines(test.codes)
    return _lines(test.steps) if isinstance(test, StepsTest) else []


def _lines(entries: Iterable[BlinkStep | Code | Step]) -> list[str]:
    return [line for entry in entries for line in entry.lines]


def _shape(here: Loc, test: SelfTest) -> Iterator[tuple[Loc, str]]:
    if isinstance(test, MemoryTest):
        yield from _memory_shape(here, test)
    elif isinstance(test, MatrixTest):
        yield from _matrix_shape(here, test)
    elif isinstance(test, DisplayTest):
        for number, display in enumerate(test.displays):
            if len(display.segments) != 7:
                yield (*here, "displays", number, "segments"), "name seven lines, a to g"


def _matrix_shape(here: Loc, test: MatrixTest) -> Iterator[tuple[Loc, str]]:
    for name in ("rows", "columns"):
        if not 0 < len(getattr(test, name)) <= MOST_CELLS:
            yield (*here, name), f"a matrix has 1 to {MOST_CELLS} of them"
    for cell in (*test.not_fitted, *test.ball, *test.names):
        if not _is_in(test, cell):
            yield here, f"“{cell}” is no cell; write row.column, both from 1, as 2.3"


def _memory_shape(here: Loc, test: MemoryTest) -> Iterator[tuple[Loc, str]]:
    widths = {len(bank.chips) for bank in test.banks}
    if len(widths) != 1 or not max(widths) <= MOST_CELLS:
        yield (*here, "banks"), f"every bank needs the same number of chips, 1 to {MOST_CELLS}"
        return
    width, letters = widths.pop(), "".join(test.letters.split())
    if letters and len(letters) != width * len(test.banks):
        yield (*here, "letters"), f"{len(letters)} letters for {width * len(test.banks)} chips"
    if test.data and len(test.data) != width:
        yield (*here, "data"), f"{len(test.data)} lines for {width} bits"


def _is_in(test: MatrixTest, cell: str) -> bool:
    match = re.fullmatch(r"(\d+)\.(\d+)", cell)
    if match is None:
        return False
    return 1 <= int(match[1]) <= len(test.rows) and 1 <= int(match[2]) <= len(test.columns)


def _images(profile: Profile, parts: tuple[str, ...]) -> Iterator[tuple[Loc, str]]:
    ids = tuple(image.id for image in profile.images)
    for index, image in enumerate(profile.images):
        here: Loc = ("images", index)
        yield from _names((*here, "part"), "part", [image.part], parts)
        yield from _names((*here, "odd"), "image", [image.odd] if image.odd else [], ids)
        if not 0 < image.size <= 16 * 1024 * 1024:
            yield (*here, "size"), "an image has 1 byte to 16 MiB"
        for name, digits in (("crc32", 8), ("sha1", 40)):
            value = getattr(image, name)
            if value and not re.fullmatch(rf"[0-9a-fA-F]{{{digits}}}", value):
                yield (*here, name), f"write {digits} hex digits"
        if image.file and not re.fullmatch(r"[\w-][\w.-]*", image.file):
            yield (*here, "file"), "name a file beside the profile, without a path"
