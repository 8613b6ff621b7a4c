"""`bench-lamp menu`: tells this account's desktop of the program: menu entry, icon, type of profiles.

What a package of the system installs for everybody, an installation in one's own folder cannot.
"""

import os
import shutil
import subprocess
import sys
from collections.abc import Callable, Mapping
from pathlib import Path

from bench_lamp.errors import BenchLampError
from bench_lamp.files import write_whole

APP_ID = "org.bench_lamp.BenchLamp"
RESOURCES = Path(__file__).parents[1] / "resources"
#: Where each file goes below the data folder of the account.
SHARED: Mapping[str, str] = {
    f"system/{APP_ID}.desktop": f"applications/{APP_ID}.desktop",
    f"system/{APP_ID}.metainfo.xml": f"metainfo/{APP_ID}.metainfo.xml",
    f"system/{APP_ID}.mime.xml": f"mime/packages/{APP_ID}.xml",
    f"icons/{APP_ID}.svg": f"icons/hicolor/scalable/apps/{APP_ID}.svg",
    "system/bench-lamp.1": "man/man1/bench-lamp.1",
    "system/bench-lamp.bash": "bash-completion/completions/bench-lamp",
    "system/_bench-lamp": "zsh/site-functions/_bench-lamp",
    "system/bench-lamp.fish": "fish/vendor_completions.d/bench-lamp.fish",
}
#: What makes the desktop look again, where it is there.
REFRESH = (("update-mime-database", "mime"), ("update-desktop-database", "applications"))


def data_home() -> Path:
    """Return the data folder of the account."""
    return Path(os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share")


def add_to_menu(home: Path, program: str) -> int:
    """Put every file in its place below `home`; return the exit status."""
    for source, place in SHARED.items():
        raw = (RESOURCES / source).read_bytes()
        if source.endswith(".desktop"):
            raw = _started_by(raw.decode(), program).encode()
        target = home / place
        try:
            target.parent.mkdir(parents=True, exist_ok=True)
            write_whole(target, _writer(raw))
        except (BenchLampError, OSError) as exc:
            print(f"{target} was not written: {exc}", file=sys.stderr)
            return 1
    _refresh(home)
    print(f"Bench Lamp is in the menu, and opens *.board.yaml, by {home}.")
    return 0


def remove_from_menu(home: Path) -> int:
    """Take every file away again; return the exit status."""
    for place in SHARED.values():
        try:
            (home / place).unlink(missing_ok=True)
        except OSError as exc:
            print(f"{home / place} was not removed: {exc.strerror}", file=sys.stderr)
            return 1
    _refresh(home)
    print("Bench Lamp is out of the menu.")
    return 0


def _writer(raw: bytes) -> Callable[[Path], object]:
    return lambda path: path.write_bytes(raw)


def _started_by(entry: str, program: str) -> str:
    """Return a desktop entry that starts this very installation, on the path or not."""
    lines = (
        f'Exec="{program}" %f' if line.startswith("Exec=") else line
        for line in entry.splitlines()
        if not line.startswith("TryExec=")
    )
    return "\n".join(lines) + "\n"


def _refresh(home: Path) -> None:
    for command, folder in REFRESH:
        if shutil.which(command) and (home / folder).is_dir():
            subprocess.run([command, str(home / folder)], capture_output=True, check=False)
