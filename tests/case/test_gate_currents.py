"""What a supply gives at each gate, against the model, against figures worked by hand, and against a whole board."""

import pytest
from tests.conftest import Job

from bench_lamp.bench.simulated import SimulatedBoard, Truth
from bench_lamp.board.blocks import Load
from bench_lamp.board.condition import Condition, TestKind
from bench_lamp.board.library import ProfileLibrary
from bench_lamp.cards.drawn import judge_drawn
from bench_lamp.case.facts import facts_of
from bench_lamp.case.gate_currents import ON
from bench_lamp.case.gates import current_gate, gates
from bench_lamp.case.hand import Hand
from bench_lamp.checks.inrush import inrush
from bench_lamp.circuit import compile_tree
from bench_lamp.circuit.faults import faults_of
from bench_lamp.instrument.guard import INRUSH_S, CurrentGuard, Drawn
from bench_lamp.instrument.protocol import Request
from bench_lamp.journal.events import ActionDone, GateMarked, ReadingTaken
from bench_lamp.journal.state import ROUND
from bench_lamp.reason.insight_of import insight_of
from bench_lamp.reason.power.dictionary import build_dictionary
from bench_lamp.reason.power.engine import Engine
from bench_lamp.stages import card_for

VARNHOLT, LARKMOOR = "varnholt-vx12", "larkmoor-24"
#: What goes on at each gate of the radio, and what its loads draw there by the drawing, in amperes.
RADIO = (("supply", ("J1", "J2", "J3"), 0.0), ("audio", ("J2", "J3"), 0.47), ("front", (), 0.78))


@pytest.fixture(scope="module")
def radio(library):
    """Return the radio with its reasoning, built once."""
    profile = library.get(VARNHOLT)
    return profile, engine_of(profile)


def engine_of(profile):
    book = build_dictionary(compile_tree(profile))
    return Engine.of(book, {p.net: p.seconds for p in profile.test_points})


class Woken(Job):
    """A job whose supply is read while it is woken up."""

    def __init__(self, profile, engine, meter):
        super().__init__(profile, meter)
        self.engine = engine
        self.log(GateMarked(gate=ROUND, mark="round done"))

    def pass_to(self, number):
        """Stand at a gate, live, with everything before it passed."""
        for name, _, _ in RADIO[:number]:
            self.log(GateMarked(gate=name, mark="passed"))
        self.switch("off")
        before = self.state.out
        self.log(*(ActionDone(action="removed for test", target=n) for n in RADIO[number][1]))
        self.log(
            *(ActionDone(action="put back", target=n) for n in before if n not in RADIO[number][1])
        )
        self.switch("live")
        return self

    def gives(self, amps):
        """Log what the supply shows."""
        out = tuple(sorted(self.state.out))
        self.log(
            ReadingTaken(target="X1", mode="A", value=amps, resolution=0.001, power="live", out=out)
        )
        return self

    @property
    def case(self):
        insight = insight_of(self.engine, self.profile, facts_of(self.state))
        return self.seen(insight=insight).case


@pytest.fixture
def at_gate(radio, meter):
    """Return a maker of radios that stand at a gate, live."""
    return lambda number: Woken(*radio, meter).pass_to(number)


@pytest.mark.parametrize("number", range(len(RADIO)))
def test_what_flows_at_a_gate_is_what_its_loads_draw(at_gate, number):
    name, _, drawn = RADIO[number]
    gate = current_gate(at_gate(number).case)
    (current,) = gate.currents
    assert (gate.gate.id, current.supply) == (name, "X1")
    assert current.band.low <= drawn <= current.band.high
    assert current.band.high < 1.35 * drawn + 0.04, "no wider than its loads may be"


@pytest.mark.parametrize("number", range(len(RADIO)))
def test_a_whole_board_draws_what_is_expected_at_each_gate(at_gate, number):
    """Sound boards with parts of their own: the simulated supply shows a current inside the band."""
    current = current_gate(at_gate(number).case).currents[0]
    tree = compile_tree(ProfileLibrary().get(VARNHOLT))
    inside = 0
    for seed in range(40):
        board = SimulatedBoard(tree, (), Truth(spread=1.0, misread=0.0), seed)
        out = frozenset(RADIO[number][1])
        shown = board.read(
            Request(kind=TestKind.AMPS, target="X1", condition=Condition(is_powered=True, out=out))
        )
        inside += current.band.low - 0.001 <= shown.value <= current.band.high
    assert inside >= 34


@pytest.mark.parametrize(
    ("number", "value", "verdict", "status"),
    [
        (1, 0.47, "within", "here"),
        (1, 0.20, "low", "here"),
        (1, 0.64, "high", "here"),
        (1, 0.90, "high", "failed"),
        (0, 0.0, "within", "here"),
        (0, 0.5, "high", "failed"),
    ],
)
def test_far_too_much_stops_the_gate_and_a_little_is_only_said(
    at_gate, number, value, verdict, status
):
    job = at_gate(number).gives(value)
    gate = current_gate(job.case)
    assert (gate.currents[0].judgement.verdict, gate.status) == (verdict, status)
    if status == "failed":
        card = card_for("wake", job.case, Hand())
        assert card.title == "Gate failed: switch off"
        assert "X1 gives" in card.cautions[0]


def test_the_current_of_another_gate_does_not_count(at_gate):
    job = at_gate(0).gives(0.01).pass_to(1)
    assert current_gate(job.case).currents[0].reading is None


def test_a_battery_that_keeps_a_memory_is_no_supply_of_a_gate(library, meter):
    profile = library.get(LARKMOOR)
    (gate,) = gates(Woken(profile, engine_of(profile), meter).case)
    assert [c.supply for c in gate.currents] == ["X1"]
    assert gate.currents[0].band.low > 1.0


def test_a_bench_supply_on_a_rail_gives_what_the_loads_behind_it_draw(job):
    """Orrery Nights: the CPU and what else hangs on +5 V draw what the drawing says, together."""
    case = job.seen(rules={"limiting": "bench supply"}).case
    first, *_, last = gates(case)
    (current,) = last.currents
    point = case.profile.point(current.supply.removeprefix(ON))
    behind = case.tree.downstream_nets({point.net})
    drawn = sum(b.amps for b in job.profile.power if isinstance(b, Load) and b.net in behind)
    assert current.band.low < drawn < current.band.high
    assert first.currents[0].band.high < current.band.low, "its loads are not on yet"


def test_a_mains_board_without_a_bench_supply_has_no_current_to_read(job):
    assert all(g.currents == () for g in gates(job.seen().case))


@pytest.mark.parametrize(
    ("drawn", "bad", "words"),
    [
        (Drawn(inrush=1.0, idle=0.47, held=0.1), False, "idle 0.470 A, 0.38 A to 0.60 A expected: within"),
        (Drawn(inrush=1.0, idle=0.47, held=1.9), True, "expected: too long"),
        (Drawn(inrush=2.0, idle=0.47, held=0.0), True, "inrush 2.00 A"),
        (Drawn(inrush=1.0, idle=1.0, held=1.9), True, "idle 1.00 A"),
        (Drawn(inrush=0.5, idle=0.1, held=0.0), False, "expected: low"),
    ],
)  # fmt: skip
def test_inrush_and_idle_are_held_against_the_model(at_gate, drawn, bad, words):
    found = judge_drawn(at_gate(1).case, drawn, 13.8, 1.0)
    assert found.is_bad == bad
    assert words in found.words.replace("\u202f", " ")
    assert bool(found.mend) == bad


def test_a_supply_of_other_volts_is_not_the_boards(at_gate):
    drawn = Drawn(inrush=1.0, idle=0.5, held=0.1)
    assert judge_drawn(at_gate(1).case, drawn, 5.0, 1.0) is None


def test_a_capacitor_charges_through_a_limit_in_the_time_that_it_should():
    """4,700 uF at 13.8 V through 0.5 A: 0.0649 C / 0.45 A = 0.144 s; stepped forward, it is the same."""
    farads, volts, limit, idle = 4.7e-3, 13.8, 0.5, 0.05
    at, level = 0.0, 0.0
    guard = CurrentGuard()
    guard.switched_on(0.0)
    while at < 4.0:
        flows = limit if level < volts else idle
        level += max(flows - idle, 0.0) / farads * 1e-3
        at += 1e-3
        guard.take(flows, at)
    found = inrush(farads * volts, limit, idle)
    assert guard.drawn.inrush == limit
    assert guard.drawn.idle == idle
    assert guard.drawn.held == pytest.approx(farads * volts / (limit - idle), abs=0.002)
    assert guard.drawn.held < found.seconds < guard.drawn.held + INRUSH_S
    assert inrush(0.1, 0.04, 0.05).seconds == float("inf")


@pytest.mark.parametrize("kind", ["shorted", "draws too much"])
def test_a_short_behind_a_gate_shows_in_its_current(at_gate, kind):
    """Of the radio's faults that take more, each shows at the last gate, beyond what is expected there."""
    tree = compile_tree(ProfileLibrary().get(VARNHOLT))
    band = current_gate(at_gate(2).case).currents[0].band
    found = [
        f for f in faults_of(tree) if kind in f.name and not f.blows and f.block in {"AUDIO", "C2"}
    ]
    assert found
    for fault in found:
        board = SimulatedBoard(tree, (fault,), Truth(spread=0.5, misread=0.0), 3)
        request = Request(kind=TestKind.AMPS, target="X1", condition=Condition(is_powered=True))
        assert board.read(request).value > band.high, fault.name


@pytest.mark.parametrize("number", range(len(RADIO)))
@pytest.mark.parametrize("amps", [0.0, 0.3, 0.95, 3.0, 40.0])
def test_whatever_the_supply_gives_is_weighed(at_gate, number, amps):
    """A current that fits nothing is doubted, and breaks nothing."""
    case = at_gate(number).gives(amps).case
    assert case.insight.unknown + case.insight.nothing + len(case.insight.suspects) > 0


def test_a_set_that_dc_feeds_is_not_switched_on_through_a_lamp_in_the_mains(at_gate):
    job = at_gate(0)
    job.switch("discharged")
    for choice in ("series lamp", "variable transformer"):
        gate = current_gate(job.seen(rules={"limiting": choice}).case)
        assert gate.is_unlimited


def test_a_capacitor_behind_a_chain_of_converters_takes_its_energy_from_the_supply(library, meter):
    """Larkmoor 24: C21, 100 uF at 5.05 V behind U2 (0.84) behind U1 (0.86); C1, 1,000 uF at the raw 23.7 V.

    By hand: 1e-3 · 23.7 = 23.7 mC, and 1e-4 · 5.05² / (2 · 0.84 · 0.86 · 23.7) = 74 uC.
    """
    profile = library.get(LARKMOOR)
    (gate,) = gates(Woken(profile, engine_of(profile), meter).case)
    (current,) = gate.currents
    by_hand = 1e-3 * 23.7 + 1e-4 * 5.05**2 / (2 * 0.84 * 0.86 * 23.7)
    assert current.charge == pytest.approx(by_hand, rel=0.03)
