"""The look: colours, fonts and sizes, for the chosen theme and text scale."""

from pathlib import Path

from PySide6.QtCore import QObject, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFont, QFontDatabase, QFontMetrics

from bench_lamp.desktop.tokens import ON_PAPER, THEMES, ThemeName

FAMILY = "IBM Plex Sans"
#: Sizes of wrapped words that are remembered.
KEPT_SIZES = 2000
SCALES = (1.0, 1.1, 1.25, 1.5, 1.75)
_WEIGHTS = {400: QFont.Weight.Normal, 500: QFont.Weight.Medium, 600: QFont.Weight.DemiBold}


def load_fonts() -> None:
    """Make the shipped fonts known to Qt; needs a QGuiApplication."""
    folder = Path(__file__).parents[1] / "resources" / "fonts"
    for name in ("400Regular", "500Medium", "600SemiBold"):
        QFontDatabase.addApplicationFont(str(folder / f"IBMPlexSans_{name}.ttf"))


class Look(QObject):
    """Colours by token, fonts by step, lengths by text scale. One for the whole window."""

    #: Theme or scale has changed: repaint and lay out again.
    changed = Signal()

    def __init__(self, theme: ThemeName = "lamp", scale: float = 1.0) -> None:
        super().__init__()
        self.theme: ThemeName = theme
        self.scale = scale
        #: Whether movement is wanted; off on request of the desktop, and in tests.
        self.moves = True
        self._fonts: dict[tuple[float, int, bool], QFont] = {}
        self._sizes: dict[tuple[str, tuple[float, int], int], QSize] = {}

    def set_theme(self, theme: ThemeName) -> None:
        """Change the theme."""
        self.theme = theme
        self.changed.emit()

    def set_scale(self, scale: float) -> None:
        """Change the size of all text; 1.0 is the design's own."""
        self.scale = min(max(scale, SCALES[0]), SCALES[-1])
        self._fonts.clear()
        self._sizes.clear()
        self.changed.emit()

    def step_scale(self, steps: int) -> None:
        """Go to the next larger or smaller text size."""
        nearest = min(range(len(SCALES)), key=lambda i: abs(SCALES[i] - self.scale))
        self.set_scale(SCALES[min(max(nearest + steps, 0), len(SCALES) - 1)])

    def colour(self, token: str, alpha: int = 255) -> QColor:
        """Return the colour of a token in the present theme."""
        colour = QColor(THEMES[self.theme][token])
        colour.setAlpha(alpha)
        return colour

    def ink(self, verdict: str) -> QColor:
        """Return a verdict's colour on the lit card."""
        return QColor(ON_PAPER.get(verdict, THEMES[self.theme]["ink"]))

    def font(self, pixels: float, weight: int = 400, *, names: bool = False) -> QFont:
        """Return the font of a step; `names` slashes the zero, for parts and nets."""
        key = (pixels, weight, names)
        if key not in self._fonts:
            font = QFont(FAMILY)
            font.setPixelSize(max(round(pixels * self.scale), 8))
            font.setWeight(_WEIGHTS[weight])
            font.setFeature(QFont.Tag("tnum"), 1)
            if names:
                font.setFeature(QFont.Tag("zero"), 1)
            self._fonts[key] = font
        return self._fonts[key]

    def wrapped_height(self, text: str, step: tuple[float, int], room: int) -> int:
        """Return how high wrapped words are."""
        return self.wrapped_size(text, step, room).height()

    def wrapped_size(self, text: str, step: tuple[float, int], room: int) -> QSize:
        """Return how large wrapped words are; a layout asks for the same ones many times.

        Wider than the room where a word does not fit into it.
        """
        key = (text, step, room)
        if key not in self._sizes:
            if len(self._sizes) > KEPT_SIZES:
                self._sizes.clear()
            metrics = QFontMetrics(self.font(*step))
            wrap = int(Qt.TextFlag.TextWordWrap)
            self._sizes[key] = metrics.boundingRect(0, 0, room, 4000, wrap, text).size()
        return self._sizes[key]

    def px(self, length: float) -> int:
        """Return a length that grows with the text."""
        return round(length * self.scale)

    def wide(self, length: float) -> int:
        """Return a width that grows with the text, but less than it."""
        return round(length * (1 + 0.55 * (self.scale - 1)))
