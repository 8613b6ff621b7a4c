"""How long the reasoning takes: its dictionary, the groups, one update with its ranking.

How often it is right is another matter: `python -m benchmarks.truth_hunt`.
"""

import time

import numpy as np
import pytest

from bench_lamp.bench.generate import generated_profile
from bench_lamp.board.condition import TestKind
from bench_lamp.circuit import compile_tree
from bench_lamp.reason.power.dictionary import build_dictionary
from bench_lamp.reason.power.engine import Engine
from bench_lamp.reason.power.posterior import observe, start
from bench_lamp.reason.values.tests import LIVE

#: Windings (0: the shipped set), and what is wanted: seconds for the dictionary with its groups,
#: seconds for one update and ranking.
SIZES = {"small": (0, 0.8, 0.040), "medium": (9, 3.0, 0.100), "large": (45, 20.0, 0.400)}


@pytest.mark.parametrize("size", list(SIZES))
def test_dictionary_update_and_ranking(benchmark, orrery, size):
    windings, ready_s, update_s = SIZES[size]
    tree = compile_tree(generated_profile(windings, seed=3) if windings else orrery)
    began = time.perf_counter()
    dictionary = build_dictionary(tree)
    built = time.perf_counter() - began
    engine = Engine.of(dictionary, {})
    ready = time.perf_counter() - began
    prior = start(dictionary)
    first = next(t for t in engine.menu.plain() if t.kind == TestKind.DC)

    def update_and_rank():
        return engine.ranker.rank(observe(prior, first, 5.0), LIVE)

    benchmark.pedantic(update_and_rank, rounds=10, warmup_rounds=2)
    benchmark.extra_info.update(
        nets=tree.net_count,
        faults=len(dictionary.faults),
        groups=max(engine.groups) + 1,
        dictionary_s=round(built, 2),
        with_groups_s=round(ready, 2),
        lost=dictionary.lost,
        cases=dictionary.cases,
    )
    assert dictionary.lost < 0.001 * dictionary.cases
    assert ready < ready_s
    assert float(np.median(benchmark.stats.stats.data)) < update_s
