"""Profiles: loaded, refused with every bad place, extended, compiled."""

import json
import re
from pathlib import Path

import pytest

from bench_lamp.__main__ import main
from bench_lamp.board import FeedTree, ProfileError, ProfileLibrary, load_profile
from bench_lamp.board.blocks import Diode, Harness, Inlet, Rectifier, Transformer
from bench_lamp.board.library import shipped_folder
from bench_lamp.board.profile import Profile
from bench_lamp.board.schema import json_schema
from bench_lamp.units import Band, FuseRating
from bench_lamp.units.plain import from_plain, to_plain

SMALL = """\
format: bench-lamp board 1
id: small
name: Small supply
grounds:
  frame: {net: gnd, place: the frame}
power:
  - {id: X1, kind: inlet, to: mains_in, volts: 230 V}
  - {id: F1, kind: fuse, from: mains_in, to: mains, rating: 3 A slow}
  - {id: T1, kind: transformer, from: mains, to: {sec: 9.3 V}}
  - {id: BR1, kind: bridge, from: sec, to: raw}
  - {id: C1, kind: reservoir, net: raw, value: 12000 uF, rating: 25 V}
test_points:
  - {id: A, name: raw, net: raw, black: frame, mode: dc V, nominal: 11 V, design: 9..13}
"""


def write(folder: Path, text: str, name: str = "small") -> Path:
    path = folder / f"{name}.board.yaml"
    path.write_text(text, encoding="utf-8")
    return path


def test_values_are_read_as_a_bench_writes_them(tmp_path):
    profile = load_profile(write(tmp_path, SMALL))
    assert profile.fuses[0].rating == FuseRating(3.0, "slow")
    assert profile.block("C1").value == pytest.approx(0.012)
    assert profile.point("A").design == Band(9, 13)


@pytest.mark.parametrize(
    ("old", "new", "line", "field", "says"),
    [
        pytest.param("design: 9..13", "design: 13..9", 13, "test_points[0].design", "wrong order", id="band"),
        pytest.param("rating: 3 A slow", "rating: 3 A", 8, "power[1].rating", "names no speed", id="fuse"),
        pytest.param("value: 12000 uF", "value: 12000 uV", 11, "power[4].value", "V where F", id="unit"),
        pytest.param("black: frame", "black: fram", 13, "test_points[0].black", "did you mean “frame”", id="ground"),
        pytest.param("net: raw, black", "net: row, black", 13, "test_points[0].net", "did you mean “raw”", id="net"),
        pytest.param("kind: bridge", "kind: brige", 10, "power[3]", "bridge", id="block-kind"),
        pytest.param("mode: dc V", "mode: dcV", 13, "test_points[0].mode", "dc V", id="mode"),
        pytest.param("name: raw,", "nome: raw,", 13, "test_points[0]", "check its spelling", id="unknown-field"),
        pytest.param("id: BR1", "id: F1", 10, "power[3].id", "twice", id="double-id"),
        pytest.param("from: sec, ", "from: sex, ", 10, "power[3].from", "did you mean “sec”", id="fed-from-nowhere"),
        pytest.param("name: Small supply", "name: [1, 2]", 3, "name", "string", id="wrong-type"),
        pytest.param("bench-lamp board 1", "bench-lamp board 9", 1, "format", "bench-lamp board 1", id="newer"),
        pytest.param("nominal: 11 V", "nominal: true", 13, "test_points[0].nominal", "write it as text", id="bool"),
        pytest.param(", design: 9..13", ", assumed: true", 13, "test_points[0].assumed", "write design", id="assumed"),
        pytest.param("name: Small supply", "name: S\naliases: {VCC: rew}", 4, "aliases", "mean “raw”", id="alias"),
        pytest.param("sec: 9.3 V", "sec: 0 V", 9, "power[2].to", "feeds nothing", id="0 V winding"),
        pytest.param("volts: 230 V", "volts: 0 V", 7, "power[0].volts", "feeds nothing", id="0 V"),
    ],
)  # fmt: skip
def test_a_bad_place_is_named_with_line_field_and_mend(tmp_path, old, new, line, field, says):
    assert old in SMALL
    with pytest.raises(ProfileError) as caught:
        load_profile(write(tmp_path, SMALL.replace(old, new)))
    problems = [p for p in caught.value.problems if says in p.message]
    assert problems, str(caught.value)
    assert (problems[0].file, problems[0].line) == ("small.board.yaml", line)
    assert problems[0].field.startswith(field)


HARDWARE = """\
mains_fuse: F1
boards: {main: Main board}
rows:
  - {id: row, name: outputs, black: frame, parts: [Q1, Q2, Q3], beeps: [Q3]}
pin_maps:
  - {id: U14, name: driver, pins: 16, ground: 8, low: [8]}
wake:
  gates:
    - {id: supply, name: Supply alone, reads: [A]}
    - {id: all, name: The machine, on: [F1]}
"""


@pytest.mark.parametrize(
    ("old", "new", "line", "field", "says"),
    [
        pytest.param(
            "mains_fuse: F1", "mains_fuse: F7", 14, "mains_fuse", "known are: F1", id="fuse"
        ),
        pytest.param(
            "black: frame, parts",
            "black: star, parts",
            17,
            "rows[0].black",
            "known are: frame",
            id="ground",
        ),
        pytest.param(
            "beeps: [Q3]", "beeps: [Q9]", 17, "rows[0].beeps", "known are: Q1, Q2, Q3", id="row"
        ),
        pytest.param(
            "low: [8]", "low: [8, 17]", 19, "pin_maps[0].low", "not on a package of 16", id="pin"
        ),
        pytest.param(
            "ground: 8", "ground: 0", 19, "pin_maps[0].low", "pin 0 is not", id="ground-pin"
        ),
        pytest.param(
            "on: [F1]", "on: [J9]", 23, "wake.gates[1].on", "no connector or fuse", id="gate"
        ),
        pytest.param(
            "mode: dc V,",
            "mode: dc V, board: attic,",
            13,
            "test_points[0].board",
            "no board",
            id="board",
        ),
        pytest.param(
            "design: 9..13",
            "design: 9..13, practice: -12..-10",
            13,
            "test_points[0].practice",
            "check the sign",
            id="sign",
        ),
        pytest.param(
            "id: A, name: raw",
            "id: sec, name: raw",
            13,
            "test_points[0].id",
            "rename one",
            id="name-clash",
        ),
        pytest.param(
            ", design: 9..13", "", 22, "wake.gates[0].reads", "no limits", id="gate-limits"
        ),
        pytest.param("to: raw}", "to: sec}", 10, "power[3]", "T1 feeds the net", id="fed-twice"),
    ],
)
def test_hardware_that_cannot_be_is_named_with_its_mend(tmp_path, old, new, line, field, says):
    text = SMALL + HARDWARE
    text = text.replace("black: frame, mode: dc V,", "black: frame, mode: dc V, board: main,")
    assert load_profile(write(tmp_path, text)).rows[0].beeps == ("Q3",)
    text = text.replace(", board: main" if "attic" in new else "\0", "", 1)
    assert old in text
    with pytest.raises(ProfileError) as caught:
        load_profile(write(tmp_path, text.replace(old, new, 1)))
    message = str(caught.value)
    assert f"line {line}" in message, message
    assert field in message
    assert says in message


def test_all_bad_places_come_at_once(tmp_path):
    text = (
        SMALL.replace("design: 9..13", "design: x")
        .replace("3 A slow", "nothing")
        .replace("9.3 V", "hot")
    )
    with pytest.raises(ProfileError) as caught:
        load_profile(write(tmp_path, text))
    assert {p.line for p in caught.value.problems} == {8, 9, 13}


@pytest.mark.parametrize(
    ("text", "says"),
    [
        pytest.param("just words", "is not a profile", id="no-mapping"),
        pytest.param("a: [1, 2", "expected", id="broken-yaml"),
        pytest.param("a: &x [1]\nb: *x", "aliases", id="alias"),
        pytest.param("a: " + "[" * 40 + "]" * 40, "deep nesting", id="deep"),
        pytest.param("\x00\x01", "small.board.yaml", id="binary"),
        pytest.param("", "is not a profile", id="empty"),
        pytest.param("x: " + "y" * 2_100_000, "too large", id="huge"),
        pytest.param(
            "!!python/object/apply:os.system ['true']",
            "could not determine a constructor",
            id="code",
        ),
    ],
)
def test_a_foreign_file_is_refused_as_a_whole(tmp_path, text, says):
    with pytest.raises(ProfileError, match=says):
        load_profile(write(tmp_path, text))


def test_a_variant_says_only_what_differs_and_its_errors_name_its_own_file(tmp_path):
    parents = {"small": write(tmp_path, SMALL)}
    change = "format: bench-lamp board 1\nid: later\nname: Later\nextends: small\n"
    later = change + "test_points:\n  - {id: A, place: moved to the right}\n"
    profile = load_profile(write(tmp_path, later, "later"), parents=parents)
    assert profile.point("A").place == "moved to the right"
    assert profile.point("A").nominal == 11.0
    without = load_profile(
        write(tmp_path, change + "power:\n  - {id: C1, remove: true}\n", "less"), parents=parents
    )
    assert without.block("C1") is None
    bad = write(tmp_path, change + "test_points:\n  - {id: A, design: 5..1}\n", "bad")
    with pytest.raises(ProfileError, match=r"bad\.board\.yaml, line 6"):
        load_profile(bad, parents=parents)
    with pytest.raises(ProfileError, match="no profile has the id “smell”"):
        load_profile(write(tmp_path, change.replace("small", "smell"), "lost"), parents=parents)
    loop = write(tmp_path, change.replace("small", "loop"), "loop")
    with pytest.raises(ProfileError, match="extends itself"):
        load_profile(loop, parents={"loop": loop})


def test_the_library_keeps_compiled_profiles_and_names_broken_ones(tmp_path):
    own, cache = tmp_path / "own", tmp_path / "cache"
    own.mkdir()
    write(own, SMALL)
    write(own, "nonsense", "broken")
    first = ProfileLibrary(own=own, cache=cache)
    assert first.get("small").name == "Small supply"
    assert first.get("broken") is None
    assert "broken.board.yaml" in first.broken
    assert len(list(cache.iterdir())) == 1
    assert ProfileLibrary(own=own, cache=cache).get("small") == first.get("small")
    write(own, SMALL.replace("Small supply", "Changed"))
    assert ProfileLibrary(own=own, cache=cache).get("small").name == "Changed"
    for kept in cache.iterdir():
        kept.write_text("{ damaged")
    assert ProfileLibrary(own=own, cache=cache).get("small").name == "Changed"


def test_shipped_profiles_are_sound_and_survive_compiling(library):
    for profile in library.all():
        assert from_plain(Profile, json.loads(json.dumps(to_plain(profile)))) == profile
    assert library.broken == {}


def test_orrery_nights_has_what_the_demo_needs(orrery):
    assert len(orrery.test_points) >= 14
    assert {"frame", "display_return"} <= orrery.grounds.keys()
    ratings = {f.id: str(f.rating).replace("\u202f", " ") for f in orrery.fuses}
    assert ratings == {
        "F1": "3 A slow", "F2": "8 A fast", "F3": "5 A slow",
        "F4": "10 A slow", "F5": "10 A slow", "F6": "0.5 A fast",
    }  # fmt: skip
    assert {p.mode for p in orrery.test_points} == {"dc V", "ac V"}
    assert {p.board for p in orrery.test_points} >= {"power", "logic", "driver"}
    assert all(p.practice for p in orrery.test_points)


@pytest.mark.parametrize(
    ("net", "chain"),
    [
        ("lamp_drv", "X1 S1 F1 T1 F4 BR2 C2 J3.5"),
        ("logic5", "X1 S1 F1 T1 F2 BR1 C1 U1"),
        ("light_pf", "X1 S1 F1 T1 F5 J4.1"),
        ("ref8", "X1 S1 F1 T1 F6 BR4 C4 VR1"),
        ("nowhere", ""),
    ],
)
def test_the_way_from_the_mains(orrery, net, chain):
    assert [b.id for b in FeedTree(orrery).upstream(net)] == chain.split()


@pytest.mark.parametrize(
    ("kind", "ac", "dc"),
    [
        (
            "tessenby-orrery-nights",
            "mains sec_lamp light_pf ac_coil",
            "lamp_drv logic5 ref8 nowhere",
        ),
        ("varnholt-vx12", "", "lead fused guarded sw13 rf9 front9 disp5"),
    ],
)
def test_which_nets_carry_ac(library, kind, ac, dc):
    tree = FeedTree(library.get(kind))
    assert {n: tree.is_ac(n) for n in (ac + " " + dc).split()} == (
        dict.fromkeys(ac.split(), True) | dict.fromkeys(dc.split(), False)
    )


@pytest.mark.parametrize(
    ("kind", "below"),
    [
        ("half-wave", {"in": True, "way": True, "out": False}),
        ("diode", {"in": False, "way": False}),
    ],
)
def test_what_nothing_feeds_carries_ac_where_a_rectifier_takes_from_it(kind, below):
    wire = Harness(id="W1", from_="in", to="way")
    part = (Diode if kind == "diode" else Rectifier)(id="D1", kind=kind, from_="way", to="out")
    profile = Profile(
        format="bench-lamp board 1", id="x", name="x", test_points=(), power=(wire, part)
    )
    assert {net: FeedTree(profile).is_ac(net) for net in below} == below


@pytest.mark.parametrize(
    ("power", "has"),
    [
        ((), False),
        ((Inlet(id="X1", to="in", volts=230.0),), False),
        ((Inlet(id="X1", to="in", volts=13.8, supply="battery"),), True),
        ((Transformer(id="T1", from_="in", to={"sec": 9.0}),), True),
    ],
)
def test_what_the_reasoning_has_something_to_say_of(power, has):
    profile = Profile(format="bench-lamp board 1", id="x", name="x", test_points=(), power=power)
    assert profile.has_suspects is has


@pytest.mark.parametrize(
    ("part", "points"),
    [
        ("F4", "C Q D"),
        ("C2", "C Q D"),
        ("J2", "L1"),
        ("J2.4", "L1"),
        ("U1", "A B P L1 D1"),
        ("J6", "D1"),
        ("LAMPS", "C Q D"),
        ("BT1", ""),
    ],
)
def test_what_a_part_feeds(orrery, part, points):
    assert {p.id for p in FeedTree(orrery).points_fed_by(part)} == set(points.split())


def test_the_schema_in_docs_is_the_models_own():
    shipped = Path(__file__).parents[2] / "docs" / "board.schema.json"
    assert json.loads(shipped.read_text(encoding="utf-8")) == json_schema()


def test_a_broken_profile_of_ones_own_is_named_and_the_shipped_one_stands_in(tmp_path):
    name = "ostrel-8"
    shipped = (shipped_folder() / f"{name}.board.yaml").read_text(encoding="utf-8")
    own = tmp_path / "own"
    own.mkdir()
    (own / f"{name}.board.yaml").write_text(shipped.replace("volts: 12 V", "volts: twelve", 1))
    (own / "mine.board.yaml").write_text("format: bench-lamp board 1\nid: mine\n")
    for _ in range(2):
        library = ProfileLibrary(own=own, cache=tmp_path / "cache")
        assert library.get(name) == ProfileLibrary().get(name)
        assert library.get("mine") is None
        assert name in {p.id for p in library.all()}
        mine, ostrel = library.notes()
        assert "mine.board.yaml has 2 errors" in mine
        assert "The shipped one stands in" in ostrel
        assert "line " in ostrel


@pytest.mark.parametrize("word", ["check", "--check"])
def test_check_prints_one_error_a_line_and_says_so_by_its_status(tmp_path, capsys, word):
    good, bad = write(tmp_path, SMALL), tmp_path / "bad.board.yaml"
    bad.write_text(SMALL.replace("id: small", "id: bad").replace("nominal:", "nominall:"))
    assert main([word, str(good)]) == 0
    assert capsys.readouterr().out == ""
    assert main([word, str(good), str(bad)]) == 1
    lines = capsys.readouterr().out.splitlines()
    assert lines
    assert all(re.match(r"bad\.board\.yaml, line \d+: \S+: .+", line) for line in lines), lines
    wrong = tmp_path / "other.board.yaml"
    wrong.write_text(SMALL)
    assert main([word, str(wrong)]) == 1
    assert "name the file small.board.yaml" in capsys.readouterr().out
    assert main([word]) == 2
    assert main([word, str(tmp_path / "none.board.yaml")]) == 1


def test_every_shipped_profile_passes_its_own_check(capsys):
    files = [str(p) for p in sorted(shipped_folder().glob("*.board.yaml"))]
    assert main(["check", *files]) == 0
