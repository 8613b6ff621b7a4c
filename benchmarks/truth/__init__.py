"""Whole boards integrated in time: the truth that the reasoning is measured against.

Shares no line with `circuit` and `reason`, and never imports them: nodal analysis of a whole
profile, step by step, with exponential diodes, windings on one core, fuses that blow by the
heat of their current, aged parts, hidden leaks, loads that draw constant current or pulses, and
a meter that loads, errs and rounds.
"""
