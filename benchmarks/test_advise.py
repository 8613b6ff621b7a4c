"""How fast `bench-lamp advise` answers: a thousand lines a minute are 60 ms each, start not counted."""

import pytest

from bench_lamp.board import Profile
from bench_lamp.board.blocks import FuseBlock
from bench_lamp.board.library import ProfileLibrary
from bench_lamp.commands.advise import Adviser


def lines_of(profile: Profile) -> list[str]:
    """Return a hunt as somebody would type it: each point a little low, a fuse, a repair, the power."""
    points = [p for p in profile.test_points if p.mode in {"dc V", "ac V"} and p.nominal]
    fuse = next(b.id for b in profile.power if isinstance(b, FuseBlock))
    read = [f"{p.id} {'ac ' if p.mode == 'ac V' else ''}{0.97 * p.nominal:.3g}" for p in points]
    return [
        "complaint dead",
        "power on",
        *read,
        "power off",
        f"{fuse} open",
        f"replaced {fuse}",
        *read,
    ]


@pytest.mark.parametrize("kind", ["tessenby-orrery-nights", "ardvane-cinder-dunes", "ostrel-8"])
def test_a_hunt_line_by_line(benchmark, kind):
    profile = ProfileLibrary().get(kind)
    adviser, lines = Adviser(profile, None), lines_of(profile)

    def hunt() -> list[dict[str, object]]:
        return [adviser.answer(line) for line in lines]

    answers = benchmark.pedantic(hunt, rounds=3, warmup_rounds=1)
    assert not [a for a in answers if "error" in a]
    benchmark.extra_info["lines"] = len(lines)
