"""Bench: instruments, and the simulated board that ships with the program.

For: what answers readings: a board with hidden faults and drawn component values.
May import: `circuit`, `board`, `units`, NumPy.
Must not import: `reason`, `journal`, Qt, SQL.
"""

from bench_lamp.bench.simulated import SimulatedBoard, Truth, draw_truth

__all__ = ["SimulatedBoard", "Truth", "draw_truth"]
