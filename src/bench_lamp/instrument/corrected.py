"""Corrections of a linked meter's values: what its leads have on ohms."""

from msgspec.structs import replace

from bench_lamp.instrument.sample import Sample


def less_leads(sample: Sample, ohms: float) -> Sample:
    """Return a sample without the ohms of the leads; other modes as they are.

    >>> less_leads(Sample(at=0.0, mode="ohm", value=4.9, resolution=0.1), 0.2).value
    4.7
    >>> less_leads(Sample(at=0.0, mode="ohm", value=0.1, resolution=0.1), 0.2).value
    0.0
    """
    if sample.mode != "ohm" or sample.is_over or not ohms:
        return sample
    digits = 6
    return replace(sample, value=max(round(sample.value - ohms, digits), 0.0))
