"""Draws the demo's boards, both sides, and the places on them: seeded, and plainly made up.

    python scripts/draw_boards.py src/bench_lamp/resources/boards/pictures

prints what belongs into the profile; the pictures are named by what they show. The boards with
chips are in `draw_chip_boards.py`.
"""

import os
import random
import sys
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFont, QGuiApplication, QImage, QPainter, QPen

#: Pixels a millimetre.
SCALE = 7
WIDTH, HEIGHT = 230.0, 150.0
HOLES = ((7.0, 7.0), (223.0, 7.0), (223.0, 143.0), (7.0, 143.0))
GREEN, TRACK, COPPER, PRINT = "#1f4a34", "#2c6247", "#c98f4e", "#d9e2cf"

#: Fuses: name and middle; cans: name, middle, radius; blocks: name, middle, size.
FUSES = {"F2": (52, 16), "F3": (78, 16), "F4": (104, 16), "F5": (130, 16), "F6": (156, 16)}
CANS = {"C1": (38, 48, 16), "C2": (205, 76, 13), "C3": (176, 104, 12), "C4": (60, 104, 9)}
BLOCKS = {
    "BR1": (108, 44, 16, 14), "U1": (140, 44, 24, 10), "BR2": (176, 44, 16, 14),
    "BR3": (206, 112, 15, 13), "BR4": (34, 110, 18, 12), "U2": (84, 104, 18, 8), "VR1": (86, 118, 9, 3),
}  # fmt: skip
CONNECTORS = {
    "J5": (24, 138, 5),
    "J2": (66, 138, 8),
    "J6": (108, 138, 6),
    "J3": (152, 138, 9),
    "J4": (200, 138, 6),
}
PADS = {"A": (48, 88), "C": (191, 62), "E": (160, 120), "G": (130, 28), "H": (104, 116)}
PITCH = 4.0


def pins() -> dict[str, tuple[float, float]]:
    """Return the middle of each contact, by its name."""
    found = {}
    for name, (x, y, count) in CONNECTORS.items():
        for number in range(count):
            found[f"{name}.{number + 1}"] = (x + (number - (count - 1) / 2) * PITCH, float(y))
    return found


def spots() -> dict[str, tuple[float, float]]:
    """Return every place that the profile names, in millimetres."""
    found = {name: (float(x), float(y)) for name, (x, y) in (FUSES | PADS).items()}
    found |= {name: (float(x), float(y)) for name, (x, y, *_) in (CANS | BLOCKS).items()}
    at = pins()
    wanted = ("J2.4", "J6.2", "J3.5", "J3.8", "J4.1", "J5.1")
    found |= {name: at[name] for name in wanted}
    found |= {name: (float(x), float(y)) for name, (x, y, _) in CONNECTORS.items()}
    lead = CANS["C1"]
    found |= {
        "B": (lead[0] + 5.0, lead[1] + 0.0),
        "P": (FUSES["F2"][0] - 8.0, FUSES["F2"][1] + 0.0),
        "Q": (FUSES["F4"][0] - 8.0, FUSES["F4"][1] + 0.0),
        "K": (BLOCKS["VR1"][0] - 5.5, BLOCKS["VR1"][1] + 0.0),
        "D": at["J3.5"],
        "D2": at["J3.8"],
        "frame": (4.5, 62.0),
        "display_return": at["J5.4"],
        "logic_lug": (BLOCKS["BR1"][0] - 6.0, BLOCKS["BR1"][1] - 5.0),
        "lamp_lug": (BLOCKS["BR2"][0] - 6.0, BLOCKS["BR2"][1] - 5.0),
        "light_return": at["J4.6"],
    }
    return found


class Board:
    """A painter in millimetres."""

    def __init__(
        self, seed: int, *, is_solder: bool, width: float = WIDTH, height: float = HEIGHT
    ) -> None:
        self.image = QImage(int(width * SCALE), int(height * SCALE), QImage.Format.Format_RGB32)
        self.chance, self.is_solder = random.Random(seed), is_solder
        self.painter = QPainter(self.image)
        self.painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.painter.fillRect(self.image.rect(), QColor(GREEN))
        self.painter.scale(SCALE, SCALE)
        if is_solder:
            self.painter.translate(width, 0)
            self.painter.scale(-1, 1)

    def pen(self, colour: str, width: float = 0.3) -> None:
        self.painter.setPen(
            QPen(QColor(colour), width, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap)
        )

    def fill(self, colour: str) -> None:
        self.painter.setPen(Qt.PenStyle.NoPen)
        self.painter.setBrush(QColor(colour))

    def disc(self, x: float, y: float, radius: float) -> None:
        self.painter.drawEllipse(QPointF(x, y), radius, radius)

    def words(self, x: float, y: float, text: str, size: float = 3.2) -> None:
        if self.is_solder:
            return
        font = QFont("IBM Plex Sans")
        font.setPointSizeF(size)
        self.painter.save()
        self.painter.setPen(QColor(PRINT))
        self.painter.translate(x, y)
        self.painter.scale(0.75, 0.75)
        self.painter.setFont(font)
        self.painter.drawText(QRectF(-70, -5, 140, 10), int(Qt.AlignmentFlag.AlignCenter), text)
        self.painter.restore()

    def tracks(self, places: list[tuple[float, float]], count: int = 90) -> None:
        """Draw wires between parts at right angles, wide where much flows."""
        for _ in range(count):
            (ax, ay), (bx, by) = self.chance.sample(places, 2)
            self.pen(
                TRACK if not self.is_solder else "#8f6a3c", self.chance.choice((0.6, 0.9, 1.6, 2.6))
            )
            bend = self.chance.uniform(0.2, 0.8)
            middle = ax + (bx - ax) * bend
            for one, other in (
                ((ax, ay), (middle, ay)),
                ((middle, ay), (middle, by)),
                ((middle, by), (bx, by)),
            ):
                self.painter.drawLine(QPointF(*one), QPointF(*other))

    def holes(self, holes: tuple[tuple[float, float], ...] = HOLES) -> None:
        for x, y in holes:
            self.fill(COPPER)
            self.disc(x, y, 4.2)
            self.fill("#0d0d0b")
            self.disc(x, y, 2.0)


def parts_side() -> QImage:
    """Draw the side with the parts."""
    board = Board(36, is_solder=False)
    board.tracks([*spots().values()])
    board.holes()
    board.fill("#cbb27a")
    board.painter.drawRect(QRectF(2, 46, 5, 32))
    board.words(17, 62, "FRAME", 2.4)
    for _ in range(46):
        x, y = board.chance.uniform(100, 150), board.chance.uniform(78, 124)
        board.fill(board.chance.choice(("#b58a55", "#8a5a38", "#5f7f9a")))
        board.painter.drawRoundedRect(QRectF(x, y, 6.2, 2.2), 1, 1)
    for name, (x, y) in FUSES.items():
        board.fill("#b9b4a6")
        board.painter.drawRoundedRect(QRectF(x - 10, y - 2.6, 20, 5.2), 1.5, 1.5)
        board.fill("#e9e4d4")
        board.painter.drawRoundedRect(QRectF(x - 6, y - 1.7, 12, 3.4), 1, 1)
        board.words(x, y + 6.5, name)
    for name, (x, y, radius) in CANS.items():
        board.fill("#14161b")
        board.disc(x + 1.0, y + 1.4, radius)
        board.fill("#2b3350")
        board.disc(x, y, radius)
        board.fill("#3d4870")
        board.disc(x, y, radius * 0.82)
        board.pen("#8f99bd", 0.5)
        board.painter.drawLine(QPointF(x - radius * 0.5, y), QPointF(x + radius * 0.5, y))
        board.painter.drawLine(QPointF(x, y - radius * 0.5), QPointF(x, y + radius * 0.5))
        board.words(x, y + radius + 4, name)
    board.fill("#3a3d40")
    board.painter.drawRect(QRectF(96, 33, 62, 2))
    for name, (x, y, w, h) in BLOCKS.items():
        board.fill("#101113" if name != "VR1" else "#b5542e")
        board.painter.drawRoundedRect(QRectF(x - w / 2, y - h / 2, w, h), 1, 1)
        board.words(x, y + h / 2 + 4, name)
    for name, (x, y, count) in CONNECTORS.items():
        width = count * PITCH + 3
        board.fill("#d8d3c4")
        board.painter.drawRoundedRect(QRectF(x - width / 2, y - 4, width, 8), 1, 1)
        board.words(x, y - 8, name)
    for x, y in pins().values():
        board.fill("#6d6553")
        board.painter.drawRect(QRectF(x - 1.1, y - 1.1, 2.2, 2.2))
    for name, (x, y) in PADS.items():
        board.fill(COPPER)
        board.disc(x, y, 2.2)
        board.words(x + 6, y, name)
    board.words(192, 19, "ORRERY NIGHTS  POWER  PB-3", 3.0)
    board.painter.end()
    return board.image


def solder_side() -> QImage:
    """Draw the other side: tracks and joints, mirrored."""
    board = Board(37, is_solder=True)
    board.tracks([*spots().values()])
    board.holes()
    board.fill("#cbb27a")
    board.painter.drawRect(QRectF(2, 46, 5, 32))
    joints = [*spots().values(), *pins().values()]
    joints += [(x + s * 8, y) for x, y in FUSES.values() for s in (-1, 1)]
    joints += [(x + s * 4, y) for x, y, _ in CANS.values() for s in (-1, 1)]
    joints += [(x + s * w / 2.4, y) for x, y, w, _ in BLOCKS.values() for s in (-1, 1)]
    for x, y in joints:
        board.fill("#a9a79c")
        board.disc(x, y, 1.7)
        board.fill("#dcdad0")
        board.disc(x - 0.4, y - 0.4, 0.7)
    board.painter.end()
    return board.image


def share(place: tuple[float, float], *, is_mirrored: bool = False) -> str:
    x = WIDTH - place[0] if is_mirrored else place[0]
    return f"{round(x / WIDTH, 4):g} {round(place[1] / HEIGHT, 4):g}"


def main(folder: Path) -> None:
    """Write the pictures; print the profile's lines."""
    _application = QGuiApplication([])
    folder.mkdir(parents=True, exist_ok=True)
    names = {"parts": "orrery-power-parts.png", "solder": "orrery-power-solder.png"}
    for side, image in (("parts", parts_side()), ("solder", solder_side())):
        image.save(str(folder / names[side]))
    on_parts = ", ".join(share(h) for h in HOLES)
    common = ", ".join(share(h, is_mirrored=True) for h in HOLES)
    size = f"width_mm: {WIDTH:g}, height_mm: {HEIGHT:g}"
    print("pictures:")
    print(f"  - {{id: power-parts, file: {names['parts']}, side: parts, board: power, {size}}}")
    print(f"  - {{id: power-solder, file: {names['solder']}, side: solder, board: power, {size},")
    print(f'     common: "{common}",\n     on_parts: "{on_parts}"}}')
    print("spots:")
    for name, place in spots().items():
        print(f"  {name}: {{on: power-parts, at: {share(place)}}}")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
