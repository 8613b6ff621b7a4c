"""What a profile says of things that are set: what contradicts itself names its field and its mend."""

import pytest

from bench_lamp.board import ProfileError, ProfileLibrary, load_profile

HEAD = """\
format: bench-lamp board 1
id: rig
name: rig
grounds:
  gnd: {net: gnd, name: chassis, place: braid}
test_points:
  - {id: A, name: rail, net: five, black: gnd, mode: dc V, nominal: 5 V}
trims:
"""
ONE = "id: t, name: t, kind: single, "
ADJUSTER = "adjusters: [{id: R1}], "
GOOD = ADJUSTER + "readings: [{id: v, name: v, band: 4..6}], slopes: {R1: {v: 1 V}}"
CHANNELS = "id: t, name: t, kind: channels, if: 10 MHz, allowed: 1 kHz, "
GRIP = "id: t, name: t, kind: stages, stages: [{id: a, name: a, adjuster: R}], "
CARRY = "id: t, name: t, kind: transfer, model: m, adjuster: {id: R}, setting: 1 V, within: 1 V, states: [on], "
SENDER = "id: t, name: t, kind: sender, fixed: 1k, nominal: 9 V, "
BANK = "id: t, name: t, kind: switches, "
WRONG = [
    ("id: t, name: t, kind: pair, " + GOOD, "adjusters", "has 2 of them"),
    (ONE + GOOD.replace("4..6", "5..5"), "readings[0].band", "two different"),
    (ONE + GOOD.replace("1 V", "OL"), "slopes.R1.v", "no overload"),
    (ONE + GOOD.replace("R1: {v", "R2: {v"), "slopes.R2", "known are: R1"),
    (ONE + GOOD.replace("{v: 1 V}", "{}"), "slopes", "what a turn of R1 does"),
    (ONE + GOOD.replace("4..6", "4..6, point: B"), "readings[0].point", "“B”"),
    (ONE + GOOD.replace("4..6", "4..6, over: 10R"), "readings[0].over", "only a current"),
    (ONE + GOOD.replace("4..6", "4..6, most: 5"), "readings[0].most", "above the band"),
    (ONE + GOOD.replace("{id: R1}", "{id: R1, travel: 0}"), "adjusters[0].travel", "above 0"),
    ("id: t, name: t, kind: single, signs: {melts: [R1]}, " + GOOD, "signs.melts", "no sign"),
    (CHANNELS + "channels: []", "channels", "1 to 64"),
    (CHANNELS + "channels: [{id: a, hertz: 9 MHz}]", "channels[0].hertz", "above the IF"),
    (CHANNELS + "multiplier: 0, channels: [{id: a, hertz: 90 MHz}]", "multiplier", "whole number"),
    (
        CHANNELS + "channels: [{id: a, hertz: 90 MHz}, {id: a, hertz: 91 MHz}]",
        "channels[1].id",
        "stands here twice",
    ),
    (GRIP + "presets: {}", "presets", "at least one"),
    (GRIP + "presets: {toys: ['28', '18']}", "presets.toys", "2 figures for 1"),
    (GRIP + "presets: {toys: [much]}", "presets.toys", "neither volts nor -"),
    (GRIP + "on: 0, presets: {toys: ['28']}", "on", "above 0"),
    (CARRY + "state: off, references: []", "state", "no state"),
    (CARRY + "state: on, references: []", "references", "none is of the state"),
    (
        SENDER + "point: Z, marks: [{name: e, ohms: 1k, share: 0}, {name: f, ohms: 2k, share: 1}]",
        "point",
        "“Z”",
    ),
    (SENDER + "point: A, marks: [{name: e, ohms: 1k, share: 0}]", "marks", "at least two"),
    (
        SENDER
        + "point: A, marks: [{name: e, ohms: 1k, share: 0}, {name: f, ohms: 2k, share: 150 %}]",
        "marks[1]",
        "0 to 1",
    ),
    (BANK + "settings: []", "settings", "1 to 64"),
    (
        "id: t, name: t, kind: switches, settings: [{id: a, name: a, want: up, choices: [on, off]}]",
        "settings[0].want",
        "“up”",
    ),
    ("id: t, name: t, kind: dance", "kind", "no such kind"),
]


@pytest.mark.parametrize(("text", "field", "says"), WRONG)
def test_a_contradiction_names_its_field_and_its_mend(tmp_path, text, field, says):
    path = tmp_path / "rig.board.yaml"
    path.write_text(f"{HEAD}  - {{{text}}}\n", encoding="utf-8")
    with pytest.raises(ProfileError) as error:
        load_profile(path)
    found = [(p.field, p.message) for p in error.value.problems]
    assert any(at.startswith(f"trims[0].{field}") and says in message for at, message in found), (
        found
    )


def test_a_sound_one_loads_and_those_that_ship_do(tmp_path):
    path = tmp_path / "rig.board.yaml"
    path.write_text(f"{HEAD}  - {{id: t, name: t, kind: single, {GOOD}}}\n", encoding="utf-8")
    assert load_profile(path).trim("t").slopes == {"R1": {"v": 1.0}}
    kinds = {t.kind for p in ProfileLibrary().all() for t in p.trims}
    assert kinds == {"single", "pair", "channels", "stages", "transfer", "sender", "switches"}
