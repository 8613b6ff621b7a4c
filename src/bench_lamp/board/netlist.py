"""Netlists as open schematic editors write them, in s-expressions: chips, pins and nets of a board.

What is read is data: bounded in length and depth, nothing of it is run.
"""

import re
from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from msgspec import Struct

from bench_lamp.board.change import Change, Put, point_put
from bench_lamp.board.parts_list import kind_by_letters
from bench_lamp.board.profile import Profile
from bench_lamp.board.texts import ID, wrong_with
from bench_lamp.board.usual import usual_rail
from bench_lamp.errors import BenchLampError

#: Characters, brackets within each other, parts and nets of the largest netlist that is read.
MOST_TEXT, MOST_DEPTH, MOST_PARTS, MOST_NETS = 5_000_000, 40, 3000, 6000
#: A net on more pins than this is no signal that a chip could spoil alone.
MOST_PINS = 24
_HOW = "look at each line with a logic probe or a scope"
#: Words of a chip's value that name its family.
_FAMILIES = ("cpu", "rom", "ram", "io", "decoder", "latch", "driver", "mux")
_TOKEN = re.compile(r'"((?:[^"\\]|\\.)*)"|([()])|([^\s()"]+)')
#: Nets that carry supply, by name; and returns.
_RETURN = re.compile(r"(?i)^/?(0|gnd\w*|agnd|dgnd|vss|0v|chassis|earth)$")
_SUPPLY = re.compile(r"(?i)^/?(\+|-)?\d+([.,v]\d+)?v?\w{0,3}$|^/?(vcc|vdd|vee|vbb|vpp)\w*$")


class NetlistError(BenchLampError):
    """A netlist that cannot be read."""


class Netlist(Struct, frozen=True):
    """The parts with their values, and each net with the pins on it."""

    parts: Mapping[str, str]
    #: Net to (part, pin number, pin name).
    nets: Mapping[str, tuple[tuple[str, str, str], ...]]

    def is_return(self, net: str) -> bool:
        """Whether a net is a return, by its name."""
        return bool(_RETURN.match(net))

    def is_supply(self, net: str) -> bool:
        """Whether a net carries a supply, by its name."""
        return bool(_SUPPLY.match(net)) or usual_rail(net.strip("/")) is not None


def read_netlist(text: str) -> Netlist:
    """Read a netlist of s-expressions with `components` and `nets`.

    Raises
    ------
    NetlistError
        When it is none, is too large or too deep.
    """
    if len(text) > MOST_TEXT or wrong_with(text[:4000]):
        raise NetlistError("It is too long for a netlist, or no text", hint="Export it again.")
    tree = _tree(text)
    parts = {
        ref: _word(_one(part, "value"))
        for group in _find(tree, "components")
        for part in _find(group, "comp")
        if (ref := _word(_one(part, "ref")))
    }
    nets: dict[str, tuple[tuple[str, str, str], ...]] = {}
    for group in _find(tree, "nets"):
        for net in _find(group, "net"):
            name = _word(_one(net, "name"))
            pins = tuple(
                (_word(_one(n, "ref")), _word(_one(n, "pin")), _word(_one(n, "pinfunction")))
                for n in _find(net, "node")
            )
            if name and pins:
                nets[name] = pins
    if not parts or not nets:
        raise NetlistError("It names no parts or no nets", hint="Export a netlist, not a drawing.")
    if len(parts) > MOST_PARTS or len(nets) > MOST_NETS:
        raise NetlistError("It has too many parts or nets", hint="Take one board at a time.")
    return Netlist(parts, nets)


#: Nodes of a SPICE element by its letter; those of X are all but its last word.
_NODES = {"R": 2, "C": 2, "L": 2, "V": 2, "I": 2, "D": 2, "B": 2, "G": 2, "Q": 3, "J": 3, "M": 4}


def is_spice(text: str) -> bool:
    """Whether a text is SPICE: its cards end with `.end`, or most lines are elements on two nodes."""
    lines = [x.strip() for x in text.splitlines()[:200] if x.strip()]
    if any(x.lower() in {".end", ".ends"} for x in lines):
        return True
    elements = [x for x in lines[1:] if re.match(r"(?i)[rcldqvix]\S*\s+\S+\s+\S+\s+\S+", x)]
    return len(lines) > 3 and "," not in lines[0] and len(elements) > 0.7 * len(lines)


def read_spice(text: str) -> Netlist:
    """Read a netlist in SPICE text: its elements are parts, its nodes nets; raises as `read_netlist`."""
    if len(text) > MOST_TEXT:
        raise NetlistError("It is too long for a netlist", hint="Export it again.")
    cards = re.sub(r"\n\s*\+", " ", text).splitlines()
    parts: dict[str, str] = {}
    nets: dict[str, list[tuple[str, str, str]]] = {}
    for card in cards[1:]:
        words = card.split(";")[0].split()
        letter = words[0][:1].upper() if words else ""
        if letter not in {*_NODES, "X"} or len(words) < 3:
            continue
        # A part that SPICE has no letter for is XU1 there, and U1 on the board.
        name = words[0][1:] if letter == "X" and len(words[0]) > 2 else words[0]
        count = _NODES.get(letter, len(words) - 2)
        parts[name] = words[count + 1] if len(words) > count + 1 else ""
        for number, node in enumerate(words[1 : count + 1], 1):
            nets.setdefault(node, []).append((name, str(number), ""))
    if not parts:
        raise NetlistError("It has no elements", hint="Export a netlist in SPICE text.")
    if len(parts) > MOST_PARTS or len(nets) > MOST_NETS:
        raise NetlistError("It has too many parts or nets", hint="Take one board at a time.")
    return Netlist(parts, {k: tuple(v) for k, v in nets.items()})


def _tree(text: str) -> list[Any]:
    """Return nested lists of words; raise `NetlistError` where brackets do not match."""
    stack: list[list[Any]] = [[]]
    for quoted, bracket, word in _TOKEN.findall(text):
        if bracket == "(":
            stack.append([])
            if len(stack) > MOST_DEPTH:
                raise NetlistError("Its brackets are too deep", hint="It is no netlist.")
        elif bracket == ")":
            if len(stack) < 2:
                raise NetlistError("A bracket too many", hint="Export it again.")
            done = stack.pop()
            stack[-1].append(done)
        else:
            stack[-1].append(word or quoted)
    if len(stack) != 1:
        raise NetlistError("A bracket is missing at its end", hint="Export it again.")
    return stack[0]


def _find(node: Sequence[Any], name: str) -> Iterator[list[Any]]:
    """Yield lists that begin with a name: those here, else those one level in."""
    here = [x for x in node if isinstance(x, list) and x and x[0] == name]
    if here:
        yield from here
        return
    for inner in node:
        if isinstance(inner, list):
            yield from (x for x in inner if isinstance(x, list) and x and x[0] == name)


def _one(node: Sequence[Any], name: str) -> list[Any]:
    return next((x for x in node if isinstance(x, list) and x and x[0] == name), [])


def _word(node: Sequence[Any]) -> str:
    return str(node[1]) if len(node) > 1 and not isinstance(node[1], list) else ""


def netlist_changes(found: Netlist, profile: Profile) -> tuple[Change, ...]:
    """Return the changes that a netlist means: parts, chips with lines and probes, lanes, rails.

    Chips (U, IC) get the signal nets on their pins as lines, with a probe for each; a lane is made
    for each bus of numbered nets on two chips or more; supply nets become points with the limits
    that such rails usually have, marked as assumed. What the profile has already stays.
    """
    known = {b.id for b in profile.power} | {c.id for c in profile.chips}
    known |= {p.id for p in profile.parts}
    refs = [ref for ref in found.parts if ID.fullmatch(ref)]
    lines = {n: _line(n) for n, pins in found.nets.items() if _is_signal(found, n, pins)}
    parts = [_part(found, ref, lines) for ref in refs if ref not in known]
    chips = {ref for ref in refs if _is_chip(ref)}
    return (*_rails(found, profile), *parts, *_lanes(found, profile, lines, chips))


def _part(found: Netlist, ref: str, lines: Mapping[str, str]) -> Put:
    """Return a chip with the lines on its pins, or a part of another kind."""
    pins = [
        (pin, lines[net])
        for net, nodes in found.nets.items()
        if net in lines
        for other, pin, _ in nodes
        if other == ref
    ]
    name = found.parts[ref] or ref
    if _is_chip(ref) and pins:
        return Put(("chips", ref), _chip(name, pins))
    return Put(("parts", ref), {"name": name, "kind": kind_by_letters(ref, name)})


def _is_chip(ref: str) -> bool:
    return bool(re.match(r"(?i)(u|ic)\d", ref))


def _is_signal(found: Netlist, net: str, pins: Sequence[tuple[str, str, str]]) -> bool:
    return 2 <= len(pins) <= MOST_PINS and not found.is_return(net) and not found.is_supply(net)


def _line(net: str) -> str:
    """Return a net's name as a signal line has it: letters, figures and signs only."""
    return re.sub(r"[^\w+-]", "_", net.strip("/~")) or "net"


def _chip(name: str, pins: Sequence[tuple[str, str]]) -> dict[str, Any]:
    numbered = [(int(pin), line) for pin, line in pins if pin.isdigit()]
    probes = [{"pin": pin, "name": line, "line": line} for pin, line in sorted(set(numbered))]
    return {
        "name": name,
        "family": next((f for f in _FAMILIES if f in name.lower()), "buffer"),
        "pins": max([p for p, _ in numbered], default=16),
        "lines": " ".join(dict.fromkeys(line for _, line in pins)),
        "probes": probes,
    }


def _rails(found: Netlist, profile: Profile) -> Iterator[Change]:
    """Yield a point for each supply net that is not one yet, and a ground where there is none."""
    returns = [n for n in found.nets if found.is_return(n)]
    ground = next(iter(profile.grounds), "gnd")
    if not profile.grounds:
        net = _line(returns[0]) if returns else "gnd"
        yield Put(
            ("grounds", "gnd"),
            {"net": net, "place": f"any pin on {returns[0] if returns else 'ground'}"},
        )
    for net, pins in found.nets.items():
        name = _line(net)
        is_new = profile.point_called(name) is None
        if not found.is_supply(net) or found.is_return(net) or not is_new or not ID.fullmatch(name):
            continue
        usual = usual_rail(net.strip("/"))
        part, pin, _ = pins[0]
        yield point_put(
            name,
            name=f"supply {net}",
            net=name,
            black=ground,
            mode=usual.mode if usual else "dc V",
            nominal=f"{usual.nominal:g} V" if usual else None,
            design=str(usual.design) if usual else None,
            assumed=True if usual else None,
            place=f"{part} pin {pin}",
        )


def _lanes(
    found: Netlist, profile: Profile, lines: Mapping[str, str], chips: set[str]
) -> Iterator[Change]:
    """Yield a lane for each run of numbered nets that joins two chips or more: `D0` to `D7`."""
    groups: dict[str, dict[int, str]] = {}
    for net, line in lines.items():
        match = re.fullmatch(r"(.*?)(\d+)", line)
        on = {r for r, _, _ in found.nets[net]} & chips
        if match is not None and len(on) > 1:
            groups.setdefault(match[1], {})[int(match[2])] = line
    have = {lane.id for lane in profile.lanes}
    for stem, members in groups.items():
        name = re.sub(r"[^\w+-]", "", stem) or "bus"
        if len(members) >= 4 and name not in have and ID.fullmatch(name):
            ordered = [members[n] for n in sorted(members)]
            yield Put(
                ("lanes", name),
                {
                    "name": f"{name} bus",
                    "lines": " ".join(ordered),
                    "how": "look at each line with a logic probe or a scope",
                },
            )
