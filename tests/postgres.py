"""A PostgreSQL server of the tests' own on loopback: started, stopped and killed as they need it."""

import os
import shutil
import signal
import socket
import subprocess
import tempfile
import time
from contextlib import suppress
from pathlib import Path


def binaries() -> Path | None:
    """Return the folder with the newest server's programs; None where there is none."""
    found = sorted(Path("/usr/lib/postgresql").glob("*/bin/initdb"), key=lambda p: int(p.parts[-3]))
    if found:
        return found[-1].parent
    on_path = shutil.which("initdb")
    return Path(on_path).resolve().parent if on_path else None


MISSING = "" if binaries() else "no PostgreSQL here: apt-get install postgresql"


class Postgres:
    """One server; `address` is what the setting would say."""

    def __init__(self) -> None:
        self.place = Path(tempfile.mkdtemp(prefix="bench-lamp-pg-"))
        self.data = self.place / "data"
        if os.getuid() == 0:
            # The server refuses to be root.
            shutil.chown(self.place, "postgres")
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            self.port = free.getsockname()[1]
        self._run(
            "initdb", "-A", "trust", "-U", "postgres", "-E", "UTF8", "--no-sync", "-D", self.data
        )
        self.start()

    def _run(self, program: str, *arguments: object) -> None:
        folder = binaries()
        assert folder is not None
        as_user = ["runuser", "-u", "postgres", "--"] if os.getuid() == 0 else []
        command = [*as_user, str(folder / program), *map(str, arguments)]
        done = subprocess.run(
            command, cwd=self.place, stdin=subprocess.DEVNULL, stdout=subprocess.DEVNULL,
            stderr=subprocess.PIPE, text=True, check=False,
        )  # fmt: skip
        assert done.returncode == 0, f"{program}: {done.stderr}"

    def start(self) -> None:
        options = f"-p {self.port} -c listen_addresses=127.0.0.1 -c unix_socket_directories=''"
        self._run("pg_ctl", "-w", "-l", self.place / "log", "-D", self.data, "-o", options, "start")

    def stop(self) -> None:
        self._run("pg_ctl", "-w", "-m", "fast", "-D", self.data, "stop")

    def kill(self) -> None:
        """End all of it at once, as a power cut would."""
        postmaster = int((self.data / "postmaster.pid").read_text().split()[0])
        family = [postmaster, *_children(postmaster)]
        for process in family:
            with suppress(ProcessLookupError):
                os.kill(process, signal.SIGKILL)
        while any(_is_running(process) for process in family):
            time.sleep(0.01)
        (self.data / "postmaster.pid").unlink(missing_ok=True)

    def address(self, database: str = "postgres") -> str:
        return f"postgresql+psycopg://postgres@127.0.0.1:{self.port}/{database}"

    def new_database(self, name: str) -> str:
        """Make an empty database; return its address."""
        self._run("createdb", "-h", "127.0.0.1", "-p", self.port, "-U", "postgres", name)
        return self.address(name)

    def close(self) -> None:
        with suppress(AssertionError, FileNotFoundError):
            self._run("pg_ctl", "-w", "-m", "immediate", "-D", self.data, "stop")
        shutil.rmtree(self.place, ignore_errors=True)


def _stat(process: int) -> list[str]:
    """Return state, parent and the rest of what the system says of a process."""
    return Path(f"/proc/{process}/stat").read_text().rpartition(")")[2].split()


def _children(parent: int) -> list[int]:
    found = []
    for entry in Path("/proc").glob("[0-9]*"):
        with suppress(OSError, ValueError):
            if int(_stat(int(entry.name))[1]) == parent:
                found.append(int(entry.name))
    return found


def _is_running(process: int) -> bool:
    try:
        return _stat(process)[0] != "Z"
    except OSError:
        return False
