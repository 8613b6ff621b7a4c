"""The schema that this program writes, and the migrations that lead to it: the same on a file and on a server."""

from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from sqlalchemy import Connection

#: Newest schema; revisions are numbered so that newer ones sort later.
HEAD = "0003"
REVISIONS = ("0001", "0002", HEAD)


def upgrade(connection: "Connection") -> None:
    """Run the migrations on an open connection, up to `HEAD`; whoever opened it commits."""
    from alembic import command
    from alembic.config import Config

    config = Config()
    scripts = str(Path(__file__).with_name("migrations"))
    # The configuration would take a percent sign of the folder's name for one of its own.
    config.set_main_option("script_location", scripts.replace("%", "%%"))
    config.attributes["connection"] = connection
    command.upgrade(config, HEAD)
