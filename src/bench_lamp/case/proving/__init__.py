"""What the proof is made of: open ends, what was bad before, the run, full loads, burn-in, doubts.

May import: what `case` may. Must not import: cards, stages, Qt, SQL.
"""
