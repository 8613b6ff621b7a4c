"""What happens once the window stands: faults are caught, and a profile that was named is opened."""

from pathlib import Path

from bench_lamp.desktop.session import Session
from bench_lamp.errors import BenchLampError


def catch_faults(session: Session, folder: Path) -> None:
    """Take what nobody catches into a log in this folder, and into the window."""
    from bench_lamp.desktop.faults import Faults, keep_log

    Faults(keep_log(folder), session.journal.say).install()


def open_profile(session: Session, path: Path) -> None:
    """Take a profile that was opened among the shop's own, and begin a job on it."""
    from bench_lamp.board.adopt import adopt

    own = session.library.own
    if own is None:
        return
    try:
        profile, done = adopt(path, own)
    except BenchLampError as exc:
        session.journal.say(f"{exc}. {exc.hint}")
        return
    if done:
        session.journal.say(f"{done}.")
    session.begin_job(profile.id)
