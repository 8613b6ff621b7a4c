"""How soon the demo is on the screen, beside an empty PySide6 window, in one run."""

import os
import statistics
import subprocess
import sys
import time
from pathlib import Path

ROOT = Path(__file__).parents[1]
EMPTY = """
from PySide6.QtWidgets import QApplication, QWidget
from PySide6.QtCore import QTimer
class Window(QWidget):
    def paintEvent(self, event):
        QTimer.singleShot(0, lambda: (print("painted", flush=True), app.quit()))
app = QApplication([])
window = Window()
window.resize(1280, 800)
window.show()
app.exec()
"""
#: Counted from the start of the interpreter to the first paint of the whole demo job.
DEMO = "import sys; from bench_lamp.__main__ import main; sys.exit(main(['--demo', '--stop-at-paint']))"


def seconds(code: str, environment: dict[str, str]) -> float:
    """Return the time from starting the interpreter to the first paint."""
    start = time.perf_counter()
    process = subprocess.Popen(
        [sys.executable, "-c", code], env=environment, stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL, text=True,
    )  # fmt: skip
    with process:
        assert process.stdout is not None
        assert process.stdout.readline() == "painted\n"
        return time.perf_counter() - start


def test_first_paint_of_the_demo(benchmark, tmp_path):
    """At most two and a half times an empty window; the two are run in turn, and their medians compared."""
    environment = {
        **os.environ, "PYTHONPATH": str(ROOT / "src"), "XDG_CACHE_HOME": str(tmp_path),
        "QT_QPA_PLATFORM": "offscreen",
    }  # fmt: skip
    seconds(DEMO, environment)
    pairs = [(seconds(EMPTY, environment), seconds(DEMO, environment)) for _ in range(9)]
    benchmark.pedantic(seconds, args=(DEMO, environment), rounds=3)
    ratio = statistics.median(demo / empty for empty, demo in pairs)
    benchmark.extra_info["ratio_to_an_empty_window"] = round(ratio, 2)
    benchmark.extra_info["empty_window_s"] = round(statistics.median(e for e, _ in pairs), 3)
    assert ratio <= 2.5, f"{ratio:.2f} times an empty window"
