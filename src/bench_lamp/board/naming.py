"""What is said of a name that nobody knows."""

from difflib import get_close_matches

Loc = tuple[str | int, ...]


def unknown_name(what: str, name: str, known: tuple[str, ...]) -> str:
    """Say that a name is unknown, with the nearest known one."""
    close = get_close_matches(name, known, n=1)
    mend = (
        f"did you mean “{close[0]}”?"
        if close
        else f"known are: {', '.join(sorted(known)) or 'none'}"
    )
    return f"no {what} is called “{name}”; {mend}"
