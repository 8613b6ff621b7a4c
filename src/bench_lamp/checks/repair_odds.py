"""Odds of parts from the shop's repairs: Dirichlet counts by kind of part, and by part within its kind."""

from collections.abc import Mapping

from msgspec import Struct, field

#: How many repairs the prior counts as.
PRIOR_REPAIRS = 20.0


class RepairCounts(Struct, frozen=True, kw_only=True):
    """What cured boards of one kind of board."""

    #: Repairs that cured, by part; and by kind of part over all the shop's boards.
    parts: Mapping[str, int] = field(default_factory=dict)
    families: Mapping[str, int] = field(default_factory=dict)
    #: Repairs that cured nothing, by part.
    vain: Mapping[str, int] = field(default_factory=dict)
    #: Boards of this kind that were repaired.
    jobs: int = 0

    @property
    def total(self) -> int:
        """All repairs that cured, on boards of this kind."""
        return sum(self.parts.values())


NO_REPAIRS = RepairCounts()


def learnt_factors(
    prior: Mapping[str, float], family: Mapping[str, str], counts: RepairCounts
) -> dict[str, float]:
    """Return by how much the shop's repairs make each part likelier, as a factor on its prior.

    First the kinds of part: (p·n₀ + repairs)/(n₀ + N) over all boards of the shop, where p is the
    kind's share of this board's prior. Then the parts of each kind among themselves, by the repairs
    of boards of this kind. Factors keep the sum of the priors.

    Parameters
    ----------
    prior : mapping
        Prior of each part, in any one unit; all above 0.
    family : mapping
        Kind of each part.
    counts : RepairCounts
        What cured.

    >>> counts = RepairCounts(parts={"J2.4": 20}, families={"pin": 20})
    >>> found = learnt_factors({"J2.4": 1, "J3.5": 1, "F4": 2}, {"J2.4": "pin", "J3.5": "pin", "F4": "fuse"}, counts)
    >>> {part: round(factor, 3) for part, factor in found.items()}
    {'J2.4': 2.25, 'J3.5': 0.75, 'F4': 0.5}
    """
    whole = sum(prior.values())
    if not whole or not counts.total:
        return dict.fromkeys(prior, 1.0)
    members: dict[str, list[str]] = {}
    for part in prior:
        members.setdefault(family.get(part, "other"), []).append(part)
    seen = sum(counts.families.get(name, 0) for name in members)
    factors = {}
    for name, parts in members.items():
        share = sum(prior[p] for p in parts) / whole
        kind = (share * PRIOR_REPAIRS + counts.families.get(name, 0)) / (PRIOR_REPAIRS + seen)
        cured = sum(counts.parts.get(p, 0) for p in parts)
        for part in parts:
            within = prior[part] / (share * whole)
            own = (within * PRIOR_REPAIRS + counts.parts.get(part, 0)) / (PRIOR_REPAIRS + cured)
            factors[part] = (kind / share) * (own / within)
    return factors


def seen_words(counts: RepairCounts, part: str) -> str:
    """Say how often a part was it: `seen here 4 of 31, in vain once`; empty where it never was."""
    good, vain = counts.parts.get(part, 0), counts.vain.get(part, 0)
    if not good and not vain:
        return ""
    words = f"seen here {good} of {counts.jobs}"
    times = {1: "once", 2: "twice"}.get(vain, f"{vain} times")
    return f"{words}, in vain {times}" if vain else words
