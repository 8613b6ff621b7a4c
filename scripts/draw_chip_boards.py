"""Draws the demo's boards with chips, their parts side, and the places on them: seeded, and plainly made up.

    python scripts/draw_chip_boards.py src/bench_lamp/resources/boards/pictures

prints what belongs into the profile.
"""

import sys
from dataclasses import dataclass
from pathlib import Path

from draw_boards import COPPER, Board
from PySide6.QtCore import QRectF
from PySide6.QtGui import QGuiApplication

#: Chips: middle, and pins; those of 22 pins and more are wide.
Chips = dict[str, tuple[float, float, int]]
LEG = 2.54


@dataclass(frozen=True)
class Plan:
    """What is on one board."""

    key: str
    legend: str
    width: float
    height: float
    chips: Chips
    #: Connectors: middle, contacts, and whether they stand upright.
    plugs: dict[str, tuple[float, float, int, bool]]
    pads: dict[str, tuple[float, float]]
    #: A can each: middle and radius.
    cans: dict[str, tuple[float, float, float]]
    #: Transistors in a row.
    row: dict[str, tuple[float, float]]

    def spots(self) -> dict[str, tuple[float, float]]:
        """Return every place that the profile names, in millimetres."""
        parts = {n: at[:2] for n, at in (self.chips | self.plugs | self.cans).items()}
        parts.pop("J1", None)  # The profile does not name it.
        return parts | self.pads | self.row

    def holes(self) -> tuple[tuple[float, float], ...]:
        """Return the corners' holes."""
        w, h = self.width - 7.0, self.height - 7.0
        return ((7.0, 7.0), (w, 7.0), (w, h), (7.0, h))


LOGIC = Plan(
    key="logic",
    legend="ORRERY NIGHTS  LOGIC  LB-7",
    width=200.0,
    height=160.0,
    chips={
        "IC1": (100, 84, 40), "IC2": (26, 116, 8), "IC3": (100, 54, 24), "IC4": (56, 54, 18),
        "IC5": (64, 126, 40), "IC6": (140, 126, 40), "IC7": (66, 25, 22), "Y1": (148, 84, 4),
    },
    plugs={"J1": (150, 12, 10, False)},
    pads={"L1": (168, 54)},
    cans={"BT1": (30, 26, 11)},
    row={},
)  # fmt: skip
DRIVER = Plan(
    key="driver",
    legend="ORRERY NIGHTS  DRIVER  DB-2",
    width=260.0,
    height=150.0,
    chips={
        "IC8": (38, 36, 18), "IC9": (76, 36, 20), "IC10": (122, 58, 20), "IC11": (168, 58, 20),
        "U14": (50, 92, 16), "U15": (130, 92, 16), "U16": (208, 92, 16),
    },
    plugs={"J8": (140, 13, 18, False), "J9": (247, 72, 18, True)},
    pads={"D1": (22, 62)},
    cans={},
    row={f"Q{n + 1}": (19.0 + n * 10.4, 124.0) for n in range(22)},
)  # fmt: skip


def chip(board: Board, name: str, x: float, y: float, pins: int) -> None:
    """Draw a chip with its legs, pin 1 lower left, as its notch says."""
    long, wide = pins / 2 * LEG, 13.0 if pins >= 22 else 6.6
    for side in (-1, 1):
        for leg in range(pins // 2):
            board.fill("#b9bcc0")
            at = x - long / 2 + (leg + 0.5) * LEG
            board.painter.drawRect(QRectF(at - 0.5, y + side * (wide / 2 + 0.7) - 0.9, 1.0, 1.8))
    board.fill("#121316")
    board.painter.drawRoundedRect(QRectF(x - long / 2, y - wide / 2, long, wide), 0.6, 0.6)
    board.fill("#2c2e33")
    board.painter.drawPie(QRectF(x - long / 2 - 1.4, y - 1.4, 2.8, 2.8), -90 * 16, 180 * 16)
    board.words(x, y + wide / 2 + 4.4, name)


def plug(board: Board, name: str, x: float, y: float, count: int, *, is_upright: bool) -> None:
    """Draw a connector with its contacts."""
    long = count * 4.0 + 3
    w, h = (8.0, long) if is_upright else (long, 8.0)
    board.fill("#d8d3c4")
    board.painter.drawRoundedRect(QRectF(x - w / 2, y - h / 2, w, h), 1, 1)
    for contact in range(count):
        along = (contact - (count - 1) / 2) * 4.0
        cx, cy = (x, y + along) if is_upright else (x + along, y)
        board.fill("#6d6553")
        board.painter.drawRect(QRectF(cx - 1.1, cy - 1.1, 2.2, 2.2))
    board.words(x - (9 if is_upright else 0), y + (0 if is_upright else 8), name)


def drawn(plan: Plan, seed: int) -> Board:
    """Draw the parts side of one board."""
    board = Board(seed, is_solder=False, width=plan.width, height=plan.height)
    board.tracks([*plan.spots().values()], 70)
    board.holes(plan.holes())
    for name, (x, y, pins) in plan.chips.items():
        chip(board, name, x, y, pins)
    for name, (x, y, count, is_upright) in plan.plugs.items():
        plug(board, name, x, y, count, is_upright=is_upright)
    for name, (x, y, radius) in plan.cans.items():
        board.fill("#8a8f98")
        board.disc(x, y, radius)
        board.fill("#c3c8cf")
        board.disc(x, y, radius * 0.86)
        board.words(x, y + radius + 4, name)
    for number, (name, (x, y)) in enumerate(plan.row.items()):
        board.fill("#17181b")
        board.painter.drawRect(QRectF(x - 3.4, y - 7, 6.8, 9))
        board.fill("#9a9da3")
        board.painter.drawRect(QRectF(x - 3.4, y - 10, 6.8, 3))
        board.words(x, y + (6 if number % 2 else 9.5), name, 2.4)
    for name, (x, y) in plan.pads.items():
        board.fill(COPPER)
        board.disc(x, y, 2.2)
        board.words(x + 6, y, name)
    board.words(plan.width - 52, plan.height - 6.5, plan.legend, 3.0)
    board.painter.end()
    return board


def main(folder: Path) -> None:
    """Write the pictures; print the profile's lines."""
    _application = QGuiApplication([])
    for seed, plan in ((38, LOGIC), (39, DRIVER)):
        file = f"orrery-{plan.key}-parts.png"
        drawn(plan, seed).image.save(str(folder / file))
        size = f"width_mm: {plan.width:g}, height_mm: {plan.height:g}"
        print(f"  - {{id: {plan.key}-parts, file: {file}, side: parts, board: {plan.key}, {size}}}")
        for name, (x, y) in plan.spots().items():
            at = f"{round(x / plan.width, 4):g} {round(y / plan.height, 4):g}"
            print(f"  {name}: {{on: {plan.key}-parts, at: {at}}}")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
