"""The stage Trace: the suspects, and the next test.

For: its cards, what outcomes mean, the tree's picture, what was done unasked, and thinking itself.
May import: what `plan` may, the self-tests.
Must not import: the list of stages, Qt.
"""
