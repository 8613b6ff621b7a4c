"""The command line: a window, or one of `advise`, `check`, `doctor` and `menu` without one."""

import gc
import sys
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    import argparse

APP = "bench-lamp"


def main(arguments: Sequence[str] | None = None) -> int:
    """Run the program; return its exit code."""
    words = list(sys.argv[1:] if arguments is None else arguments)
    if words and words[0] in _COMMANDS:
        return _COMMANDS[words[0]](words[1:])
    # Nothing that the start makes is garbage; collecting begins once the window stands.
    gc.disable()
    if "--version" in words:
        from bench_lamp.commands.version import version_text

        print(version_text())
        return 0
    # The usual starts need no parser, whose modules cost as much as a dozen of ours.
    options = _plain(words) or _parser().parse_args(words)
    if options.profile and not options.profile.exists():
        print(f"{APP}: “{options.profile}” is neither a file nor a command", file=sys.stderr)
        return 2
    from platformdirs import PlatformDirs

    places = PlatformDirs(APP, appauthor=False)
    cache = Path(places.user_cache_dir)
    if options.schema:
        return _write_schema(options.schema)
    if options.screenshots:
        from bench_lamp.desktop.app import build
        from bench_lamp.desktop.screenshots import take_screenshots

        return take_screenshots(options.screenshots, cache=cache, build=build)
    from bench_lamp.desktop.app import run

    folder = None if options.demo else options.data or Path(places.user_data_dir)
    extra = [
        word
        for word, is_set in (
            ("--quit-after-paint", options.quit_after_paint),
            ("--stop-at-paint", options.stop_at_paint),
        )
        if is_set
    ]
    state = Path(places.user_state_dir)
    return run(extra, folder=folder, cache=cache, state=state, profile=options.profile)


@dataclass(slots=True)
class _Options:
    """What the command line says."""

    demo: bool = False
    quit_after_paint: bool = False
    stop_at_paint: bool = False
    data: Path | None = None
    screenshots: Path | None = None
    schema: Path | None = None
    profile: Path | None = None


def _plain(words: Sequence[str]) -> _Options | None:
    """Return the options of a start with nothing but flags; None for anything else."""
    if not set(words) <= {"--demo", "--quit-after-paint", "--stop-at-paint"}:
        return None
    return _Options(
        demo="--demo" in words,
        quit_after_paint="--quit-after-paint" in words,
        stop_at_paint="--stop-at-paint" in words,
    )


def _parser() -> "argparse.ArgumentParser":
    import argparse

    parser = argparse.ArgumentParser(
        prog=APP,
        description="A bench companion for people who repair vintage boards.",
        epilog=f"{APP} advise PROFILE [JOB.json]: lines in, advice out as JSON. "
        f"{APP} check FILE: print the errors of a profile, one a line; exit status 0 or 1. "
        f"{APP} doctor: say what of the installation, journal and profiles is wrong. "
        f"{APP} menu: add it to the menu of this account.",
    )
    parser.add_argument(
        "profile", type=Path, nargs="?", metavar="FILE", help="begin a job on this profile"
    )
    parser.add_argument("--version", action="store_true", help="print what matters for a report")
    parser.add_argument("--demo", action="store_true", help="try it on a copy of the demo data")
    parser.add_argument("--data", type=Path, metavar="DIR", help="use the journal in this folder")
    parser.add_argument(
        "--screenshots", type=Path, metavar="DIR", help="draw the main views into this folder"
    )
    parser.add_argument(
        "--schema", type=Path, metavar="FILE", help="write the JSON Schema of profiles"
    )
    parser.add_argument("--quit-after-paint", action="store_true", help=argparse.SUPPRESS)
    parser.add_argument("--stop-at-paint", action="store_true", help=argparse.SUPPRESS)
    return parser


def _check(files: Sequence[str]) -> int:
    """Check profile files; without a name, say how."""
    if not files or files[0].startswith("-"):
        print(f"usage: {APP} check FILE.board.yaml [FILE ...]", file=sys.stderr)
        return 2
    from bench_lamp.commands.check import check_profiles

    return check_profiles([Path(name) for name in files])


def _doctor(words: Sequence[str]) -> int:
    """Look at everything; `--data DIR` names the folder."""
    from platformdirs import PlatformDirs

    from bench_lamp.commands.doctor import Places, run_doctor

    places = PlatformDirs(APP, appauthor=False)
    data = Path(places.user_data_dir)
    if words:
        if len(words) != 2 or words[0] != "--data":
            print(f"usage: {APP} doctor [--data DIR]", file=sys.stderr)
            return 2
        data = Path(words[1])
    found = Places(data=data, cache=Path(places.user_cache_dir), state=Path(places.user_state_dir))
    return run_doctor(found)


def _advise(words: Sequence[str]) -> int:
    """Give advice without a window: a profile, and a job or lines."""
    if not 1 <= len(words) <= 2 or words[0].startswith("-"):
        print(f"usage: {APP} advise PROFILE [JOB.json] < LINES", file=sys.stderr)
        return 2
    from platformdirs import PlatformDirs

    from bench_lamp.commands.advise import run_advise

    return run_advise(list(words), Path(PlatformDirs(APP, appauthor=False).user_cache_dir))


def _menu(words: Sequence[str]) -> int:
    """Add this installation to the account's menu, or take it out."""
    from bench_lamp.commands.menu import add_to_menu, data_home, remove_from_menu

    if words == ["--remove"]:
        return remove_from_menu(data_home())
    if words:
        print(f"usage: {APP} menu [--remove]", file=sys.stderr)
        return 2
    return add_to_menu(data_home(), str(Path(sys.argv[0]).absolute()))


#: What runs without a window.
_COMMANDS: dict[str, Callable[[Sequence[str]], int]] = {
    "advise": _advise,
    "check": _check,
    "--check": _check,
    "doctor": _doctor,
    "menu": _menu,
}


def _write_schema(path: Path) -> int:
    import json

    from bench_lamp.board.schema import json_schema

    path.write_text(json.dumps(json_schema(), indent=1, ensure_ascii=False) + "\n")
    return 0


if __name__ == "__main__":
    sys.exit(main())
