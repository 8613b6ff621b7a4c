"""The house rules of the code itself: sizes, and what the start scripts promise."""

import ast
import os
import re
import subprocess
import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]
SOURCES = sorted((ROOT / "src").rglob("*.py"))


@pytest.mark.parametrize("path", SOURCES, ids=lambda p: str(p.relative_to(ROOT / "src")))
def test_modules_and_functions_stay_small(path):
    text = path.read_text(encoding="utf-8")
    assert len(text.splitlines()) <= 300
    for node in ast.walk(ast.parse(text)):
        if isinstance(node, ast.FunctionDef):
            first = node.body[1] if ast.get_docstring(node) and len(node.body) > 1 else node.body[0]
            assert node.end_lineno - first.lineno < 45, node.name


def test_lock_files_pin_with_hashes_and_name_no_host():
    for name in ("requirements.lock", "requirements-dev.lock"):
        text = (ROOT / name).read_text()
        assert "://" not in text
        pins = re.findall(r"^[a-z0-9-]+==", text, flags=re.M)
        assert len(pins) >= 14
        assert text.count("--hash=sha256:") >= len(pins)
    assert re.search(r"^pyside6-essentials==6\.11\.", text, flags=re.M)


def test_the_command_line_answers_without_a_window(tmp_path):
    environment = {**os.environ, "PYTHONPATH": str(ROOT / "src"), "DISPLAY": ""}
    run = [sys.executable, "-m", "bench_lamp"]
    version = subprocess.run(
        [*run, "--version"], env=environment, capture_output=True, text=True, check=True
    )
    assert version.stdout.startswith("Bench Lamp ")
    assert "--demo" in subprocess.run([*run, "--help"], env=environment, capture_output=True, text=True,
                                      check=True).stdout  # fmt: skip
    subprocess.run(
        [*run, "--data", str(tmp_path), "--quit-after-paint"], env=environment, check=True
    )
    assert (tmp_path / "settings.ini").exists()


def test_the_demo_leaves_the_users_data_alone(tmp_path):
    environment = {**os.environ, "PYTHONPATH": str(ROOT / "src"), "XDG_DATA_HOME": str(tmp_path / "data"),
                   "XDG_CACHE_HOME": str(tmp_path / "cache"), "TMPDIR": str(tmp_path)}  # fmt: skip
    run = [sys.executable, "-m", "bench_lamp", "--demo", "--quit-after-paint"]
    subprocess.run(run, env=environment, check=True)
    assert not (tmp_path / "data").exists()
    assert list(tmp_path.glob("bench-lamp-demo-*")) == []


def test_heavy_libraries_wait_until_after_the_first_paint():
    code = (
        "import sys; import bench_lamp.desktop.app; "
        "print([m for m in ('sqlalchemy', 'alembic', 'pydantic', 'ruamel', 'jinja2', 'numpy', 'scipy')"
        " if m in sys.modules])"
    )
    environment = {**os.environ, "PYTHONPATH": str(ROOT / "src")}
    done = subprocess.run(
        [sys.executable, "-c", code], env=environment, capture_output=True, text=True, check=True
    )
    assert done.stdout.strip() == "[]"


def test_everything_is_loaded_once_the_late_loading_is_through():
    """After it, opening every stage, page and worker imports no further module of ours."""
    code = """
import sys
from bench_lamp.desktop import app
from bench_lamp.desktop.loading import late_imports
steps = sum(1 for _ in late_imports())
before = {m for m in sys.modules if m.startswith("bench_lamp")}
from bench_lamp.desktop.surfaces import SURFACES
from bench_lamp.desktop.look import Look, load_fonts
from bench_lamp.stages import STAGES
from PySide6.QtWidgets import QApplication
from bench_lamp.board import ProfileLibrary
from bench_lamp.case.case import Case
from bench_lamp.case.hand import Hand
from bench_lamp.checks import load_meters
from bench_lamp.journal import JobState
application = QApplication([])
load_fonts()
profile = ProfileLibrary().get("tessenby-orrery-nights")
case = Case(profile=profile, state=JobState(job="x"), meter=load_meters()["hearthwell-60"])
look = Look()
for stage in STAGES:
    stage.card(case, Hand()), stage.state(case), stage.order(case, Hand())
    stage.beside(case, Hand(), 1, 1), stage.turn(case, Hand(), 1)
    SURFACES[stage.surface](look).show_case(case, Hand())
late = {m for m in sys.modules if m.startswith("bench_lamp")} - before
print(steps, sorted(m for m in late if ".board." not in m))
"""
    environment = {**os.environ, "PYTHONPATH": str(ROOT / "src"), "QT_QPA_PLATFORM": "offscreen"}
    done = subprocess.run(
        [sys.executable, "-c", code], env=environment, capture_output=True, text=True, check=True
    )
    steps, late = done.stdout.split(" ", 1)
    assert int(steps) >= 20
    assert late.strip() == "[]"
