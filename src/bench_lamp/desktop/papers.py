"""Saving the papers of a job where the technician wants them."""

from pathlib import Path

from bench_lamp.desktop.paper import write_pdf
from bench_lamp.errors import BenchLampError
from bench_lamp.plan.situation import Situation
from bench_lamp.report import job_json, make_sheet, readings_csv, sheet_html

KINDS = {"save-pdf": ".pdf", "save-html": ".html", "save-csv": ".csv", "save-json": ".json"}


def file_name(command: str, situation: Situation) -> str:
    """Return a name for the file: the job, and what it holds."""
    job = "".join(c if c.isalnum() or c in "-_." else "-" for c in situation.state.job)
    return f"{job}{KINDS[command]}"


def save(command: str, situation: Situation, path: Path) -> None:
    """Write one of the papers; raise `BenchLampError` when that cannot be done."""
    sheet = make_sheet(situation)
    try:
        if command == "save-pdf":
            write_pdf(sheet_html(sheet, medium="print"), f"{sheet.job} {sheet.board}", path)
            return
        text = {
            "save-html": lambda: sheet_html(sheet),
            "save-csv": lambda: readings_csv(situation),
            "save-json": lambda: job_json(situation),
        }[command]()
        path.write_text(text, encoding="utf-8", newline="")
    except OSError as exc:
        raise BenchLampError(
            f"{path} was not written: {exc.strerror}", hint="Choose another folder."
        ) from exc
