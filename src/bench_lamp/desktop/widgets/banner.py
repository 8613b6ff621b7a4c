"""The line over the whole window: what is wrong with the journal, or has to be known."""

from PySide6.QtGui import QPalette

from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.words import Words


class Banner(Words):
    """Shows a line, or nothing."""

    def __init__(self, look: Look) -> None:
        super().__init__(look, 14, 600, "live ink", wrap=True)
        self._colours = look
        self.setContentsMargins(24, 6, 24, 6)

    def show_line(self, line: str, *, is_loud: bool) -> None:
        """Show a line: red where nothing can be logged; what is only to be known is not as loud."""
        self.setVisible(bool(line))
        if not line:
            return
        self.setText(line)
        ground = "live" if is_loud else "lamp"
        palette = self.palette()
        palette.setColor(QPalette.ColorRole.Window, self._colours.colour(ground))
        palette.setColor(QPalette.ColorRole.WindowText, self._colours.colour(f"{ground} ink"))
        self.setPalette(palette)
        self.setAutoFillBackground(True)
