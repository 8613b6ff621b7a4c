"""The shop's memory from the running window, on the demo's two winters."""

from PySide6.QtCore import Qt


def history(hands):
    hands.press(Qt.Key.Key_F10)
    hands.settle()
    return hands.page.history.canvas._page


def test_a_board_that_came_back_says_so_at_once_and_shows_its_history(open_bench):
    hands = open_bench(winters=True)
    hands.open("QH-058/2", "intake", "off")
    hands.settle()
    assert any("Came back after 40 days" in c for c in hands.card.card.cautions)
    page = history(hands)
    assert page.alarm.startswith("Came back")
    fails = next(s for s in page.sections if s.title.startswith("What fails"))
    assert fails.rows[0].cells[0] == "J2.4"
    hands.press(Qt.Key.Key_Escape)
    assert not hands.page.shows_history


def test_two_winters_teach_bands_and_odds(open_bench):
    hands = open_bench(winters=True)
    hands.settle()
    assert hands.session.case.shop.bands["A"].boards > 20
    assert hands.session.case.shop.repairs.parts["J2.4"] > 5
    hands.shortcut("Alt+6")
    hands.settle()
    insight = hands.session.case.insight
    assert insight.facts.repairs.total > 20
    assert any(0 <= s.unlearnt != s.odds for s in insight.suspects)
    hands.shortcut("Alt+4")
    hands.settle()
    rungs = [r for r in hands.page.surface("rails").ladder.rungs() if r.dots]
    assert len(rungs) > 10


def test_the_history_closes_when_another_job_is_opened(open_bench):
    hands = open_bench(winters=True)
    history(hands)
    assert hands.page.shows_history
    hands.session.open_job("QH-058/2", "intake")
    hands.settle()
    assert not hands.page.shows_history


def test_what_was_ever_logged_is_found_as_one_types(open_bench):
    hands = open_bench(winters=True)
    hands.shortcut("Ctrl+K")
    finder = hands.window.finder
    finder.line.setText("C2 bulged")
    finder._on_edited("C2 bulged")
    hands.qtbot.waitUntil(lambda: any(f.kind == "said" for f in finder._shown), timeout=25_000)
    row = next(n for n, f in enumerate(finder._shown) if f.kind == "said")
    job = finder._shown[row].target
    finder._take(row)
    hands.settle()
    assert hands.session.job == job
