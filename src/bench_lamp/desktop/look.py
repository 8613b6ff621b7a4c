"""The look: colours, fonts and sizes, for the chosen theme and text scale."""

from pathlib import Path
from typing import Literal

from PySide6.QtCore import QObject, QSize, Qt, Signal
from PySide6.QtGui import QColor, QFont, QFontDatabase, QFontMetrics

ThemeName = Literal["lamp", "daylight"]

_PAPER = {"ink": "#231D15", "ink dim": "#6A5E4C", "rule": "#DDD0B2"}

THEMES: dict[ThemeName, dict[str, str]] = {
    "lamp": {
        "bench": "#1F1C19",
        "raised": "#292521",
        "groove": "#3D372F",
        "press": "#332D25",
        "text": "#EDE6D8",
        "dim": "#B5AB9A",
        "faint": "#857B6C",
        "paper": "#FBF3DE",
        **_PAPER,
        "caution": "#FBE1C3",
        "caution ink": "#7A2A05",
        "field": "#FFFCF2",
        "field edge": "#B4872E",
        "lamp": "#FFC65A",
        "lamp ink": "#231D15",
        "within": "#5CC2AE",
        "edge": "#E3D27A",
        "low": "#7FB4F0",
        "high": "#FF8A5C",
        "absent": "#F07BA8",
        "noisy": "#B79BF0",
        "live": "#FF6B4A",
        "live ink": "#1F1C19",
    },
    "daylight": {
        "bench": "#EFE9DC",
        "raised": "#E4DCCB",
        "groove": "#CBBFA8",
        "press": "#D9CFBA",
        "text": "#221D16",
        "dim": "#5A5042",
        "faint": "#857A68",
        "paper": "#FFFDF6",
        **_PAPER,
        "caution": "#FBE1C3",
        "caution ink": "#7A2A05",
        "field": "#FFFFFF",
        "field edge": "#A86A00",
        "lamp": "#A06400",
        "lamp ink": "#FFFDF6",
        "within": "#0E7463",
        "edge": "#7C6200",
        "low": "#1F5FA8",
        "high": "#B3400F",
        "absent": "#A8235F",
        "noisy": "#6440B0",
        "live": "#C8321A",
        "live ink": "#FFFDF6",
    },
}

#: On the lit card, verdicts need darker inks than on the bench, in both themes.
ON_PAPER = {
    "within": "#0A5448",
    "edge": "#5E4A00",
    "low": "#17477E",
    "high": "#7C2A07",
    "absent": "#861749",
    "noisy": "#4C2F8C",
}

FAMILY = "IBM Plex Sans"
#: Sizes of wrapped words that are remembered.
KEPT_SIZES = 2000
#: Text from this size on, in pixels, grows half as much: it is read at arm's length as it is.
LARGE = 24
#: The window that the design is drawn for, and how far text grows in a larger one.
DRAWN_FOR, MOST_ROOM, ROOM_STEP = (1280, 800), 1.6, 0.1
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
        #: Text scale as it was chosen, and what a larger window adds to it.
        self.scale, self.room = scale, 1.0
        #: Whether movement is wanted; off on request of the desktop, and in tests.
        self.moves = True
        self._fonts: dict[tuple[float, int, bool], QFont] = {}
        self._sizes: dict[tuple[str, tuple[float, int], int], QSize] = {}
        self._colours: dict[tuple[str, str, int], QColor] = {}
        self._elided: dict[tuple[str, str, int], str] = {}

    def set_theme(self, theme: ThemeName) -> None:
        """Change the theme."""
        self.theme = theme
        self.changed.emit()

    def set_scale(self, scale: float) -> None:
        """Change the size of all text; 1.0 is the design's own."""
        self.scale = min(max(scale, SCALES[0]), SCALES[-1])
        self._lay_out_again()

    def fit_window(self, width: int, height: int) -> None:
        """Let all text grow with a window larger than the design's, in steps."""
        least = min(width / DRAWN_FOR[0], height / DRAWN_FOR[1], MOST_ROOM)
        room = max(int(least / ROOM_STEP + 1e-6) * ROOM_STEP, 1.0)
        if room != self.room:
            self.room = room
            self._lay_out_again()

    def _lay_out_again(self) -> None:
        self._fonts.clear()
        self._sizes.clear()
        self.changed.emit()

    def step_scale(self, steps: int) -> None:
        """Go to the next larger or smaller text size."""
        nearest = min(range(len(SCALES)), key=lambda i: abs(SCALES[i] - self.scale))
        self.set_scale(SCALES[min(max(nearest + steps, 0), len(SCALES) - 1)])

    def colour(self, token: str, alpha: int = 255) -> QColor:
        """Return the colour of a token in the present theme; it is shared, and never changed."""
        return self._colour(self.theme, token, alpha)

    def on_dark(self, token: str) -> QColor:
        """Return a token's colour on a ground that is dark in both themes, as a board's picture."""
        return self._colour("lamp", token, 255)

    def _colour(self, theme: ThemeName, token: str, alpha: int) -> QColor:
        key = (theme, token, alpha)
        if key not in self._colours:
            colour = QColor(THEMES[theme][token])
            colour.setAlpha(alpha)
            self._colours[key] = colour
        return self._colours[key]

    def elided(self, text: str, font: QFont, room: int) -> str:
        """Return what of a line fits; the same lines are drawn again and again."""
        key = (text, font.key(), room)
        if key not in self._elided:
            if len(self._elided) > KEPT_SIZES:
                self._elided.clear()
            metrics = QFontMetrics(font)
            self._elided[key] = metrics.elidedText(text, Qt.TextElideMode.ElideRight, room)
        return self._elided[key]

    def ink(self, verdict: str) -> QColor:
        """Return a verdict's colour on the lit card."""
        return QColor(ON_PAPER.get(verdict, THEMES[self.theme]["ink"]))

    def font(self, pixels: float, weight: int = 400, *, names: bool = False) -> QFont:
        """Return the font of a step; `names` slashes the zero, for parts and nets."""
        key = (pixels, weight, names)
        if key not in self._fonts:
            font = QFont(FAMILY)
            growth = 0.5 if pixels >= LARGE else 1.0
            size = pixels * self.room * (1 + growth * (self.scale - 1))
            font.setPixelSize(max(round(size), 8))
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
        return round(length * self.room * self.scale)

    def wide(self, length: float) -> int:
        """Return a width that grows with the text, but less than it."""
        return round(length * self.room * (1 + 0.6 * (self.scale - 1)))
