"""Backups and other benches from the running window."""

from bench_lamp.journal.backup import FOLDER, look_inside
from bench_lamp.journal.events import Note


def said(hands) -> str:
    return hands.card.verdict.text()


def wait_for(hands, words):
    hands.qtbot.waitUntil(lambda: words in said(hands), timeout=25_000)


def test_a_job_goes_from_one_bench_to_another(open_bench, tmp_path):
    one = open_bench(folder=tmp_path / "one")
    one.shortcut("Alt+0")
    one.type("6")
    assert one.said.startswith("Saved")
    bundle = tmp_path / "one" / "papers" / "QH-017_1.benchjob"
    other = open_bench(demo=False, folder=tmp_path / "other")
    other.session.take_dropped(bundle)
    wait_for(other, "events taken in (QH-017/1)")
    other.wait(lambda: [c.job for c in other.session.shelf()] == ["QH-017/1"])
    other.session.take_dropped(bundle)
    wait_for(other, "0 events taken in")


def test_a_backup_is_made_looked_into_and_put_back(open_bench, tmp_path):
    hands = open_bench(folder=tmp_path / "one")
    hands.window.run_command("backup")
    wait_for(hands, "Backed up:")
    (path,) = (tmp_path / "one" / FOLDER).iterdir()
    assert look_inside(path).jobs == 16
    hands.session.say((Note(text="after the backup"),))
    hands.settle()
    assert hands.state.notes == ("after the backup",)
    hands.session.bring_in(path)
    hands.qtbot.waitUntil(lambda: hands.session.is_asking, timeout=25_000)
    hands.type("y")
    hands.qtbot.waitUntil(
        lambda: hands.session.journal.error is None and hands.session.journal.is_loaded,
        timeout=25_000,
    )
    hands.qtbot.waitUntil(lambda: not hands.state.notes, timeout=25_000)
    assert any(p.name.startswith("before restoring") for p in (tmp_path / "one").iterdir())
    hands.session.say((Note(text="and on"),))
    hands.settle()
    assert hands.state.notes == ("and on",)


def test_a_damaged_file_is_named_and_changes_nothing(open_bench, tmp_path):
    hands = open_bench()
    path = tmp_path / "x.benchjob"
    path.write_bytes(b"PK\x03\x04 nothing")
    before = len(hands.session.shelf())
    hands.session.take_dropped(path)
    wait_for(hands, "damaged")
    assert len(hands.session.shelf()) == before


def test_each_close_backs_up_what_is_new(open_bench, tmp_path):
    hands = open_bench(folder=tmp_path / "own")
    hands.bench.worker.backs_up = True
    hands.window.close()
    hands.bench.stop()
    (kept,) = (tmp_path / "own" / FOLDER).glob("*.benchbackup")
    assert look_inside(kept).jobs == 16
