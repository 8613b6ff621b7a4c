"""What is fitted, unplugged and hung on between two gates, and the first start through a limiter."""

from msgspec import Struct

from bench_lamp.board.blocks import FuseBlock, Sense
from bench_lamp.cards.card import Card, Choice
from bench_lamp.cards.charge_card import left_choice
from bench_lamp.cards.power import discharged_choices
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.charge import discharge_words
from bench_lamp.case.gates import GateView, gates
from bench_lamp.case.house_rules import rule
from bench_lamp.checks.limiting import hung_loads
from bench_lamp.journal.events import ActionDone, Body, GateMarked, PowerConfirmed
from bench_lamp.journal.open_events import LoadHung
from bench_lamp.stages.wake.reading_cards import limiter_words, load_of, load_words
from bench_lamp.units.words import opening


class _Steps(Struct, frozen=True):
    """What is pulled, fitted, taken off and hung on before a gate."""

    pull: tuple[str, ...]
    fit: tuple[str, ...]
    take: tuple[str, ...]
    hang: tuple[str, ...]

    def words(self, case: Case) -> tuple[str, ...]:
        """Say them, the verb first."""
        fuses = tuple(n for n in self.pull if isinstance(case.profile.block(n), FuseBlock))
        plugs = tuple(n for n in self.pull if n not in fuses)
        rows = (("unplug", plugs), ("take out", fuses), ("fit", self.fit))
        return (
            *(_taking(case, name) for name in self.take),
            *(f"{verb} {', '.join(names)}" for verb, names in rows if names),
            *(_hanging_words(case, name) for name in self.hang),
        )

    def events(self, case: Case) -> tuple[Body, ...]:
        """Return what is logged when they are done."""
        return (
            *(LoadHung(load=name, is_on=False) for name in self.take),
            *(ActionDone(action="removed for test", target=n) for n in self.pull),
            *(ActionDone(action="refitted", target=n) for n in self.fit),
            *_hanging(case, self.hang),
        )


def _steps(case: Case, gate: GateView) -> _Steps:
    out, hung = case.state.out, case.state.hung
    on = frozenset(gate.gate.on)
    stays_off = gate.off | (on if gate.waits_for_strays else frozenset())
    return _Steps(
        pull=tuple(sorted(stays_off - out)),
        fit=tuple(sorted(((_earlier_on(case, gate) | on) - stays_off) & out)),
        take=tuple(sorted(hung - gate.hung)),
        hang=tuple(sorted(gate.hung - hung)),
    )


def connect_card(case: Case, gate: GateView) -> Card | None:
    """Ask for what must come off or go on before this gate; hands in, so off and discharged."""
    steps = _steps(case, gate)
    words = steps.words(case)
    if not words:
        return None
    is_ready = case.state.power.is_for_hands
    choices: tuple[Choice, ...] = (Choice(key="1", text="Done", log=steps.events(case)),)
    if not is_ready:
        choices = (*discharged_choices(case, "2", "1")[::-1], *left_choice(case, "3"))
    return Card(
        id=f"wake-connect:{gate.gate.id}",
        kind=f"Gate {gate.number} · {gate.gate.name}",
        title=opening("; ".join(words)),
        cautions=cautions.for_hands_in(case),
        choices=choices,
        why_heading="Look at",
        why=(
            *(load_words(case) if steps.hang else ()),
            *(STRAY_FIRST if gate.waits_for_strays else ()),
            *gate.gate.mind,
            *(() if is_ready else discharge_words(case)),
        ),
        can_skip=False,
    )


STRAY_FIRST = ("Stray volts are read on the harness side first, with the connector off.",)


def _earlier_on(case: Case, gate: GateView) -> frozenset[str]:
    return frozenset(n for g in gates(case)[: gate.number - 1] for n in g.gate.on)


def _hanging_words(case: Case, name: str) -> str:
    block = case.profile.block(name)
    if isinstance(block, Sense):
        return f"tie {name}, the sense line, to the output of {block.of}"
    return f"hang on the {name}"


def _taking(case: Case, name: str) -> str:
    block = case.profile.block(name)
    return f"untie {name}" if isinstance(block, Sense) else f"take the {name} off"


def _hanging(case: Case, names: tuple[str, ...]) -> tuple[Body, ...]:
    ties = (n for n in names if isinstance(case.profile.block(n), Sense))
    loads = tuple(
        LoadHung(load=load.id, is_on=True, ohms=load.ohms, watts=load_of(case, load).rating)
        for load in hung_loads(case.profile)
        if load.id in names
    )
    return (*loads, *(LoadHung(load=name, is_on=True) for name in ties))


def limiter_card(case: Case, gate: GateView) -> Card | None:
    """Ask for the first start through the shop's limiter; it comes out before anything is read."""
    if gate.is_unlimited:
        return None
    is_lamp = rule(case, "limiting") == "series lamp"
    title = "Switch on through the series lamp" if is_lamp else "Bring the mains up over a minute"
    return Card(
        id=f"wake-limiter:{gate.gate.id}",
        kind=f"Gate {gate.number} · {gate.gate.name}",
        title=title,
        cautions=cautions.for_power(case, is_whole=not case.state.last_live),
        choices=_limiter_choices(gate.gate.id, is_lamp=is_lamp),
        why_heading="Before and while",
        why=(*limiter_words(case), *gate.gate.mind),
        can_skip=False,
    )


def _limiter_choices(gate: str, *, is_lamp: bool) -> tuple[Choice, ...]:
    out = GateMarked(gate=gate, mark="limiter out")
    off, live = PowerConfirmed(power="off"), PowerConfirmed(power="live")
    through = PowerConfirmed(power="live", limiter="series lamp")
    bad = "full glow" if is_lamp else "hum or too much current"
    failed = GateMarked(gate=gate, mark="failed", reason=f"{bad} at the first start")
    good = "Glow goes down: switched off, lamp out" if is_lamp else "At the full mains"
    return (
        Choice(key="1", text=good, log=(through, off, out) if is_lamp else (out, live)),
        Choice(key="2", text=f"{opening(bad)}, smoke or smell: switched off", log=(off, failed)),
        Choice(key="3", text="Without it, on the full mains", log=(out,)),
    )
