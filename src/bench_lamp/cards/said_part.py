"""A part that is named while the work goes on: `F1 fuse 8 A slow`, `BR1 bridge for 5V`."""

from bench_lamp.board.change import Put
from bench_lamp.board.profile import PartKind
from bench_lamp.board.texts import ID
from bench_lamp.cards.card import Accepted, Answer, Refused
from bench_lamp.case.case import Case

#: What people call each kind of part.
_KINDS: dict[str, PartKind] = {
    "fuse": "fuse",
    "breaker": "fuse",
    "switch": "switch",
    "relay": "switch",
    "transformer": "transformer",
    "bridge": "rectifier",
    "rectifier": "rectifier",
    "diode": "rectifier",
    "capacitor": "capacitor",
    "cap": "capacitor",
    "reservoir": "capacitor",
    "electrolytic": "capacitor",
    "regulator": "regulator",
    "reg": "regulator",
    "converter": "converter",
    "transistor": "transistor",
    "mosfet": "transistor",
    "coil": "coil",
    "inductor": "coil",
    "choke": "coil",
    "connector": "connector",
    "plug": "connector",
    "socket": "connector",
    "chip": "chip",
    "part": "other",
}


def take_said_part(case: Case, text: str, *, rail: str = "") -> Answer | None:
    """Take `NAME KIND …` as a part that the profile learns; None where it is something else.

    Parameters
    ----------
    case : Case
        Its profile learns the part.
    text : str
        As it was typed.
    rail : str
        The point whose rail is being looked at, which the part feeds unless `for POINT` says other.
    """
    words = text.split()
    kind = _KINDS.get(words[1].lower()) if len(words) > 1 else None
    if kind is None:
        return None
    name, rest = words[0], words[1:]
    known = {p.lower(): p for p in case.profile.part_ids()}
    if name.lower() in known and case.profile.block(known[name.lower()]) is not None:
        return Refused(what=f"{name} is in the tree already", mend="Change it in the workshop.")
    if not ID.fullmatch(name):
        return Refused(what=f"“{name[:24]}” cannot be a name", mend="Letters, figures, + - . / _")
    feeds = rail
    if len(rest) > 2 and rest[-2].lower() == "for":
        points = {p.id.lower(): p.id for p in case.profile.test_points}
        feeds = points.get(rest[-1].lower(), "")
        if not feeds:
            return Refused(
                what=f"“{rest[-1][:24]}” is no point of this profile",
                mend=f"Known are: {', '.join(points.values()) or 'none yet'}.",
            )
        rest = rest[:-2]
    fields = {"name": " ".join(rest), "kind": kind, "feeds": feeds or None}
    return Accepted(grow=(Put(("parts", known.get(name.lower(), name)), fields),), focus="")
