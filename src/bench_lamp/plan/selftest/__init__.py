"""The stage Self-test: what the board tells of itself, and the logic half of Trace.

For: the list of what can be told, its cards, answers and pictures, and results as clues.
May import: what `plan` may.
Must not import: the list of stages, Qt.
"""
