"""Views: what the window's frame draws, as values: shelf, path, tape, find, new job, ladder.

May import: `stages` and what they may.
Must not import: Qt, SQL.
"""
