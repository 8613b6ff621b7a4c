"""A small simulated instrument on this machine, until it is ended: to try the page Instruments without one."""

import sys
import time

from bench_lamp.bench.standins.scpi_server import NAMES, Connected, StandIn
from bench_lamp.bench.standins.streaming import StreamingMeter

#: What it shows, by mode: a sound 5 V rail, and what lies beside it.
SHOWN = {
    "dc V": 5.08,
    "ac V": 9.33,
    "ohm": 470.0,
    "diode": 0.61,
    "A": 0.42,
    "Hz": 100.0,
    "F": 4.7e-6,
}
#: A rail's ripple, both halves of a wave, for the scope: samples, and the seconds between two.
WAVE = tuple(10.9 + 0.9 * (0.5 - (n * 1e-4 * 100) % 1.0) for n in range(1000))
STEP_S = 1e-4


def run_standin(kind: str, port: int = 0, *, seconds: float = float("inf")) -> int:
    """Start one, say what is typed to link it, and serve until it is ended; return the exit code."""
    if kind not in {*NAMES, "hand-held"}:
        print(
            f"There is no stand-in {kind!r}. There is: hand-held, {', '.join(NAMES)}.",
            file=sys.stderr,
        )
        return 2
    made: StandIn | StreamingMeter
    if kind == "hand-held":
        made = StreamingMeter()
        made.value = SHOWN["dc V"]
        typed = f"serial {made.place}"
    else:
        try:
            made = StandIn(kind, Connected(values=dict(SHOWN), wave=WAVE, step=STEP_S), port)
        except OSError as exc:
            print(f"Port {port} cannot be opened: {exc.strerror}", file=sys.stderr)
            return 1
        typed = f"scpi {made.place} standard-{kind}"
    print(f"Type on the page Instruments: {typed}", flush=True)
    until = time.monotonic() + seconds
    try:
        while time.monotonic() < until:
            time.sleep(0.1)
    except KeyboardInterrupt:
        print()
    finally:
        made.close()
    return 0
