"""What the usual steps are called, and why each is done."""

from bench_lamp.case.plain_order import Hunt, PlainStep, StepKind

GENERIC = {
    StepKind.RAW: "the reservoir",
    StepKind.AC_IN: "the rectifier",
    StepKind.OUT: "the regulator",
    StepKind.CONTACT: "the connector",
    StepKind.FUSE: "the fuse",
    StepKind.UNLOAD: "the connector",
}
WHY = {
    StepKind.RAW: "It halves the way: with volts here the fault is behind it, without them before it.",
    StepKind.AC_IN: "AC here and no DC behind it: the rectifier. No AC: fuse, winding or switch.",
    StepKind.FUSE: "Cheap to test, and the eye is no test: pull it, then tone it.",
    StepKind.OUT: "On the part itself, before any wire: good here and bad there is a contact.",
    StepKind.SHORT: "A rail that is pulled down reads near 0 to its ground.",
    StepKind.CONTACT: "What differs between its two sides is lost in the contact.",
    StepKind.RIPPLE: "Ripple on a low rail: a dried reservoir, or a rectifier with a leg open.",
    StepKind.UNLOAD: "Good without what it feeds: something draws too much. Else it is the supply.",
}


def step_id(hunt: Hunt, step: PlainStep) -> str:
    """Name a step, so that it can be picked and set aside."""
    return f"plain:{hunt.point.id}:{step.kind.value}:{step.part}"


def step_words(hunt: Hunt, step: PlainStep) -> str:
    """Say a step in a few words: `AC volts into BR1`."""
    rail = hunt.point.id
    where = step.part or f"{GENERIC.get(step.kind, '')} of {rail}"
    return {
        StepKind.RAW: f"DC volts across {where}",
        StepKind.AC_IN: f"AC volts into {where}",
        StepKind.FUSE: f"continuity of {where}",
        StepKind.OUT: f"DC volts at the output of {where}",
        StepKind.SHORT: f"ohms from {rail} to its ground",
        StepKind.CONTACT: f"{rail} at the other side of {where}",
        StepKind.RIPPLE: f"ripple on {rail}",
        StepKind.UNLOAD: f"{rail} with its load unplugged",
    }[step.kind]
