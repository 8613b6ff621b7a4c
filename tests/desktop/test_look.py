"""The look: contrast of every token pair in use, sizes, themes, large text, long names."""

import pytest
from PySide6.QtCore import QRectF
from PySide6.QtGui import QColor, QFontMetrics, QImage, QPainter
from PySide6.QtWidgets import QWidget

from bench_lamp.desktop.look import FAMILY, ON_PAPER, THEMES, Look, load_fonts
from bench_lamp.desktop.screenshots import VIEWS
from bench_lamp.desktop.widgets.card_parts import CautionRow
from bench_lamp.desktop.widgets.glyphs import draw_glyph
from bench_lamp.journal.events import Complaint
from bench_lamp.stages import STAGES

VERDICTS = ("within", "edge", "low", "high", "absent", "noisy")
#: Ink, ground, least contrast (WCAG 2.2, relative luminance).
PAIRS = [
    ("text", "bench", 7.0), ("text", "raised", 7.0), ("text", "press", 7.0),
    ("dim", "bench", 4.5), ("dim", "raised", 4.5),
    ("lamp", "bench", 3.0), ("lamp ink", "lamp", 4.5), ("live ink", "live", 4.5),
    ("ink", "paper", 7.0), ("ink", "field", 7.0), ("ink dim", "paper", 4.5), ("ink dim", "field", 4.5),
    ("caution ink", "caution", 7.0),
    *[(verdict, "bench", 4.5) for verdict in VERDICTS],
]  # fmt: skip


def luminance(name: str) -> float:
    colour = QColor(name)
    parts = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4
             for c in (colour.redF(), colour.greenF(), colour.blueF())]  # fmt: skip
    return 0.2126 * parts[0] + 0.7152 * parts[1] + 0.0722 * parts[2]


def contrast(one: str, other: str) -> float:
    light, dark = sorted((luminance(one), luminance(other)), reverse=True)
    return (light + 0.05) / (dark + 0.05)


@pytest.mark.parametrize("theme", list(THEMES))
@pytest.mark.parametrize(("ink", "ground", "least"), PAIRS)
def test_contrast(theme, ink, ground, least):
    assert contrast(THEMES[theme][ink], THEMES[theme][ground]) >= least


@pytest.mark.parametrize("verdict", VERDICTS)
@pytest.mark.parametrize("theme", list(THEMES))
def test_verdicts_on_paper_read_at_arms_length(theme, verdict):
    assert contrast(ON_PAPER[verdict], THEMES[theme]["paper"]) >= 7.0


def test_contrast_itself_against_known_values():
    assert contrast("#000000", "#FFFFFF") == pytest.approx(21.0)
    assert contrast("#777777", "#FFFFFF") == pytest.approx(4.48, abs=0.01)


def test_every_verdict_has_a_shape_of_its_own(qapp):
    """Drawn in one colour, no two verdicts look the same: shape alone tells them apart."""
    drawn = set()
    for verdict in (*VERDICTS, ""):
        image = QImage(24, 24, QImage.Format.Format_Grayscale8)
        image.fill(0)
        painter = QPainter(image)
        draw_glyph(painter, verdict, QRectF(4, 4, 16, 16), QColor("white"))
        painter.end()
        drawn.add(bytes(image.constBits()))
    assert len(drawn) == len(VERDICTS) + 1


def test_the_shipped_font_has_tabular_figures_and_our_signs(qapp):
    load_fonts()
    font = Look().font(16, 600)
    assert font.family() == FAMILY
    metrics = QFontMetrics(font)
    assert len({metrics.horizontalAdvance(d) for d in "0123456789"}) == 1
    assert all(metrics.inFontUcs4(ord(sign)) for sign in "Ωµ−–±≤≥√→°~·“”")


def test_scale_steps_stay_in_their_range(qapp):
    look = Look()
    for _ in range(9):
        look.step_scale(1)
    assert look.scale == 1.75
    for _ in range(9):
        look.step_scale(-1)
    assert look.scale == 1.0


@pytest.mark.parametrize(
    ("size", "pixels"),
    [((1024, 700), 16), ((1280, 800), 16), ((1920, 1080), 21), ((3840, 2160), 26)],
)
def test_text_grows_with_the_window_up_to_what_two_metres_need(open_bench, size, pixels):
    """By hand: 1080/800 is 1.35, so 1.3 in steps of a tenth, and 1.3 × 16 is 21; 1.6 at most."""
    look = open_bench().window.look
    look.fit_window(*size)
    assert look.font(16).pixelSize() == pixels
    look.set_scale(1.5)
    assert look.font(16).pixelSize() == round(1.5 * 16 * look.room)


def test_a_question_in_place_leaves_title_and_answers_in_sight(open_bench):
    hands = open_bench()
    hands.window.look.set_scale(1.5)
    hands.window.resize(1280, 800)
    hands.session.go("rails")
    hands.settle()
    hands.enter("1040")
    card = hands.page.card
    assert card._is_asking
    held = [card.findChild(QWidget, "card_title"), *card._rows]
    assert all(w.visibleRegion().boundingRect().height() == w.height() for w in held)


@pytest.mark.parametrize("scale", [1.0, 1.5])
@pytest.mark.parametrize("size", [(1024, 700), (1280, 800), (3840, 2160)])
def test_every_stage_holds_at_every_size(open_bench, scale, size):
    """Entry or choices are inside the card, the card inside the window, nothing to scroll sideways."""
    hands = open_bench()
    long = "customer says it was put away working eleven years ago and now it hums " * 3
    hands.session.say((Complaint(text=long),))
    hands.settle()
    hands.window.look.set_scale(scale)
    hands.window.resize(*size)
    for stage in (stage.id for stage in STAGES):
        hands.session.go(stage)
        hands.qtbot.wait(20)
        card, page = hands.page.card, hands.page
        assert page.rect().contains(card.geometry())
        assert card._area.horizontalScrollBar().maximum() == 0
        title = card.findChild(QWidget, "card_title")
        # The card is laid out once more when the board's earlier visits have come from the disk.
        hands.wait(lambda title=title: title.height() >= title.heightForWidth(title.width()))
        held = [title, *card._top.findChildren(CautionRow), card._keys]
        assert all(w.visibleRegion().boundingRect().height() == w.height() for w in held), stage
        assert card._keys.height() >= card._keys.heightForWidth(card._keys.width()), stage
        answer = card.entry if card.card.entry else card._rows[0]
        corner = answer.mapTo(card, answer.rect().bottomRight())
        assert card.rect().contains(corner), (stage, corner, card.rect())
        surface = page.surface(stage)
        if stage != "trace":
            assert surface.area.horizontalScrollBar().maximum() == 0
    assert page.header.power.width() >= page.header.power.sizeHint().width() - 1


def test_the_path_shrinks_and_the_tape_folds_in_a_small_window(open_bench):
    hands = open_bench()
    hands.window.resize(1280, 800)
    assert (hands.page.path.is_narrow, hands.page.tape.is_folded) == (False, False)
    hands.window.resize(1024, 700)
    assert (hands.page.path.is_narrow, hands.page.tape.is_folded) == (True, True)
    hands.shortcut("F6")
    assert not hands.page.tape.is_folded


@pytest.mark.parametrize("view", list(VIEWS))
def test_every_screenshot_view_can_be_made(open_bench, view):
    hands = open_bench(winters=view == "history")
    VIEWS[view](hands.bench)
    hands.settle()
    image = hands.window.grab().toImage()
    assert image.width() == 1280
    colours = {image.pixel(x, y) for x in range(0, 1280, 16) for y in range(0, 800, 16)}
    assert len(colours) > 40
