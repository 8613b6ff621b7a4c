"""Files from outside: whatever stands there, it is read, or named, and nothing hangs."""

import errno
import io
import os

import pytest
from tests.samples import SMALL

from bench_lamp.board.adopt import adopt
from bench_lamp.board.library import ProfileLibrary
from bench_lamp.board.load import MAX_BYTES, ProfileError, load_profile
from bench_lamp.errors import BenchLampError
from bench_lamp.files import (
    FileError,
    StoppedError,
    blocks_of_lines,
    first_line,
    listed,
    opened,
    read_bytes,
    read_text,
    write_whole,
)
from bench_lamp.files import lines as lines_module
from bench_lamp.logic.capture import read_capture
from bench_lamp.logic.image_file import MOST_GAPS, ImageError, read_image
from bench_lamp.reason.power.dictionary_cache import cached_dictionary

HARMLESS = b"some bytes"

#: Kinds of board that ship.
SHIPPED = 9


def _dangling(path):
    path.symlink_to(path.with_name("nowhere"))


def _loop(path):
    path.symlink_to(path)


def _endless(path):
    path.symlink_to("/dev/zero")


def _sparse(path):
    with path.open("wb") as file:
        file.truncate(4_000_000_000)


def _socket(path):
    import socket

    with socket.socket(socket.AF_UNIX) as made:
        os.chdir(path.parent)
        made.bind(path.name)


STRANGE = [
    pytest.param(os.mkfifo, "a pipe", id="pipe"),
    pytest.param(os.mkdir, "a folder", id="folder"),
    pytest.param(_dangling, "is not there", id="dangling-link"),
    pytest.param(_loop, "cannot be read", id="link-to-itself"),
    pytest.param(_endless, "a device", id="endless-device"),
    pytest.param(_socket, "a socket", id="socket"),
    pytest.param(_sparse, "too large", id="sparse-4-GB"),
]
READERS = [
    pytest.param(lambda p: read_bytes(p, most=MAX_BYTES), id="bytes"),
    pytest.param(lambda p: read_text(p, most=MAX_BYTES), id="text"),
    pytest.param(load_profile, id="profile"),
    pytest.param(read_image, id="image"),
    pytest.param(read_capture, id="capture"),
]


@pytest.mark.timeout(10)
@pytest.mark.parametrize(("make", "says"), STRANGE)
@pytest.mark.parametrize("read", READERS)
def test_what_is_no_file_of_ours_is_named_at_once(tmp_path, monkeypatch, read, make, says):
    monkeypatch.chdir(tmp_path)
    path = tmp_path / "odd.board.yaml"
    make(path)
    with pytest.raises(BenchLampError) as caught:
        read(path)
    assert says in f"{caught.value} {caught.value.hint}"
    assert caught.value.hint


@pytest.mark.timeout(10)
@pytest.mark.parametrize(("make", "says"), STRANGE)
def test_a_strange_entry_among_the_profiles_costs_a_message(tmp_path, monkeypatch, make, says):
    monkeypatch.chdir(tmp_path)
    (tmp_path / "profiles").mkdir()
    make(tmp_path / "profiles" / "odd.board.yaml")
    library = ProfileLibrary(own=tmp_path / "profiles", cache=tmp_path / "cache")
    assert len(library.all()) == SHIPPED, "those that ship"
    (note,) = library.notes()
    assert says in note


@pytest.mark.timeout(10)
@pytest.mark.parametrize(("make", "says"), [s for s in STRANGE if s.id != "folder"])
def test_a_folder_of_profiles_that_is_none_costs_a_message(tmp_path, monkeypatch, make, says):
    monkeypatch.chdir(tmp_path)
    make(tmp_path / "profiles")
    library = ProfileLibrary(own=tmp_path / "profiles")
    assert len(library.all()) == SHIPPED
    assert len(library.notes()) == (0 if "there" in says else 1)


@pytest.mark.timeout(20)
@pytest.mark.parametrize(
    "make", [os.mkfifo, os.mkdir, _dangling, _endless, lambda p: p.write_bytes(os.urandom(999))]
)
def test_a_cache_that_is_not_as_expected_is_absent(tmp_path, monkeypatch, orrery, make):
    from bench_lamp.circuit import compile_tree

    library = ProfileLibrary(cache=tmp_path)
    library.all()
    (place,) = tmp_path.glob("profiles-*.json")
    place.unlink()
    make(place)
    assert len(ProfileLibrary(cache=tmp_path).all()) == SHIPPED
    tree = compile_tree(orrery)
    cached_dictionary(tree, tmp_path)
    (book,) = tmp_path.glob("dictionary-*.npz")
    book.unlink()
    make(book)
    assert cached_dictionary(tree, tmp_path).tree == tree


def test_a_broken_profile_is_read_once_until_it_is_touched(tmp_path, monkeypatch):
    path = tmp_path / "a.board.yaml"
    path.write_text("format: bench-lamp board 1\nid: a\nname: [\n")
    library, count = ProfileLibrary(own=tmp_path), []
    from bench_lamp.board import library as module

    monkeypatch.setattr(
        module,
        "load_profile",
        lambda p, parents: count.append(p) or load_profile(p, parents=parents),
    )
    for _ in range(3):
        assert library.get("a") is None
    assert len(count) == 1
    path.write_text("format: bench-lamp board 1\nid: a\nname: still broken: [\n")
    assert library.get("a") is None
    assert len(count) == 2


@pytest.mark.parametrize(
    ("text", "says"),
    [
        pytest.param('name: "\\ud800"', "broken character", id="half-a-character"),
        pytest.param('name: "a\\0b"', "control character", id="nul"),
        pytest.param(f"name: {'x' * 5000}", "at most 4000", id="long"),
        pytest.param("test_points: [{id: 'A B'}]", "not an id", id="blank-in-an-id"),
        pytest.param("test_points: [{id: 'U7:1'}]", "not an id", id="colon-in-an-id"),
        pytest.param(f"test_points: [{{id: {'x' * 41}}}]", "not an id", id="long-id"),
        pytest.param("test_points: [{nominal: .nan}]", "not a possible figure", id="nan"),
        pytest.param("test_points: [{nominal: .inf}]", "not a possible figure", id="infinite"),
        pytest.param("x: " + "[" * 300, "deep nesting", id="brackets"),
        pytest.param("x: " + "[" * 90_000, "deep nesting", id="a-wall-of-brackets"),
        pytest.param("- " * 300 + "x", "deep nesting", id="dashes"),
        pytest.param("".join(f"{' ' * n}a:\n" for n in range(300)), "deep nesting", id="indents"),
        pytest.param("a: &a [1]\nb: [*a, *a]", "aliases", id="aliases"),
        pytest.param("1: {2: 3}", "not plain text", id="a-number-as-a-name"),
    ],
)  # fmt: skip
@pytest.mark.timeout(10)
def test_a_hostile_profile_gets_a_message_with_its_place(tmp_path, text, says):
    path = tmp_path / "a.board.yaml"
    path.write_text(f"format: bench-lamp board 1\nid: a\n{text}\n")
    with pytest.raises(ProfileError, match=says):
        load_profile(path)


def test_thousands_of_errors_are_counted_not_all_looked_up(tmp_path):
    path = tmp_path / "a.board.yaml"
    path.write_text(
        "format: bench-lamp board 1\nid: a\nname: A\n" + "".join(f"k{i}: 1\n" for i in range(3000))
    )
    with pytest.raises(ProfileError) as caught:
        load_profile(path)
    assert len(caught.value.problems) == 51
    assert "2951 more" in str(caught.value.problems[-1])


def test_reading_can_be_stopped_and_a_file_that_grows_is_bounded(tmp_path):
    path = tmp_path / "a"
    path.write_bytes(bytes(3 << 20))
    shares = []
    with pytest.raises(StoppedError):
        read_bytes(path, most=4 << 20, progress=lambda share: shares.append(share) or share < 0.6)
    assert shares == [pytest.approx(1 / 3), pytest.approx(2 / 3)]
    with opened(path, most=4 << 20) as file:
        assert file.read(3) == bytes(3)


def test_lines_come_whole_over_the_pieces_and_none_is_endless(monkeypatch):
    monkeypatch.setattr(lines_module, "PIECE", 7)
    text = "head\none,two\nthree\n\nlast"
    file = io.StringIO(text)
    assert first_line(file, "a") == "head\n"
    assert [x for block in blocks_of_lines(file, "a", first=2) for x in block] == text.split("\n")[
        1:
    ]
    monkeypatch.setattr(lines_module, "LONGEST", 20)
    with pytest.raises(FileError, match="row 3 has more than 20"):
        list(blocks_of_lines(io.StringIO(f"ok\n{'x' * 99}"), "a", first=2))
    with pytest.raises(FileError, match="row 1 has more"):
        first_line(io.StringIO("y" * 30), "a")


@pytest.mark.timeout(20)
def test_a_capture_of_one_endless_line_is_refused_early(tmp_path):
    path = tmp_path / "a.csv"
    path.write_bytes(b"time,D0\n" + b"1," * 4_000_000)
    with pytest.raises(FileError, match="row 2 has more than"):
        read_capture(path)


def record(address: int) -> str:
    body = bytes([1, address >> 8 & 255, address & 255, 0, 0x5A])
    return f":{body.hex().upper()}{-sum(body) & 255:02X}"


@pytest.mark.timeout(20)
def test_records_that_jump_about_are_refused_before_they_are_sorted(tmp_path):
    path = tmp_path / "a.hex"
    falling = [record(a) for a in range(60_000, 0, -2)] * 5
    path.write_text("\n".join([*falling, ":00000001FF", ""]))
    with pytest.raises(ImageError, match="gaps between its records"):
        read_image(path)
    path.write_text(
        "\n".join([*(record(a) for a in range(0, 4 * (MOST_GAPS - 10), 4)), ":00000001FF", ""])
    )
    assert len(read_image(path)) == 4 * (MOST_GAPS - 10) - 3
    pages = [
        f":02000004{n:04X}{-(6 + (n >> 8) + (n & 255)) & 255:02X}\n{record(0)}"
        for n in range(250, 0, -1)
    ]
    path.write_text("\n".join(pages * 10))
    with pytest.raises(ImageError, match="2500 gaps"):
        read_image(path)
    path.write_text("S1040000" + "00FB\n" + "S9030000FC\n")
    assert read_image(path) == b"\x00"


# Writing.


def test_what_cannot_be_written_whole_leaves_what_was_there(tmp_path):
    path = tmp_path / "paper.txt"
    path.write_text("good")

    def full(place):
        place.write_text("ha")
        raise OSError(errno.ENOSPC, "No space left on device")

    for make, check in (
        (full, lambda _: ""),
        (lambda place: None, lambda _: ""),
        (lambda place: place.write_text("x"), lambda _: "it was cut off"),
    ):
        with pytest.raises(BenchLampError, match=r"paper\.txt was not written"):
            write_whole(path, make, check=check)
        assert path.read_text() == "good"
        assert [p.name for p in tmp_path.iterdir()] == ["paper.txt"]


def test_a_folder_in_the_place_and_a_folder_that_is_missing_are_said(tmp_path):
    (tmp_path / "taken").mkdir()
    for path in (tmp_path / "taken", tmp_path / "none" / "x", tmp_path / ("x" * 300)):
        with pytest.raises(BenchLampError, match="was not written"):
            write_whole(path, lambda place: place.write_text("x"))


def test_only_so_many_files_of_a_folder_are_listed(tmp_path):
    for n in range(5):
        (tmp_path / f"{n}.board.yaml").touch()
    assert len(listed(tmp_path, ".yaml", most=5)) == 5
    with pytest.raises(FileError, match="more than 4 files"):
        listed(tmp_path, ".yaml", most=4)
    assert listed(tmp_path / "none", ".yaml", most=4) == ()


# A profile that somebody sent.


def test_a_profile_that_was_sent_joins_the_others_and_replaces_none(tmp_path):
    sent = tmp_path / "mail" / "small.board.yaml"
    sent.parent.mkdir()
    sent.write_text(SMALL)
    own = tmp_path / "profiles"
    profile, done = adopt(sent, own)
    assert (profile.id, done) == ("small", "small.board.yaml is among your profiles now")
    assert (own / "small.board.yaml").read_text() == SMALL
    assert adopt(sent, own)[1] == ""
    (own / "small.board.yaml").write_text(SMALL.replace("five", "mine"))
    assert "was kept" in adopt(sent, own)[1]
    assert "mine" in (own / "small.board.yaml").read_text()
    sent.write_text("format: bench-lamp board 1\n")
    with pytest.raises(ProfileError):
        adopt(sent, tmp_path / "other")
    assert not (tmp_path / "other").exists()
