"""The winding volts and loads that agree best with a profile's own points: a choice, never taken by itself."""

from collections.abc import Mapping, Sequence

import numpy as np

from bench_lamp.board import Profile, TestPoint
from bench_lamp.board.blocks import Load, Transformer
from bench_lamp.circuit import compile_tree
from bench_lamp.circuit.elements import Array
from bench_lamp.circuit.parts import TreePart
from bench_lamp.circuit.solve import solve_part
from bench_lamp.reason.own.sound_board import as_read, nominal_values
from bench_lamp.reason.own.values import FitProposal

#: How far a value that was written is trusted, as the standard deviation of its logarithm: a
#: winding's volts are read off a drawing, a load is mostly a guess.
WINDING_SPREAD, LOAD_SPREAD = 0.08, 0.7
#: A point is known as well as a third of its band is wide, and never better than 0.5 %.
BAND_SHARE, LEAST_SHARE = 1 / 6, 0.005
#: Step of a slope, as a logarithm; and steps of the fit at most.
STEP, MOST_STEPS = 0.01, 15
#: A proposal smaller than this share, or than its own uncertainty, is none.
WORTH = 0.02
#: Decimal places that a proposal keeps.
FIGURES = 3


def fitted(profile: Profile, seen: Mapping[str, float] | None = None) -> tuple[FitProposal, ...]:
    """Return the winding volts and loads that agree best with points or readings.

    Parameters
    ----------
    profile : Profile
        With a power tree.
    seen : mapping of str to float, optional
        What a good board read, by point, in volts; else the middle of each point's band counts.

    Notes
    -----
    Least squares over the logarithms of each winding's volts and each load's amperes: residuals
    are the points' distances in their own uncertainty, and the steps from what was written in
    how far that is trusted. Uncertainties come from the curvature at the best fit (J. R. Taylor,
    An Introduction to Error Analysis, chapter 8).
    """
    tree = compile_tree(profile)
    if tree is None:
        return ()
    found: list[FitProposal] = []
    for part in tree.parts:
        points = [p for p in profile.test_points if p.net in part.nets and _target(p, seen)]
        if points:
            found += _of_part(profile, part, points, seen)
    return tuple(found)


def _target(point: TestPoint, seen: Mapping[str, float] | None) -> tuple[float, float] | None:
    """Return what a point should read and how well that is known, in volts; None where nobody knows."""
    if seen is not None:
        value = seen.get(point.id)
        return None if value is None else (value, max(LEAST_SHARE * abs(value), 1e-3))
    if point.band is None or point.mode not in {"dc V", "ac V"}:
        return None
    size = max(BAND_SHARE * point.band.width, LEAST_SHARE * abs(point.band.middle), 1e-3)
    return point.band.middle, size


def _of_part(
    profile: Profile, part: TreePart, points: Sequence[TestPoint], seen: Mapping[str, float] | None
) -> list[FitProposal]:
    from scipy.optimize import least_squares

    loads = [b for b in part.blocks if isinstance(b, Load)]
    winding = None if part.is_dc else _winding(profile, part)
    spreads = np.array([WINDING_SPREAD] * (winding is not None) + [LOAD_SPREAD] * len(loads))
    if not len(spreads):
        return []
    aims = np.array([_target(p, seen) for p in points], dtype=float)
    columns = [part.nets.index(p.net) for p in points]

    def read(steps: Array) -> Array:
        return _read(part, loads, steps, has_winding=winding is not None)[:, columns]

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


def _read(part: TreePart, loads: Sequence[Load], steps: Array, *, has_winding: bool) -> Array:
    """Return what each net reads with these factors (as logarithms) on winding and loads.

    `steps` has shape (rows, values), the answer shape (rows, nets).
    """
    rows = len(steps)
    values = nominal_values(part, rows, np.ones(rows))
    shifts = steps[:, 1:] if has_winding else steps
    if has_winding:
        values.open_v = values.open_v * np.exp(steps[:, 0])
    for load, shift in zip(loads, shifts.T, strict=True):
        values.amps[load.id] = values.amps[load.id] * np.exp(shift)
    return np.asarray(as_read(part, solve_part(part, values).volts))


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
