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


def test_what_is_loaded_after_the_first_paint_is_there_and_named_once():
    from importlib import import_module

    from bench_lamp.desktop.job_page import SURFACES
    from bench_lamp.desktop.warm import MODULES
    from bench_lamp.plan import stages

    assert len(set(MODULES)) == len(MODULES)
    for name in MODULES:
        import_module(f"bench_lamp.{name}")
    at_start = {"plan.rails", "plan.prove", "desktop.surfaces"}
    cards = {f"plan.{module}" for module, _ in stages._CARDS.values()}
    surfaces = {f"desktop.{module}" for module, _ in SURFACES.values()}
    assert cards | surfaces <= set(MODULES) | at_start
