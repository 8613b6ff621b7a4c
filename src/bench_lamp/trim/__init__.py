"""The sums of things that are set: turns, slopes, drift, channels, panel meters, senders, coils that get hot.

For: pure functions on numbers; what is logged and what is said live elsewhere.
May import: `units`, NumPy, SciPy.
Must not import: any other room.
"""
