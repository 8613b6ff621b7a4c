"""What the reasoning takes and gives, as frozen values: facts, tests, faults, outcomes, insight.

May import: `circuit`, `logic`, `board`, `units`; no NumPy, so that the window may hold them.
Must not import: the reasoning itself.
"""
