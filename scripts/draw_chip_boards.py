"""Draws the demo's planned boards, both sides, and the places on them: seeded, and plainly made up.

    python scripts/draw_chip_boards.py src/bench_lamp/resources/boards/pictures

prints what belongs into the profiles.
"""

import sys
from pathlib import Path

from board_plans import CLIP, PLANS, Plan
from draw_boards import COPPER, Board
from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QGuiApplication, QImage

LEG = 2.54


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


def plug(board: Board, plan: Plan, name: str) -> None:
    """Draw a connector with its contacts."""
    x, y, count, is_upright = plan.plugs[name]
    long = count * 4.0 + 3
    w, h = (8.0, long) if is_upright else (long, 8.0)
    board.fill("#d8d3c4")
    board.painter.drawRoundedRect(QRectF(x - w / 2, y - h / 2, w, h), 1, 1)
    for contact in range(count):
        cx, cy = plan.contact(f"{name}.{contact + 1}")
        board.fill("#6d6553")
        board.painter.drawRect(QRectF(cx - 1.1, cy - 1.1, 2.2, 2.2))
    if is_upright:
        board.words(x - 9 if x > plan.width / 2 else x + 9, y - h / 2 - 3, name)
    else:
        board.words(x, y + (-8 if y > plan.height / 2 else 8), name)


def can(board: Board, name: str, x: float, y: float, radius: float) -> None:
    """Draw an electrolytic from above, or a battery."""
    shades = ("#8a8f98", "#c3c8cf") if name.startswith("BT") else ("#2b3350", "#3d4870")
    board.fill("#14161b")
    board.disc(x + 0.8, y + 1.1, radius)
    board.fill(shades[0])
    board.disc(x, y, radius)
    board.fill(shades[1])
    board.disc(x, y, radius * 0.84)
    board.pen("#8f99bd", 0.4)
    for dx, dy in ((1, 0), (0, 1)):
        half = QPointF(dx * radius * 0.45, dy * radius * 0.45)
        board.painter.drawLine(QPointF(x, y) - half, QPointF(x, y) + half)
    board.words(x, y + radius + 3.6, name)


def fuse(board: Board, name: str, x: float, y: float) -> None:
    """Draw a fuse in its two clips."""
    board.fill("#b9b4a6")
    for side in (-1, 1):
        board.painter.drawRoundedRect(QRectF(x + side * CLIP - 2.5, y - 2.8, 5, 5.6), 1, 1)
    board.fill("#e9e4d4")
    board.painter.drawRoundedRect(QRectF(x - 7, y - 1.8, 14, 3.6), 1, 1)
    board.words(x, y + 6.5, name)


def block(board: Board, name: str, x: float, y: float, w: float, h: float) -> None:
    """Draw a bridge, a regulator with its tab, a trimmer, a strip."""
    if name.startswith("U"):
        board.fill("#9a9da3")
        board.painter.drawRect(QRectF(x - w / 2, y - h / 2 - 3, w, 4))
    shades = {"VR": "#b5542e", "RV": "#b5542e", "mo": "#a7a9a5"}
    board.fill(shades.get(name[:2], "#121316"))
    board.painter.drawRoundedRect(QRectF(x - w / 2, y - h / 2, w, h), 1, 1)
    if name.startswith("D") and w < 20:
        board.fill("#d9d9d4")
        board.painter.drawRect(QRectF(x + w / 3, y - h / 2, 1.2, h))
    board.words(x, y + h / 2 + 4, name)


def transistor(board: Board, name: str, x: float, y: float, *, is_low: bool) -> None:
    """Draw one of a row; its name stands lower for every other one."""
    board.fill("#17181b")
    board.painter.drawRect(QRectF(x - 3.4, y - 7, 6.8, 9))
    board.fill("#9a9da3")
    board.painter.drawRect(QRectF(x - 3.4, y - 10, 6.8, 3))
    board.words(x, y + (9.5 if is_low else 6), name, 2.4)


def small_parts(board: Board, plan: Plan) -> None:
    """Strew resistors and the like where there is room, in rows."""
    for _ in range(160):
        x = 8 * round(board.chance.uniform(20, plan.width - 20) / 8)
        y = 5 * round(board.chance.uniform(18, plan.height - 24) / 5)
        if plan.is_free(x, y):
            board.fill(board.chance.choice(("#b58a55", "#8a5a38", "#5f7f9a", "#a9824e")))
            board.painter.drawRoundedRect(QRectF(x - 2.8, y - 1.0, 5.6, 2.0), 0.9, 0.9)


def parts_side(plan: Plan, seed: int) -> QImage:
    """Draw the side with the parts."""
    board = Board(seed, is_solder=False, width=plan.width, height=plan.height)
    board.tracks([*plan.spots().values()], 70)
    board.holes(plan.holes())
    small_parts(board, plan)
    bodies = ((block, plan.blocks), (chip, plan.chips), (can, plan.cans), (fuse, plan.fuses))
    for draw, places in bodies:
        for name, at in places.items():
            draw(board, name, *at)
    for name in plan.plugs:
        plug(board, plan, name)
    for number, (name, (x, y)) in enumerate(plan.row.items()):
        transistor(board, name, x, y, is_low=number % 2 == 0)
    for name, (x, y) in plan.pads.items():
        board.fill(COPPER)
        board.disc(x, y, 1.8)
        if name.isupper() and not name.startswith("R"):
            board.words(x + 7, y, name, 2.4)
    board.words(plan.width - 52, plan.height - 6.5, plan.legend, 3.0)
    board.painter.end()
    return board.image


def solder_side(plan: Plan, seed: int) -> QImage:
    """Draw the other side: tracks and joints, mirrored."""
    board = Board(seed, is_solder=True, width=plan.width, height=plan.height)
    board.tracks([*plan.spots().values()], 80)
    board.holes(plan.holes())
    for x, y in plan.joints():
        board.fill("#a9a79c")
        board.disc(x, y, 1.0)
        board.fill("#dcdad0")
        board.disc(x - 0.25, y - 0.25, 0.45)
    board.painter.end()
    return board.image


def pictures(plan: Plan) -> list[str]:
    """Return the profile's lines for both sides."""
    size = f"board: {plan.key}, width_mm: {plan.width:g}, height_mm: {plan.height:g}"
    shares = [(x / plan.width, y / plan.height) for x, y in plan.holes()]
    common = ", ".join(f"{1 - x:.4f} {y:.4f}" for x, y in shares)
    on_parts = ", ".join(f"{x:.4f} {y:.4f}" for x, y in shares)
    file = f"{plan.kind}-{plan.key}"
    return [
        f"  - {{id: {plan.key}-parts, file: {file}-parts.png, side: parts, {size}}}",
        f"  - {{id: {plan.key}-solder, file: {file}-solder.png, side: solder, {size},",
        f'     common: "{common}",\n     on_parts: "{on_parts}"}}',
    ]


def main(folder: Path) -> None:
    """Write the pictures; print the profiles' lines."""
    _application = QGuiApplication([])
    for seed, plan in enumerate(PLANS, 38):
        for side, image in (("parts", parts_side(plan, seed)), ("solder", solder_side(plan, seed))):
            image.save(str(folder / f"{plan.kind}-{plan.key}-{side}.png"))
    for kind in dict.fromkeys(plan.kind for plan in PLANS):
        plans = [plan for plan in PLANS if plan.kind == kind]
        print(f"# {kind}\npictures:")
        print("\n".join(line for plan in plans for line in pictures(plan)))
        print("spots:")
        for plan in plans:
            for name, (x, y) in plan.spots().items():
                at = f"{round(x / plan.width, 4):g} {round(y / plan.height, 4):g}"
                print(f"  {name}: {{on: {plan.key}-parts, at: {at}}}")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
