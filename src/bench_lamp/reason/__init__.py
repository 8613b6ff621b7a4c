"""Reason: from facts to insight.

For: the power tree's reasoning (`power`) and the logic's (`logic`), side by side with the same
inner shape; both joined; the complaint; the fuse map where there is no tree; the engines that
are kept ready.
May import: `circuit`, `logic`, `board`, `units`, NumPy.
Must not import: `journal`, `case`, Qt, SQL.
"""
