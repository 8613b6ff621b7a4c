"""Practice: the demo journal, and the simulated boards that go with it.

May import: `bench`, `journal`, `circuit`, `logic`, `board`, `units`, NumPy (the boards only).
Must not import: Qt, SQL.
"""
