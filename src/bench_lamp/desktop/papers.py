"""Saving the papers of a job where the technician wants them."""

from pathlib import Path

from bench_lamp.cards.commands import Paper
from bench_lamp.case.case import Case
from bench_lamp.desktop.paper import write_pdf
from bench_lamp.errors import BenchLampError
from bench_lamp.report import job_json, make_sheet, readings_csv, sheet_html


def file_name(paper: Paper, case: Case) -> str:
    """Return a name for the file: the job, and what it holds."""
    job = "".join(c if c.isalnum() or c in "-_." else "-" for c in case.state.job)
    return f"{job}.{paper.value}"


def save(paper: Paper, case: Case, path: Path) -> None:
    """Write one of the papers; raise `BenchLampError` when that cannot be done."""
    try:
        if paper is Paper.PDF:
            sheet = make_sheet(case)
            write_pdf(sheet_html(sheet, medium="print"), f"{sheet.job} {sheet.board}", path)
        else:
            path.write_text(_text(paper, case), encoding="utf-8", newline="")
    except OSError as exc:
        raise BenchLampError(
            f"{path} was not written: {exc.strerror}", hint="Choose another folder."
        ) from exc


def _text(paper: Paper, case: Case) -> str:
    if paper is Paper.HTML:
        return sheet_html(make_sheet(case))
    return readings_csv(case) if paper is Paper.CSV else job_json(case)
