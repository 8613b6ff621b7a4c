"""The workshop: describing a kind of board, by the same keys as the work itself."""
