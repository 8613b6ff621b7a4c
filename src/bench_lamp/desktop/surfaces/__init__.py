"""The surfaces: one module a stage, found by the name that the stage's record has.

Each is loaded when its stage is first shown.
"""

from collections.abc import Callable

from bench_lamp.desktop.look import Look
from bench_lamp.desktop.widgets.headed import Headed

MakeSurface = Callable[[Look], Headed]


def _intake() -> MakeSurface:
    from bench_lamp.desktop.surfaces.intake import IntakeSurface

    return IntakeSurface


def _cold() -> MakeSurface:
    from bench_lamp.desktop.surfaces.cold import ColdSurface

    return ColdSurface


def _wake() -> MakeSurface:
    from bench_lamp.desktop.surfaces.wake import WakeSurface

    return WakeSurface


def _rails() -> MakeSurface:
    from bench_lamp.desktop.surfaces.rails import RailsSurface

    return RailsSurface


def _selftest() -> MakeSurface:
    from bench_lamp.desktop.surfaces.selftest import SelftestSurface

    return SelftestSurface


def _trace() -> MakeSurface:
    from bench_lamp.desktop.surfaces.trace import TraceSurface

    return TraceSurface


def _swap() -> MakeSurface:
    from bench_lamp.desktop.surfaces.swap import SwapSurface

    return SwapSurface


def _trim() -> MakeSurface:
    from bench_lamp.desktop.surfaces.trim import TrimSurface

    return TrimSurface


def _prove() -> MakeSurface:
    from bench_lamp.desktop.surfaces.prove import ProveSurface

    return ProveSurface


def _handback() -> MakeSurface:
    from bench_lamp.desktop.surfaces.handback import HandbackSurface

    return HandbackSurface


#: Each loads its module, and returns what makes the surface.
SURFACES: dict[str, Callable[[], MakeSurface]] = {
    "intake": _intake,
    "cold": _cold,
    "wake": _wake,
    "rails": _rails,
    "selftest": _selftest,
    "trace": _trace,
    "swap": _swap,
    "trim": _trim,
    "prove": _prove,
    "handback": _handback,
}
