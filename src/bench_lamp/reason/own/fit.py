"""The winding volts and loads that agree best with a profile's own points: a choice, never taken by itself."""

from collections.abc import Callable, Sequence

import numpy as np
from msgspec import Struct

from bench_lamp.board import Profile, TestPoint
from bench_lamp.board.blocks import Load, Transformer
from bench_lamp.circuit import compile_tree
from bench_lamp.circuit.elements import Array
from bench_lamp.circuit.on_parts import across, can_span, flowing
from bench_lamp.circuit.parts import TreePart
from bench_lamp.circuit.solve import Solution, solve_part
from bench_lamp.circuit.values import SPREAD, Values
from bench_lamp.reason.own.sound_board import as_read, nominal_values
from bench_lamp.reason.own.values import FitProposal, Seen

#: How far a value that was written is trusted, as the standard deviation of its logarithm: a
#: winding's volts are read off a drawing, a load is mostly a guess.
WINDING_SPREAD, LOAD_SPREAD = 0.08, 0.7
#: A point is known as well as a third of its band is wide, and never better than 0.5 %.
BAND_SHARE, LEAST_SHARE = 1 / 6, 0.005
#: A clamp or a supply's display is right to 3 % and 10 mA; less than a millivolt tells nothing.
AMPS_SHARE, LEAST_AMPS, LEAST_DROP = 0.03, 0.01, 1e-3
#: Step of a slope, as a logarithm; and steps of the fit at most.
STEP, MOST_STEPS = 0.01, 15
#: A proposal smaller than this share, or than its own uncertainty, is none.
WORTH = 0.02
#: Decimal places that a proposal keeps.
FIGURES = 3


#: What each net shows with its currents, one row for each trial of the values.
_Solved = tuple[TreePart, Values, Solution]


class _Aim(Struct, frozen=True):
    """One thing that was read: how the model shows it, what it was, and how well that is known."""

    shows: Callable[[_Solved], Array]
    value: float
    size: float


def fitted(profile: Profile, seen: Seen | None = None) -> tuple[FitProposal, ...]:
    """Return the winding volts and loads that agree best with points or readings.

    Parameters
    ----------
    profile : Profile
        With a power tree.
    seen : Seen, optional
        What a good board read; else the middle of each point's band counts.

    Notes
    -----
    Least squares over the logarithms of each winding's volts and each load's amperes: residuals
    are the points' distances in their own uncertainty, and the steps from what was written in
    how far that is trusted. Volts across a contact tell its current no better than the ohms of
    good contacts are known, which differ by half of themselves. Uncertainties come from the
    curvature at the best fit (J. R. Taylor, An Introduction to Error Analysis, chapter 8).
    """
    tree = compile_tree(profile)
    if tree is None:
        return ()
    found: list[FitProposal] = []
    for part in tree.parts:
        aims = [*_point_aims(profile, part, seen), *_current_aims(part, seen or Seen())]
        if aims:
            found += _of_part(profile, part, aims)
    return tuple(found)


def _point_aims(profile: Profile, part: TreePart, seen: Seen | None) -> list[_Aim]:
    found = []
    for point in profile.test_points:
        target = _target(point, seen)
        if target is not None and point.net in part.nets:
            column = part.index(point.net)
            found.append(_Aim(lambda s, c=column: as_read(s[0], s[2].volts)[:, c], *target))  # type: ignore[misc]
    return found


def _current_aims(part: TreePart, seen: Seen) -> list[_Aim]:
    """Return what was read across contacts and through them; of those on DC nets."""
    found = []
    for name in part.metered:
        block, amps, drop = part.block(name), seen.amps.get(name), seen.drops.get(name, 0.0)
        if amps is not None:
            column = part.metered.index(name)
            size = max(AMPS_SHARE * abs(amps), LEAST_AMPS)
            found.append(_Aim(lambda s, c=column: flowing(*s)[:, c], amps, size))  # type: ignore[misc]
        if block is not None and can_span(part, block) and drop >= LEAST_DROP:
            found.append(
                _Aim(
                    lambda s, n=name: np.log(np.maximum(across(s[0], n, s[2].volts), 1e-9)),  # type: ignore[misc]
                    float(np.log(drop)),
                    SPREAD["contact"],
                )
            )
    return found


def _target(point: TestPoint, seen: Seen | None) -> tuple[float, float] | None:
    """Return what a point should read and how well that is known, in volts; None where nobody knows."""
    if seen is not None:
        value = seen.volts.get(point.id)
        return None if value is None else (value, max(LEAST_SHARE * abs(value), 1e-3))
    if point.band is None or point.mode not in {"dc V", "ac V"}:
        return None
    size = max(BAND_SHARE * point.band.width, LEAST_SHARE * abs(point.band.middle), 1e-3)
    return point.band.middle, size


def _of_part(profile: Profile, part: TreePart, seen: Sequence[_Aim]) -> list[FitProposal]:
    from scipy.optimize import least_squares

    loads = [b for b in part.blocks if isinstance(b, Load)]
    winding = None if part.is_dc else _winding(profile, part)
    spreads = np.array([WINDING_SPREAD] * (winding is not None) + [LOAD_SPREAD] * len(loads))
    if not len(spreads):
        return []
    aims = np.array([(aim.value, aim.size) for aim in seen])

    def read(steps: Array) -> Array:
        solved = _solved(part, loads, steps, has_winding=winding is not None)
        return np.column_stack([aim.shows(solved) for aim in seen])

    def residuals(steps: Array) -> Array:
        return np.concatenate([(read(steps[None])[0] - aims[:, 0]) / aims[:, 1], steps / spreads])

    def slopes(steps: Array) -> Array:
        # Each value a little more, all in one batch: a solve costs about the same for many rows.
        rows = read(np.vstack([steps, steps + STEP * np.eye(len(steps))]))
        return np.vstack([((rows[1:] - rows[0]) / STEP / aims[:, 1]).T, np.diag(1 / spreads)])

    best = least_squares(
        residuals,
        np.zeros(len(spreads)),
        jac=slopes,
        bounds=(-4 * spreads, 4 * spreads),
        ftol=1e-4,
        xtol=1e-3,
        max_nfev=MOST_STEPS,
    )
    spread = np.sqrt(np.diag(np.linalg.inv(best.jac.T @ best.jac)))
    return _proposals(part, loads, best.x, spread, winding)


def _winding(profile: Profile, part: TreePart) -> float | None:
    block = profile.block(part.feeder)
    return block.to.get(part.root) if isinstance(block, Transformer) else None


def _solved(part: TreePart, loads: Sequence[Load], steps: Array, *, has_winding: bool) -> _Solved:
    """Solve a part with these factors (as logarithms) on winding and loads, shape (rows, values)."""
    rows = len(steps)
    values = nominal_values(part, rows, np.ones(rows))
    shifts = steps[:, 1:] if has_winding else steps
    if has_winding:
        values.open_v = values.open_v * np.exp(steps[:, 0])
    for load, shift in zip(loads, shifts.T, strict=True):
        values.amps[load.id] = values.amps[load.id] * np.exp(shift)
    return part, values, solve_part(part, values)


def _proposals(
    part: TreePart, loads: Sequence[Load], steps: Array, spread: Array, winding: float | None
) -> list[FitProposal]:
    olds: list[tuple[str, str, str, float]] = []
    if winding is not None:
        olds.append((part.feeder, part.root, "V", winding))
    olds += [(load.id, "", "A", load.amps) for load in loads]
    found = []
    for (block, net, unit, old), step, size in zip(olds, steps, spread, strict=True):
        new = float(f"{old * np.exp(step):.{FIGURES}g}")
        # A load that no point tells of stays as uncertain as it was: nothing is proposed for it.
        is_told = unit == "V" or size < 0.8 * LOAD_SPREAD
        if is_told and abs(new - old) > max(WORTH * old, new * size):
            found.append(
                FitProposal(
                    block=block, net=net, unit=unit, old=old, new=new, uncertainty=float(new * size)
                )
            )
    return found
