"""Bundles: what goes out comes in whole, nothing here is overwritten, and what does not belong is refused."""

import io
import json
import zipfile
from datetime import UTC, datetime

import pytest

from bench_lamp.board import ProfileError, ProfileLibrary
from bench_lamp.board.bundle import BundleError, look_inside, write_bundle
from bench_lamp.board.change import point_put
from bench_lamp.board.grow import grown
from bench_lamp.board.pictures import shipped_pictures
from bench_lamp.board.taking_in import blended, differences, put_beside
from bench_lamp.units import Band

AT = datetime(2026, 11, 17, 12, 41, tzinfo=UTC)
LATE = "format: bench-lamp board 1\nid: late  # a later one\nname: Late\nextends: ruskel-36\ntest_points: []\n"


def sent(tmp_path, profile_id: str = "ruskel-36", own=None):
    paths = ProfileLibrary(own=own).paths()
    path = tmp_path / f"{profile_id}.benchboard"
    write_bundle(path, profile_id, paths, made_by="The other bench", licence="CC BY 4.0", at=AT,
                 history=("TP3 was 30 V",))  # fmt: skip
    return path


def repacked(path, **files: bytes | None):
    """Return a bundle with some files put in or taken out, and no sum made anew."""
    with zipfile.ZipFile(path) as old:
        kept = {n: old.read(n) for n in old.namelist()}
    for name, data in files.items():
        kept.pop(name, None)
        if data is not None:
            kept[name] = data
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as new:
        for name, data in kept.items():
            new.writestr(name, data)
    path.write_bytes(out.getvalue())
    return path


def test_what_goes_out_comes_in_whole(tmp_path):
    found = look_inside(sent(tmp_path))
    assert found.profile == ProfileLibrary().get("ruskel-36")
    assert (found.made_by, found.licence, found.made_at[:10]) == (
        "The other bench",
        "CC BY 4.0",
        "2026-11-17",
    )
    assert found.history == ("TP3 was 30 V",)
    assert differences(found.texts, ProfileLibrary().paths()) == ()


def test_a_variant_travels_with_what_it_extends(tmp_path):
    own = tmp_path / "own"
    own.mkdir()
    (own / "late.board.yaml").write_text(LATE)
    found = look_inside(sent(tmp_path, "late", own))
    assert set(found.texts) == {"late", "ruskel-36"}
    assert found.profile.point("TP1") is not None


def test_nothing_here_is_overwritten_and_both_stand_side_by_side(tmp_path):
    own = tmp_path / "own"
    own.mkdir()
    (own / "late.board.yaml").write_text(LATE)
    bundle = look_inside(sent(tmp_path, "late", own))
    mine = LATE.replace("name: Late", "name: Mine")
    (own / "late.board.yaml").write_text(mine)
    library = ProfileLibrary(own=own)
    assert differences(bundle.texts, library.paths()) == ("-name: Mine", "+name: Late")
    made = put_beside("late", bundle.texts, own, library.paths())
    assert made == "late-2"
    assert (own / "late.board.yaml").read_text() == mine
    beside = ProfileLibrary(own=own).get("late-2")
    assert beside.name == "Late"
    assert {p.name for p in own.iterdir()} == {"late.board.yaml", "late-2.board.yaml"}, (
        "the same parent is not doubled"
    )


def test_practice_of_both_is_blended_and_nothing_else(tmp_path):
    paths = ProfileLibrary().paths()
    other = grown("ruskel-36", [point_put("TP2", practice="11.7..12.2", boards_read=3),
                                point_put("TP3", practice="31..32", boards_read=2, nominal="30 V"),
                                point_put("TP4", cold="120..180")],
                  tmp_path, paths).profile  # fmt: skip
    mine = ProfileLibrary().get("ruskel-36")
    changes = {c.where[1]: c.value for c in blended(mine, other)}
    assert changes == {
        "TP2": {"practice": "11.7..12.3", "boards_read": 3},
        "TP3": {"practice": "31..32", "boards_read": 2},
        "TP4": {"cold": "120..180"},
    }
    assert mine.point("TP2").practice == Band(11.8, 12.3)


def test_pictures_travel_and_one_of_another_content_keeps_its_name_here(tmp_path):
    own = tmp_path / "own"
    paths = ProfileLibrary().paths()
    file = shipped_pictures() / "orrery-power-parts.png"
    text = LATE.replace(
        "test_points: []", "test_points: []\npictures:\n  - {id: top, file: top.png}"
    )
    out = tmp_path / "out"
    out.mkdir()
    (out / "late.board.yaml").write_text(text)
    path = tmp_path / "late.benchboard"
    write_bundle(path, "late", paths | {"late": out / "late.board.yaml"}, made_by="", licence="", at=AT,
                 pictures={"top.png": file})  # fmt: skip
    bundle = look_inside(path)
    assert bundle.pictures == {"top.png": file.read_bytes()}
    (own / "pictures").mkdir(parents=True)
    (own / "pictures" / "top.png").write_bytes(
        (shipped_pictures() / "orrery-power-solder.png").read_bytes()
    )
    made = put_beside("late", bundle.texts, own, paths, bundle.pictures)
    found = ProfileLibrary(own=own).get(made)
    top = next(picture for picture in found.pictures if picture.id == "top")
    assert top.file != "top.png"
    assert (own / "pictures" / top.file).read_bytes() == file.read_bytes()


@pytest.mark.parametrize(
    ("files", "says"),
    [
        ({"../evil.board.yaml": b"x"}, "does not belong"),
        ({"/etc/evil.board.yaml": b"x"}, "does not belong"),
        ({"pictures/../../x.png": b"x"}, "does not belong"),
        ({"pictures/a.exe": b"x"}, "does not belong"),
        ({"run.py": b"x"}, "does not belong"),
        ({"bundle.json": None}, "has no bundle.json"),
        ({"bundle.json": b"{}"}, "is no bench-lamp bundle"),
        ({"bundle.json": b"[" * 100_000}, "has no bundle.json"),
        ({"ruskel-36.board.yaml": b"id: ruskel-36\n"}, "not as its maker packed it"),
        ({"other.board.yaml": b"x"}, "not as its maker packed it"),
        ({"big.board.yaml": b"x" * 300_000}, "too large"),
    ],
)
def test_what_does_not_belong_is_refused(tmp_path, files, says):
    path = repacked(sent(tmp_path), **files)
    with pytest.raises(BundleError, match=says) as caught:
        look_inside(path)
    assert caught.value.hint


def test_a_bomb_a_cut_and_a_foreign_file_are_refused(tmp_path):
    path = sent(tmp_path)
    whole = path.read_bytes()
    for raw in (b"", b"PK\x03\x04", whole[: len(whole) // 2], b"\x00" * 5000, b"GIF89a"):
        path.write_bytes(raw)
        with pytest.raises(BundleError):
            look_inside(path)
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as bomb:
        for n in range(61):
            bomb.writestr(f"f{n}.board.yaml", b"x")
    with pytest.raises(BundleError, match="61 files"):
        look_inside(path)


def test_a_profile_with_errors_is_named_and_not_taken(tmp_path):
    path = sent(tmp_path)
    bad = b"format: bench-lamp board 1\nid: ruskel-36\nname: x\ntest_points: [{id: A}]\n"
    import hashlib

    with zipfile.ZipFile(path) as old:
        manifest = json.loads(old.read("bundle.json"))
    manifest["sums"]["ruskel-36.board.yaml"] = hashlib.sha256(bad).hexdigest()
    repacked(path, **{"ruskel-36.board.yaml": bad, "bundle.json": json.dumps(manifest).encode()})
    with pytest.raises(ProfileError, match=r"test_points\[0\]"):
        look_inside(path)
