"""Small parts of the window."""
