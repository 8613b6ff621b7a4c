"""The surfaces: one module a stage, found by the name that the stage's record has.

Each is loaded when its stage is first shown.
"""

from collections.abc import Callable

from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.headed import Headed


def _intake(look: Look) -> Headed:
    from bench_lamp.desktop.surfaces.intake import IntakeSurface

    return IntakeSurface(look)


def _cold(look: Look) -> Headed:
    from bench_lamp.desktop.surfaces.cold import ColdSurface

    return ColdSurface(look)


def _wake(look: Look) -> Headed:
    from bench_lamp.desktop.surfaces.wake import WakeSurface

    return WakeSurface(look)


def _rails(look: Look) -> Headed:
    from bench_lamp.desktop.surfaces.rails import RailsSurface

    return RailsSurface(look)


def _selftest(look: Look) -> Headed:
    from bench_lamp.desktop.surfaces.selftest import SelftestSurface

    return SelftestSurface(look)


def _trace(look: Look) -> Headed:
    from bench_lamp.desktop.surfaces.trace import TraceSurface

    return TraceSurface(look)


def _swap(look: Look) -> Headed:
    from bench_lamp.desktop.surfaces.swap import SwapSurface

    return SwapSurface(look)


def _prove(look: Look) -> Headed:
    from bench_lamp.desktop.surfaces.rails import ProveSurface

    return ProveSurface(look)


def _handback(look: Look) -> Headed:
    from bench_lamp.desktop.surfaces.handback import HandbackSurface

    return HandbackSurface(look)


SURFACES: dict[str, Callable[[Look], Headed]] = {
    "intake": _intake,
    "cold": _cold,
    "wake": _wake,
    "rails": _rails,
    "selftest": _selftest,
    "trace": _trace,
    "swap": _swap,
    "prove": _prove,
    "handback": _handback,
}
