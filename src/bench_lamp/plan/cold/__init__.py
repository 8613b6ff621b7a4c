"""The stage Cold checks: everything that can be learnt with no power.

For: the round's items and verdicts, what stops the wake-up, its cards, answers and picture.
May import: what `plan` may.
Must not import: the other stages, the list of stages, Qt.
"""
