"""Names for what a supply is made of: free ones, or those that parts were given already."""

import re

from msgspec import Struct, field

from bench_lamp.board.blocks import block_inputs, block_outputs
from bench_lamp.board.profile import PartKind, Profile


class Names(Struct):
    """Gives names that are free on a profile; a part that was named already is what it is."""

    profile: Profile
    rail: str = ""
    taken: set[str] = field(default_factory=set)
    #: Parts that are blocks now, and so no parts of the list any more.
    used: list[str] = field(default_factory=list)

    def __post_init__(self) -> None:
        blocks = self.profile.power
        self.taken |= {b.id for b in blocks} | {p.id for p in self.profile.test_points}
        self.taken |= {p.id for p in self.profile.parts}
        self.taken |= {n for b in blocks for n in (*block_inputs(b), *block_outputs(b))}

    def free(self, prefix: str, tail: str = "") -> str:
        """Return the first free name with this beginning: `F1`, `J2.1`."""
        number = 1
        while f"{prefix}{number}{tail}" in self.taken or f"{prefix}{number}" in self.taken:
            number += 1
        self.taken.add(f"{prefix}{number}{tail}")
        self.taken.add(f"{prefix}{number}")
        return f"{prefix}{number}{tail}"

    def part(self, kind: PartKind, prefix: str, tail: str = "") -> str:
        """Return the part of that kind that was named for this rail, else a free name."""
        for part in self.profile.parts:
            if part.kind == kind and part.id not in self.used and part.feeds in {self.rail, ""}:
                self.used.append(part.id)
                return f"{part.id}{tail}"
        return self.free(prefix, tail)

    def net(self, name: str) -> str:
        """Return a free name for a net."""
        plain = re.sub(r"[^\w]", "_", name)
        made, number = plain, 2
        while made in self.taken:
            made, number = f"{plain}_{number}", number + 1
        self.taken.add(made)
        return made
