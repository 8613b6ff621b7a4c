"""Drills: a simulated board with hidden faults, drawn by kind, hardness and seed; the customer may be wrong."""

from datetime import UTC, datetime, timedelta

from bench_lamp.bench.simulated import SimulatedBoard, Truth
from bench_lamp.bench.simulated_set import SimulatedSet
from bench_lamp.board import Profile, ProfileLibrary
from bench_lamp.board.blocks import Load
from bench_lamp.circuit import compile_tree
from bench_lamp.errors import BenchLampError
from bench_lamp.journal.events import Body, CameWith, Complaint, Event, JobOpened, MainsSeen
from bench_lamp.journal.ids import IdMaker
from bench_lamp.practice.hidden import Hidden, hide, symptoms
from bench_lamp.practice.values import HARDNESS, Drill

LEAST_SEED, MOST_SEED = 1, 99_999
#: How each is drawn: soft faults too, how many, and how far the meter and the customer are off.
_TRUTHS = {
    "easy": Truth(spread=0.6, leak=0.005, misread=0.0, complaint_error=0.0),
    "middle": Truth(spread=1.0, leak=0.01, misread=0.0, complaint_error=0.03),
    "hard": Truth(spread=1.3, leak=0.02, misread=0.02, gain=0.01, complaint_error=0.2),
}


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
    return Drill(
        kind=found[0], hard=hard, seed=seed, alone="alone" in words, is_logic="logic" in words
    )


def _kinds_of(words: list[str], kinds: tuple[str, ...]) -> list[str]:
    """Return the kinds whose id holds every word that names one."""
    names = [w for w in words if w not in _WORDS and not w.isdecimal()]
    return [k for k in kinds if names and all(n in k for n in names)]


#: Words of a drill beside those that name its kind.
_WORDS = {*HARDNESS, "alone", "logic"}


def board_of(profile: Profile, drill: Drill) -> tuple[SimulatedSet, Hidden]:
    """Return the simulated board of a drill, and what is hidden on it.

    Raises
    ------
    BenchLampError
        When the kind has no power tree: nothing can be simulated of it.
    """
    tree = compile_tree(profile)
    if tree is None:
        raise BenchLampError(f"{profile.name} has no supplies", hint="Choose another kind.")
    found = hide(profile, tree, drill)
    rails = SimulatedBoard(tree, found.supplies, _TRUTHS[drill.hard], drill.seed)
    return SimulatedSet(rails, found.logic, name="practice bench"), found


def drill_events(profile: Profile, drill: Drill, now: datetime) -> tuple[Event, ...]:
    """Return what the journal of a drill begins with: the board came in, with its complaint."""
    complaint = _complaint(profile, drill)
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


def _complaint(profile: Profile, drill: Drill) -> str:
    """Return what the customer says of a drill's board."""
    board, found = board_of(profile, drill)
    dead = board.rails.complaint() if board.rails is not None else frozenset()
    loads = [b for b in profile.power if isinstance(b, Load) and b.id in dead]
    names = dict.fromkeys(b.words[0] if b.words else b.id for b in loads)
    named = ", ".join([n for n in names if n != "dead"][:3])
    said = [f"trouble with {named}" if named else "dead"] * bool(names)
    said += symptoms(profile, found.logic)[: 3 - len(said)]
    return ", ".join(said) or "something is wrong with it, now and then"


def first_events(
    library: ProfileLibrary, drill: Drill, now: datetime | None = None
) -> tuple[Event, ...]:
    """Return what the journal of a drill begins with; raise `BenchLampError` for a kind that there is not."""
    profile = library.get(drill.kind)
    if profile is None:
        raise BenchLampError(f"There is no kind {drill.kind}", hint="Name one that ships.")
    return drill_events(profile, drill, now or datetime.now(UTC))
