"""The fuse map: what to look at, and why, where there is no circuit to weigh."""
