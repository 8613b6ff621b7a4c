"""Saving the papers of a job: each whole or not at all, and the one before is kept."""

from collections.abc import Mapping
from datetime import datetime
from pathlib import Path

from bench_lamp.cards.commands import Paper
from bench_lamp.case.case import Case
from bench_lamp.case.clock import local
from bench_lamp.desktop.label_paper import write_label
from bench_lamp.desktop.navigation import utc_now
from bench_lamp.desktop.paper import write_pdf
from bench_lamp.errors import BenchLampError
from bench_lamp.files import keep_by_date, write_whole
from bench_lamp.report import job_json, make_sheet, name_of, readings_csv, sheet_html
from bench_lamp.report.html import bill_html
from bench_lamp.report.label import label_of
from bench_lamp.report.offer import offer_bill, offer_words
from bench_lamp.report.sheet import job_bill
from bench_lamp.shop.stock_table import stock_csv

#: Bytes of the smallest PDF that holds a page.
LEAST_PDF = 800
#: Papers that are laid out as pages.
PRINTED = frozenset((Paper.PDF, Paper.CUSTOMER, Paper.BILL, Paper.OFFER))


def save(paper: Paper, case: Case, folder: Path, now: datetime | None = None) -> Path:
    """Write one of the papers into a folder, and return where.

    One of the same name is kept under its date.

    Raises
    ------
    BenchLampError
        When it cannot be written whole; what was there before stays.
    """
    path = folder / f"{name_of(case.state.job)}.{paper.value}"
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as exc:
        raise BenchLampError(
            f"{folder} cannot be made: {exc.strerror}", hint="Move away what is in its place."
        ) from exc
    if paper is Paper.LABEL:
        label = label_of(case, now or utc_now())
        write_whole(path, lambda p: write_label(label, p), check=_pdf_wrong, keep=keep_by_date)
    elif paper in PRINTED:
        html, title, drawings = _printed(paper, case, now or utc_now())
        write_whole(
            path,
            lambda place: write_pdf(html, title, place, drawings),
            check=_pdf_wrong,
            keep=keep_by_date,
        )
    else:
        text = _text(paper, case).encode("utf-8", "replace")
        write_whole(
            path,
            lambda place: place.write_bytes(text),
            check=lambda place: "" if place.stat().st_size == len(text) else "it was cut off",
            keep=keep_by_date,
        )
    return path


def _printed(paper: Paper, case: Case, now: datetime) -> tuple[str, str, dict[str, str]]:
    """Return a paper's HTML, its title, and its drawings by name."""
    sheet, day = make_sheet(case), local(now, "%d %b %Y")
    title = f"{sheet.job} {sheet.board}"
    drawings = {"ladder.svg": sheet.ladder} if sheet.ladder else {}
    if paper is Paper.BILL:
        return bill_html(sheet, job_bill(case), title="Bill", date=day), f"Bill {sheet.job}", {}
    if paper is Paper.OFFER:
        said = tuple(offer_words(case))
        html = bill_html(sheet, offer_bill(case), title="Offer", date=day, said=said)
        return html, f"Offer {sheet.job}", {}
    if paper is Paper.CUSTOMER:
        return sheet_html(sheet, medium="print", version="customer"), title, drawings
    return sheet_html(sheet, medium="print"), title, drawings


def save_bundle(case: Case, folder: Path, profiles: Mapping[str, Path]) -> Path:
    """Write the whole job as one file that opens on another bench, with its profile; return where."""
    from bench_lamp.journal.job_bundle import write_job
    from bench_lamp.journal.merging import BUNDLE_SUFFIX
    from bench_lamp.journal.store import FILE_NAME

    path = folder / f"{name_of(case.state.job)}{BUNDLE_SUFFIX}"
    folder.mkdir(parents=True, exist_ok=True)
    own = {k: v for k, v in profiles.items() if k == case.profile.id}
    write_job(path, folder.parent / FILE_NAME, case.state.job, own)
    return path


def _text(paper: Paper, case: Case) -> str:
    if paper is Paper.HTML:
        return sheet_html(make_sheet(case))
    if paper is Paper.STOCK:
        return stock_csv(case.stock)
    return readings_csv(case) if paper is Paper.CSV else job_json(case)


def _pdf_wrong(place: Path) -> str:
    """Say what is wrong with a PDF: its head, its trailer, its size."""
    raw = place.read_bytes()
    is_whole = raw[:5] == b"%PDF-" and b"%%EOF" in raw[-1024:] and b"startxref" in raw[-1024:]
    return "" if is_whole and len(raw) >= LEAST_PDF else "the PDF was cut off"
