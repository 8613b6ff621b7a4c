"""The house rules of the code itself: sizes, and what the start scripts promise."""

import ast
import os
import re
import subprocess
import sys
from collections import Counter
from graphlib import TopologicalSorter
from pathlib import Path

import pytest

from bench_lamp.desktop.surfaces import SURFACES
from bench_lamp.stages import STAGES

ROOT = Path(__file__).parents[1]
SOURCES = sorted((ROOT / "src").rglob("*.py"))


#: No room but the desktop may hold more than a quarter of all lines.
MOST_SHARE, MOST_OF_DESKTOP = 0.25, 0.30
MOST_FLOORS = 8
MOST_LINES, MOST_OF_FUNCTION, MOST_BRANCHES = 300, 40, 15
MOST_SKIPS = MOST_KIND_WORDS = 40


def _branches(function: ast.AST) -> int:
    """Count the ways through a function, Boolean operators and comprehensions among them."""
    count, waiting = 1, list(ast.iter_child_nodes(function))
    while waiting:
        node = waiting.pop()
        if isinstance(node, ast.FunctionDef):
            continue
        if isinstance(node, ast.BoolOp):
            count += len(node.values) - 1
        elif isinstance(node, ast.comprehension):
            count += 1 + len(node.ifs)
        elif isinstance(node, ast.If | ast.For | ast.While | ast.ExceptHandler | ast.IfExp):
            count += 1
        waiting += ast.iter_child_nodes(node)
    return count


@pytest.mark.parametrize("path", SOURCES, ids=lambda p: str(p.relative_to(ROOT / "src")))
def test_modules_and_functions_stay_small(path):
    text = path.read_text(encoding="utf-8")
    assert len(text.splitlines()) <= MOST_LINES
    for node in ast.walk(ast.parse(text)):
        if isinstance(node, ast.FunctionDef):
            says = node.body[0] if ast.get_docstring(node) else None
            words = says.end_lineno - says.lineno + 1 if says is not None else 0
            assert node.end_lineno - node.lineno + 1 - words <= MOST_OF_FUNCTION, node.name
            assert _branches(node) <= MOST_BRANCHES, node.name


MODULES = {
    ".".join(path.relative_to(ROOT / "src").with_suffix("").parts).removesuffix(".__init__"): path
    for path in SOURCES
}
ROOMS = sorted({name.split(".")[1] for name in MODULES if "." in name})


def _imports(path: Path) -> set[str]:
    found = set()
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.ImportFrom):
            for alias in node.names:
                whole = f"{node.module}.{alias.name}"
                found.add(whole if whole in MODULES else node.module)
        elif isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
    return found & MODULES.keys()


@pytest.mark.parametrize("room", ROOMS)
def test_no_room_is_deeper_than_eight_floors_of_imports(room):
    inside = {name: path for name, path in MODULES.items() if name.split(".")[1:2] == [room]}
    below = {name: (_imports(path) & inside.keys()) - {name} for name, path in inside.items()}
    order = TopologicalSorter(below)
    floors = {}
    for name in order.static_order():
        floors[name] = 1 + max((floors[n] for n in below[name]), default=0)
    assert max(floors.values()) <= MOST_FLOORS, max(floors, key=floors.get)


def test_no_room_but_the_desktop_holds_more_than_a_quarter_of_all_lines():
    lines = dict.fromkeys(ROOMS, 0)
    for name, path in MODULES.items():
        if "." in name:
            lines[name.split(".")[1]] += len(path.read_text(encoding="utf-8").splitlines())
    total = sum(lines.values())
    for room, count in lines.items():
        assert count <= total * (MOST_OF_DESKTOP if room == "desktop" else MOST_SHARE), room


def _has_words(node: ast.AST) -> bool:
    return any(
        isinstance(n, ast.Constant) and isinstance(n.value, str)
        for n in (ast.walk(node) if isinstance(node, ast.Set | ast.Tuple | ast.List) else (node,))
    )


def test_few_kinds_are_compared_with_words_and_few_lines_are_laid_out_by_hand():
    skips, words = 0, []
    for path in SOURCES:
        text = path.read_text(encoding="utf-8")
        skips += text.count("fmt: skip")
        for node in ast.walk(ast.parse(text)):
            if isinstance(node, ast.Compare):
                sides = (node.left, *node.comparators)
                is_kind = any(getattr(s, "attr", getattr(s, "id", "")) == "kind" for s in sides)
                if is_kind and any(map(_has_words, sides)):
                    words.append(f"{path.name}:{node.lineno}")
    assert skips < MOST_SKIPS
    assert len(words) < MOST_KIND_WORDS, words


def test_no_two_classes_have_one_name():
    names = Counter(
        node.name
        for path in SOURCES
        for node in ast.parse(path.read_text(encoding="utf-8")).body
        if isinstance(node, ast.ClassDef) and not node.name.startswith("_")
    )
    assert [name for name, count in names.items() if count > 1] == []


RIDDLES = {
    "mind", "thinker", "kept", "heard", "told", "standing", "did", "warm", "hunting", "showing",
    "walking", "weighing", "trials", "plan",
}  # fmt: skip


def test_no_module_has_a_name_that_needs_a_guess():
    assert {path.stem for path in SOURCES} & RIDDLES == set()


def test_every_stage_that_is_named_in_the_code_is_in_the_registry():
    """A `StageId` is a plain text: a slip in one would lead nowhere."""
    known = {stage.id for stage in STAGES}
    assert set(SURFACES) == {stage.surface for stage in STAGES}
    for path in SOURCES:
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.keyword) and node.arg in {"go", "stage"}:
                for value in ast.walk(node.value):
                    if isinstance(value, ast.Constant) and isinstance(value.value, str):
                        assert value.value in known | {""}, (path.name, value.value)


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
    SURFACES[stage.surface]()(look).show_case(case, Hand())
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
