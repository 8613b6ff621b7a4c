"""Readings before and after as the ladder, drawn as SVG for paper."""

from xml.sax.saxutils import escape

from bench_lamp.board import TestPoint
from bench_lamp.case.case import Case
from bench_lamp.case.practice import practice_of
from bench_lamp.case.readings import judged
from bench_lamp.units import Band
from bench_lamp.views.ladder import position

#: Width of the drawing and of its track, height of a row, in pixels.
WIDTH, TRACK, LEFT, ROW = 720, 210, 230, 22
#: Room of a letter in the names, in pixels, rather too much than too little; and of one in bold.
LETTER, BOLD = 6.6, 8.2
INK, DIM, RULE = "#231D15", "#6A5E4C", "#DDD0B2"
COLOURS = {
    "within": "#0E7463", "edge": "#8A6D00", "low": "#1F5FA8", "high": "#B3400F", "absent": "#A8235F",
    "noisy": "#6440B0", "": DIM,
}  # fmt: skip


def ladder_svg(case: Case) -> str:
    """Return the points that were read, each on its limits: as it came hollow, as it leaves filled.

    Empty where nothing with limits was read.
    """
    points = [p for p in case.profile.test_points if p.design and case.state.first(p.id, p.mode)]
    if not points:
        return ""
    height = ROW * (len(points) + 1)
    names_at = min(max(BOLD * max(len(p.id) for p in points) + 8, 38), LEFT / 2)
    rows = "".join(_row(case, p, ROW * (n + 1), names_at) for n, p in enumerate(points))
    head = "".join(
        _text(x, 14, words, DIM, 11)
        for x, words in (
            (0, "point"), (LEFT, "limits"), (LEFT + TRACK + 16, "as it came"), (LEFT + TRACK + 150, "as it leaves"),
        )
    )  # fmt: skip
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{WIDTH}" height="{height}" '
        f'viewBox="0 0 {WIDTH} {height}" font-family="IBM Plex Sans, sans-serif">{head}{rows}</svg>'
    )


def _text(x: float, y: float, words: str, colour: str, size: int, weight: int = 400) -> str:
    return (
        f'<text x="{x:.1f}" y="{y:.1f}" font-size="{size}" font-weight="{weight}" '
        f'fill="{colour}">{escape(words)}</text>'
    )


def _cut(words: str, letters: float) -> str:
    """Return words with an ellipsis where they are longer than the room."""
    return words if len(words) <= letters else f"{words[: int(letters) - 1].rstrip()}…"


def _row(case: Case, point: TestPoint, y: float, names_at: float) -> str:
    middle, parts = y + ROW / 2, []
    point_id = _cut(point.id, names_at / BOLD)
    name = _cut(point.name, (LEFT - names_at - 8) / LETTER)
    parts.append(_text(0, middle + 4, point_id, INK, 12, 600))
    parts.append(_text(names_at, middle + 4, name, INK, 12))
    parts.append(_line(LEFT, LEFT + TRACK, middle, RULE))
    if point.design is not None:
        parts.append(_box(point, point.design, middle, 12, "none", DIM))
    practice = practice_of(case, point)
    if practice is not None:
        parts.append(_box(point, practice, middle, 6, RULE, "none"))
    first = case.state.first(point.id, point.mode)
    last = case.state.latest(point.id, point.mode)
    for reading, x, is_last in (
        (first, LEFT + TRACK + 16, False),
        (last, LEFT + TRACK + 150, True),
    ):
        if reading is None or (is_last and reading is first):
            continue
        found = judged(case, point, reading)
        colour = COLOURS[found.judgement.verdict]
        at = LEFT + TRACK * position(point, reading.value)
        fill = colour if is_last else "#FFFDF6"
        parts.append(
            f'<circle cx="{at:.1f}" cy="{middle:.1f}" r="4" fill="{fill}" stroke="{colour}"/>'
        )
        parts.append(_text(x, middle + 4, f"{found.text} {found.judgement.word}", colour, 12, 500))
    return "".join(parts)


def _line(left: float, right: float, y: float, colour: str) -> str:
    return f'<line x1="{left}" y1="{y}" x2="{right}" y2="{y}" stroke="{colour}"/>'


def _box(point: TestPoint, band: Band, middle: float, height: float, fill: str, stroke: str) -> str:
    low, high = sorted(LEFT + TRACK * position(point, v) for v in (band.low, band.high))
    return (
        f'<rect x="{low:.1f}" y="{middle - height / 2:.1f}" width="{max(high - low, 1):.1f}" '
        f'height="{height}" rx="2" fill="{fill}" stroke="{stroke}"/>'
    )
