"""Whole supplies as blocks: one choice puts in the chain with its usual values, to be edited then."""
