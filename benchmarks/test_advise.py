"""How fast `bench-lamp advise` answers: a thousand lines a minute are 60 ms each, start not counted."""

import pytest

from bench_lamp.board.library import ProfileLibrary
from bench_lamp.commands.advise import Adviser

#: A hunt as somebody would type it: readings, power, a fuse, a connector, a repair.
LINES = (
    "complaint half the lamps dead", "C 18.2", "Q ac 0.0", "power off", "F4 open", "J3 off", "J3 on",
    "replaced F4", "power on", "C 17.9", "A 5.05", "B 9.8", "E 33", "D1 5.02", "L1 5.0", "K 8.2", "G ac 6.9",
    "A ac 0.003", "C ac 0.6", "power off",
)  # fmt: skip


@pytest.mark.parametrize("kind", ["tessenby-orrery-nights", "ardvane-cinder-dunes", "ostrel-8"])
def test_twenty_lines_of_a_hunt(benchmark, kind):
    adviser = Adviser(ProfileLibrary().get(kind), None)

    def hunt() -> list[dict[str, object]]:
        return [adviser.answer(line) for line in LINES]

    answers = benchmark.pedantic(hunt, rounds=5, warmup_rounds=1)
    assert len(answers) == len(LINES)
    assert sum("error" not in answer for answer in answers) >= 9
    each = benchmark.stats["mean"] / len(LINES)
    benchmark.extra_info["lines a minute"] = round(60 / each)
