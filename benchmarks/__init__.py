"""Measurements: how fast it is, how often it is right, and what the tests notice."""
