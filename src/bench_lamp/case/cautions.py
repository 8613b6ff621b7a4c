"""Cautions: what can hurt at the next step, in plain words, before the step."""

from msgspec.structs import replace

from bench_lamp.board import TestPoint
from bench_lamp.board.blocks import Inlet, Transformer
from bench_lamp.board.hazards import Hazard, HazardStep
from bench_lamp.case.case import Case
from bench_lamp.case.charge import MEASURE_ALL, charges, volts_words
from bench_lamp.case.chips import may_be_chip
from bench_lamp.checks.probe_limits import too_weak
from bench_lamp.journal.state import HANDS_V, OHMS_V
from bench_lamp.units import exact

#: DC or AC at the probe above these is called dangerous, in volts.
TOUCH_V, WINDING_V = 50.0, 60.0
LIVE = "Board is live. One hand only."
MAINS = "Mains can kill. Local electrical codes and licensed practice come first."
#: Of a point that nobody has described: unknown is never safe.
UNKNOWN_VOLTS = "Nobody has said what this carries. The meter on its highest range; one hand, the other off the frame."
DC_SUPPLY = "Fuse or limit the supply: a short without one burns tracks and leads."
#: Each time that a chip is touched, and a part is cut, desoldered and soldered.
STATIC = "Wrist strap on: static kills a chip without a trace."
ANY_BATTERY = "A leaking battery burns skin and copper: gloves, then neutralise."
CHIP_OFF = "Power off before a chip goes in or out."
SOLDERING = (
    "Glasses on: cut leads fly. The iron and the part stay hot.",
    "Fumes away from the face; wash the hands after leaded solder.",
)


def for_reading(case: Case, point: TestPoint) -> tuple[str, ...]:
    """Return the cautions of a reading on a live board: its volts, and what its profile adds."""
    if abs(point.volts) > TOUCH_V:
        hand = [f"{exact(abs(point.volts), 'V')}. One hand, the other off the frame."]
    elif not point.top_volts and point.mode in {"dc V", "ac V"}:
        hand = [UNKNOWN_VOLTS]
    else:
        hand = [LIVE] if case.state.power.is_live else []
    weak = too_weak(case.limits, point.top_volts, is_mains=is_mains(case, point.net))
    return tuple(filter(None, (weak, *hand, point.caution)))


def is_mains(case: Case, net: str) -> bool:
    """Whether a net is on the mains side: over 60 V AC at its inlet, no transformer between."""
    way = case.tree.upstream(net)
    has_mains = any(isinstance(b, Inlet) and not b.is_dc and b.volts > WINDING_V for b in way)
    return has_mains and not any(isinstance(b, Transformer) for b in way)


def for_net(case: Case, net: str, volts: float) -> tuple[str, ...]:
    """Return the cautions at a net without a point of its own, by what it carries in volts."""
    weak = too_weak(case.limits, volts, is_mains=is_mains(case, net))
    if weak:
        return (weak, *for_net(replace(case, limits=None), net, volts))
    if is_mains(case, net):
        return ("Mains between the two leads. Insulated probes and clips, one hand.",)
    volts = max(volts, source_volts(case, net))
    if volts > TOUCH_V:
        return (f"About {exact(round(volts), 'V')}. One hand, the other off the frame.",)
    return (LIVE,) if case.state.power.is_live else ()


def source_volts(case: Case, net: str) -> float:
    """Return what the winding or DC inlet before a net has, in volts; 0 for none."""
    roots = {
        w: v for b in case.profile.power if isinstance(b, Transformer) for w, v in b.to.items()
    }
    roots |= {b.to: abs(b.volts) for b in case.profile.power if isinstance(b, Inlet) and b.is_dc}
    return max((v for r, v in roots.items() if net in case.tree.downstream_nets({r})), default=0.0)


def unplug(case: Case) -> str:
    """Say how the board is taken off what feeds it."""
    return "pull the mains plug" if case.profile.has_mains else "unplug its supply"


def switch_off_first(case: Case) -> str:
    """Say, of a live board, that it must be off before anything is done."""
    return f"Board is LIVE. Switch off and {unplug(case)} first"


def for_hands_in(case: Case) -> tuple[str, ...]:
    """Return the cautions of any step with fingers on the board."""
    power = case.state.power
    if power.is_live:
        return (f"{switch_off_first(case)}, then Ctrl+P.",)
    first = () if power.is_known else (_not_confirmed(case),)
    if power.is_for_hands:
        return ()
    charged = [c for c in charges(case) if c.is_dangerous]
    places = ", ".join(f"{c.name} ({volts_words(c)})" for c in charged)
    which = f"Capacitors may hold charge. Read across {places}" if charged else MEASURE_ALL
    below = f"Below {HANDS_V:g}\u202fV before hands go in."
    return (*first, f"{which.rstrip('.')}. {below}", *_hazards(case, "hands"))


def _not_confirmed(case: Case) -> str:
    how = unplug(case)
    return f"Power not confirmed. {how[:1].upper()}{how[1:]}, then Ctrl+P."


def for_ohms(case: Case) -> tuple[str, ...]:
    """Return the cautions of ohms, diode tests and capacitance: charge spoils reading and meter."""
    if case.state.power.is_live or case.state.power.is_for_ohms:
        return for_hands_in(case)
    charged = [c for c in charges(case) if c.spoils_ohms]
    places = ", ".join(f"{c.name} ({volts_words(c)})" for c in charged[:4])
    more = f" and {len(charged) - 4} more" if len(charged) > 4 else ""
    what = f"{places}{more}" if charged else "each large capacitor"
    return (f"Ohms need every capacitor below {OHMS_V:g}\u202fV, not only below 30: {what}.",)


def for_power(case: Case, *, is_whole: bool = True) -> tuple[str, ...]:
    """Return what the profile says of what feeds it, all of it; what was said before in a word."""
    usual = MAINS if case.profile.has_mains else DC_SUPPLY
    if not is_whole:
        return (usual,)
    return (*(case.profile.cautions or (usual,)), *_hazards(case, "power"))


def for_soldering(case: Case, part: str) -> tuple[str, ...]:
    """Return the cautions of taking a part out and fitting another."""
    is_static = case.profile.chip(part) is not None or may_be_chip(case, part)
    near = tuple(h.text for h in case.profile.hazards if h.part and h.part == part)
    return (*for_hands_in(case), *near, *SOLDERING, *((STATIC,) if is_static else ()))


def for_looking(case: Case) -> tuple[str, ...]:
    """Return what can hurt already when a set is opened and looked at."""
    found = _hazards(case, "look")
    is_named = any(c.family == "battery" for c in case.profile.chips)
    return ("Plug pulled." if is_named else f"Plug pulled. {ANY_BATTERY}", *found)


def for_working_contacts(case: Case) -> tuple[str, ...]:
    """Return what can hurt while contacts are worked on a live set: coils answer them."""
    wake = case.profile.wake
    if wake is None or not wake.coil_fuse or wake.coil_fuse in case.state.out:
        return ()
    return (
        f"Coils can fire while contacts are worked: {wake.coil_fuse} out, or an insulated stick.",
    )


def _hazards(case: Case, step: HazardStep) -> tuple[str, ...]:
    found = [h for h in case.profile.hazards if step in h.steps]
    named = {h.part for h in case.profile.hazards}
    found += [
        h
        for chip in case.profile.chips
        if chip.family == "battery" and chip.id not in named
        for h in (Hazard(kind="battery", place=f"{chip.id} {chip.place}".strip(), part=chip.id),)
        if step in h.steps
    ]
    return tuple(h.text for h in found)
