"""Bringing an older journal up to date, with a backup first."""

import sqlite3
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path

from sqlalchemy.engine import Connection

#: Newest schema; revisions are numbered so that newer ones sort later.
HEAD = "0001"


def upgrade(connection: Connection) -> None:
    """Run the migrations up to `HEAD` on an open connection."""
    from alembic import command
    from alembic.config import Config

    config = Config()
    config.set_main_option("script_location", str(Path(__file__).with_name("migrations")))
    config.attributes["connection"] = connection
    command.upgrade(config, HEAD)


def backup(path: Path, revision: str | None) -> Path:
    """Copy a journal beside itself, consistently, and return the copy's path."""
    stamp = datetime.now(UTC).strftime("%Y%m%dT%H%M%S")
    target = path.with_name(f"{path.stem}.before-upgrade-{revision or 'none'}-{stamp}.sqlite")
    with closing(sqlite3.connect(path)) as source, closing(sqlite3.connect(target)) as copy:
        source.backup(copy)
    return target
