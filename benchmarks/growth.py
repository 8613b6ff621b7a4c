"""Draw how time and memory grow with nets times faults: `python -m benchmarks.growth FILE.png`."""

import os
import sys
import time
import tracemalloc

import numpy as np

from bench_lamp.bench.generate import generated_profile
from bench_lamp.board.condition import TestKind
from bench_lamp.circuit import compile_tree
from bench_lamp.reason.power.dictionary import build_dictionary
from bench_lamp.reason.power.engine import Engine
from bench_lamp.reason.power.posterior import observe, start
from bench_lamp.reason.values.tests import LIVE

WINDINGS = (2, 4, 8, 16, 30, 45)


def measured(windings: int) -> dict[str, float]:
    """Return size, seconds and megabytes for a generated board."""
    tree = compile_tree(generated_profile(windings, seed=3))
    assert tree is not None
    began = time.perf_counter()
    book = build_dictionary(tree)
    assert book is not None
    built = time.perf_counter() - began
    tracemalloc.start()
    engine = Engine.of(book, {})
    first = next(t for t in engine.menu.plain() if t.kind == TestKind.DC)
    prior = start(book)
    engine.ranker.rank(observe(prior, first, 5.0), LIVE)
    megabytes = tracemalloc.get_traced_memory()[1] / 1e6
    tracemalloc.stop()
    answers = sum(a.volts.nbytes + a.ripple.nbytes for a in book.answers.values()) / 1e6
    took = []
    for _ in range(5):
        now = time.perf_counter()
        engine.ranker.rank(observe(prior, first, 5.0), LIVE)
        took.append(time.perf_counter() - now)
    return {
        "size": tree.net_count * len(book.faults),
        "dictionary, s": built,
        "update and ranking, s": float(np.median(took)),
        "memory, GB": (megabytes + answers) / 1000,
    }


def main(path: str) -> None:
    """Measure every size and save the plot."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    import pyqtgraph as pg

    rows = [measured(n) for n in WINDINGS]
    for row in rows:
        print({name: round(value, 4) for name, value in row.items()})
    pg.mkQApp()
    pg.setConfigOptions(background="#FFFDF6", foreground="#231D15", antialias=True)
    plot = pg.PlotWidget()
    plot.resize(760, 420)
    plot.setLogMode(x=True, y=True)
    plot.setLabel("bottom", "nets × faults")
    plot.showGrid(x=True, y=True, alpha=0.25)
    plot.addLegend(offset=(20, 10))
    x = [row["size"] for row in rows]
    for name, colour in zip(list(rows[0])[1:], ("#B3400F", "#0E7463", "#1F5FA8"), strict=True):
        plot.plot(x, [row[name] for row in rows], pen=pg.mkPen(colour, width=2), symbol="o",
                  symbolSize=7, symbolBrush=colour, name=name)  # fmt: skip
    for side, powers in (("bottom", (3, 4, 5, 6)), ("left", (-3, -2, -1, 0, 1))):
        plot.getAxis(side).setTicks([[(power, f"{10.0**power:g}") for power in powers]])
    plot.setXRange(2.8, 5.9)
    plot.setYRange(-2.4, 0.6)
    plot.grab().save(path)


if __name__ == "__main__":
    main(sys.argv[1])
