"""What must not be switched on as it is: known to be bad and able to do harm, or not looked at."""

from collections.abc import Iterator

from msgspec import Struct

from bench_lamp.board.self_tests import StepsTest
from bench_lamp.case.case import Case, remembered
from bench_lamp.case.cold_list import cold_items
from bench_lamp.case.results import cells_now
from bench_lamp.journal.state import ROUND
from bench_lamp.logic.marks import LOCKED_ON


class Stop(Struct, frozen=True):
    """One reason not to switch on."""

    #: Names it in the journal when somebody goes on against it: `fuse:F4`, `mains`.
    key: str
    text: str


@remembered
def stops(case: Case) -> tuple[Stop, ...]:
    """Return everything that speaks against switching on, whether gone against or not."""
    found = [Stop("mains", f"{case.mains.reason}")] if case.mains.stops_the_wake_up else []
    return (*found, *cold_stops(case), *_locked(case))


@remembered
def cold_stops(case: Case) -> tuple[Stop, ...]:
    """Return what was found cold and could do harm under power."""
    return tuple(
        Stop(item.id, f"{item.title.partition(',')[0]}: {item.word.text}.")
        for item in cold_items(case)
        if item.word.is_harmful
    )


def _locked(case: Case) -> Iterator[Stop]:
    """A coil that stayed in burns in seconds, unless the coil fuse is out."""
    wake = case.profile.wake
    if wake is not None and wake.coil_fuse in case.state.out:
        return
    for coil, _ in locked_on(case):
        yield Stop(
            f"locked on:{coil}",
            f"{coil} stayed in. Take {coil_fuse_words(case)} out before the next start.",
        )


def coil_fuse_words(case: Case) -> str:
    """Name the coil fuse: `F3, the coil fuse`, or `the coil fuse` where the profile names none."""
    wake = case.profile.wake
    return f"{wake.coil_fuse}, the coil fuse," if wake and wake.coil_fuse else "the coil fuse"


def locked_on(case: Case) -> Iterator[tuple[str, str]]:
    """Yield each coil that stayed in, by name, with the id of the event that said so."""
    for test in case.profile.self_tests:
        if isinstance(test, StepsTest):
            marks = cells_now(case, test.id)
            for step in test.steps:
                if step.id in marks and marks[step.id].mark == LOCKED_ON and step.fitted:
                    yield f"{step.id} {step.name}", marks[step.id].event


@remembered
def wake_stops(case: Case) -> tuple[Stop, ...]:
    """Return what forbids switching on until it is mended; what was gone against by name is left out.

    Journals from before there were names: going on went against all that was known.
    """
    against: set[str] = set()
    for mark in case.state.gates.get(ROUND, ()):
        if mark.mark == "overridden":
            if mark.stops is None:
                return ()
            against.update(mark.stops)
    return tuple(s for s in stops(case) if s.key not in against)


def stop_words(found: tuple[Stop, ...]) -> str:
    """Say stops in one line, as it is logged when somebody goes on against them."""
    return " ".join(stop.text for stop in found)
