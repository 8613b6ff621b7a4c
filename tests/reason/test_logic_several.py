"""Two and three faults of the logic at once, and rails that were measured good beside them."""

import numpy as np
import pytest

from bench_lamp.board import ProfileLibrary
from bench_lamp.board.condition import TestKind
from bench_lamp.logic.clue import LogicClue
from bench_lamp.reason.engines import Engines
from bench_lamp.reason.insight_of import insight_of
from bench_lamp.reason.logic.odds import MISREAD, NOWHERE, SLEEPS
from bench_lamp.reason.logic.several import likelihood_of_several
from bench_lamp.reason.values.clues import Clue, Facts
from bench_lamp.reason.values.faults import LogicFault, LogicFaultKind

CINDER, OSTREL, NIGHTS = "ardvane-cinder-dunes", "ostrel-8", "tessenby-orrery-nights"
EXACT = 1 - MISREAD - NOWHERE


@pytest.fixture(scope="module")
def library():
    return ProfileLibrary()


@pytest.fixture(scope="module")
def engines():
    return Engines()


def pair_of(engines, library, name):
    clue = LogicClue(event="", kind="code", target="", code="")
    return engines.of(library.get(name), Facts(logic=(clue,)), lambda share: True)


def told(engines, library, name, results, *, are_rails_good=True):
    """Return the insight after results of self-tests; `results` has (kind, target, bad or code)."""
    profile, pair = library.get(name), pair_of(engines, library, name)
    logic = []
    for kind, target, said in results:
        if kind == "cells":
            tried = pair.logic.graph.all_units(target)
            clue = LogicClue(event=target, kind=kind, target=target, bad=frozenset(said.split()),
                             tried=tried)  # fmt: skip
        else:
            tried = frozenset({"BT1", "IC5"}) if kind == "settings" else frozenset()
            clue = LogicClue(event=target, kind=kind, target=target, code=said, tried=tried)
        logic.append(clue)
    rails = (
        Clue(event=f"r{i}", kind=TestKind.DC, target=p.net, value=p.nominal)
        for i, p in enumerate(profile.test_points)
        if p.mode == "dc V" and are_rails_good
    )
    facts = Facts(clues=tuple(rails), logic=tuple(logic), is_powered=True)
    return insight_of(pair.power, profile, facts, pair.logic)


@pytest.mark.parametrize(
    ("name", "results", "wanted"),
    [
        pytest.param(CINDER, [("cells", "memory", "1.4 2.5")], {"M14", "M25"}, id="two-chips-of-two-banks"),
        pytest.param(CINDER, [("cells", "memory", "1.4 1.6")], {"M14", "M16"}, id="two-chips-of-one-bank"),
        pytest.param(CINDER, [("cells", "memory", "1.4 1.6 2.1")], {"M14", "M16", "M21"}, id="three-chips"),
        pytest.param(NIGHTS, [("cells", "switches", "3.4"), ("cells", "lamps", "5.2 6.1")],
                     {"S34", "L52", "L61"}, id="a-switch-and-two-lamps"),
        pytest.param(OSTREL, [("cells", "keyboard", "3.4"), ("code", "beeps", "2-1")], {"KEY34", "BT1"},
                     id="a-key-and-a-flat-battery"),
    ],
)  # fmt: skip
def test_two_and_three_parts_are_themselves_before_any_rail(
    engines, library, name, results, wanted
):
    insight = told(engines, library, name, results)
    first = insight.suspects[: len(wanted) + 1]
    assert wanted <= {s.block for s in first}, [(s.key, s.odds) for s in first]
    assert insight.several > 0.5, "and it says so"
    rails = [s for s in insight.suspects[:3] if not isinstance(s.fault, LogicFault)]
    assert not rails, "no rail that was measured good is among the first three"


def test_three_stuck_bits_are_the_chip_before_any_rail(engines, library):
    insight = told(engines, library, CINDER, [("cells", "lane:D", "D1 D4 D6")])
    assert isinstance(insight.suspects[0].fault, LogicFault)
    assert insight.suspects[0].block == "IC8"


def test_one_part_is_still_one_thing(engines, library):
    insight = told(engines, library, CINDER, [("cells", "memory", "1.4")])
    assert insight.suspects[0].block == "M14"
    assert insight.several < 0.1


def test_a_supply_that_was_not_measured_may_still_spoil_everything(engines, library):
    every = " ".join(f"{bank}.{bit}" for bank in (1, 2) for bit in range(8))
    blind = told(engines, library, CINDER, [("cells", "memory", every)], are_rails_good=False)
    seen = told(engines, library, CINDER, [("cells", "memory", every)])

    def of_rails(insight):
        return sum(s.odds for s in insight.suspects if not isinstance(s.fault, LogicFault))

    assert of_rails(blind) > 0.3
    assert of_rails(seen) < 0.2


# What results are worth under two faults, by hand.


def dead(block, *lines):
    return LogicFault(block=block, kind=LogicFaultKind.DEAD, weight=1.0, lines=frozenset(lines))


def two_chips(graph):
    """Return faults that spoil one bit each of the memory of Cinder Dunes."""
    units = graph.units["memory"]
    line = {unit: name for name, shown in units.items() if len(shown) == 1 for unit in shown}
    return dead("M14", line["1.4"]), dead("M25", line["2.5"])


@pytest.mark.parametrize(
    ("bad", "chance"),
    [
        pytest.param("1.4 2.5", (1 - SLEEPS) ** 2 * EXACT, id="both"),
        pytest.param("1.4", (1 - SLEEPS) * SLEEPS * EXACT, id="one-sleeps"),
        pytest.param("", SLEEPS**2 * EXACT, id="both-sleep"),
    ],
)
def test_bad_units_add_up(engines, library, bad, chance):
    graph = pair_of(engines, library, CINDER).logic.graph
    clue = LogicClue(event="", kind="cells", target="memory", bad=frozenset(bad.split()),
                     tried=graph.all_units("memory"))  # fmt: skip
    found = likelihood_of_several(graph, clue, two_chips(graph), np.zeros(2))
    # Beside it, a unit that was misread: one of sixteen, from what is one unit off.
    assert found == pytest.approx(chance, abs=2 * MISREAD / 16)


@pytest.mark.parametrize(
    ("kind", "target", "code", "chance"),
    [
        # Pulled: the symptom that is looked at is that part's in half of the cases.
        pytest.param("donor", "M14", "gone", 0.5 * 0.96, id="exchanged"),
        pytest.param("donor", "M14", "same", 1 - 0.5 * 0.96, id="exchanged-in-vain"),
        pytest.param("donor", "M13", "gone", 0.05, id="another-part"),
        pytest.param("tester", "M25", "fail", 0.7, id="in-the-tester"),
    ],
)
def test_trials_of_one_of_two(engines, library, kind, target, code, chance):
    graph = pair_of(engines, library, CINDER).logic.graph
    clue = LogicClue(event="", kind=kind, target=target, code=code)
    found = likelihood_of_several(graph, clue, two_chips(graph), np.zeros(2))
    assert found == pytest.approx(chance)


def test_a_probe_shows_a_line_that_either_spoils(engines, library):
    graph = pair_of(engines, library, CINDER).logic.graph
    clue = LogicClue(event="", kind="probe", target="IC8:3", line="x", code="wrong")
    logs = np.log([0.9, 0.04])
    found = likelihood_of_several(graph, clue, two_chips(graph), logs)
    assert found == pytest.approx(1 - 0.1 * 0.96)
