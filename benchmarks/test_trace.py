"""How many tests the reasoning needs, how often it is right, how sure it is, and how long it takes.

Truth is drawn from another model than the dictionary's (wider tolerances, leaks, other
severities, misread points, a customer who errs). Seeds from 10,000 are for reporting.
"""

import time

import numpy as np
import pytest
from benchmarks.hunt import Hunter, calibration

from bench_lamp.bench.generate import generated_profile
from bench_lamp.circuit import compile_tree
from bench_lamp.reason.dictionary import build_dictionary
from bench_lamp.reason.next_test import rank_tests
from bench_lamp.reason.posterior import observe, start

REPORT = 10_000


@pytest.mark.parametrize(
    ("size", "windings", "hunts", "dictionary_s", "update_s"),
    [("small", 0, 400, 0.6, 0.03), ("medium", 9, 150, 2.0, 0.1), ("large", 45, 12, 15.0, 0.4)],
)
def test_hunts(benchmark, orrery, size, windings, hunts, dictionary_s, update_s):
    profile = orrery if not windings else generated_profile(windings, seed=3)
    began = time.perf_counter()
    dictionary = build_dictionary(compile_tree(profile))
    built = time.perf_counter() - began
    hunter = Hunter.of(dictionary)
    prior = start(dictionary)

    def update_and_rank():
        after = observe(prior, dictionary.tests[0], 5.0)
        return rank_tests(after, hunter.groups, hunter.known)

    benchmark.pedantic(update_and_rank, rounds=10, warmup_rounds=2)
    ended = [hunter.hunt(REPORT + i) for i in range(hunts)]
    orders = {
        o: [hunter.hunt(REPORT + i, o) for i in range(hunts // 4)] for o in ("fixed", "random")
    }
    benchmark.extra_info.update(
        nets=dictionary.tree.net_count,
        faults=len(dictionary.faults),
        groups=max(hunter.groups) + 1,
        dictionary_s=round(built, 2),
        lost=dictionary.lost,
        tests=round(float(np.mean([h.tests for h in ended])), 2),
        right=round(float(np.mean([h.is_right for h in ended])), 3),
        calibration=calibration(ended),
        **{
            f"{name}_order": (round(float(np.mean([h.tests for h in o])), 1),
                              round(float(np.mean([h.is_right for h in o])), 3))
            for name, o in orders.items()
        },
    )  # fmt: skip
    assert dictionary.lost == 0
    assert built < dictionary_s
    assert float(np.median(benchmark.stats.stats.data)) < update_s
