"""What is built and installed: wheel, source archive, desktop files, the launchers' questions."""

import ast
import os
import re
import shutil
import subprocess
import sys
import tarfile
import tomllib
import zipfile
from configparser import ConfigParser
from pathlib import Path
from xml.etree import ElementTree

import pytest

from bench_lamp.__main__ import _parser, main
from bench_lamp.commands.menu import SHARED

ROOT = Path(__file__).parents[2]
SYSTEM = ROOT / "src" / "bench_lamp" / "resources" / "system"
APP_ID = "org.bench_lamp.BenchLamp"


@pytest.fixture(scope="module")
def built(tmp_path_factory):
    """Both archives, built as an installer does, without a network."""
    from hatchling.build import build_sdist, build_wheel

    folder, before = tmp_path_factory.mktemp("dist"), Path.cwd()
    os.chdir(ROOT)
    try:
        return folder / build_wheel(str(folder)), folder / build_sdist(str(folder))
    finally:
        os.chdir(before)


def test_the_wheel_holds_all_that_the_program_and_the_desktop_need(built):
    names = set(zipfile.ZipFile(built[0]).namelist())
    source = ROOT / "src"
    wanted = {
        str(path.relative_to(source))
        for path in (source / "bench_lamp").rglob("*")
        if path.is_file() and "__pycache__" not in path.parts
    }
    assert wanted <= names
    shared = {n.partition("/share/")[2] for n in names if "/data/share/" in n}
    assert shared == set(SHARED.values())
    assert any(n.endswith("entry_points.txt") for n in names)


def test_the_source_archive_can_be_tested_and_started(built):
    with tarfile.open(built[1]) as archive:
        names = {n.partition("/")[2] for n in archive.getnames()}
    for name in ("bench-lamp", "test", "setup/environment.sh", "requirements.lock", "requirements-dev.lock",
                 "pyproject.toml", "tests/conftest.py", "docs/using.md", "LICENSE",
                 "src/bench_lamp/journal/migrations/versions/v0003_derived.py"):  # fmt: skip
        assert name in names


#: Names of packages where they are not those of their modules.
PACKAGES = {
    "PySide6": "pyside6-essentials",
    "ruamel": "ruamel-yaml",
    "pydantic_core": "pydantic-core",
    "serial": "pyserial",
    "vcd": "pyvcd",
}


def imported(folder: Path) -> set[str]:
    """Return the packages that the sources import, wherever in a module they do."""
    found = set()
    for path in folder.rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.Import):
                found |= {alias.name.partition(".")[0] for alias in node.names}
            elif isinstance(node, ast.ImportFrom) and node.module and not node.level:
                found.add(node.module.partition(".")[0])
    others = found - sys.stdlib_module_names - {"bench_lamp"}
    return {PACKAGES.get(name, name.lower()) for name in others}


def test_whoever_only_starts_it_has_all_that_it_imports():
    """The tests' environment has more than a user's: what the program imports must be in theirs too."""
    locked = set(
        re.findall(r"^([\w.-]+)==", (ROOT / "requirements.lock").read_text(), re.MULTILINE)
    )
    project = tomllib.loads((ROOT / "pyproject.toml").read_text(encoding="utf-8"))["project"]
    asked = {re.split(r"[<>=]", d)[0].lower().replace(".", "-") for d in project["dependencies"]}
    found = imported(ROOT / "src" / "bench_lamp")
    assert {"numpy", "scipy", "pyside6-essentials"} <= found
    assert found <= locked
    assert found - {"pydantic-core"} <= asked


def test_the_desktop_file_opens_profiles_by_their_type():
    entry = ConfigParser(interpolation=None)
    entry.optionxform = str
    entry.read(SYSTEM / f"{APP_ID}.desktop", encoding="utf-8")
    found = entry["Desktop Entry"]
    assert found["Exec"] == "bench-lamp %f"
    mime = ElementTree.parse(SYSTEM / f"{APP_ID}.mime.xml").getroot()
    kind, bundle = mime
    assert found["MimeType"] == f"{kind.get('type')};{bundle.get('type')};"
    assert kind.find("{*}glob").get("pattern") == "*.board.yaml"
    assert bundle.find("{*}glob").get("pattern") == "*.benchboard"
    meta = ElementTree.parse(SYSTEM / f"{APP_ID}.metainfo.xml").getroot()
    assert meta.findtext("id") == APP_ID == found["Icon"]
    assert meta.findtext("launchable") == f"{APP_ID}.desktop"
    assert meta.find("provides").findtext("mediatype") == kind.get("type")


@pytest.mark.parametrize(
    "command",
    [
        ["desktop-file-validate", f"{APP_ID}.desktop"],
        ["appstreamcli", "validate", "--no-net", f"{APP_ID}.metainfo.xml"],
        ["man", "--warnings", "-l", "bench-lamp.1"],
        ["bash", "-n", "bench-lamp.bash"],
    ],
    ids=lambda c: c[0],
)
def test_the_systems_own_checkers_find_nothing(command):
    if shutil.which(command[0]) is None:
        pytest.skip(f"{command[0]} is not installed")
    done = subprocess.run(
        command,
        cwd=SYSTEM,
        capture_output=True,
        text=True,
        check=False,
        env={**os.environ, "MANROFFSEQ": ""},
    )
    assert done.returncode == 0, done.stdout + done.stderr
    if command[0] == "man":
        assert done.stderr == ""


def test_every_option_has_its_line_in_the_manual_and_in_the_completions():
    options = [
        o
        for action in _parser()._actions
        if action.help != "==SUPPRESS=="
        for o in action.option_strings
    ]
    long = [o for o in options if o.startswith("--")]
    assert len(long) == 7
    manual = (SYSTEM / "bench-lamp.1").read_text().replace("\\-", "-")
    for place in (manual, *((SYSTEM / n).read_text() for n in ("bench-lamp.bash", "_bench-lamp"))):
        for word in (*long, "check", "doctor", "menu", "backup", "restore", "stand-in"):
            assert word in place
    fish = (SYSTEM / "bench-lamp.fish").read_text()
    assert all(f"-l {o[2:]}" in fish for o in long)


def test_the_menu_gets_its_files_and_gives_them_back(tmp_path, monkeypatch, capsys):
    home = tmp_path / "share"
    monkeypatch.setenv("XDG_DATA_HOME", str(home))
    monkeypatch.setattr("sys.argv", ["/opt/my tools/bench-lamp", "menu"])
    assert main(["menu"]) == 0
    entry = (home / f"applications/{APP_ID}.desktop").read_text()
    assert 'Exec="/opt/my tools/bench-lamp" %f' in entry
    assert "TryExec" not in entry
    assert all((home / place).is_file() for place in SHARED.values())
    assert main(["menu"]) == 0, "again"
    assert main(["menu", "--remove"]) == 0
    assert not any((home / place).exists() for place in SHARED.values())
    (home / "man" / "man1").rmdir()
    (home / "man" / "man1").write_text("a file where the folder should be")
    assert main(["menu"]) == 1
    assert "was not written" in capsys.readouterr().err
    assert main(["menu", "x"]) == 2


LAUNCH = """
. "$1/setup/environment.sh"
LOG=$2
apt-get() { echo "apt-get $*" >>"$LOG"; }
apt-cache() { return 0; }
sudo() { echo "sudo $*" >>"$LOG"; }
id() { echo 0; }
VENV=$3 PYTHON=python3
check_libraries "libno-such-thing.so.9:libno-such-thing" && echo all there
"""


@pytest.mark.parametrize(
    ("more", "typed", "installs"),
    [
        pytest.param({}, None, False, id="root-without-a-terminal"),
        pytest.param({"CI": "1"}, None, True, id="ci"),
        pytest.param({"ASSUME_YES": "1"}, None, True, id="yes"),
    ],
)
def test_system_packages_are_never_installed_unasked(tmp_path, more, typed, installs):
    log = tmp_path / "log"
    env = {k: v for k, v in os.environ.items() if k not in {"CI", "ASSUME_YES"}}
    done = subprocess.run(
        ["bash", "-c", LAUNCH, "sh", str(ROOT), str(log), str(tmp_path)],
        env={**env, **more}, stdin=subprocess.DEVNULL, capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert "libno-such-thing" in done.stderr, "it says what"
    assert log.exists() is installs
    if not installs:
        assert "--yes" in done.stderr
    assert "all there" not in done.stdout


USABLE = '. "$1/setup/environment.sh"; VENV=$2; is_usable "$3" && echo usable'


@pytest.mark.parametrize(
    ("harm", "is_usable"),
    [
        pytest.param(lambda v: None, True, id="whole"),
        pytest.param(
            lambda v: (v / "wanted").write_text("the lock of last year"), False, id="another-lock"
        ),
        pytest.param(lambda v: (v / "wanted").unlink(), False, id="half-made"),
        pytest.param(lambda v: (v / "bin" / "python").unlink(), False, id="interpreter-gone"),
        pytest.param(
            lambda v: (v / "bin" / "python").write_text("#!/bin/sh\nexit 1\n"),
            False,
            id="a-package-gone",
        ),
    ],
)
def test_a_broken_environment_is_noticed(tmp_path, harm, is_usable):
    """Its interpreter is this one; what cannot be imported stands for a package that is gone."""
    import sys

    venv = tmp_path / "venv"
    (venv / "bin").mkdir(parents=True)
    python = venv / "bin" / "python"
    python.write_text(f'#!/bin/sh\nexec {sys.executable} "$@"\n')
    python.chmod(0o755)
    (venv / "wanted").write_text("lock and place")
    harm(venv)
    done = subprocess.run(
        ["sh", "-c", USABLE, "sh", str(ROOT), str(venv), "lock and place"],
        capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert ("usable" in done.stdout) is is_usable, done.stderr
