"""The screenshots of the docs: the main views, drawn from the demo, the same each time."""

import json
import os
import tempfile
import time
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path
from typing import Any, Protocol

from bench_lamp.desktop.session import Session
from bench_lamp.instrument.device import Address
from bench_lamp.instrument.sample import Identity, Sample
from bench_lamp.journal.events import Power, PowerConfirmed
from bench_lamp.journal.state import OHMS_V

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


class Running(Protocol):
    """The running program, as far as the views need it."""

    session: Session
    #: The window; what a view presses and types is named in its script.
    window: Any

    def start_store(self) -> None:
        """Open the journal."""
        ...

    def stop(self) -> None:
        """Stop what runs."""
        ...


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
                _settle(bench)
                bench.window.grab().save(str(folder / f"{view}.png"))
                print(f"{folder / view}.png")
        finally:
            bench.window.hands.stop()
            bench.stop()
            application.quit()
    return 0


def _settle(bench: Running) -> None:
    """Let every queued append, fold and layout happen."""
    from PySide6.QtCore import QEventLoop, QTimer

    quiet = 0
    for _ in range(100):
        loop = QEventLoop()
        QTimer.singleShot(60, loop.quit)
        loop.exec()
        is_busy = bench.session.is_waiting or bench.session.reasoning.is_busy
        is_busy = is_busy or not bench.session.journal.is_loaded
        # The history comes a moment after the odds, and is laid out after that.
        quiet = 0 if is_busy else quiet + 1
        if quiet > 2:
            return


def _type(bench: Running, text: str) -> None:
    """Type into the lit card without Enter."""
    bench.window.page.card.entry.field.setText(text)
    bench.window.page.card.typed.emit(text)


def _read(bench: Running, **values: str) -> None:
    for point, text in values.items():
        bench.session.look_at(point)
        bench.session.answer(text)
        _settle(bench)


def _open(bench: Running, job: str, stage: str, power: Power = "live") -> None:
    """Open a job and confirm the state of its board."""
    bench.session.open_job(job, stage)
    below = OHMS_V if power == "discharged" else None
    bench.session.say((PowerConfirmed(power=power, below=below),))
    _settle(bench)


def _shelf(bench: Running) -> None:
    bench.session.go_shelf()


def _rails(bench: Running) -> None:
    bench.session.open_job("QH-017/1", "rails")
    _read(bench, P="9.4", L1="5.01", D1="5.02", Q="0.0", E="36.2", D2="36.1", G="7.2")
    _settle(bench)
    _type(bench, "6.9")


def _trace(bench: Running) -> None:
    bench.session.go("trace")
    _settle(bench)
    bench.session.look_at("F4")


def _map(bench: Running) -> None:
    """The board in the dark, light on where the two leads go."""
    _open(bench, "QH-017/1", "rails")
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
    _settle(bench)


def _cold(bench: Running) -> None:
    """Five fuses toned, the row swept, and the chip's pins tapped but not yet logged."""
    _open(bench, "QH-030/1", "cold", "discharged")
    _settle(bench)
    for _ in range(5):
        _press(bench, "1")
    bench.session.answer("none")
    _settle(bench)
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
    _open(bench, "QH-030/1", "wake", "discharged")
    _settle(bench)
    while (card := bench.window.page.card.card) and card.title != "Gate failed: switch off":
        if card.entry is None:
            _press(bench, "1")
        else:
            bench.session.answer(_WAKE[card.entry.target])
            _settle(bench)


def _intake(bench: Running) -> None:
    bench.session.open_job("QH-009/1", "intake")
    _settle(bench)
    _type(bench, "5 C1")


def _swap(bench: Running) -> None:
    _open(bench, "QH-004/2", "swap", "discharged")
    bench.session.begin_with({"part": "C4", "action": "replaced", "out": "100 µF 250 V"})


def _lanes(bench: Running) -> None:
    _open(bench, "QH-041/1", "selftest")
    bench.session.look_at("lane:PA")


def _channels(bench: Running) -> None:
    _open(bench, "QH-053/1", "trim")


def _memory(bench: Running) -> None:
    _open(bench, "QH-033/1", "selftest")
    bench.session.look_at("memory")
    bench.session.answer("M")


def _prove(bench: Running) -> None:
    _open(bench, "QH-004/2", "prove")


def _history(bench: Running) -> None:
    _open(bench, "QH-058/2", "intake", "off")
    bench.window.page.toggle_history()
    _settle(bench)


def _handback(bench: Running) -> None:
    _open(bench, "QH-004/2", "handback", "off")


def _practice(bench: Running) -> None:
    """The lessons, two of them done."""
    from bench_lamp.practice.lessons import LESSONS, Progress, keep_progress, with_run

    bench.session.describe()
    bench.window.page.maps.toggle()
    done = with_run(Progress(), LESSONS[0].title, 13.0, 0)
    keep_progress(bench.window.practice_folder, with_run(done, LESSONS[1].title, 22.0, 1))
    bench.window.run_command("practice")


class _Shown:
    """A meter that always shows the same; implements `Device`."""

    modes = frozenset({"dc V"})

    def __init__(self, value: float) -> None:
        self._value = value

    def identify(self) -> Identity:
        return Identity(name="Hearthwell 60")

    def read(self, mode: str) -> Sample:
        time.sleep(0.02)
        return Sample(at=time.monotonic(), mode=mode, value=self._value, resolution=0.01)

    def close(self) -> None:
        return


def _instruments(bench: Running) -> None:
    """A meter on volts with its limits and leads, and one that is looked for."""
    bench.window.run_command("practice")
    hands = bench.window.hands
    hands.hold()
    hands.link(Address(kind="serial", place="/dev/ttyUSB0@2400"), lambda _: _Shown(5.08))
    for said in ("limits CAT II 300 V", "leads 0.2", "calibrated 2026-03"):
        hands.say(0, said)
    bench.window.run_command("instruments")
    _settle(bench)


def _large(bench: Running) -> None:
    """What is read from three metres."""
    bench.window.run_command("instruments")
    _open(bench, "QH-012/1", "rails")
    bench.session.look_at("A")
    bench.window.run_command("large")
    _settle(bench)


def _daylight(bench: Running) -> None:
    """The pocket sheet over the rails, in Daylight."""
    bench.window.run_command("large")
    for link in tuple(bench.window.hands.links):
        bench.window.hands.let_go(link)
    _open(bench, "QH-017/1", "rails")
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
    "practice": _practice,
    "instruments": _instruments,
    "large": _large,
    "pocket-daylight": _daylight,
}
