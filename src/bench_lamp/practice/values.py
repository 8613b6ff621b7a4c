"""A drill: one board to practise on, by kind, hardness and seed."""

from msgspec import Struct

HARDNESS = ("easy", "middle", "hard")
#: Tag of the board; a seed behind it, so that no two drills are one board.
TAG = "PR"


class Drill(Struct, frozen=True, kw_only=True):
    """One board to practise on."""

    #: Id of its kind.
    kind: str
    hard: str
    seed: int
    #: Without the advice.
    alone: bool = False
    #: Whether at least one fault is of the logic, where the kind has any.
    is_logic: bool = False
    #: Name of the lesson that it belongs to; empty for none.
    lesson: str = ""
    #: Faults that a lesson names; drawn where it names none.
    faults: tuple[str, ...] = ()

    @property
    def job(self) -> str:
        """Name of the job."""
        return f"{TAG}-{self.seed:05d}/1"
