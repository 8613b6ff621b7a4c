"""The facts that the engine is told: clues, and what stands around them."""

from collections.abc import Mapping

from msgspec import Struct, field

from bench_lamp.board.condition import TestKind
from bench_lamp.checks.repair_odds import NO_REPAIRS, RepairCounts
from bench_lamp.logic.clue import LogicClue


class Clue(Struct, frozen=True, kw_only=True):
    """One reading or tone test that still stands."""

    #: Id of its event.
    event: str
    kind: TestKind
    #: Net of a reading, block of a tone test.
    target: str
    #: Volts (signed for DC), ohms (infinite for an overload), or 0 toned and 1 open.
    value: float
    #: What was out when it was taken.
    out: frozenset[str] = frozenset()
    #: Dummy loads that hung on meanwhile.
    hung: frozenset[str] = frozenset()
    #: How often it was read with this result, one after the other.
    times: int = 1
    #: As it is written: `C 0.1 V`.
    text: str = ""


class Facts(Struct, frozen=True, kw_only=True):
    """Everything that the odds depend on. Equal facts have equal odds."""

    clues: tuple[Clue, ...] = ()
    #: In the customer's words.
    complaint: str = ""
    #: Part or connector, and what was seen there.
    seen: tuple[tuple[str, str], ...] = ()
    #: Blocks and connectors that were replaced or put right.
    mended: frozenset[str] = frozenset()
    #: What is out now.
    out: frozenset[str] = frozenset()
    is_powered: bool = False
    #: Dummy loads that hang on now.
    hung: frozenset[str] = frozenset()
    #: The mains as it was read, as a factor on what the set is wired for; None where nobody did.
    mains: float | None = None
    #: What a known-good twin reads, in volts by net.
    twins: Mapping[str, float] = field(default_factory=dict)
    #: Results of self-tests, lanes, pulls and probes that stand.
    logic: tuple[LogicClue, ...] = ()
    #: What cured boards of this kind in this shop.
    repairs: RepairCounts = NO_REPAIRS


class Weight(Struct, frozen=True, kw_only=True):
    """One piece of evidence on one suspect."""

    text: str
    #: How much it speaks for the suspect against all others, in bits; negative: against.
    bits: float
    #: What the suspect would make it read, in volts or ohms; None where there is no figure.
    expects: float | None = None
    kind: str = ""
