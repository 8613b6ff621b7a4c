"""Jobs of the demo on which things are set: their readings come from the same simulated knobs as F8’s."""

from collections.abc import Iterable
from datetime import timedelta
from typing import Protocol

from bench_lamp.board import Profile
from bench_lamp.board.trims import StagesTrim, Trim
from bench_lamp.instrument.protocol import TrimRequest
from bench_lamp.journal.events import (
    Body,
    CameWith,
    Complaint,
    Finding,
    MainsSeen,
    PowerConfirmed,
    StageMarked,
)
from bench_lamp.journal.open_events import OpenEnd
from bench_lamp.journal.trim_events import (
    AdjusterFound,
    AdjusterTurned,
    PanelPaired,
    PlaceTried,
    SwitchStood,
    TrimRead,
    TrimStep,
)

MELODANE, VARNHOLT = "melodane-90", "varnholt-vx12"
GRABALOFT, PELLORY = "grabaloft", "pellory-disc"
#: The seed of boards on the demo's bench that have none of their own.
SEED = 1


class Script(Protocol):
    """What writes the demo's events, one after the other."""

    def open(self, job: str, profile: str, *, ago: timedelta) -> None:
        """Begin a job."""
        ...

    def say(self, *bodies: Body, after_s: float = 20) -> None:
        """Say something a little later."""
        ...

    def read(self, profile: str, points: Iterable[str], **found: float) -> None:
        """Read points as healthy boards show them."""
        ...

    def profile(self, name: str) -> Profile:
        """Return a profile of the demo."""
        ...

    def seconds(self) -> float:
        """Return the script's clock."""
        ...


class _Bench:
    """Reads what is set of one job, with all that was turned so far."""

    def __init__(self, script: Script, profile: str, trim: str) -> None:
        from bench_lamp.bench.knobs import Knobs

        self.script = script
        self.knobs = Knobs(script.profile(profile), SEED, clock=script.seconds)
        found = script.profile(profile).trim(trim)
        assert found is not None
        self.trim: Trim = found
        self.turned: list[tuple[str, float]] = []

    def read(self, whats: Iterable[str], state: str = "", after_s: float = 20) -> list[float]:
        wanted = tuple(whats)
        request = TrimRequest(
            trim=self.trim.id, whats=wanted, turned=tuple(self.turned), state=state
        )
        values = self.knobs.read(request).values
        if state:
            return [v for v, _ in values]
        for what, (value, digit) in zip(wanted, values, strict=True):
            body = TrimRead(
                trim=self.trim.id, what=what, value=value, resolution=digit, source="bench"
            )
            self.script.say(body, after_s=after_s)
        return [v for v, _ in values]

    def turn(self, adjuster: str, turns: float) -> None:
        self.turned.append((adjuster, turns))
        self.script.say(AdjusterTurned(trim=self.trim.id, adjuster=adjuster, turns=turns))

    def came(self, *stood: tuple[str, str]) -> None:
        for adjuster, text in stood:
            body = AdjusterFound(trim=self.trim.id, adjuster=adjuster, word="came", text=text)
            self.script.say(body)

    def prepare(self) -> None:
        """Do all that comes before, and leave it open."""
        for step in self.trim.prepare:
            self.script.say(TrimStep(trim=self.trim.id, step=step.text))
            if step.opens:
                end = OpenEnd(what=step.opens, target=step.target, text=step.after)
                self.script.say(end, after_s=1)


def _begin(script: Script, complaint: str, came: str, fuse: str) -> None:
    script.say(Complaint(text=complaint), CameWith(text=came))
    if fuse:
        for place in ("selector", "sticker"):
            script.say(
                MainsSeen(place="selector" if place == "selector" else "sticker", text="230 V")
            )
        script.say(MainsSeen(place="fuse", text=fuse))


def _live(script: Script, profile: str) -> None:
    """Switch on, and read all rails: they are sound."""
    script.say(PowerConfirmed(power="live"))
    script.read(profile, tuple(p.id for p in script.profile(profile).test_points))


def _looked(script: Script) -> None:
    script.say(Finding(seen="nothing"), StageMarked(stage="intake", mark="done"))
    script.say(StageMarked(stage="cold", mark="done"))


def amplifier(script: Script) -> None:
    """Write the job of an amplifier whose midpoint and idle current pull on each other."""
    script.open("QH-052/1", MELODANE, ago=timedelta(minutes=230))
    _begin(script, "left channel gets warm, distorts when quiet", "nothing", "1 A slow")
    _looked(script)
    bench = _Bench(script, MELODANE, "bias")
    bench.prepare()
    for name in ("RV4", "RV3"):
        script.say(AdjusterFound(trim="bias", adjuster=name, word="freed"), after_s=2)
    script.say(OpenEnd(what="paint", target="RV4, RV3", text="seal RV4, RV3 again"))
    bench.came(("RV4", "2 o’clock"), ("RV3", "10 o’clock"))
    _live(script, MELODANE)
    bench.read(("midpoint", "idle"))
    bench.turn("RV3", 1 / 8)
    bench.read(("midpoint", "idle"))


def receiver(script: Script) -> None:
    """Write the job of a receiver of which seven channels are counted."""
    script.open("QH-053/1", VARNHOLT, ago=timedelta(minutes=260))
    _begin(script, "deaf on some channels", "antenna lead", "")
    _looked(script)
    bench = _Bench(script, VARNHOLT, "channels")
    bench.prepare()
    _live(script, VARNHOLT)
    bench.read(("16", "6", "8", "9", "10", "11", "12"), after_s=100)


def crane(script: Script) -> None:
    """Write two jobs of a crane: one fresh from the road, one with its grip in the setting mode."""
    script.open("QH-054/1", GRABALOFT, ago=timedelta(minutes=290))
    _begin(script, "drops everything since it was moved", "two keys", "2 A slow")
    for place, word in (("ground-bolt", "tight"), ("J5", "was loose"), ("J6", "tight")):
        loose = word == "was loose"
        script.say(PlaceTried(place=place, word="was loose" if loose else "tight"))
        if loose:
            script.say(Finding(seen="loose connector", place=place), after_s=1)
    script.open("QH-055/1", GRABALOFT, ago=timedelta(minutes=320))
    _begin(script, "grips too hard, tears the toys", "two keys", "2 A slow")
    script.say(PlaceTried(place="no journey", word="tight"))
    _looked(script)
    for setting in ("S2-1", "S2-3", "S2-5", "S2-8"):
        at = "on" if setting == "S2-5" else "off"
        script.say(SwitchStood(trim="bank", setting=setting, position=at, when="came"))
    bench = _Bench(script, GRABALOFT, "grip")
    bench.came(("RV1", "1 o’clock"), ("RV2", "11 o’clock"), ("RV3", "noon"))
    _live(script, GRABALOFT)
    script.say(TrimStep(trim="grip", step="use", text="soft toys"))
    assert isinstance(bench.trim, StagesTrim)
    for step in bench.trim.into:
        script.say(TrimStep(trim="grip", step=f"into: {step}"))
    for stage in ("drop", "lift", "carry"):
        (true,) = bench.read((stage,))
        (shown,) = bench.read((stage,), state="panel")
        script.say(PanelPaired(trim="grip", shown=shown, true=true))


def player(script: Script) -> None:
    """Write the job of a disc player whose laser level is carried over from a reference."""
    script.open("QH-056/1", PELLORY, ago=timedelta(minutes=350))
    _begin(script, "skips on older discs", "one disc", "0.5 A slow")
    _looked(script)
    bench = _Bench(script, PELLORY, "laser")
    bench.came(("RV1", "marked with a pen"))
    _live(script, PELLORY)
    script.say(TrimStep(trim="laser", step="model", text="Pellory PD-2 pick-up"))
    for state in ("idle", "spin-up", "playing"):
        script.say(TrimStep(trim="laser", step=f"state: {state}"), after_s=8)
    bench.read(("playing",))


#: In the order in which they are written.
JOBS = (amplifier, receiver, crane, player)
