"""How a part comes out and what is done after the new one is in: by class and house rule, in order."""

from bench_lamp.case.case import Case
from bench_lamp.case.chips import may_be_chip
from bench_lamp.case.house_rules import rule
from bench_lamp.units.part import PartSpec, SpecKind

#: What is done once a fuse is in: nothing of it is soldered.
CLIPPED_IN = (
    "clips bright and tight; tone from one clip to the other",
    "ohms behind it: what blew the old one is found first",
)
#: What not to do to tracks that are forty years old; said with every soldered part.
OLD_TRACKS = "Old tracks lift: never pry; three seconds of heat, then let it cool."


def house_words(case: Case, part: str) -> tuple[str, ...]:
    """Return what the house rules say of a chip, or of what may be one."""
    if not may_be_chip(case, part) and case.profile.chip(part) is None:
        return ()
    start = "House rule" if part in case.profile.part_ids() else "House rule, if it is a chip"
    is_cut = rule(case, "removal") == "cut out"
    how = "cut it out, then the pins one by one." if is_cut else "desolder it whole."
    words = [f"{start}: {how}"]
    if rule(case, "sockets") == "always":
        words.append(
            f"{start}: a socket goes in, turned pins; mind the height under the cover, and over 1\u202fA solder it in."
        )
    return tuple(words)


def comes_out(case: Case, want: PartSpec) -> str:
    """Say how a part comes out without hurting the board."""
    is_cut = rule(case, "removal") == "cut out"
    match want.kind:
        case SpecKind.FUSE:
            return "pull it with a fuse puller; tone it out of its clips"
        case SpecKind.CHIP | SpecKind.CRYSTAL:
            if is_cut:
                return "cut the legs at the body, then heat and pull them one by one; suck the holes clear"
            return "fresh solder on each leg, suction from below, wiggle each leg free before it is lifted"
        case SpecKind.REGULATOR | SpecKind.TRANSISTOR | SpecKind.RECTIFIER:
            return "screw and fin first; then cut the legs and clear the holes, or heat them all with fresh solder"
        case SpecKind.ELECTROLYTIC | SpecKind.TANTALUM:
            return "add solder, heat both legs in turn and rock it out; wick the holes clear"
        case None:
            return "add fresh solder, heat, lift; wick the holes clear"
    return "add solder, heat one leg at a time and lift it; wick the holes clear"


#: Other ways out, and whether they keep the part: for many legs, for a tab, for two legs.
_MANY = (
    "cut the legs (lost)",
    "suction, fresh solder first (kept)",
    "braid (kept, slow)",
    "hot air, foil over all that is near (kept, the board suffers most)",
)
_TWO = (
    "two legs heated in turn (kept)",
    "braid (kept)",
    "cut the body off first (lost, the pads suffer least)",
)


def other_ways(want: PartSpec) -> str:
    """Say which ways there are to take a part out, and which of them keep it; empty for what is only clipped in."""
    if want.kind is SpecKind.FUSE:
        return ""
    many = {SpecKind.CHIP, SpecKind.REGULATOR, SpecKind.TRANSISTOR, SpecKind.RECTIFIER, None}
    return "; ".join(_MANY if want.kind in many else _TWO)


def keeps_it(case: Case, want: PartSpec) -> str:
    """Say whether the part survives it."""
    if want.kind in {SpecKind.CHIP, SpecKind.CRYSTAL} and rule(case, "removal") == "cut out":
        return "the part is lost, the board is spared"
    return "the part can be tested after"


def before_power(case: Case, part: str, want: PartSpec) -> tuple[str, ...]:
    """Return what is done once it is in, before power."""
    if want.kind is SpecKind.FUSE:
        return CLIPPED_IN
    steps = ["clean the flux; look for bridges and for lifted pads under a lens"]
    block = case.profile.block(part)
    net = getattr(block, "net", "") or getattr(block, "to", "")
    point = case.profile.point_on(net)
    if point is not None and point.mode == "dc V":
        ground = case.profile.ground_of(point).name or point.black
        steps.append(f"ohms from {point.id} to {ground}: no short, and each leg to its neighbours")
    else:
        steps.append("ohms from each leg to its neighbours and to the rail: no short")
    if want.has_polarity:
        steps.append("polarity once more, from the solder side too")
    if want.pins:
        steps.append(f"from the solder side the pins read {' '.join(reversed(want.pins))}")
    if want.kind is SpecKind.ELECTROLYTIC:
        steps.append("write the date on it; clean, neutralise and seal where the old one leaked")
    return tuple(steps)
