"""Captures that are opened for a lane: read off the window's thread, told as pairs."""

from collections.abc import Callable
from pathlib import Path

from bench_lamp.board.chips import Lane
from bench_lamp.files import shown_name
from bench_lamp.journal.logic_events import LaneRead
from bench_lamp.logic.capture import Capture, PinTrace, read_capture
from bench_lamp.logic.capture_rows import CaptureError

Progress = Callable[[float], bool]


def lane_from_capture(lane: Lane, path: Path, progress: Progress) -> LaneRead | None:
    """Return the pairs that a capture shows of a lane; None when it was stopped.

    Columns `w0` … and `r0` … are pairs as they stand. Else columns named like the lane's lines
    are taken as what came back, and the words are reconstructed of what such lines can show:
    a line that never moves while others do is stuck, two that move as one are tied.

    Raises
    ------
    CaptureError
        When the file is no capture, or has no column of this lane.
    """
    found = read_capture(path, progress=progress)
    if found is None:
        return None
    if found.bits > len(lane.lines):
        raise CaptureError(
            f"{shown_name(path)} was written on {found.bits} lines, {lane.id} has {len(lane.lines)}",
            hint="Pick the lane it was taken on.",
        )
    pairs = found.pairs or _from_lines(lane, found, path)
    return LaneRead(
        lane=lane.id,
        wrote=tuple(w for w, _ in pairs),
        came=tuple(c for _, c in pairs),
        source=shown_name(path),
    )


def _from_lines(lane: Lane, capture: Capture, path: Path) -> tuple[tuple[int, int], ...]:
    """Return pairs that say of each line what the capture says: moves, stuck, tied, floating."""
    traces = {t.name.upper(): t for t in capture.pins}
    seen = {bit: traces[n.upper()] for bit, n in enumerate(lane.lines) if n.upper() in traces}
    if not seen:
        raise CaptureError(
            f"{shown_name(path)} has no column of {lane.id}",
            hint=f"Name the columns {lane.lines[0]} to {lane.lines[-1]}, or w0, r0 and so on.",
        )
    # Bits without a column are never written: they stay "not tried".
    full = sum(1 << bit for bit in seen)
    words = [0, full, *(1 << bit for bit in seen), *(full ^ (1 << bit) for bit in seen)]
    pairs = []
    for number, wrote in enumerate(words):
        came = wrote
        for bit, trace in seen.items():
            came = came & ~(1 << bit) | _level(lane, seen, trace, bit, wrote) << bit
        pairs.append((wrote, came))
        if number == 0:
            floating = sum(1 << bit for bit, t in seen.items() if t.activity == "floating")
            pairs += [(wrote, came ^ floating)] if floating else []
    return tuple(pairs)


def _level(lane: Lane, seen: dict[int, PinTrace], trace: PinTrace, bit: int, wrote: int) -> int:
    if trace.activity in {"high", "low"}:
        return int(trace.activity == "high")
    level = wrote >> bit & 1
    for other, name in enumerate(lane.lines):
        if other in seen and name.upper() in {n.upper() for n in trace.same_as}:
            level &= wrote >> other & 1
    return level
