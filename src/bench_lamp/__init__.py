"""Bench Lamp: measuring, judgement and memory for people who repair old boards.

Data goes one way: profile and journal are folded into a `JobState`, advice is
computed from it, the desktop shows both and appends what the technician says.
"""

__version__ = "0.1.0"
