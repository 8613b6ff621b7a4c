"""The screenshots of the docs: the main views, drawn from the demo, the same each time."""

import json
import os
import tempfile
import time
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path

from bench_lamp.desktop.screenshot_tools import Running, open_job, settle
from bench_lamp.desktop.screenshot_views import instruments_view, large_view, practice_view

#: The demo's moment: a Tuesday morning of the winter job.
MOMENT = datetime(2026, 11, 17, 12, 41, tzinfo=UTC)
_SCREEN = {
    "screens": [
        {
            "name": "bench",
            "x": 0,
            "y": 0,
            "width": 1280,
            "height": 800,
            "logicalDpi": 96,
            "logicalBaseDpi": 96,
            "dpr": 1,
        }
    ],
    "windowFrameMargins": False,
}


def take_screenshots(folder: Path, *, cache: Path, build: Callable[..., Running]) -> int:
    """Draw every main view into a folder as PNG; return the exit code."""
    os.environ["TZ"] = "UTC"
    time.tzset()
    with tempfile.TemporaryDirectory(prefix="bench-lamp-views-") as name:
        screen = Path(name) / "screen.json"
        screen.write_text(json.dumps(_SCREEN))
        os.environ["QT_QPA_PLATFORM"] = f"offscreen:configfile={screen}"
        from PySide6.QtWidgets import QApplication

        from bench_lamp.desktop.look import load_fonts

        application = QApplication([])
        load_fonts()
        folder.mkdir(parents=True, exist_ok=True)
        bench = build(Path(name), cache=cache, demo_at=MOMENT, clock=lambda: MOMENT)
        bench.window.look.moves = False
        bench.window.practice_folder = Path(name)
        bench.window.resize(1280, 800)
        bench.window.show()
        bench.start_store()
        try:
            for view, script in VIEWS.items():
                script(bench)
                settle(bench)
                bench.window.grab().save(str(folder / f"{view}.png"))
                print(f"{folder / view}.png")
        finally:
            bench.window.hands.stop()
            bench.stop()
            application.quit()
    return 0


def _type(bench: Running, text: str) -> None:
    """Type into the lit card without Enter."""
    bench.window.page.card.entry.field.setText(text)
    bench.window.page.card.typed.emit(text)


def _read(bench: Running, **values: str) -> None:
    for point, text in values.items():
        bench.session.look_at(point)
        bench.session.answer(text)
        settle(bench)


def _shelf(bench: Running) -> None:
    bench.session.go_shelf()


def _rails(bench: Running) -> None:
    bench.session.open_job("QH-017/1", "rails")
    _read(bench, P="9.4", L1="5.01", D1="5.02", Q="0.0", E="36.2", D2="36.1", G="7.2")
    settle(bench)
    _type(bench, "6.9")


def _trace(bench: Running) -> None:
    bench.session.go("trace")
    settle(bench)
    bench.session.look_at("F4")


def _map(bench: Running) -> None:
    """The board in the dark, light on where the two leads go."""
    open_job(bench, "QH-017/1", "rails")
    bench.session.look_at("D")
    bench.window.page.maps.toggle()


def _workshop(bench: Running) -> None:
    """A bench supply with its converters, one of them picked."""
    bench.session.describe("ruskel-36")
    bench.session.look_at("U2")


def _press(bench: Running, key: str) -> None:
    card = bench.window.page.card.card
    for choice in card.choices if card else ():
        if choice.key == key:
            bench.session.choose(choice)
            break
    settle(bench)


def _cold(bench: Running) -> None:
    """Five fuses toned, the row swept, and the chip's pins tapped but not yet logged."""
    open_job(bench, "QH-030/1", "cold", "discharged")
    settle(bench)
    for _ in range(5):
        _press(bench, "1")
    bench.session.answer("none")
    settle(bench)
    _type(bench, "1 10")


_WAKE = {
    "TP5": "5.8",
    "R5": "10.9",
    "AC5": "9.1",
    "AR": "17.2",
    "A5": "8.1",
    "G5": "5.06",
    "M5": "-5.02",
    "G12": "12.1",
}


def _wake(bench: Running) -> None:
    """Through the gates by keys and readings, to the one that stops."""
    open_job(bench, "QH-030/1", "wake", "discharged")
    settle(bench)
    while (card := bench.window.page.card.card) and card.title != "Gate failed: switch off":
        if card.entry is None:
            _press(bench, "1")
        else:
            bench.session.answer(_WAKE[card.entry.target])
            settle(bench)


def _intake(bench: Running) -> None:
    bench.session.open_job("QH-009/1", "intake")
    settle(bench)
    _type(bench, "5 C1")


def _swap(bench: Running) -> None:
    open_job(bench, "QH-004/2", "swap", "discharged")
    bench.session.begin_with({"part": "C4", "action": "replaced", "out": "100 µF 250 V"})


def _lanes(bench: Running) -> None:
    open_job(bench, "QH-041/1", "selftest")
    bench.session.look_at("lane:PA")


def _channels(bench: Running) -> None:
    open_job(bench, "QH-053/1", "trim")


def _memory(bench: Running) -> None:
    open_job(bench, "QH-033/1", "selftest")
    bench.session.look_at("memory")
    bench.session.answer("M")


def _prove(bench: Running) -> None:
    open_job(bench, "QH-004/2", "prove")


def _history(bench: Running) -> None:
    open_job(bench, "QH-058/2", "intake", "off")
    bench.window.page.toggle_history()
    settle(bench)


def _handback(bench: Running) -> None:
    open_job(bench, "QH-004/2", "handback", "off")


def _daylight(bench: Running) -> None:
    """The pocket sheet over the rails, in Daylight."""
    bench.window.run_command("large")
    for link in tuple(bench.window.hands.links):
        bench.window.hands.let_go(link)
    open_job(bench, "QH-017/1", "rails")
    bench.window.look.set_theme("daylight")
    bench.session.look_at("C1")
    bench.window.pocket.toggle()
    bench.window.pocket.sheet.open_sum("reservoir")


VIEWS: dict[str, Callable[[Running], None]] = {
    "shelf": _shelf,
    "rails": _rails,
    "trace": _trace,
    "history": _history,
    "cold": _cold,
    "wake": _wake,
    "selftest-lanes": _lanes,
    "trim-channels": _channels,
    "selftest-memory": _memory,
    "intake": _intake,
    "swap": _swap,
    "prove": _prove,
    "handback": _handback,
    "map": _map,
    "workshop": _workshop,
    "practice": practice_view,
    "instruments": instruments_view,
    "large": large_view,
    "pocket-daylight": _daylight,
}
