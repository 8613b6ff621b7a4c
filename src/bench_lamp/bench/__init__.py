"""Bench: the simulated bench that ships with the program.

For: a board with hidden faults and drawn component values under a meter, and its logic.
May import: `instrument`, `circuit`, `logic`, `board`, `units`, NumPy.
Must not import: `reason`, `case`, Qt, SQL.
"""
