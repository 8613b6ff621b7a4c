"""The stage Wake-up: power in stages, each gated by the one before.

For: the gates' cards and readings, and the load to hang on. What a gate is stands in `plan.gates`.
May import: what `plan` may, the round of cold checks.
Must not import: the list of stages, Qt.
"""
