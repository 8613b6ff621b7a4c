"""The map: a picture comes in, is straightened, names are placed by clicks; the lamp shows them."""

import random

import pytest
from PySide6.QtCore import QBuffer, QByteArray, QMimeData, QPoint, QPointF, QRectF, Qt, QUrl
from PySide6.QtGui import QColor, QDragEnterEvent, QDropEvent, QImage, QPainter
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication
from tests.desktop.test_workshop_journeys import Workshop

from bench_lamp.board.pictures import PictureError, keep_picture, shipped_pictures
from bench_lamp.desktop.decoding import decoded, encoded, smaller_ones, straightened
from bench_lamp.desktop.widgets.map_light import Room, draw_dark

PICTURE = shipped_pictures() / "orrery-power-parts.png"
ALT = Qt.KeyboardModifier.AltModifier


def drawn(width: int = 400, height: int = 300, suffix: str = "png") -> bytes:
    image = QImage(width, height, QImage.Format.Format_RGB32)
    image.fill(QColor("#204030"))
    raw = QByteArray()
    buffer = QBuffer(raw)
    buffer.open(QBuffer.OpenModeFlag.WriteOnly)
    image.save(buffer, suffix)
    return bytes(raw.data())


@pytest.fixture
def mapping(open_bench):
    """Return hands in the workshop with a picture on the table that is straight already."""
    hands = open_bench(demo=False)
    workshop = Workshop(hands)
    workshop.begin("k2")
    workshop.say("5V 5")
    workshop.say("12V 12")
    workshop.key("m", ALT)
    hands.session.mapping.add(PICTURE, "parts")
    hands.wait(lambda: hands.session.mapping.desk.fresh is not None)
    return workshop


def click(workshop, x: float, y: float) -> None:
    canvas = workshop.hands.window.workshop.map
    workshop.hands.wait(lambda: bool(canvas._sizes()) and canvas._zoom > 0)
    spot = canvas.point_of((x, y)).toPoint()
    QTest.mouseClick(canvas, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, spot)
    workshop.keys += 1
    workshop.hands.settle()


def test_fourteen_points_are_placed_by_fourteen_clicks(mapping):
    hands = mapping.hands
    mapping.key("1")
    hands.wait(lambda: bool(mapping.profile.pictures))
    for n in range(12):
        mapping.hands.press(Qt.Key.Key_Escape)
        mapping.say(f"TP{n} 5")
        mapping.key("m", ALT)
    mapping.keys = 0
    for n in range(14):
        click(mapping, 0.1 + 0.05 * n, 0.3)
    assert mapping.keys == 14, "the names come by themselves, in their order"
    placed = {name for name in mapping.profile.spots if mapping.profile.point(name)}
    assert placed == {p.id for p in mapping.profile.test_points}
    mapping.hands.shortcut("Ctrl+Z")
    hands.settle()
    assert len(mapping.profile.spots) == 13


def test_four_corners_make_it_square_and_four_places_join_both_sides(mapping):
    hands = mapping.hands
    for x, y in ((0.02, 0.03), (0.98, 0.05), (0.97, 0.97), (0.03, 0.95)):
        click(mapping, x, y)
    hands.wait(lambda: bool(mapping.profile.pictures))
    assert mapping.profile.pictures[0].file != PICTURE.name
    mapping.say("230x150")
    assert mapping.profile.pictures[0].width_mm == 230
    click(mapping, 0.25, 0.5)
    hands.session.mapping.add(shipped_pictures() / "orrery-power-solder.png", "solder")
    hands.wait(lambda: hands.session.mapping.desk.fresh is not None)
    mapping.key("1")
    hands.wait(lambda: len(mapping.profile.pictures) == 2)
    mapping.key("a", ALT)
    for x, y in ((0.1, 0.1), (0.9, 0.1), (0.9, 0.9), (0.1, 0.9)):
        click(mapping, x, y)
        click(mapping, 1 - x, y)
    solder = next(p for p in mapping.profile.pictures if p.side == "solder")
    assert len(solder.common) == 4
    shown = hands.session.mapping.shown
    assert shown.picture.side == "solder"
    assert shown.others["5V"] == pytest.approx((0.75, 0.5), abs=0.02)
    hands.shortcut("F9")
    assert hands.session.mapping.shown.picture.side == "parts"


def test_a_row_of_pins_is_placed_by_its_two_ends(mapping):
    mapping.key("1")
    mapping.hands.wait(lambda: bool(mapping.profile.pictures))
    mapping.say("J2 1..5")
    click(mapping, 0.2, 0.9)
    click(mapping, 0.4, 0.9)
    xs = [mapping.profile.spots[f"J2.{n}"].place[0] for n in range(1, 6)]
    assert xs == pytest.approx([0.2, 0.25, 0.3, 0.35, 0.4], abs=0.01)
    mapping.say("remove J2.3")
    assert "J2.3" not in mapping.profile.spots
    mapping.say("banana")
    assert "is not named yet" in mapping.said


def on_unpictured(hands):
    """Put a board on the bench whose kind has no picture."""
    hands.session.begin_job()
    hands.enter("VX-001")
    hands.enter("larkmoor")
    hands.session.go("rails")


def test_the_lamp_shows_where_the_leads_go_and_f3_makes_it_large(open_bench):
    hands = open_bench()
    hands.open("QH-017/1", "rails")
    hands.session.look_at("D")
    hands.wait(lambda: hands.page.card.map is not None and hands.page.card.map.isVisible())
    assert (
        hands.page.card.map.accessibleName() == "power-parts, parts side: red on D, black on frame"
    )
    hands.shortcut("F3")
    assert hands.page.maps.shows_map
    assert hands.page.maps.large.canvas.accessibleName().startswith("power-parts")
    hands.shortcut("F9")
    assert "solder side: red on D" in hands.page.maps.large.canvas.accessibleName()
    hands.shortcut("F3")
    assert not hands.page.maps.shows_map
    on_unpictured(hands)
    hands.shortcut("F3")
    assert "No picture" in hands.said


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "no picture"),
        (b"GIF89a" + bytes(500), "no picture"),
        (b"\x89PNG\r\n\x1a\n" + bytes(200), "cannot be read"),
        (drawn()[:900], "damaged|cannot be read"),
        (drawn(8, 8), "8 × 8"),
        (drawn(400, 300, "jpg")[:-400], "ends in the middle"),
        (PICTURE.read_bytes()[:50_000], "ends in the middle|damaged"),
        (drawn(400, 300, "webp")[:-40], "ends in the middle|damaged|cannot be read"),
        (b"\xff\xd8\xff" + random.Random(1).randbytes(3000), "cannot be read|damaged"),
    ],
)
@pytest.mark.qt_log_ignore("Unsupported marker", "libpng")
def test_a_bad_picture_gets_a_message_and_changes_nothing(tmp_path, data, says):
    with pytest.raises(PictureError, match=says) as caught:
        keep_picture(encoded(decoded(data, "x.png"), ".png"), tmp_path)
    assert caught.value.hint
    assert not list(tmp_path.iterdir())


def test_a_picture_with_too_many_pixels_is_refused_before_it_is_decoded():
    """A header that says 15000 × 15000: 900 MB, were it believed."""
    import struct
    import zlib

    def chunk(kind: bytes, body: bytes) -> bytes:
        return (
            struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))
        )

    head = chunk(b"IHDR", struct.pack(">IIBBBBB", 15_000, 15_000, 8, 2, 0, 0, 0))
    data = b"\x89PNG\r\n\x1a\n" + head + chunk(b"IDAT", zlib.compress(bytes(9000)))
    with pytest.raises(PictureError, match="225 million pixels"):
        decoded(data, "big.png")


def test_a_camera_s_way_up_is_honoured():
    """An EXIF orientation of 6: the picture is turned by a quarter when it is shown."""
    plain = drawn(400, 300, "jpg")
    tiff = b"II*\x00\x08\x00\x00\x00\x01\x00\x12\x01\x03\x00\x01\x00\x00\x00\x06\x00\x00\x00\x00\x00\x00\x00"
    body = b"Exif\x00\x00" + tiff
    turned = plain[:2] + b"\xff\xe1" + (len(body) + 2).to_bytes(2, "big") + body + plain[2:]
    assert (decoded(plain, "x").width(), decoded(turned, "x").width()) == (400, 300)


def test_straightening_puts_the_corners_into_the_corners():
    image = QImage(400, 300, QImage.Format.Format_RGB32)
    image.fill(QColor("black"))
    painter = QPainter(image)
    for x, y, colour in (
        (60, 40, "red"),
        (340, 60, "lime"),
        (330, 260, "blue"),
        (50, 250, "white"),
    ):
        painter.fillRect(x - 12, y - 12, 24, 24, QColor(colour))
    painter.end()
    made = straightened(
        image,
        [
            (60 / 400, 40 / 300),
            (340 / 400, 60 / 300),
            (330 / 400, 260 / 300),
            (50 / 400, 250 / 300),
        ],
    )
    w, h = made.width() - 4, made.height() - 4
    seen = [made.pixelColor(QPoint(*p)).name() for p in ((3, 3), (w, 3), (w, h), (3, h))]
    assert seen == ["#ff0000", "#00ff00", "#0000ff", "#ffffff"]
    with pytest.raises(PictureError, match="make no board"):
        straightened(image, [(0.1, 0.1)] * 4)
    again = decoded(encoded(made, ".png"), "x")
    assert again.size() == made.size()


@pytest.mark.parametrize(
    ("size", "longest", "found"),
    [
        ((4000, 3000), 500, (500, 375)),
        ((300, 4000), 400, (30, 400)),
        ((400, 300), 500, (400, 300)),
        ((400, 300), 0, (400, 300)),
    ],
)
def test_a_large_photograph_is_decoded_as_small_as_it_is_wanted(size, longest, found):
    image = decoded(drawn(*size, "jpg"), "x", longest)
    assert (image.width(), image.height()) == found


def test_a_row_of_sizes_ends_where_it_is_of_no_more_use():
    sizes = smaller_ones(decoded(drawn(4000, 3000, "jpg"), "x"))
    assert [s.width() for s in sizes] == [4000, 2000, 1000]


@pytest.mark.parametrize(
    ("stage", "focus", "power", "words"),
    [
        ("cold", "row:Q-row", "discharged", "driver-parts, parts side: part on Q1, part on Q2,"),
        ("cold", "chip:U15", "discharged", "driver-parts, parts side: part on U15"),
        ("cold", "junction:BR2", "discharged", "power-parts, parts side: part on BR2"),
        ("selftest", "lamps", "live", "parts side: part on IC10, part on IC11, part on J9"),
        ("selftest", "pins", "live", "logic-parts, parts side: part on IC1"),
        ("selftest", "lane:DB", "live", "logic-parts, parts side: part on IC7, part on IC4,"),
    ],
)
def test_cold_round_and_self_test_lie_on_the_map(open_bench, stage, focus, power, words):
    hands = open_bench()
    hands.open("QH-017/1", stage, power=power)
    hands.session.look_at(focus)
    hands.shortcut("F3")
    assert words in hands.page.maps.large.canvas.accessibleName()


def test_a_bad_cell_leaves_its_own_parts_in_the_light(open_bench):
    """A lamp that stays dark: its row's and its column's latch and their plug, not the switches' chips."""
    hands = open_bench()
    hands.open("QH-017/1", "selftest")
    hands.session.look_at("lane:SND")
    hands.shortcut("F3")
    name = hands.page.maps.large.canvas.accessibleName
    assert "IC6" in name()
    hands.session.look_at("switches")
    assert "IC8" in name()
    assert "IC10" not in name()


def test_a_self_test_that_puts_no_lead_anywhere_keeps_the_card_s_room(open_bench):
    hands = open_bench()
    hands.open("QH-017/1", "selftest")
    hands.session.look_at("lamps")
    assert hands.page.card.map is None or not hands.page.card.map.isVisible()
    hands.session.look_at("pins")
    hands.wait(lambda: hands.page.card.map is not None and hands.page.card.map.isVisible())
    assert "IC1" in hands.page.card.map.accessibleName()


def test_where_two_lights_meet_it_is_as_bright_as_in_one():
    def brightness(lights):
        image = QImage(200, 100, QImage.Format.Format_RGB32)
        image.fill(QColor(100, 100, 100))
        painter = QPainter(image)
        draw_dark(painter, image.size(), [QPointF(x, 50) for x in lights], 40)
        painter.end()
        return [image.pixelColor(x, 50).lightness() for x in range(200)]

    one, other, both = brightness([60]), brightness([120]), brightness([60, 120])
    assert one[60] >= 100 > one[150]
    # The warmth of a light is spread over all, hence the few levels.
    assert all(b >= max(a, c) - 6 for a, c, b in zip(one, other, both, strict=True))


def test_rings_on_the_dark_picture_are_as_bright_in_daylight(open_bench):
    hands = open_bench()
    hands.open("QH-017/1", "rails")
    hands.shortcut("F3")
    canvas = hands.page.maps.large.canvas
    hands.wait(lambda: bool(canvas._sizes()))
    shots = []
    for theme in ("lamp", "daylight"):
        hands.window.look.set_theme(theme)
        shots.append(canvas.grab().toImage())
    assert shots[0] == shots[1]


def test_decoded_pictures_are_kept_by_their_bytes(open_bench):
    store = open_bench().page.maps.pictures

    def rows(side: int) -> tuple[QImage, ...]:
        return (QImage(side, side, QImage.Format.Format_RGB32),)

    for name, side in (("a", 1000), ("b", 1000), ("large", 6000)):
        store._take(name, rows(side))
    assert list(store._kept) == ["b", "large"], "4 + 4 + 144 MB are too many, 4 + 144 are not"
    store._take("larger", rows(6500))
    assert list(store._kept) == ["larger"], "169 MB alone are kept: it is being looked at"


def test_names_do_not_lie_on_each_other():
    room = Room()
    assert room.take(QRectF(0, 0, 30, 10))
    assert not room.take(QRectF(20, 5, 30, 10))
    assert room.take(QRectF(40, 0, 30, 10)), "one that found no room takes none"


def test_on_trace_the_suspects_glow_where_they_sit(open_bench):
    hands = open_bench()
    hands.open("QH-017/1", "trace")
    hands.wait(lambda: hands.session.case.insight is not None)
    hands.shortcut("F3")
    words = hands.page.maps.large.canvas.accessibleName()
    assert "red on F4" in words
    assert "part on C2" in words
    hands.shortcut("F3")
    hands.open("QH-021/1", "trace", "discharged")
    hands.wait(lambda: hands.title.startswith("Unplug"))
    name = hands.title.split()[1].rstrip(",")
    assert f"part on {name}" in hands.page.card.map.accessibleName(), (
        "what is pulled is in the light"
    )


def test_places_are_carried_to_another_version_with_the_error_in_millimetres(mapping):
    """The other version's picture shows the board a tenth smaller and moved: three clicks carry the rest."""
    hands = mapping.hands
    mapping.key("1")
    hands.wait(lambda: bool(mapping.profile.pictures))
    mapping.say("230x150")
    hands.press(Qt.Key.Key_Escape)
    for n in range(4):
        mapping.say(f"TP{n} 5")
    mapping.key("m", ALT)
    places = {
        "5V": (0.2, 0.2),
        "12V": (0.8, 0.3),
        "TP0": (0.3, 0.8),
        "TP1": (0.5, 0.5),
        "TP2": (0.6, 0.6),
    }
    for x, y in places.values():
        click(mapping, x, y)
    hands.press(Qt.Key.Key_Escape)
    mapping.key("v", ALT)
    mapping.say("k2 late")
    hands.wait(lambda: hands.session.describing == "k2-late")
    assert mapping.profile.extends == "k2"
    assert mapping.profile.point("TP1") is not None
    mapping.key("m", ALT)
    hands.session.mapping.add(shipped_pictures() / "orrery-power-solder.png", "parts")
    hands.wait(lambda: hands.session.mapping.desk.fresh is not None)
    mapping.key("1")
    hands.wait(lambda: len(mapping.profile.pictures) == 2)
    mapping.say("230x150")
    for name in ("5V", "12V", "TP0"):
        mapping.say(name)
        x, y = places[name]
        click(mapping, 0.05 + 0.9 * x, 0.03 + 0.9 * y)
    choice = next(c for c in mapping.card.card.choices if c.key == "Alt+c")
    assert choice.text.startswith("Carry 2 places")
    assert "mm" in choice.note
    mapping.key("c", ALT)
    spot = mapping.profile.spots["TP2"]
    assert spot.on == "parts-2"
    assert spot.place == pytest.approx((0.05 + 0.9 * 0.6, 0.03 + 0.9 * 0.6), abs=0.01)


def tilted() -> QImage:
    """Return the demo board as a phone sees it: smaller, on a bench, with a black mark at its middle."""
    board = QImage(str(PICTURE)).scaled(800, 600)
    photo = QImage(1200, 900, QImage.Format.Format_RGB32)
    photo.fill(QColor("#806040"))
    painter = QPainter(photo)
    painter.drawImage(240, 150, board)
    painter.fillRect(240 + 380, 150 + 280, 40, 40, QColor("black"))
    painter.end()
    return photo


def drop(hands, path) -> None:
    files = QMimeData()
    files.setUrls([QUrl.fromLocalFile(str(path))])
    copy, left = Qt.DropAction.CopyAction, Qt.MouseButton.LeftButton
    none = Qt.KeyboardModifier.NoModifier
    spot = QPoint(500, 400)
    for event in (
        QDragEnterEvent(spot, copy, files, left, none),
        QDropEvent(spot, copy, files, left, none),
    ):
        QApplication.sendEvent(hands.window, event)
    hands.settle()


def test_this_board_beside_the_good_one_with_one_zoom_and_a_blink(open_bench, tmp_path):
    hands = open_bench()
    hands.open("QH-017/1", "rails")
    photo = tmp_path / "mine.png"
    tilted().save(str(photo))
    drop(hands, photo)
    hands.type("c")
    maps = hands.page.maps
    hands.wait(lambda: maps.is_comparing)
    compared = maps.comparison
    assert "top left corner" in compared.note.text()
    hands.wait(lambda: bool(compared.good._sizes()))
    compared.mine.clicked.emit(0.5, 0.5)
    assert "top right corner" in compared.note.text()
    hands.shortcut("Shift+F3")
    assert "top left corner" in compared.note.text()
    for x, y in ((240, 150), (1040, 150), (1040, 750), (240, 750)):
        spot = compared.mine.point_of((x / 1200, y / 900)).toPoint()
        left = Qt.MouseButton.LeftButton
        QTest.mouseClick(compared.mine, left, Qt.KeyboardModifier.NoModifier, spot)
    hands.wait(lambda: compared.is_straight)
    good, mine = compared.good._sizes()[0], compared.mine._sizes()[0]
    assert mine.size() == good.size()
    assert mine.pixelColor(mine.width() // 2, mine.height() // 2).lightness() < 10
    # What one sees of the two is the same place, after a zoom of either.
    compared.good.zoom_at(QPointF(50, 60), 3.0)
    assert middle(compared.mine) == pytest.approx(middle(compared.good), abs=0.01)
    compared.mine.zoom_at(QPointF(20, 30), 0.5)
    assert middle(compared.good) == pytest.approx(middle(compared.mine), abs=0.01)
    seen = middle(compared.mine)
    hands.shortcut("Shift+F3")
    shown = {compared.good.isVisible()}
    assert compared.is_blinking
    assert compared.good.isVisible() != compared.mine.isVisible()
    hands.wait(lambda: len(shown | {compared.good.isVisible()}) == 2)
    assert middle(compared.mine) == pytest.approx(seen, abs=0.01)
    assert middle(compared.good) == pytest.approx(seen, abs=0.01)
    hands.shortcut("Shift+F3")
    assert compared.good.isVisible()
    assert compared.mine.isVisible()
    assert not compared.is_blinking
    hands.shortcut("F3")
    assert not maps.is_comparing


def middle(canvas) -> tuple[float, float]:
    whole = canvas._sizes()[0]
    place = (QPointF(canvas.width() / 2, canvas.height() / 2) - canvas._origin) / canvas._zoom
    return place.x() / whole.width(), place.y() / whole.height()


def test_what_is_no_picture_is_not_compared(open_bench, tmp_path):
    hands = open_bench()
    hands.open("QH-017/1", "rails")
    bad = tmp_path / "mine.png"
    bad.write_bytes(b"no picture at all")
    drop(hands, bad)
    hands.type("c")
    hands.wait(lambda: hands.said.strip() != "")
    assert not hands.page.maps.is_comparing


def test_without_a_picture_of_the_kind_there_is_nothing_to_compare_with(open_bench, tmp_path):
    hands = open_bench()
    on_unpictured(hands)
    hands.session.board_pictured.emit(PICTURE)
    assert "No picture of this board yet" in hands.said
    assert not hands.page.maps.is_comparing
    drop(hands, PICTURE)
    hands.wait(lambda: hands.title == "What does it show?")
