"""What a text of a profile may be made of, wherever it stands: checked before anything reads it."""

import math
import re
from collections.abc import Iterator
from typing import Any

#: Characters of the longest text.
LONGEST = 4000
#: Letters, digits and `. _ + / -`, at most 40 of them: what can be typed in a line with a reading.
ID = re.compile(r"[\w+-][\w.+/-]{0,39}")
_ID_RULE = "letters, digits, and . _ + / - between them; at most 40, without spaces"

#: Brackets that are open at once, spaces before a line, and marks in a row: no profile has as many.
_MOST_OPEN, _MOST_INDENT = 200, 200
_IN_A_ROW = re.compile(r"(?:[-?:] +){20}")

Place = tuple[str | int, ...]


def check_texts(data: Any) -> Iterator[tuple[Place, str]]:
    """Yield each text, id or number of a parsed file that cannot be used: its place, and the mend."""
    waiting: list[tuple[Place, Any]] = [((), data)]
    while waiting:
        place, value = waiting.pop()
        if isinstance(value, dict):
            odd = [str(k)[:20] for k in value if not isinstance(k, str) or wrong_with(k)]
            yield from ((place, f"has a name that is not plain text: {key!r}") for key in odd)
            waiting += [((*place, str(k)), v) for k, v in value.items()]
        elif isinstance(value, list):
            waiting += [((*place, i), v) for i, v in enumerate(value)]
        elif wrong := _wrong(place, value):
            yield place, wrong


def _wrong(place: Place, value: Any) -> str:
    if isinstance(value, float) and not math.isfinite(value):
        return "is not a possible figure for a board; write a number"
    return wrong_with(value) or _wrong_id(place, value) if isinstance(value, str) else ""


def is_deep(text: str) -> bool:
    """Whether a file is nested so deeply that the reader of it would not come back.

    By its brackets, indents and marks alone, since a parser is what is to be spared.
    """
    depth = 0
    for character in re.findall(r"[][{}]", text):
        depth = max(depth + (1 if character in "[{" else -1), 0)
        if depth > _MOST_OPEN:
            return True
    lines = text.splitlines()
    is_indented = any(len(line) - len(line.lstrip(" ")) > _MOST_INDENT for line in lines)
    return is_indented or bool(_IN_A_ROW.search(text))


def wrong_with(text: str) -> str:
    """Say what is wrong with a text; empty for nothing."""
    if len(text) > LONGEST:
        return f"has {len(text)} characters; write at most {LONGEST}"
    if any(0xD800 <= ord(c) <= 0xDFFF for c in text):
        return "has a broken character in it; type it again"
    if any(ord(c) < 0x20 and c not in "\n\t" for c in text):
        return "has a control character in it; take it out"
    return ""


def _wrong_id(place: Place, text: str) -> str:
    is_id = place[-1:] == ("id",) and not ID.fullmatch(text)
    return f"“{text[:20]}” is not an id: {_ID_RULE}" if is_id else ""
