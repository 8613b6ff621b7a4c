"""Ohms of a rail to its return, in both polarities."""

import math

from bench_lamp.cards.card import Card, Entry, Lead
from bench_lamp.cards.leads import span
from bench_lamp.case import cautions
from bench_lamp.case.case import Case
from bench_lamp.case.cold_checks import ColdItem
from bench_lamp.case.cold_verdicts import cold_band, ohms_read, peers_ohms
from bench_lamp.case.hand import Hand
from bench_lamp.checks.cold import BARE_SHORT_OHM
from bench_lamp.stages.cold.checks.check import CheckCards
from bench_lamp.units import engineering


def _card(case: Case, hand: Hand, item: ColdItem) -> Card:
    """Ask for a rail's ohms to its return, first one polarity, then the other."""
    point = case.profile.point(item.target)
    assert point is not None
    swapped = ohms_read(case, point, swapped=False) is not None
    ground = case.profile.ground_of(point).place
    place = point.place or point.name
    limits = cold_band(case, point)
    band = limits[int(swapped)] if limits else (0.0, math.inf)
    is_known = band[0] > BARE_SHORT_OHM or math.isfinite(band[1])
    return Card(
        id="",
        title=f"Ohms on {point.id}, {point.name}" + (", leads swapped" if swapped else ""),
        effort="about 15\u202fs",
        cautions=cautions.for_ohms(case),
        leads=(
            Lead(kind="red", text=ground if swapped else place),
            Lead(kind="black", text=place if swapped else ground),
            Lead(kind="meter", text="ohms"),
        ),
        expect=span("ohm", *band) if is_known else "",
        expect_notes=_others(case, item, is_known=is_known, swapped=swapped),
        entry=Entry(
            kind="reading",
            unit="Ω",
            mode="ohm",
            target=point.id,
            field="swapped" if swapped else "",
        ),
        why_heading="",
        why=(
            "Both polarities: junctions on the rail make them differ. Wait until the reservoirs are charged.",
        ),
    )


def _others(case: Case, item: ColdItem, *, is_known: bool, swapped: bool) -> tuple[str, ...]:
    """Say what this board read last time, and what other boards read."""
    point = case.profile.point(item.target)
    good = (point.cold_swapped if swapped else point.cold) if point else None
    model = "by the model" if is_known else "nothing to compare with yet"
    notes = ["as good boards read" if good is not None else model]
    before = case.last_visit.latest(item.target, "ohm") if case.last_visit else None
    if before is not None:
        notes.append(f"last visit {engineering(before.value, 'Ω', resolution=before.resolution)}")
    peers = peers_ohms(case, point) if point else None
    if peers is not None:
        notes.append(
            f"{peers[1]} other board{'s' if peers[1] > 1 else ''} {engineering(peers[0], 'Ω', resolution=1.0)}"
        )
    return (" · ".join(notes),)


CHECK = CheckCards(card=_card)
