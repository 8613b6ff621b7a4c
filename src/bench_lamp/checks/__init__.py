"""Checks: judging a measurement.

For: meter accuracy, verdicts against bands, ripple, and what makes an entry doubtful.
May import: `units`.
Must not import: any other room.
"""

from bench_lamp.checks.doubt import Doubt, doubt_about
from bench_lamp.checks.meter import Meter, load_meters
from bench_lamp.checks.verdict import (
    Judgement,
    Verdict,
    judge,
    judge_ripple,
    judge_tone,
    ripple_from_rms,
    unjudged,
)

__all__ = [
    "Doubt",
    "Judgement",
    "Meter",
    "Verdict",
    "doubt_about",
    "judge",
    "judge_ripple",
    "judge_tone",
    "load_meters",
    "ripple_from_rms",
    "unjudged",
]
