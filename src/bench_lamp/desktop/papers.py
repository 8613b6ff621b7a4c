"""Saving the papers of a job: each whole or not at all, and the one before is kept."""

import hashlib
from datetime import datetime
from pathlib import Path

from bench_lamp.cards.commands import Paper
from bench_lamp.case.case import Case
from bench_lamp.desktop.paper import write_pdf
from bench_lamp.errors import BenchLampError
from bench_lamp.files import write_whole
from bench_lamp.report import job_json, make_sheet, readings_csv, sheet_html

#: Bytes of the longest name without its ending, and of the smallest PDF that holds a page.
LONGEST, LEAST_PDF = 120, 800


def file_name(paper: Paper, case: Case) -> str:
    """Return a name for the file: the job, and what it holds."""
    return f"{name_of(case.state.job)}.{paper.value}"


def name_of(job: str) -> str:
    """Return a job's name as a file can have it; two jobs never have the same.

    The slash becomes `_`; whatever else a file system or a shell could take amiss becomes `=` and
    its two digits: `QH-017/1` is `QH-017_1`, `QH_1` is `QH=5F1`.

    >>> name_of("QH-017/1"), name_of("QH-017-1"), name_of(".hidden")
    ('QH-017_1', 'QH-017-1', '=2Ehidden')
    """
    made = "".join(
        "_" if c == "/" else c if c.isalnum() or (c in ".-" and number) else _escaped(c)
        for number, c in enumerate(job)
    )
    if len(made.encode()) <= LONGEST:
        return made or "="
    digest = hashlib.sha256(job.encode("utf-8", "surrogatepass")).hexdigest()[:16]
    return f"{made.encode()[: LONGEST - 17].decode('utf-8', 'ignore')}={digest}"


def _escaped(character: str) -> str:
    return "".join(f"={byte:02X}" for byte in character.encode("utf-8", "surrogatepass"))


def save(paper: Paper, case: Case, folder: Path) -> Path:
    """Write one of the papers into a folder, and return where.

    One of the same name is kept under its date.

    Raises
    ------
    BenchLampError
        When it cannot be written whole; what was there before stays.
    """
    path = folder / file_name(paper, case)
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as exc:
        raise BenchLampError(
            f"{folder} cannot be made: {exc.strerror}", hint="Move away what is in its place."
        ) from exc
    if paper is Paper.PDF:
        sheet = make_sheet(case)
        html, title = sheet_html(sheet, medium="print"), f"{sheet.job} {sheet.board}"
        write_whole(path, lambda place: write_pdf(html, title, place), check=_pdf_wrong, keep=_keep)
    else:
        text = _text(paper, case).encode("utf-8", "replace")
        write_whole(
            path,
            lambda place: place.write_bytes(text),
            check=lambda place: "" if place.stat().st_size == len(text) else "it was cut off",
            keep=_keep,
        )
    return path


def _text(paper: Paper, case: Case) -> str:
    if paper is Paper.HTML:
        return sheet_html(make_sheet(case))
    return readings_csv(case) if paper is Paper.CSV else job_json(case)


def _pdf_wrong(place: Path) -> str:
    """Say what is wrong with a PDF: its head, its trailer, its size."""
    raw = place.read_bytes()
    is_whole = raw[:5] == b"%PDF-" and b"%%EOF" in raw[-1024:] and b"startxref" in raw[-1024:]
    return "" if is_whole and len(raw) >= LEAST_PDF else "the PDF was cut off"


def _keep(path: Path) -> None:
    """Give the paper that is there the name of its date; a link is not one of ours and goes."""
    if path.is_symlink() or not path.is_file():
        return
    day = datetime.fromtimestamp(path.stat().st_mtime).astimezone().strftime("%Y-%m-%d %H%M%S")
    kept = path.with_name(f"{path.stem} {day}{path.suffix}")
    number = 2
    while kept.exists() or kept.is_symlink():
        kept = path.with_name(f"{path.stem} {day} ({number}){path.suffix}")
        number += 1
    path.rename(kept)
