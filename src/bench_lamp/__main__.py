"""The command line: a window, or one command without one: `advise`, `backup`, `check` and others."""

import gc
import sys
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    import argparse

APP = "bench-lamp"
#: For measuring.
_QUIET = ("--quit-after-paint", "--stop-at-paint")


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
    extra = [word for word in _QUIET if getattr(options, word[2:].replace("-", "_"))]
    state = Path(places.user_state_dir)
    if options.practice:
        return _practise(options, extra, cache, state, Path(places.user_data_dir))
    return run(extra, folder=folder, cache=cache, state=state, profile=options.profile)


def _practise(
    options: "_Options | argparse.Namespace", extra: list[str], cache: Path, state: Path, own: Path
) -> int:
    """Show the practice bench, on a journal that is gone with it."""
    import tempfile

    from bench_lamp.board import ProfileLibrary
    from bench_lamp.desktop.app import Bench, build
    from bench_lamp.desktop.opening import show
    from bench_lamp.desktop.practising import make_practice, named_drill
    from bench_lamp.errors import BenchLampError
    from bench_lamp.practice.drill import first_events

    try:
        library = ProfileLibrary()
        drill = named_drill(options.practice, library)
        events = first_events(library, drill)
    except BenchLampError as exc:
        print(f"{APP}: {exc}. {exc.hint}", file=sys.stderr)
        return 2

    def made() -> Bench:
        temporary = tempfile.TemporaryDirectory(prefix="bench-lamp-practice-")
        bench = build(Path(temporary.name), cache=cache, first=events)
        bench.temporary = temporary
        make_practice(bench, drill, options.data or own)
        return bench

    return show(extra, made, state=state)


@dataclass(slots=True)
class _Options:
    """What the command line says."""

    demo: bool = False
    quit_after_paint: bool = False
    stop_at_paint: bool = False
    data: Path | None = None
    practice: str = ""
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
        f"{APP} menu: add it to the menu of this account. "
        f"{APP} backup: write a backup of journal, profiles, photographs and settings. "
        f"{APP} restore FILE [--yes]: say what a backup holds; with --yes put it in place. "
        f"{APP} stand-in KIND [PORT]: a simulated instrument on this machine.",
    )
    parser.add_argument(
        "profile", type=Path, nargs="?", metavar="FILE", help="begin a job on this profile"
    )
    parser.add_argument("--version", action="store_true", help="print what matters for a report")
    parser.add_argument("--demo", action="store_true", help="try it on a copy of the demo data")
    parser.add_argument("--data", type=Path, metavar="DIR", help="use the journal in this folder")
    parser.add_argument(
        "--practice", default="", metavar="DRILL", help="a board to practise on: “orrery hard 7”"
    )
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
    rest, data = _data_folder(words)
    if rest:
        print(f"usage: {APP} doctor [--data DIR]", file=sys.stderr)
        return 2
    found = Places(data=data, cache=Path(places.user_cache_dir), state=Path(places.user_state_dir))
    return run_doctor(found)


def _data_folder(words: Sequence[str]) -> tuple[list[str], Path]:
    """Return what is left of the words without `--data DIR`, and the folder: the account's own by default."""
    rest = list(words)
    if "--data" in rest[:-1]:
        at = rest.index("--data")
        return rest[:at] + rest[at + 2 :], Path(rest[at + 1])
    from platformdirs import PlatformDirs

    return rest, Path(PlatformDirs(APP, appauthor=False).user_data_dir)


def _backup(words: Sequence[str]) -> int:
    """Write a backup."""
    rest, data = _data_folder(words)
    if rest:
        print(f"usage: {APP} backup [--data DIR]", file=sys.stderr)
        return 2
    from bench_lamp.commands.keep import run_backup

    return run_backup(data)


def _restore(words: Sequence[str]) -> int:
    """Look into a backup, or put it in place."""
    rest, data = _data_folder(words)
    names = [word for word in rest if word != "--yes"]
    if len(names) != 1 or names[0].startswith("-"):
        print(f"usage: {APP} restore FILE.benchbackup [--data DIR] [--yes]", file=sys.stderr)
        return 2
    from bench_lamp.commands.keep import run_restore

    return run_restore(Path(names[0]), data, is_sure=len(rest) > 1)


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


def _stand_in(words: Sequence[str]) -> int:
    """Start a simulated instrument on this machine."""
    if (
        not 1 <= len(words) <= 2
        or words[0].startswith("-")
        or (not words[-1].isdecimal() and words[1:])
    ):
        print(f"usage: {APP} stand-in KIND [PORT]", file=sys.stderr)
        return 2
    from bench_lamp.commands.standin import run_standin

    return run_standin(words[0], int(words[1]) if words[1:] else 0)


#: What runs without a window.
_COMMANDS: dict[str, Callable[[Sequence[str]], int]] = {
    "advise": _advise,
    "backup": _backup,
    "check": _check,
    "--check": _check,
    "doctor": _doctor,
    "menu": _menu,
    "restore": _restore,
    "stand-in": _stand_in,
}


def _write_schema(path: Path) -> int:
    import json

    from bench_lamp.board.schema import json_schema

    path.write_text(json.dumps(json_schema(), indent=1, ensure_ascii=False) + "\n")
    return 0


if __name__ == "__main__":
    sys.exit(main())
