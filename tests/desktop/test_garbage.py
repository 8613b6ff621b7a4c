"""Garbage is collected in the window's thread, whoever made it."""

import gc
import threading

import pytest

from bench_lamp.desktop.garbage import ENOUGH, Collector


class InCycle:
    """Tells which thread it ended in, as a widget of the window would."""

    def __init__(self, ended: list[int]) -> None:
        self.ended, self.itself = ended, self

    def __del__(self) -> None:
        self.ended.append(threading.get_ident())


@pytest.fixture
def collector(qapp):
    gc.collect()
    made = Collector()
    made.start()
    yield made
    made.stop()


def make_much(ended: list[int]) -> None:
    for _ in range(2 * ENOUGH):
        InCycle(ended)


def test_what_another_thread_makes_ends_in_this_one(qtbot, collector):
    ended: list[int] = []
    thread = threading.Thread(target=make_much, args=(ended,))
    thread.start()
    thread.join()
    assert not ended
    qtbot.waitUntil(lambda: bool(ended), timeout=3000)
    assert set(ended) == {threading.get_ident()}


def test_python_collects_again_once_the_window_is_gone(collector):
    assert not gc.isenabled()
    collector.stop()
    assert gc.isenabled()


@pytest.mark.parametrize("age", [0, 1, 2])
def test_what_grew_old_is_collected_too(monkeypatch, collector, age):
    asked: list[int] = []
    monkeypatch.setattr(gc, "get_count", lambda: (ENOUGH + 1, 21 * (age > 0), 21 * (age > 1)))
    monkeypatch.setattr(gc, "collect", asked.append)
    collector.look()
    assert asked == [age]
