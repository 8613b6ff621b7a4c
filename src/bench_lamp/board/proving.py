"""How a kind of board is proved: what the customer does with it, its full loads, its burn-in."""

from bench_lamp.board.written import Amps, FromFile


class Function(FromFile, frozen=True, kw_only=True):
    """One thing that the customer does with it, and how it is tried."""

    id: str
    name: str
    how: str = ""


class FullLoad(FromFile, frozen=True, kw_only=True):
    """The most that a supply is made for."""

    #: Test point that it is read at.
    point: str
    amps: Amps
    #: How long the last step is held.
    minutes: float = 10.0
    #: What is felt for heat meanwhile.
    feel: tuple[str, ...] = ()


class BurnIn(FromFile, frozen=True, kw_only=True):
    """How long it runs before it is handed back, what is read, and how often."""

    hours: float
    every_minutes: float = 30.0
    points: tuple[str, ...] = ()
    #: Minutes on, then off, of one cycle; 0 for staying on.
    on_minutes: float = 0.0
    off_minutes: float = 0.0
