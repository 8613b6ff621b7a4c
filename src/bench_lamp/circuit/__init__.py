"""Circuit: the power tree as equations, and what every fault would make of it.

For: compiling a profile's blocks into parts, conditions, faults, the batched solver.
What is named here costs no NumPy; the solver's modules (`faults`, `solve`, `cold`,
`values`) do, and are imported by those who solve.
May import: `board`, `units`, NumPy.
Must not import: any other room.
"""

from bench_lamp.circuit.compile import compile_tree
from bench_lamp.circuit.parts import PowerTree

__all__ = ["PowerTree", "compile_tree"]
