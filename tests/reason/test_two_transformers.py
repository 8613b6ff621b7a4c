"""Two cores behind one mains fuse: each sags alone, the fuse is gone for both."""

import pytest

from bench_lamp.board.blocks import FuseBlock, Inlet, Load, Rectifier, Reservoir, Transformer
from bench_lamp.board.profile import Profile
from bench_lamp.circuit import compile_tree
from bench_lamp.reason.power.dictionary import build_dictionary
from bench_lamp.reason.power.engine import Engine
from bench_lamp.reason.values.clues import Facts
from bench_lamp.units import FuseRating

from .conftest import clues


def engine_of(second_from: str) -> Engine:
    power = [
        Inlet(id="X1", to="line", volts=230.0),
        FuseBlock(id="F1", from_="line", to="mains", rating=FuseRating(1.0, "slow")),
    ]
    for n, start, volts in (("1", "mains", 10.0), ("2", second_from, 24.0)):
        power += [
            Transformer(id=f"T{n}", from_=start, to={f"sec{n}": volts}),
            Rectifier(id=f"BR{n}", kind="bridge", from_=f"sec{n}", to=f"raw{n}"),
            Reservoir(id=f"C{n}", net=f"raw{n}", value=4700e-6),
            Load(id=f"L{n}", net=f"raw{n}", amps=0.6),
        ]
    profile = Profile(
        format="bench-lamp board 1", id="two", name="two", test_points=(), power=tuple(power)
    )
    return Engine.of(build_dictionary(compile_tree(profile)), {})


@pytest.fixture(scope="module")
def side_by_side() -> Engine:
    return engine_of("mains")


@pytest.mark.parametrize(
    ("written", "suspects", "low", "high"),
    [
        pytest.param(["dc raw1 12.4", "dc raw2 0"], ("T2: winding sec2 open",), 0.8, 1, id="one"),
        pytest.param(
            ["dc raw1 12.4", "dc raw2 0"],
            ("L2: shorted, F1 blown", "C2: shorted, F1 blown", "BR2: shorted, F1 blown"),
            0,
            0.01,
            id="the-fuse-that-feeds-both-is-whole",
        ),
        pytest.param(
            ["dc raw1 0", "dc raw2 0", "tone F1 1"],
            ("F1: open", "L2: shorted, F1 blown", "C2: shorted, F1 blown", "BR2: shorted, F1 blown",
             "L1: shorted, F1 blown", "C1: shorted, F1 blown", "BR1: shorted, F1 blown"),
            0.9, 1.1, id="both",
        ),
    ],
)  # fmt: skip
def test_what_two_rails_say_of_what_they_share(side_by_side, odds_of, written, suspects, low, high):
    assert low <= odds_of(side_by_side.weigh(Facts(clues=clues(*written))), *suspects) <= high


def test_a_transformer_behind_anothers_winding_is_no_reason_to_fail(odds_of):
    weighed = engine_of("sec1").weigh(Facts(clues=clues("dc raw1 12.4", "dc raw2 0")))
    assert odds_of(weighed, "T2: winding sec2 open") > 0.5
