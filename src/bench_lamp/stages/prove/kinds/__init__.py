"""The parts of the proof in the order in which they are done: a module a part, and here their only list."""

from bench_lamp.stages.prove.kinds import again, burn, doubt, ends, load, run, start, sweep
from bench_lamp.stages.prove.kinds.kind import ProofPart, ProofState

PARTS: tuple[ProofPart, ...] = (
    ends.PART,
    start.PART,
    again.PART,
    sweep.PART,
    run.PART,
    load.PART,
    burn.PART,
    doubt.PART,
)

__all__ = ["PARTS", "ProofPart", "ProofState"]
