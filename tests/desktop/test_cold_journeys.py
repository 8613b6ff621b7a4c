"""The whole cold round through the real window: every kind of check, by keys and by the meter."""

from bench_lamp.case.cold_list import cold_items, cold_progress
from bench_lamp.case.stops import cold_stops


def answer(hands, item) -> None:
    """Answer the check under the lamp as a good part would."""
    if item.kind in {"fuse", "switch"}:
        hands.type("1")
        hands.settle()
    elif item.kind == "row":
        row = next(r for r in hands.session.case.profile.rows if r.id == item.target)
        hands.enter(" ".join(row.beeps) or "none")
    elif item.kind == "chip":
        chip = next(c for c in hands.session.case.profile.pin_maps if c.id == item.target)
        hands.enter(" ".join(map(str, chip.low)))
    elif item.kind == "junction":
        forward = hands.card.card.entry.target.partition(" ")[2]
        reverse = ">".join(reversed(forward.split(">")))
        hands.enter("0.55")
        assert hands.card.card.entry is None or hands.card.card.entry.target.endswith(reverse)
        hands.enter("OL")
    elif item.kind == "coil":
        coil = next(c for c in hands.session.case.profile.coils if c.id == item.target)
        hands.enter(f"{coil.ohms.middle if coil.ohms else 8:g}")
    else:
        hands.measure()


def test_every_kind_of_check_by_keys_and_the_short_stops_the_wake_up(open_bench):
    """QH-021 has a shorted capacitor at the driver board: the ohms find it, all else is good."""
    hands = open_bench()
    hands.open("QH-021/1", "cold", "discharged")
    hands.settle()
    seen = []
    for _ in range(160):
        left = [i for i in cold_items(hands.seen.case) if i.is_counted and not i.is_done]
        if not left:
            break
        hands.session.look_at(left[0].id)
        seen.append(left[0].kind)
        answer(hands, left[0])
    assert not left, [(i.id, i.word.text, hands.title, hands.said) for i in left[:3]] + seen[-4:]
    assert set(seen) == {"fuse", "row", "chip", "switch", "junction", "ohms", "capacitor", "coil"}
    done, total = cold_progress(hands.seen.case)
    assert done == total > 40
    bad = {i.target for i in cold_items(hands.seen.case) if i.is_bad}
    assert {"A", "L1", "D1"} & bad
    assert not {i for i in bad if i.startswith(("F", "BR", "Q", "U", "K"))}, bad
    assert cold_stops(hands.seen.case)
    hands.shortcut("Alt+3")
    hands.settle()
    assert hands.title == "Do not switch on"
