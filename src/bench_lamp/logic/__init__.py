"""Logic: chips and what their pins, lanes, memories and images say.

For: pin-to-ground maps, lanes, captures, blinks, grids, displays, levels, ROM images.
May import: `units`.
Must not import: any other room.
"""

from bench_lamp.logic.pin_map import PinVerdict, judge_pins

__all__ = ["PinVerdict", "judge_pins"]
