"""Circuit: the power tree as equations, and what every fault would make of it.

For: compiling a profile's blocks into parts, conditions, faults, the batched solver.
May import: `board`, `units`, NumPy.
Must not import: any other room.
"""

from bench_lamp.circuit.compile import PowerTree, compile_tree
from bench_lamp.circuit.condition import Condition
from bench_lamp.circuit.faults import Fault, faults_of
from bench_lamp.circuit.solve import Solution, solve_part

__all__ = [
    "Condition",
    "Fault",
    "PowerTree",
    "Solution",
    "compile_tree",
    "faults_of",
    "solve_part",
]
