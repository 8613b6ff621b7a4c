"""Cards: the lit card as a value, the record of a stage, and what several stages ask.

For: `Card` and its parts, `Stage`, a reading, where the leads go, the power question, what F8
asks the linked instrument, findings, and the words of faults and parts.
May import: `case` and what it may.
Must not import: a stage, Qt, SQL.
"""
