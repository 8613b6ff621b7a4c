"""What the surface of Swap shows: the part that is worked on, or all that was changed."""

from msgspec import Struct
from msgspec.structs import replace

from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.case.part_spec import judged, offered_spec, wanted_spec, wanted_text
from bench_lamp.checks.board_map import NEAR_MM, LitMap, lit_map, name_on_map, neighbours
from bench_lamp.checks.substitute import Rule, Verdict, judge
from bench_lamp.stages.swap.fitting import sorted_rules
from bench_lamp.stages.swap.removal import OLD_TRACKS, before_power, comes_out, keeps_it, other_ways
from bench_lamp.units.part import PartSpec


class SwapView(Struct, frozen=True, kw_only=True):
    """One part: what came out, what goes in, and how."""

    part: str
    title: str
    want: PartSpec
    have: PartSpec
    out: str
    out_note: str
    into: str
    into_note: str
    #: Whether it fits in all that is known; None where nothing was offered yet.
    fits: bool | None
    rules: tuple[Rule, ...]
    ways: tuple[tuple[str, str], ...]
    #: The parts of a list that are changed in one go, each with whether it is done.
    ticks: tuple[tuple[str, bool], ...]
    #: The board from the parts side and from the solder side, lit where the part is.
    maps: tuple[LitMap, ...]


class Changed(Struct, frozen=True, kw_only=True):
    """All that was changed on the board: part, what came out, what went in; and other actions."""

    swaps: tuple[tuple[str, str, str], ...]
    actions: tuple[str, ...]


def swap_view(case: Case, hand: Hand) -> SwapView | None:
    """Return what is shown of the part under the hand; None where none is chosen."""
    part = hand.draft.get("part", "")
    if not part:
        return None
    want, known = wanted_spec(case, part), wanted_text(case, part)
    out, offered = _said(case, hand, part)
    verdict = judged(case, part, offered) if offered else None
    needs = judge(want, PartSpec()).rules if verdict is None else sorted_rules(verdict)
    fits = verdict.fits if verdict is not None and verdict.rules else None
    return SwapView(
        part=part,
        title=_title(case, part, want),
        want=want,
        have=_with_pins(case, part, want, offered_spec(want, offered or known)),
        out=out or known or "not said yet",
        out_note=_measured(case, part),
        into=offered or known or "as it came",
        into_note=_into(verdict, needs),
        fits=fits,
        rules=needs,
        ways=_ways(case, part, want),
        ticks=_ticks(case, hand),
        maps=_maps(case, part),
    )


def _ticks(case: Case, hand: Hand) -> tuple[tuple[str, bool], ...]:
    left = {hand.draft["part"], *hand.draft.get("list", "").split()}
    if hand.draft.get("step") == "after":
        left.discard(hand.draft["part"])
    return tuple((name, name not in left) for name in hand.draft.get("all", "").split())


def _said(case: Case, hand: Hand, part: str) -> tuple[str, str]:
    """Return what came out and what is to go in, as far as it was said: now, or when it was logged."""
    done = next((r for r in reversed(case.state.replaced) if r.part == part), None)
    if done is not None and hand.draft.get("step") == "after":
        return done.out, done.fitted
    return hand.draft.get("out", ""), hand.draft.get("fitted", "")


def _with_pins(case: Case, part: str, want: PartSpec, have: PartSpec) -> PartSpec:
    """Return a part with the order of its pins, where its type tells it: it is never assumed."""
    known = {k.upper(): pins for k, pins in case.profile.equivalents.get(part, {}).items()}
    if want.type:
        known[want.type] = want.pins
    same = replace(have, kind=have.kind or want.kind)
    return same if have.pins else replace(same, pins=known.get(have.type, ()))


def _title(case: Case, part: str, want: PartSpec) -> str:
    block, chip = case.profile.block(part), case.profile.chip(part)
    name = want.role or (want.kind.value if want.kind else "")
    named = chip.name if chip is not None else name
    where = block.place if block is not None else chip.place if chip is not None else ""
    return ", ".join(filter(None, (part, named, where)))


def _measured(case: Case, part: str) -> str:
    found = case.state.measured.get(part)
    return f"measured {found.text}: {found.verdict}" if found is not None else ""


def _into(verdict: Verdict | None, needs: tuple[Rule, ...]) -> str:
    """Say how what goes in stands to its rules; what nobody knows is not said to fit."""
    if not needs:
        return "the profile knows no rule of it"
    if verdict is None:
        return "must keep what stands below"
    if verdict.broken:
        return "does not fit"
    count = len(verdict.open)
    return f"fits in what it says; {count} not said" if count else "fits in all that is known"


def _ways(case: Case, part: str, want: PartSpec) -> tuple[tuple[str, str], ...]:
    steps, near = before_power(case, part, want), neighbours(case.profile, part)
    shield = f"{', '.join(near)} within {NEAR_MM:g}\u202fmm: shield them from the heat."
    return (
        ("Out", f"{comes_out(case, want)}; {keeps_it(case, want)}."),
        *((("Ways", f"{ways}. {OLD_TRACKS}"),) if (ways := other_ways(want)) else ()),
        *((("Near", shield),) if near and other_ways(want) else ()),
        ("Then", f"{'; '.join(steps)}."),
    )


def _maps(case: Case, part: str) -> tuple[LitMap, ...]:
    name = name_on_map(case.profile, part)
    if not name:
        return ()
    both = [lit_map(case.profile, "", "", (name,), side=side) for side in ("parts", "solder")]
    found = {m.picture.id: m for m in both if m is not None}
    return tuple(found.values())


def changed(case: Case) -> Changed:
    """Return all that was changed in this job."""
    state = case.state
    ends = (f"{e.target}: {e.what}" for e in state.open_ends)
    return Changed(
        swaps=tuple((r.part, r.out, r.fitted) for r in state.replaced),
        actions=(
            *(f"{a.target} {a.action}" for a in state.mended),
            *(f"{name} is out, for test" for name in sorted(state.out)),
            *ends,
        ),
    )
