"""The long run: thousands of damaged files and journals, kills, and actions in the window.

    python -m tests.hostile --files 10000 --journals 5000 --kills 1000 --shared-kills 200 \\
        --instrument-faults 10000 --stream-hours 24 --actions 50000

Each attack says how many it tried and what went wrong; the exit status is 1 when anything did.
"""

import argparse
import os
import resource
import subprocess
import sys
import tempfile
import time
from functools import partial
from pathlib import Path

from tests.hostile import files, instrument_faults, journals, kills, shared_kills, stream_soak
from tests.hostile.tally import Tally

ATTACKS = {
    "files": files.attack, "journals": journals.attack, "kills": kills.attack,
    "entry-kills": partial(kills.attack, kinds=("entry",)), "shared-kills": shared_kills.attack,
    "instrument-faults": instrument_faults.attack, "stream-hours": stream_soak.attack,
}  # fmt: skip
#: Actions of one run in the window.
ACTIONS = 90


def in_the_window(count: int, seed: int) -> Tally:
    """Have any keys and clicks tried by the suite's own test, with other seeds."""
    tally = Tally("actions in the window")
    test = "tests/desktop/test_any_keys.py::test_any_keys_and_clicks_break_nothing_and_hurt_nobody"
    while tally.count < count:
        run = [sys.executable, "-m", "pytest", "-q", "-x", "-n", "0", test]
        env = {**os.environ, "BENCH_LAMP_SEEDS": f"{seed}:8"}
        done = subprocess.run(run, env=env, capture_output=True, text=True, check=False)
        if done.returncode:
            said = [line for line in done.stdout.splitlines() if line.startswith(("E  ", "FAILED"))]
            tally.wrong(f"seed {seed}: {' '.join(said)}")
        tally.count += 8 * ACTIONS
        seed += 8
    return tally


def main() -> int:
    """Run what is asked for; print a line for each attack."""
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    for name in (*ATTACKS, "actions"):
        parser.add_argument(f"--{name}", type=int, default=0)
    parser.add_argument("--seed", type=int, default=1000)
    wanted = parser.parse_args()
    wrong = 0
    for name, attack in ATTACKS.items():
        count = getattr(wanted, name.replace("-", "_"))
        if count:
            start = time.monotonic()
            with tempfile.TemporaryDirectory(prefix="bench-lamp-hostile-") as folder:
                tally = attack(count, wanted.seed, Path(folder))
            print(f"{tally}  ({time.monotonic() - start:.0f} s)", flush=True)
            wrong += len(tally.found)
    if wanted.actions:
        tally = in_the_window(wanted.actions, wanted.seed)
        print(tally, flush=True)
        wrong += len(tally.found)
    print(f"most memory: {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024:.0f} MB")
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main())
