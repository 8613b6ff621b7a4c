"""Photographs: dropped, pasted, watched; kept as they are, small on the tape, before and after on the sheet."""

import hashlib

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QGuiApplication, QImage

from bench_lamp.cards.aside import photo_of
from bench_lamp.cards.card import Refused
from bench_lamp.desktop.photographs import Photographs
from bench_lamp.desktop.settings import Settings
from bench_lamp.journal.events import PartReplaced
from bench_lamp.journal.photos import KeptPhoto, keep_photo, photo_place

KEPT = KeptPhoto(sha256="0" * 64, suffix=".png", name="x.png")


def picture(path, colour="red", size=(640, 480)):
    image = QImage(*size, QImage.Format.Format_RGB32)
    image.fill(QColor(colour))
    assert image.save(str(path))
    return path


@pytest.mark.parametrize(
    ("text", "about", "when"),
    [
        ("", "", ""),
        ("C2", "C2", "before"),
        ("C2 after", "C2", "after"),
        ("F4", "F4", "after"),
        ("before", "", "before"),
    ],
)
def test_what_it_shows_and_whether_before_or_after(live_job, text, about, when):
    live_job.log(PartReplaced(part="F4", out="x", fitted="y"))
    (body,) = photo_of(live_job.seen().case, text, KEPT).log
    assert (body.about, body.when) == (about, when)


def test_a_long_text_is_refused(job):
    assert isinstance(photo_of(job.seen().case, "x" * 200, KEPT), Refused)


@pytest.mark.parametrize("sha", ["../../etc/passwd", "", "0" * 63, "Z" * 64])
def test_no_name_leads_out_of_the_folder(tmp_path, sha):
    assert photo_place(tmp_path, sha, ".png") is None
    assert photo_place(tmp_path, "0" * 64, ".exe") is None


def test_the_original_is_kept_as_it_is_and_once(tmp_path, qapp):
    data = picture(tmp_path / "a.png").read_bytes()
    first, second = keep_photo(tmp_path, data, "a.png"), keep_photo(tmp_path, data, "b.png")
    assert first.sha256 == second.sha256 == hashlib.sha256(data).hexdigest()
    assert photo_place(tmp_path, first.sha256, first.suffix).read_bytes() == data


def asked(hands):
    hands.qtbot.waitUntil(lambda: hands.title == "What does it show?", timeout=25_000)


def test_a_dropped_picture_becomes_a_photograph_on_tape_and_sheet(open_bench, tmp_path):
    hands = open_bench(folder=tmp_path / "own")
    hands.session.take_dropped(picture(tmp_path / "before.png"))
    hands.type("p")
    asked(hands)
    hands.enter("C2 before")
    hands.session.photo_brought.emit(picture(tmp_path / "after.jpg", "green"))
    asked(hands)
    hands.enter("C2 after")
    hands.settle()
    photos = hands.state.photos
    assert [(p.about, p.when) for p in photos] == [("C2", "before"), ("C2", "after")]
    tape = hands.page.tape
    hands.qtbot.waitUntil(
        lambda: tape.small(photos[0].sha256, photos[0].suffix) is not None, timeout=25_000
    )
    tape.grab()
    hands.shortcut("Alt+0")
    paper = hands.page.surface("handback").picture
    hands.wait(lambda: paper._html.count('<img src="photo:') == 2)
    assert hands.page.surface("handback").grab().toImage().pixelColor(0, 0).isValid()
    hands.type("1")
    assert hands.said.startswith("Saved")
    pdf = (tmp_path / "own" / "papers" / "QH-017_1.pdf").read_bytes()
    assert pdf.count(b"/Subtype /Image") >= 3, "the ladder and both photographs"
    hands.type("2")
    html = (tmp_path / "own" / "papers" / "QH-017_1.html").read_text()
    assert html.count("data:image/jpeg;base64,") == 2
    assert html.index("C2 before") < html.index("C2 after")


def test_a_photograph_travels_with_its_job(open_bench, tmp_path):
    hands = open_bench(folder=tmp_path / "one")
    hands.session.photo_brought.emit(picture(tmp_path / "a.png"))
    asked(hands)
    hands.enter()
    hands.settle()
    (photo,) = hands.state.photos
    hands.shortcut("Alt+0")
    hands.type("6")
    other = open_bench(demo=False, folder=tmp_path / "other")
    other.session.take_dropped(tmp_path / "one" / "papers" / "QH-017_1.benchjob")
    place = photo_place(tmp_path / "other", photo.sha256, photo.suffix)
    other.qtbot.waitUntil(place.exists, timeout=25_000)


def test_the_clipboard_and_a_watched_folder(open_bench, tmp_path):
    hands = open_bench()
    image = QImage(50, 40, QImage.Format.Format_RGB32)
    image.fill(QColor("blue"))
    QGuiApplication.clipboard().setImage(image)
    assert hands.window.photographs.paste()
    asked(hands)
    hands.enter("J3")
    folder = tmp_path / "phone"
    watched(hands, folder)
    picture(folder / "new.png", "yellow")
    asked(hands)
    hands.enter("U1")
    hands.settle()
    assert [p.about for p in hands.state.photos] == ["J3", "U1"]


@pytest.mark.parametrize("data", [b"", b"no picture", b"\x89PNG\r\n\x1a\n half"])
def test_what_is_no_picture_is_refused_and_nothing_is_kept(open_bench, tmp_path, data):
    hands = open_bench(folder=tmp_path / "own")
    path = tmp_path / "x.png"
    path.write_bytes(data)
    hands.session.photo_brought.emit(path)
    hands.qtbot.waitUntil(lambda: bool(hands.card.verdict.text()), timeout=25_000)
    hands.settle()
    assert hands.state.photos == ()
    assert not (tmp_path / "own" / "photos").exists()


def test_the_sheet_is_printed_by_the_systems_dialog(open_bench, monkeypatch, tmp_path):
    from PySide6.QtPrintSupport import QPrintDialog, QPrinter

    def accept(dialog):
        dialog.printer().setOutputFormat(QPrinter.OutputFormat.PdfFormat)
        dialog.printer().setOutputFileName(str(tmp_path / "printed.pdf"))
        return QPrintDialog.DialogCode.Accepted

    monkeypatch.setattr(QPrintDialog, "exec", accept)
    hands = open_bench(folder=tmp_path / "own")
    hands.shortcut("Alt+0")
    hands.type("p")
    assert hands.said.startswith("Printed")
    assert (tmp_path / "printed.pdf").read_bytes().startswith(b"%PDF")


def watched(hands, folder):
    folder.mkdir(exist_ok=True)
    hands.window.photographs.watch(folder)
    hands.qtbot.waitUntil(lambda: hands.window.photographs.is_watching, timeout=25_000)


def test_what_a_telephone_writes_slowly_and_several_at_once_are_all_asked_about(
    open_bench, tmp_path
):
    hands, folder = open_bench(), tmp_path / "phone"
    watched(hands, folder)
    whole = picture(tmp_path / "slow.png", "green").read_bytes()
    (folder / "slow.png").write_bytes(whole[:40])
    hands.qtbot.wait(250)
    (folder / "slow.png").write_bytes(whole)
    for number, colour in enumerate(("yellow", "blue", "white")):
        picture(folder / f"{number}.png", colour)
    asked(hands)
    hands.qtbot.waitUntil(lambda: len(hands.session.photos) == 4, timeout=25_000)
    assert hands.session.card().kind.endswith(", 3 more")
    hands.enter("C1")
    hands.press(Qt.Key.Key_Escape)
    hands.enter("C3")
    assert hands.title == "What does it show?"
    hands.enter("C4")
    assert hands.title != "What does it show?"
    assert [p.about for p in hands.state.photos] == ["C1", "C3", "C4"]


def test_a_photograph_is_not_asked_about_in_another_job(open_bench, tmp_path):
    hands = open_bench()
    for name, colour in (("a", "red"), ("b", "green")):
        hands.session.photo_brought.emit(picture(tmp_path / f"{name}.png", colour))
    hands.qtbot.waitUntil(lambda: len(hands.session.photos) == 2, timeout=25_000)
    hands.session.open_job("QH-012/1")
    assert hands.title != "What does it show?"
    hands.session.photo_brought.emit(picture(tmp_path / "c.png", "blue"))
    asked(hands)
    hands.enter("C9")
    hands.settle()
    (photo,) = hands.state.photos
    assert photo.name == "c.png"
    assert hands.title != "What does it show?"


def test_the_watched_folder_is_watched_again_at_the_next_start_until_it_is_left(
    open_bench, tmp_path
):
    hands, folder = open_bench(), tmp_path / "phone"
    settings = Settings(tmp_path / "settings.ini", hands.session, hands.window.look)
    watched(hands, folder)
    settings.keep()
    other = open_bench()
    again = Settings(tmp_path / "settings.ini", other.session, other.window.look)
    assert other.session.watched == str(folder)
    started = Photographs(other.session, tmp_path / "own")
    other.qtbot.waitUntil(lambda: started.is_watching, timeout=25_000)
    other.window.bringing.watch_folder(started)
    assert other.said.startswith("No folder is watched")
    again.keep()
    picture(folder / "late.png")
    other.qtbot.wait(1200)
    assert other.title != "What does it show?"
    assert "phone" not in (tmp_path / "settings.ini").read_text()


def test_a_watched_folder_that_is_gone_is_said(open_bench, tmp_path):
    hands = open_bench()
    hands.open("QH-017/1", "rails")
    hands.window.photographs.watch(tmp_path / "gone")
    assert "not there" in hands.said
