"""Plan: where the job's state meets the advice, and what to do next.

For: the situation at the bench, judged points, the ladder, the cards of each stage,
the path, the shelf, the tape's words, what an entry means.
May import: `units`, `board`, `checks`, `reason`, `journal` (its state and events).
Must not import: Qt, SQL, `report`.
"""
