"""The map: a large photograph is drawn while it is dragged; a long round is ordered."""

import os
import random
import subprocess
import sys
from pathlib import Path

import pytest

from bench_lamp.board.map import Picture
from bench_lamp.board.pictures import read_picture, shipped_pictures
from bench_lamp.checks.board_map import Lit, LitMap
from bench_lamp.checks.route import shortest_round
from bench_lamp.desktop.decoding import decoded, smaller_ones
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.map_canvas import MapCanvas

#: 24 million pixels.
WIDTH, HEIGHT = 6000, 4000


@pytest.fixture(scope="module")
def sizes():
    """Return a photograph of 24 million pixels as a row of sizes."""
    place = shipped_pictures() / "orrery-power-parts.png"
    return smaller_ones(decoded(read_picture(place), place.name).scaled(WIDTH, HEIGHT))


@pytest.mark.parametrize("zoom", [0.12, 0.5, 1.0])
def test_a_frame_of_a_large_picture_while_it_is_dragged(benchmark, qapp, qtbot, sizes, zoom):
    """Wanted: 60 frames a second, 16 ms each."""
    look = Look()

    class Store:
        came = look.changed

        def get(self, file: str):
            return sizes

    store = Store()
    canvas = MapCanvas(look, store)
    qtbot.addWidget(canvas)
    canvas.resize(720, 470)
    lit = (Lit(name="D", kind="red", at=(0.6, 0.9)), Lit(name="frame", kind="black", at=(0.1, 0.4)))
    shown = LitMap(picture=Picture(id="x", file="x"), lit=lit, others={}, has_other_side=True)
    canvas.show_map(shown)
    canvas._zoom = zoom
    start = type(canvas._origin)(-100.0, -80.0)
    canvas._origin = start

    def drag() -> None:
        canvas._origin = canvas._origin + type(start)(-3.0, -2.0)
        canvas.grab()

    benchmark(drag)


def test_a_round_of_two_hundred_places(benchmark):
    """Wanted: under 50 ms."""
    chance = random.Random(3)
    places = [(chance.random() * 300, chance.random() * 200) for _ in range(200)]
    order = benchmark(shortest_round, places)
    assert sorted(order) == list(range(200))


def test_a_large_picture_becomes_a_row_of_sizes(benchmark, sizes):
    """In the worker's thread: it holds up nothing."""
    benchmark.pedantic(smaller_ones, args=(sizes[0],), rounds=3)


#: Loads the window's modules and one photograph, and says what the process needed at most, in MB.
MEMORY = """
import resource, sys
from PySide6.QtWidgets import QApplication
import bench_lamp.desktop.app
from bench_lamp.desktop.decoding import decoded, smaller_ones
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.map_canvas import MapCanvas
app = QApplication([])
sizes = smaller_ones(decoded(open(sys.argv[1], "rb").read(), "photograph"))
print(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss // 1024)
"""


def test_memory_of_a_large_picture(benchmark, sizes, tmp_path):
    """At most 300 MB for a photograph of 24 million pixels, the process with it."""
    place = tmp_path / "photograph.jpg"
    assert sizes[0].save(str(place))
    root = Path(__file__).parents[1]
    environment = {**os.environ, "PYTHONPATH": str(root / "src"), "QT_QPA_PLATFORM": "offscreen"}

    def measure() -> int:
        command = [sys.executable, "-c", MEMORY, str(place)]
        return int(subprocess.run(command, env=environment, capture_output=True, check=True).stdout)

    most = benchmark.pedantic(measure, rounds=1)
    benchmark.extra_info["most_MB"] = most
    assert most < 300
