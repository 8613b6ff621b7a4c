"""For each rail: what makes it, chain by chain up to the inlet; what it feeds; and a converter's duty."""

from bench_lamp.board.blocks import Converter, Hanging, block_inputs, block_label
from bench_lamp.case.case import Case
from bench_lamp.units import exact, percent


def rail_words(case: Case, net: str) -> tuple[str, ...]:
    """Say what makes a net and what it feeds; nothing for one that is not in the tree."""
    if net not in case.tree.nets:
        return ()
    way = case.tree.upstream(net)
    feeds = [
        b.id for b in case.profile.power if net in block_inputs(b) and not isinstance(b, Hanging)
    ]
    hangs = [
        f"{b.id} ({block_label(b)})"
        for b in case.profile.power
        if net in block_inputs(b) and isinstance(b, Hanging)
    ]
    others = case.profile.other_names(net)
    lines = [f"Also called {', '.join(others)}."] if others else []
    lines += [f"Made by {' → '.join(b.id for b in way)}." if way else "Nothing feeds it."]
    if feeds or hangs:
        lines.append(f"Feeds {', '.join([*feeds, *hangs])}.")
    for block in way[::-1]:
        if isinstance(block, Converter):
            lines.append(duty_words(case, block))
            break
    return tuple(lines)


def duty_words(case: Case, block: Converter) -> str:
    """Say the duty that a converter's volts imply, and where both ends can be probed."""
    source = input_volts(case, block)
    ends = " and ".join(filter(None, (_probe(case, block.from_), _probe(case, block.to))))
    probed = f" Read it at {ends}." if ends else ""
    if not source:
        return f"{block.id} is a {block.kind} converter.{probed}"
    share = duty(source, block.volts, steps_up=block.steps_up)
    volts = f"{exact(source, 'V')} to {exact(block.volts, 'V')}"
    return f"{block.id} makes {volts}: its switch is on for about {percent(share)} of the time.{probed}"


def duty(source: float, volts: float, *, steps_up: bool) -> float:
    """Return the share of the time for which a converter's switch is on, without losses.

    Parameters
    ----------
    source, volts : float
        Input and output in volts. An output of the other sign is that of an inverting converter.
    steps_up : bool
        Whether the output lies above the input.

    Notes
    -----
    Step-down: D = Vo / Vi. Step-up: D = 1 - Vi / Vo. Inverting: D = Vo / (Vo + Vi), in sizes. In
    continuous conduction, from the volt-seconds of the coil (Erickson and Maksimović,
    Fundamentals of Power Electronics, chapter 2).

    Examples
    --------
    >>> round(duty(12, 31.5, steps_up=True), 3), round(duty(12, 5, steps_up=False), 3)
    (0.619, 0.417)
    """
    size, have = abs(volts), abs(source)
    if volts * source < 0:
        return size / (size + have)
    found = 1 - have / size if steps_up else size / have
    return min(max(found, 0.0), 1.0)


def input_volts(case: Case, block: Converter) -> float:
    """Return what a converter is fed with, by the point or the regulating block before it, in volts."""
    for point in case.profile.test_points:
        if point.net == block.from_ and point.mode == "dc V" and point.volts:
            return point.volts
    for other in reversed(case.tree.upstream(block.from_)):
        if hasattr(other, "volts"):
            return float(other.volts)
    return 0.0


def _probe(case: Case, net: str) -> str:
    return next((p.id for p in case.profile.test_points if p.net == net), "")
