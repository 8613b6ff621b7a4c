"""The verdict on one reading against its bands."""

import math
from enum import StrEnum
from typing import Literal

from msgspec import Struct

from bench_lamp.units import Band, engineering

#: Empty where there are no limits to hold a reading against.
Verdict = Literal["within", "edge", "low", "high", "absent", "noisy", ""]

#: A reading below this share of the nominal, or below `ABSENT_FLOOR_V`, is no supply.
ABSENT_SHARE = 0.05
#: Of the wrong sign, a reading below this share of the nominal is none either.
WRONG_WAY_SHARE = 0.2
ABSENT_FLOOR_V = 0.05
#: RMS of a sawtooth to its peak-to-peak value.
SAWTOOTH = 2.0 * math.sqrt(3.0)


class Practice(StrEnum):
    """What readings on good boards say of a value; the values are said on screen."""

    SILENT = ""
    USUAL = "usual"
    USUAL_HERE = "usual here, although outside the drawing"
    UNUSUAL = "unusual but inside"

    @property
    def short(self) -> str:
        """In two or three words, where it differs from the drawing; else empty."""
        return {Practice.USUAL_HERE: "usual here", Practice.UNUSUAL: "unusual"}.get(self, "")


class Judgement(Struct, frozen=True, kw_only=True):
    """What one reading means, in a word and in a sentence."""

    verdict: Verdict
    #: The word to show beside the shape; usually the verdict itself.
    word: str
    #: Expanded uncertainty of the reading (k = 2), in its unit.
    uncertainty: float
    practice: Practice = Practice.SILENT
    #: A further remark: a sign, a limit that is near.
    remark: str = ""
    is_sign_wrong: bool = False

    @property
    def is_good(self) -> bool:
        """Whether the work may go on from here: within, or on the edge."""
        return self.verdict in {"within", "edge"}

    @property
    def is_bad(self) -> bool:
        """Whether something is wrong; what nobody can judge is neither good nor bad."""
        return bool(self.verdict) and not self.is_good


def unjudged(uncertainty: float) -> Judgement:
    """Return the judgement of a reading without limits, with its uncertainty in its own unit."""
    return Judgement(verdict="", word="no limits yet", uncertainty=uncertainty)


def judge(
    value: float, *, nominal: float, design: Band, uncertainty: float, practice: Band | None = None
) -> Judgement:
    """Judge a steady reading against the drawing's band, and beside it against practice.

    Parameters
    ----------
    value, nominal : float
        In volts, signed; an overload is infinite.
    design, practice : Band
        Signed limits in volts. For a negative rail, low and high mean in magnitude.
    uncertainty : float
        Expanded uncertainty of the reading, in volts.

    Notes
    -----
    Within: clear of both limits by the uncertainty. Edge: nearer to a limit than
    that, on either side of it. Absent: less than the larger of 5 % of the nominal
    and 50 mV, or of the wrong sign and less than 20 % of the nominal. A limit that is
    met exactly is edge, whatever the meter.
    """
    flip = nominal < 0
    y, band = (-value, _mirrored(design)) if flip else (value, design)
    usual = _practice(value, design, practice)
    if math.isinf(y):
        # A meter beyond its range shows no sign that could be wrong.
        return Judgement(
            verdict="high", word="high", uncertainty=uncertainty, remark="beyond the meter's range"
        )
    least = max(ABSENT_SHARE * abs(nominal), ABSENT_FLOOR_V)
    if nominal and (abs(y) < least or -WRONG_WAY_SHARE * abs(nominal) < y < 0):
        return Judgement(verdict="absent", word="absent", uncertainty=uncertainty)
    verdict = _against(y, band, uncertainty)
    remark = ""
    is_sign_wrong = bool(nominal and y < 0)
    if is_sign_wrong:
        remark = "the sign is wrong: leads swapped, or the wrong point"
    elif verdict == "edge":
        remark = "inside" if value in design else "outside, but not clear of the limit"
    elif flip and verdict in {"low", "high"}:
        remark = f"{verdict} in magnitude"
    return Judgement(
        verdict=verdict,
        word=verdict,
        uncertainty=uncertainty,
        practice=usual,
        remark=remark,
        is_sign_wrong=is_sign_wrong,
    )


def _against(y: float, band: Band, uncertainty: float) -> Verdict:
    if min(abs(y - band.low), abs(y - band.high)) <= uncertainty:
        return "edge"
    if y < band.low:
        return "low"
    return "high" if y > band.high else "within"


def _mirrored(band: Band) -> Band:
    return Band(-band.high, -band.low)


def _practice(value: float, design: Band, practice: Band | None) -> Practice:
    if practice is None:
        return Practice.SILENT
    if value in practice:
        return Practice.USUAL if value in design else Practice.USUAL_HERE
    return Practice.UNUSUAL if value in design else Practice.SILENT


def ripple_from_rms(rms: float) -> float:
    """Return the peak-to-peak ripple of a rail from what a meter shows on AC, in volts.

    Taken as a sawtooth, whose RMS is its peak-to-peak value over 2√3.

    >>> round(ripple_from_rms(0.1), 3)
    0.346
    """
    return SAWTOOTH * rms


def judge_ripple(rms: float, *, limit_pp: float, uncertainty: float) -> Judgement:
    """Judge a DC rail read on AC volts against its ripple limit, peak to peak, in volts."""
    ripple, margin = ripple_from_rms(abs(rms)), SAWTOOTH * uncertainty
    limit = engineering(limit_pp, "V", resolution=0.01)
    shown = engineering(ripple, "V", resolution=0.01)
    if margin > limit_pp and ripple <= limit_pp + margin and not math.isinf(rms):
        smallest = engineering(limit_pp / SAWTOOTH, "V~", resolution=0.001)
        remark = f"this meter cannot tell; use one that reads {smallest}, or a scope"
        return Judgement(verdict="edge", word="cannot tell", uncertainty=uncertainty, remark=remark)
    if math.isinf(rms) or ripple > limit_pp + margin:
        verdict: Verdict = "noisy"
    else:
        verdict = "edge" if ripple > limit_pp - margin else "within"
    word = {"noisy": "noisy", "edge": "edge", "within": "quiet"}[verdict]
    remark = f"{shown} peak to peak, limit {limit}"
    return Judgement(verdict=verdict, word=word, uncertainty=uncertainty, remark=remark)


def judge_tone(*, is_open: bool) -> Judgement:
    """Judge a continuity test across a part that should conduct."""
    if is_open:
        return Judgement(verdict="absent", word="open", uncertainty=0.0)
    return Judgement(verdict="within", word="beeps", uncertainty=0.0)
