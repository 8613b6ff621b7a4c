"""`bench-lamp --version`: what matters for a report, a line each."""

import platform
from importlib.metadata import PackageNotFoundError, version

from bench_lamp import __version__
from bench_lamp.journal.reader import SQLITE

#: Libraries whose version can matter.
LIBRARIES = (
    "PySide6-Essentials",
    "SQLAlchemy",
    "alembic",
    "pydantic",
    "ruamel.yaml",
    "msgspec",
    "numpy",
    "Jinja2",
    "platformdirs",
    "scipy",
    "bincopy",
)


def version_text() -> str:
    """Return the program's version, and those of what it stands on."""
    found = "  ".join(f"{name} {installed(name) or 'missing'}" for name in LIBRARIES)
    return "\n".join(
        (
            f"Bench Lamp {__version__}",
            f"Python {platform.python_version()}, SQLite {SQLITE}, {system()}",
            found,
        )
    )


def installed(name: str) -> str:
    """Return the version of a library; empty when it is not there."""
    try:
        return version(name)
    except PackageNotFoundError:
        return ""


def system() -> str:
    """Name the system: distribution, kernel and machine."""
    try:
        name = platform.freedesktop_os_release().get("PRETTY_NAME", "Linux")
    except OSError:
        name = platform.system()
    return f"{name}, {platform.release()}, {platform.machine()}"
