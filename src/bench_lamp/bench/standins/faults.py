"""What goes wrong on a line: pulled cables, garbage, half lines, late answers, another device on the port."""

import time
from collections.abc import Callable
from typing import Literal

Wrong = Literal["", "pulled", "garbage", "half", "late", "never", "another device", "two at once"]
ALL: tuple[Wrong, ...] = (
    "pulled", "garbage", "half", "late", "never", "another device", "two at once",
)  # fmt: skip


class LineFault:
    """Spoils the next answers, as it is told."""

    def __init__(self) -> None:
        self.what: Wrong = ""
        #: How late a late answer is, and how long a server that never answers is silent, in seconds.
        self.late_s = 0.3

    def spoil(self, write: Callable[[bytes], object], answer: bytes) -> bool:
        """Write an answer, or what comes instead of it; whether the line stays open."""
        what = self.what
        if what:
            # Only then: it may be told from another thread at this moment.
            self.what = ""
        match what:
            case "pulled":
                return False
            case "garbage":
                write(b"\xff\x00\x9b[31m\x07\xfe" + answer[::-1].replace(b"\n", b"") + b"\n")
            case "half":
                write(answer[: len(answer) // 2])
                return False
            case "late" | "never":
                time.sleep(self.late_s)
                write(answer if what == "late" else b"")
            case "another device":
                write(b"$GPGGA,120000,,,,0,00,,,M,,M,,*66\n")
            case "two at once":
                write(answer.replace(b"\n", b"") + answer)
            case _:
                write(answer)
        return True
