"""What the window can be told by a key or by the find box."""

from collections.abc import Callable

from bench_lamp.checks import load_meters
from bench_lamp.desktop.look import Look
from bench_lamp.desktop.session import Session

#: Key, words for the find box, what it does.
KeyCommand = tuple[str, str, Callable[[], object]]


def window_commands(
    session: Session,
    look: Look,
    *,
    tape: tuple[Callable[[], None], Callable[[], None]],
    regroup: Callable[[], None],
    history: Callable[[], None],
    turn_over: Callable[[], None],
    find: Callable[[], None],
    close: Callable[[], object],
) -> dict[str, KeyCommand]:
    """Return every command: key, words for the find box, what it does.

    `tape` folds it, and picks from it.
    """

    def in_job(act: Callable[[], None]) -> Callable[[], None]:
        return _in_job(session, act)

    commands: dict[str, KeyCommand] = {
        "find": ("Ctrl+K", "Find anything", find),
        "new-job": ("Ctrl+N", "New job", session.begin_job),
        "shelf": ("Ctrl+B", "Back to the shelf", session.go_shelf),
        "power": ("Ctrl+P", "Confirm the power state", in_job(session.ask_power)),
        "note": ("F11", "Note: on the tape, at this moment", lambda: session.ask_aside("note")),
        "time": ("Ctrl+J", "Time of work, and correct it", lambda: session.ask_aside("time")),
        "who": ("Ctrl+I", "Who works here", lambda: session.ask_aside("who")),
        "waits": ("Ctrl+Y", "What it waits for", lambda: session.ask_aside("waits")),
        "undo": ("Ctrl+Z", "Undo: strike the last entry", session.undo),
        "redo": ("Ctrl+Shift+Z", "Redo", session.redo),
        "ripple": ("F7", "AC ripple on this DC point", in_job(session.toggle_ripple)),
        "memory": ("F10", "History of this board and its kind", in_job(history)),
        "group": ("F5", "Group the ladder by supply or by board", in_job(regroup)),
        "fold": ("F6", "Fold or unfold the tape", tape[0]),
        "tape": ("Ctrl+L", "Pick from the tape", in_job(tape[1])),
        "measure": ("F8", "Take the reading from the meter", in_job(session.measure)),
        "history": ("Ctrl+H", "Look back at how the odds moved", in_job(session.toggle_replay)),
        "turn": ("F9", "Turn the board or chip over", turn_over),
        "rules": ("Ctrl+R", "House rules", session.toggle_rules),
        "workshop": ("Ctrl+E", "Workshop: describe this kind of board", session.describe),
        "quit": ("Ctrl+Q", "Quit", close),
    }
    return commands | _journal(session) | _looks(session, look) | _meters(session)


def _journal(session: Session) -> dict[str, KeyCommand]:
    words = "Mend the journal: go on here, or save what can be read"
    over = "Take the open job over from another bench"
    return {
        "journal": ("F4", words, session.journal.mend),
        "take-over": ("Ctrl+Shift+O", over, lambda: session.take_over()),
    }


def _in_job(session: Session, act: Callable[[], None]) -> Callable[[], None]:
    return lambda: act() if session.job and not session.describing else None


def _looks(session: Session, look: Look) -> dict[str, KeyCommand]:
    return {
        "theme": ("Ctrl+D", "Lamp or Daylight", lambda: _turn_theme(session, look)),
        "larger": ("Ctrl++", "Larger text", lambda: look.step_scale(1)),
        "smaller": ("Ctrl+-", "Smaller text", lambda: look.step_scale(-1)),
    }


def _turn_theme(session: Session, look: Look) -> None:
    look.set_theme("daylight" if look.theme == "lamp" else "lamp")
    session.changed.emit()


def _meters(session: Session) -> dict[str, KeyCommand]:
    return {
        f"meter:{meter.id}": (
            "",
            f"Meter: {meter.name}, {meter.counts} counts",
            lambda m=meter.id: session.use_meter(m),
        )
        for meter in load_meters().values()
    }
