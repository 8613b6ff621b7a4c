"""A profile proves itself: every point whose limits its own circuit misses, with the likely wrong value."""

from collections.abc import Iterator

from bench_lamp.board import FeedTree, Profile, TestPoint
from bench_lamp.board.blocks import Converter, Dropper, Load, Pin, Rectifier, Regulator, Transformer
from bench_lamp.circuit import compile_tree
from bench_lamp.reason.own.sound_board import Solved, sound_board
from bench_lamp.reason.own.values import Miss, Proof
from bench_lamp.units import Band

#: A figure this near to a limit, as a share of its size, meets it.
NEAR = 0.002


def prove(profile: Profile) -> Proof | None:
    """Solve the sound board of a profile and compare each point; None where nothing feeds it.

    At the nominal mains with all loads a point is held against practice, else the drawing; at
    10 % less and more it is held against the drawing, which is meant to cover that, but for
    windings and what is not regulated: these follow the mains.
    """
    tree = compile_tree(profile)
    if tree is None:
        return None
    solved = sound_board(tree)
    feeds = FeedTree.of(profile)
    points = [p for p in profile.test_points if p.net in solved and p.band and p.mode in _MODES]
    misses = [m for p in points for m in _misses(feeds, p, solved[p.net])]
    left = tuple(p.id for p in profile.test_points if p not in points)
    return Proof(tuple(misses), len(points), left)


_MODES = ("dc V", "ac V")


def _misses(feeds: FeedTree, point: TestPoint, solved: Solved) -> Iterator[Miss]:
    band = point.band
    if band is not None and not _is_met(solved.usual, band):
        yield _miss(feeds, point, solved.usual, band, "at nominal mains")
        return
    if point.design is None or point.assumed or not _is_regulated(feeds, point):
        return
    for volts, when in zip(solved.loaded[::2], ("at low mains", "at high mains"), strict=True):
        if not _is_met(volts, point.design):
            yield _miss(feeds, point, volts, point.design, when)


def _is_met(volts: float, band: Band) -> bool:
    room = NEAR * max(abs(band.low), abs(band.high))
    return band.low - room <= volts <= band.high + room


def _is_regulated(feeds: FeedTree, point: TestPoint) -> bool:
    way = feeds.upstream(point.net)
    return any(isinstance(b, Regulator | Converter | Dropper) for b in way)


def _miss(feeds: FeedTree, point: TestPoint, volts: float, band: Band, when: str) -> Miss:
    is_low = abs(volts) < min(abs(band.low), abs(band.high))
    return Miss(
        point=point.id,
        volts=volts,
        band=band,
        when=when,
        is_practice=band is point.practice,
        likely=_likely(feeds, point, is_low=is_low, when=when),
    )


def _likely(feeds: FeedTree, point: TestPoint, *, is_low: bool, when: str) -> str:
    """Name what is likely to be wrong: the nearest thing on the way that makes these volts."""
    way = feeds.upstream(point.net)
    loads = [b.id for b in feeds.profile.power if isinstance(b, Load) and b.net == point.net]
    load = f"load {loads[0]}" if loads else "load"
    for block in reversed(way):
        if isinstance(block, Regulator | Converter):
            if isinstance(block, Regulator) and is_low and when == "at low mains":
                return f"winding too low, or dropout of {block.id}"
            pins = [b.id for b in way if isinstance(b, Pin)]
            return f"volts of {block.id}" + (
                f", or {load} through {pins[-1]}" if pins and is_low else ""
            )
        if type(block) in _WORDS:
            return _WORDS[type(block)].format(block=block.id, load=load)
    return f"volts of the inlet, or {load}"


#: What is likely where such a block is the nearest that makes the volts.
_WORDS: dict[type, str] = {
    Dropper: "zener or ohms of {block}",
    Rectifier: "winding, or {load}",
    Transformer: "winding of {block}, or {load}",
}
