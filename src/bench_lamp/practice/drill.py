"""Drills: a simulated board with hidden faults, drawn by kind, hardness and seed; the customer may be wrong."""

from datetime import UTC, datetime, timedelta

import numpy as np
from msgspec import Struct

from bench_lamp.bench.simulated import SimulatedBoard, Truth
from bench_lamp.bench.simulated_set import SimulatedSet
from bench_lamp.board import Profile, ProfileLibrary
from bench_lamp.board.blocks import Load
from bench_lamp.board.fault_kind import FaultKind
from bench_lamp.circuit import PowerTree, compile_tree
from bench_lamp.circuit.faults import Fault, faults_of
from bench_lamp.errors import BenchLampError
from bench_lamp.journal.events import Body, CameWith, Complaint, Event, JobOpened, MainsSeen
from bench_lamp.journal.ids import IdMaker

HARDNESS = ("easy", "middle", "hard")
#: Tag of the board; a seed behind it, so that no two drills are one board.
TAG = "PR"
#: Kinds that only move a reading a little: not on easy boards.
SOFT = frozenset({
    FaultKind.RESISTIVE, FaultKind.WINDING_RESISTIVE, FaultKind.DRIED_OUT, FaultKind.LEAKY, FaultKind.HIGH_ESR,
    FaultKind.LEAKS_ACROSS, FaultKind.DRAWS_MORE, FaultKind.DRAWS_LESS, FaultKind.LOW, FaultKind.HIGH,
    FaultKind.INDUCTOR_WEAK, FaultKind.SUPPLY_WEAK, FaultKind.OUT_OF_ADJUSTMENT,
})  # fmt: skip
LEAST_SEED, MOST_SEED = 1, 99_999
#: How each is drawn: soft faults too, how many, and how far the meter and the customer are off.
_TRUTHS = {
    "easy": Truth(spread=0.6, leak=0.005, misread=0.0, complaint_error=0.0),
    "middle": Truth(spread=1.0, leak=0.01, misread=0.0, complaint_error=0.03),
    "hard": Truth(spread=1.3, leak=0.02, misread=0.02, gain=0.01, complaint_error=0.2),
}


class Drill(Struct, frozen=True, kw_only=True):
    """One board to practise on."""

    #: Id of its kind.
    kind: str
    hard: str
    seed: int
    #: Without the advice.
    alone: bool = False
    #: Name of the lesson that it belongs to; empty for none.
    lesson: str = ""
    #: Faults that a lesson names; drawn where it names none.
    faults: tuple[str, ...] = ()

    @property
    def job(self) -> str:
        """Name of the job."""
        return f"{TAG}-{self.seed:05d}/1"


def drill_of(text: str, kinds: tuple[str, ...]) -> Drill:
    """Return the drill that is named: `orrery hard 7 alone`; a word of the kind is enough.

    Raises
    ------
    BenchLampError
        When it names no kind, or no seed.
    """
    words = text.lower().split()
    hard = next((w for w in words if w in HARDNESS), "easy")
    seed = next((int(w) for w in words if w.isdecimal()), LEAST_SEED)
    found = _kinds_of(words, kinds)
    if len(found) != 1:
        raise BenchLampError(
            f"“{text.strip()[:40]}” names {len(found) or 'no'} kinds of board",
            hint="As: orrery hard 7, or orrery easy 3 alone",
        )
    if not LEAST_SEED <= seed <= MOST_SEED:
        raise BenchLampError(f"The seed {seed} cannot be", hint=f"{LEAST_SEED} to {MOST_SEED}")
    return Drill(kind=found[0], hard=hard, seed=seed, alone="alone" in words)


def _kinds_of(words: list[str], kinds: tuple[str, ...]) -> list[str]:
    """Return the kinds whose id holds every word that names one."""
    names = [w for w in words if w not in {*HARDNESS, "alone"} and not w.isdecimal()]
    return [k for k in kinds if names and all(n in k for n in names)]


def hidden(tree: PowerTree, drill: Drill) -> tuple[Fault, ...]:
    """Return the faults of a drill's board: those that its lesson names, else drawn by their weights."""
    known = [f for f in faults_of(tree) if f.weight > 0]
    if drill.faults:
        return tuple(f for f in known if f.name in drill.faults)
    chance = np.random.default_rng((drill.seed, HARDNESS.index(drill.hard), 77))
    fitting = [f for f in known if drill.hard != "easy" or f.kind not in SOFT]
    weights = np.array([f.weight for f in fitting])
    first = fitting[int(chance.choice(len(fitting), p=weights / weights.sum()))]
    if drill.hard != "hard":
        return (first,)
    others = [f for f in fitting if f.block != first.block and f.part != first.part]
    weights = np.array([f.weight for f in others])
    return (first, others[int(chance.choice(len(others), p=weights / weights.sum()))])


def board_of(profile: Profile, drill: Drill) -> SimulatedBoard:
    """Return the simulated board of a drill.

    Raises
    ------
    BenchLampError
        When the kind has no power tree: nothing can be simulated of it.
    """
    tree = compile_tree(profile)
    if tree is None:
        raise BenchLampError(f"{profile.name} has no supplies", hint="Choose another kind.")
    return SimulatedBoard(tree, hidden(tree, drill), _TRUTHS[drill.hard], drill.seed)


def linked_board(profile: Profile, drill: Drill) -> SimulatedSet:
    """Return the board as the linked instrument of the practice bench."""
    return SimulatedSet(board_of(profile, drill), None, name="practice bench")


def drill_events(profile: Profile, drill: Drill, now: datetime) -> tuple[Event, ...]:
    """Return what the journal of a drill begins with: the board came in, with its complaint."""
    dead = board_of(profile, drill).complaint()
    loads = [b for b in profile.power if isinstance(b, Load) and b.id in dead]
    said = [b.words[0] for b in loads if b.words][:3] or [b.id for b in loads][:1]
    complaint = f"{' and '.join(said)} dead" if said else "something is wrong with it, now and then"
    bodies: list[Body] = [
        JobOpened(tag=drill.job.partition("/")[0], profile=profile.id),
        Complaint(text=complaint),
        CameWith(text="nothing"),
    ]
    if profile.mains:
        volts, fuse = f"{profile.mains[0].volts:g} V", str(profile.mains[0].fuse)
        bodies += [
            MainsSeen(place="selector", text=volts),
            MainsSeen(place="sticker", text=volts),
            MainsSeen(place="fuse", text=fuse),
        ]
    ids = IdMaker(clock_ms=lambda: round(now.timestamp() * 1000))
    return tuple(
        Event(id=ids(), job=drill.job, at=now - timedelta(minutes=5), body=body) for body in bodies
    )


def first_events(
    library: ProfileLibrary, drill: Drill, now: datetime | None = None
) -> tuple[Event, ...]:
    """Return what the journal of a drill begins with; raise `BenchLampError` for a kind that there is not."""
    profile = library.get(drill.kind)
    if profile is None:
        raise BenchLampError(f"There is no kind {drill.kind}", hint="Name one that ships.")
    return drill_events(profile, drill, now or datetime.now(UTC))
