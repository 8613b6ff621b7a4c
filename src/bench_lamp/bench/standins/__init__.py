"""Small simulated instruments on loopback and on a pseudo-terminal: to try the program, and for its tests.

They answer as the real ones do, with their time and their faults, and share no code with what asks them.
"""
