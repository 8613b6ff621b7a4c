"""Do the shop's own repairs save tests? Jobs one after the other, with what was learnt and without, in one run.

    python -m benchmarks.learnt_hunt [JOBS]

Parts of this shop's boards fail at rates of their own, drawn once and unknown to the class priors. Boards are
integrated in time, as in `truth_hunt`; after each lot of jobs what cured is counted. Seeds from 60,000 on.
"""

import copy
import sys
from collections import Counter

import numpy as np
from msgspec.structs import replace

from bench_lamp.board.library import ProfileLibrary
from bench_lamp.checks.repair_odds import RepairCounts
from bench_lamp.circuit import compile_tree
from bench_lamp.reason.learnt import family_of
from bench_lamp.reason.power.dictionary import build_dictionary
from bench_lamp.reason.power.engine import Engine
from bench_lamp.reason.values.clues import Facts
from benchmarks.truth.drawing import Drawn
from benchmarks.truth_hunt import Hunt, boards, run_all

PROFILE, FIRST_SEED = "tessenby-orrery-nights", 60_000
JOBS, LOT, POOL = 300, 50, 400
#: How uneven the rates of the parts are: a Dirichlet of this; below 1 a few parts have nearly all.
UNEVEN = 0.15


def drawn_jobs(count: int) -> list[Drawn]:
    """Return so many boards whose parts fail at rates of their own."""
    profile = ProfileLibrary().get(PROFILE)
    assert profile is not None
    chance = np.random.default_rng(FIRST_SEED)
    by_part: dict[str, list[Drawn]] = {}
    for board in boards(profile, FIRST_SEED, POOL, 1):
        by_part.setdefault(part_of(board), []).append(board)
    parts = sorted(by_part)
    rates = chance.dirichlet([UNEVEN] * len(parts))
    chosen = chance.choice(len(parts), size=count, p=rates)
    return [by_part[parts[i]][int(chance.integers(len(by_part[parts[i]])))] for i in chosen]


def part_of(board: Drawn) -> str:
    """Return the part that is bad."""
    return next(iter(board.faults))[0].partition("@")[0]


def main() -> None:
    """Print mean tests to the first call for each lot, learnt and not, and how often the call was right."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else JOBS
    profile = ProfileLibrary().get(PROFILE)
    assert profile is not None
    tree = compile_tree(profile)
    assert tree is not None
    engine = Engine.of(build_dictionary(tree), {p.net: p.seconds for p in profile.test_points})
    cured: Counter[str] = Counter()
    print("jobs before | tests unlearnt | tests learnt | right unlearnt | right learnt")
    jobs = drawn_jobs(count)
    for start in range(0, count, LOT):
        lot = jobs[start : start + LOT]
        families: Counter[str] = Counter()
        for part, n in cured.items():
            families[family_of(profile, part)] += n
        counts = RepairCounts(parts=dict(cured), families=dict(families), jobs=start)
        rows = []
        for facts in (Facts(), replace(Facts(), repairs=counts)):
            hunts = [
                Hunt(
                    board=fresh(board),
                    has_complaint=True,
                    profile=profile,
                    engine=engine,
                    facts=facts,
                )
                for board in lot
            ]
            run_all(hunts, repairs=False)
            tests = float(np.mean([h.tests for h in hunts]))
            called = [h.calls[0].is_right for h in hunts if h.calls]
            rows.append((tests, len(called), float(np.mean(called)) if called else 0.0))
        (plain, n0, right0), (learnt, n1, right1) = rows
        print(
            f"{start:11d} | {plain:14.2f} | {learnt:12.2f} | {right0:.2f} of {n0:3d}    | {right1:.2f} of {n1:3d}",
            flush=True,
        )
        cured.update(part_of(board) for board in lot)


def fresh(board: Drawn) -> Drawn:
    """Return the same board, untouched by an earlier hunt."""
    return copy.deepcopy(board)


if __name__ == "__main__":
    main()
