"""Files from outside: opened in one place, regular ones only, bounded, with named errors.

May import: `units`, `errors`.
Must not import: anything else of the program; what a file means is for its reader to say.
"""

from bench_lamp.files.lines import blocks_of_lines, first_line
from bench_lamp.files.opening import (
    FileError,
    Progress,
    StoppedError,
    listed,
    opened,
    read_bytes,
    read_text,
    shown_name,
)
from bench_lamp.files.writing import keep_by_date, write_whole

__all__ = [
    "FileError",
    "Progress",
    "StoppedError",
    "blocks_of_lines",
    "first_line",
    "keep_by_date",
    "listed",
    "opened",
    "read_bytes",
    "read_text",
    "shown_name",
    "write_whole",
]
