"""What a linked meter shows over the last minute, drawn as it comes."""

import math
from collections import deque
from typing import Any

from PySide6.QtWidgets import QLabel, QVBoxLayout, QWidget

from bench_lamp.desktop.look import Look
from bench_lamp.instrument.sample import UNITS, Sample

#: Seconds that are shown, and samples at the most: a fast meter's are thinned out.
SHOWN_S, MOST = 60.0, 1500
#: Room above and below the curve, as a share of its value, at the least.
LEAST_ROOM = 0.02


class LivePlot(QWidget):
    """A curve of values over time; the plotting library comes when it is first shown."""

    def __init__(self, look: Look, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._look = look
        self._box = QVBoxLayout(self)
        self._box.setContentsMargins(8, 0, 24, 0)
        self.words = QLabel("")
        self._box.addWidget(self.words)
        self._plot: Any = None
        self._curve: Any = None
        self._mode = ""
        self._samples: deque[Sample] = deque()
        look.changed.connect(self._apply)
        self.hide()

    def begin(self, library: Any) -> None:
        """Take the plotting library, which was loaded in another thread."""
        if self._plot is not None:
            return
        self._plot = library.PlotWidget()
        self._plot.setMenuEnabled(False)
        self._plot.setMouseEnabled(x=False, y=False)
        self._plot.hideButtons()
        self._curve = self._plot.plot()
        self._box.addWidget(self._plot, 1)
        self._apply()

    def add(self, sample: Sample) -> None:
        """Show one more value; another mode begins anew."""
        if sample.mode != self._mode:
            self._mode = sample.mode
            self._samples.clear()
        if self._samples and sample.at <= self._samples[-1].at:
            return
        if self._samples and sample.at - self._samples[-1].at < SHOWN_S / MOST:
            return
        self._samples.append(sample)
        while self._samples[0].at < sample.at - SHOWN_S:
            self._samples.popleft()
        self._draw()

    def forget(self) -> None:
        """Show another meter from now on."""
        self._samples.clear()
        self._mode = ""
        self._draw()

    def _draw(self) -> None:
        known = [s for s in self._samples if not math.isinf(s.value)]
        self.setVisible(bool(known) and self._plot is not None)
        if not known or self._curve is None:
            return
        now, unit = known[-1].at, UNITS.get(self._mode, "")
        values = [s.value for s in known]
        self._curve.setData([s.at - now for s in known], values)
        self._plot.setXRange(-SHOWN_S, 0, padding=0)
        self._plot.setLabel("left", unit)
        self._plot.setLabel("bottom", "s")
        low, high = min(values), max(values)
        # A value that stands still is a line, and not its last digit magnified.
        room = max(0.1 * (high - low), LEAST_ROOM * max(abs(low), abs(high)), 1e-6)
        self._plot.setYRange(low - room, high + room, padding=0)
        said = f"the last {now - known[0].at:.0f} s: {low:.4g} to {high:.4g} {unit}"
        self.words.setText(said)
        self.setAccessibleName(said)

    def _apply(self) -> None:
        look = self._look
        self.words.setFont(look.font(13, 500))
        self.words.setStyleSheet(f"color: {look.colour('dim').name()};")
        if self._plot is None:
            return
        self._plot.setBackground(look.colour("raised"))
        self._curve.setPen(look.colour("lamp"), width=2)
        for side in ("left", "bottom"):
            axis = self._plot.getAxis(side)
            axis.setPen(look.colour("groove"))
            axis.setTextPen(look.colour("dim"))
            axis.setTickFont(look.font(12, 400))
