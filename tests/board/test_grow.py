"""Profiles that grow: changed where it says so, checked as a whole, and never half written."""

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from ruamel.yaml import YAML

from bench_lamp.board import ProfileError, ProfileLibrary
from bench_lamp.board.change import Drop, Put, point_put
from bench_lamp.board.grow import begun, grown, new_profile_text, put_back
from bench_lamp.board.library import shipped_folder
from bench_lamp.board.splice import changed
from bench_lamp.board.usual import usual_rail
from bench_lamp.errors import BenchLampError

ORRERY = (shipped_folder() / "tessenby-orrery-nights.board.yaml").read_text()
RUSKEL = (shipped_folder() / "ruskel-36.board.yaml").read_text()
BLOCKS = """\
format: bench-lamp board 1
id: hand  # written by hand
name: 'By hand'
# the grounds
grounds:
    gnd:
        net: gnd
        place: here  # the lug
test_points:
-   id: A
    name: first
    net: a
    black: gnd
    mode: dc V
    nominal: 5 V
    design: 4.75..5.25

# the second
-   {id: B, name: second, net: b, black: gnd, mode: dc V}
boards: {}
"""


def data(text: str) -> dict:
    return YAML(typ="safe", pure=True).load(text)


def by_hand(old: dict, change) -> dict:
    """Return what a change should come to: the same on the plain data."""
    *path, last = change.where
    if change.where[0] in {"test_points", "power", "parts"}:
        rest = [e for e in old.get(path[0], []) if e["id"] != last]
        found = next((e for e in old.get(path[0], []) if e["id"] == last), None)
        if isinstance(change, Drop):
            return {**old, path[0]: rest} if path[0] in old else old
        fields = {
            k: v for k, v in {**(found or {"id": last}), **change.value}.items() if v is not None
        }
        entries = [*old.get(path[0], [])]
        if found is None:
            return {**old, path[0]: [*entries, fields]}
        return {**old, path[0]: [fields if e["id"] == last else e for e in entries]}
    inner = dict(old[path[0]]) if path and path[0] in old else {}
    holder = inner if path else dict(old)
    if isinstance(change, Drop):
        holder.pop(last, None)
    else:
        holder[last] = change.value
    return (
        {**old, path[0]: holder}
        if path and (path[0] in old or isinstance(change, Put))
        else (old if path else holder)
    )


WORDS = st.sampled_from(
    ["5 V", "4.75..5.25", "x: y", "a # b", "−5 V", "3 A slow", "“so”", "it's", "- no", "yes"]
)
IDS = st.sampled_from(["A", "B", "TP1", "C14+", "-5", "U1", "F1"])
ENTRIES = st.builds(
    lambda name, key, fields: Put((name, key), fields),
    st.sampled_from(["test_points", "power", "parts"]),
    IDS,
    st.dictionaries(
        st.sampled_from(["place", "name", "net", "volts"]), WORDS | st.none(), min_size=1
    ),
)
CHANGES = (
    ENTRIES
    | st.builds(lambda n, i: Drop((n, i)), st.sampled_from(["test_points", "power", "parts"]), IDS)
    | st.builds(lambda n, w: Put((n,), w), st.sampled_from(["about", "name", "maker"]), WORDS)
    | st.builds(lambda n, w: Put(("boards", n), w), st.sampled_from(["main", "aux"]), WORDS)
)


@settings(max_examples=60, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(
    st.sampled_from([RUSKEL, BLOCKS, new_profile_text("new", "New: one")]),
    st.lists(CHANGES, max_size=5),
)
def test_a_change_of_the_text_is_the_change_of_its_data(text, changes):
    wanted = data(text)
    for change in changes:
        text, wanted = changed(text, [change]), by_hand(wanted, change)
        assert data(text) == wanted, (change, text)


def test_what_is_not_changed_stays_as_it_was_written():
    text = changed(ORRERY, [Put(("power", "U1"), {"volts": "5.1 V"}), point_put("A", place="x")])
    before, after = ORRERY.splitlines(), text.splitlines()
    moved = [(a, b) for a, b in zip(before, after, strict=True) if a != b]
    assert len(moved) == 2
    assert moved[0][1] == moved[0][0].replace("5.05 V", "5.1 V")
    kept = changed(
        BLOCKS, [point_put("A", nominal="5.1 V"), Put(("grounds", "gnd"), {"place": "there"})]
    )
    for comment in ("# written by hand", "# the grounds", "# the lug", "# the second"):
        assert comment in kept


def test_a_name_begins_a_profile_of_the_shop(tmp_path):
    paths = ProfileLibrary(own=tmp_path).paths()
    first = begun("Ferrow K2: sound!", tmp_path, paths)
    again = begun("Ferrow K2 sound", tmp_path, paths)
    assert (first.profile.id, again.profile.id) == ("ferrow-k2-sound", "ferrow-k2-sound-2")
    assert first.profile.name == "Ferrow K2: sound!"
    assert ProfileLibrary(own=tmp_path).get("ferrow-k2-sound") == first.profile
    with pytest.raises(BenchLampError, match="no letter"):
        begun("…", tmp_path, paths)


def test_a_profile_that_ships_is_changed_in_a_copy_and_goes_back(tmp_path):
    library = ProfileLibrary(own=tmp_path)
    found = grown("ruskel-36", [point_put("TP2", practice="11.9..12.1")], tmp_path, library.paths())
    assert found.before == RUSKEL == (shipped_folder() / "ruskel-36.board.yaml").read_text()
    library.take(found.profile)
    assert library.get("ruskel-36").point("TP2").practice.low == 11.9
    back = put_back("ruskel-36", found.before, tmp_path, library.paths())
    assert back.profile.point("TP2").practice.low == 11.8


@pytest.mark.parametrize(
    ("change", "says"),
    [
        (point_put("TP9", name="x", net="x", black="nowhere", mode="dc V"), "no ground"),
        (point_put("TP2", design="5..4"), "wrong order"),
        (Put(("parts", "a b"), {"name": "x"}), "is not an id"),
        (Put(("parts", "F1"), {"name": "x", "feeds": "TP77"}), "no test point"),
        (Put(("grounds", "x"), {"net": "x"}), "place"),
    ],
)
def test_a_change_that_makes_errors_changes_nothing(tmp_path, change, says):
    with pytest.raises(ProfileError, match=says):
        grown("ruskel-36", [change], tmp_path, ProfileLibrary(own=tmp_path).paths())
    assert not list(tmp_path.iterdir())


def test_what_a_variant_takes_out_is_marked_so(tmp_path):
    library = ProfileLibrary(own=tmp_path)
    text = (
        "format: bench-lamp board 1\nid: later\nname: Later\nextends: ruskel-36\ntest_points: []\n"
    )
    (tmp_path / "later.board.yaml").write_text(text)
    found = grown("later", [Drop(("test_points", "TP1"))], tmp_path, library.paths())
    assert found.profile.point("TP1") is None
    assert found.profile.point("TP2") is not None


@pytest.mark.parametrize(
    ("words", "nominal", "low", "high", "mode"),
    [
        ("5V", 5, 4.75, 5.25, "dc V"),
        ("+5", 5, 4.75, 5.25, "dc V"),
        ("−12", -12, -13.2, -10.8, "dc V"),
        ("3v3", 3.3, 3.135, 3.465, "dc V"),
        ("5VSB", 5, 4.75, 5.25, "dc V"),
        ("6.3V~", 6.3, 5.67, 6.93, "ac V"),
        ("12vac", 12, 10.8, 13.2, "ac V"),
        ("13.8V", 13.8, 11.5, 15, "dc V"),
        ("raw5", 9.75, 7, 12.5, "dc V"),
        ("raw-12", -22, -30, -14, "dc V"),
        ("coil50", 50, 40, 60, "dc V"),
        ("+170V", 170, 136, 204, "dc V"),
    ],
)
def test_what_a_rail_usually_is_by_its_name(words, nominal, low, high, mode):
    found = usual_rail(words)
    assert (found.nominal, found.design.low, found.design.high, found.mode) == (
        nominal,
        low,
        high,
        mode,
    )


@pytest.mark.parametrize("words", ["TP3", "C14+", "U5", "J2.4", "VCC5", "R12", "0V", "", "A"])
def test_a_name_that_tells_nothing_gives_no_limits(words):
    assert usual_rail(words) is None


def test_several_folders_stand_in_their_order_and_the_own_one_wins(tmp_path):
    own, one, two = (tmp_path / name for name in ("own", "one", "two"))
    for folder in (own, one, two):
        folder.mkdir()
        (folder / "k2.board.yaml").write_text(new_profile_text("k2", f"of {folder.name}"))
    (two / "k3.board.yaml").write_text(new_profile_text("k3", "of two"))
    (own / "folders.txt").write_text(f"# shared\n{one}\n../two\n/no/such\n")
    library = ProfileLibrary(own=own)
    assert library.get("k2").name == "of own"
    (own / "k2.board.yaml").unlink()
    library = ProfileLibrary(own=own)
    assert (library.get("k2").name, library.get("k3").name) == ("of one", "of two")
    assert any("no folder" in note for note in library.notes())
    found = grown("k3", [Put(("about",), "x")], own, library.paths())
    assert found.profile.about == "x"
    assert "about" not in (two / "k3.board.yaml").read_text()
    assert (own / "k3.board.yaml").exists()
