"""A rig of one winding, written in a few lines of profile."""

import numpy as np
import pytest

from bench_lamp.board import load_profile
from bench_lamp.board.condition import Condition
from bench_lamp.circuit import compile_tree
from bench_lamp.circuit.faults import case_values, faults_of
from bench_lamp.circuit.looking_up import condition_on
from bench_lamp.circuit.solve import solve_part
from bench_lamp.circuit.taking_out import take_out
from bench_lamp.circuit.values import draw_values

HEAD = """\
format: bench-lamp board 1
id: rig
name: rig
test_points: []
power:
  - {id: X1, kind: inlet, to: line, volts: 230 V}
  - {id: F1, kind: fuse, from: line, to: mains, rating: 3 A slow}
  - {id: T1, kind: transformer, from: mains, to: {sec: 12 V}}
"""
RAW = """\
  - {id: F2, kind: fuse, from: sec, to: ac, rating: 5 A slow}
  - {id: BR1, kind: bridge, from: ac, to: raw}
  - {id: C1, kind: reservoir, net: raw, value: 4700 uF, rating: 35 V}
"""


@pytest.fixture
def rig(tmp_path):
    """Return a maker of a one-winding tree from a few lines of profile."""

    def make(*lines: str):
        path = tmp_path / "rig.board.yaml"
        path.write_text(HEAD + "".join(lines))
        tree = compile_tree(load_profile(path))
        assert tree is not None
        return tree

    return make


@pytest.fixture
def supply(rig):
    """Return a maker of a rectified 12 V supply with more blocks behind it."""
    return lambda *lines: rig(RAW, *(f"  - {{{line}}}\n" for line in lines))


@pytest.fixture
def volts_of():
    """Return a solver of the first part: nominal values, one fault, one condition."""

    def solve(tree, fault: str = "", condition: Condition | None = None) -> dict[str, float]:
        part = tree.parts[0]
        now = condition_on(condition or Condition(), part)
        values = draw_values(part, 1, seed=1)
        if fault:
            found = next(f for f in faults_of(tree) if f.name == fault)
            case_values(values, (found,), 1, now)
        take_out(values, part, now, slice(None))
        solution = solve_part(part, values)
        assert solution.has_converged.all(), np.flatnonzero(~solution.has_converged)
        return {n: float(v) for n, v in zip(part.nets, solution.volts[0], strict=True)}

    return solve
