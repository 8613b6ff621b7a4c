"""Case: what advice is computed from.

For: the job as it stands (`Case`), where the person is (`Hand`), readings with their verdicts,
what a repair makes stale, what holds a charge, the power state, gates and what stops, house
rules, the lists of checks and tests with their results, what is proved, where the work goes on.
May import: `reason`, `journal`, `instrument`, `checks`, `logic`, `board`, `units`.
Must not import: cards, stages, Qt, SQL.
"""
