"""Saving the papers of a job: each whole or not at all, and the one before is kept."""

import base64
from collections.abc import Mapping
from datetime import datetime
from pathlib import Path
from typing import Literal

from PySide6.QtCore import Qt
from PySide6.QtGui import QImage, QPagedPaintDevice

from bench_lamp.cards.commands import Paper
from bench_lamp.case.case import Case
from bench_lamp.case.clock import local
from bench_lamp.desktop.decoding import decoded
from bench_lamp.desktop.label_paper import write_label
from bench_lamp.desktop.navigation import utc_now
from bench_lamp.desktop.paper import as_file, draw_pages, write_pdf
from bench_lamp.errors import BenchLampError
from bench_lamp.files import keep_by_date, read_bytes, write_whole
from bench_lamp.journal.photos import MOST_PHOTO, photo_place
from bench_lamp.report import job_json, make_sheet, name_of, readings_csv, sheet_html
from bench_lamp.report.html import bill_html
from bench_lamp.report.label import label_of
from bench_lamp.report.offer import offer_bill, offer_words
from bench_lamp.report.sheet import job_bill
from bench_lamp.shop.stock_table import stock_csv

#: Bytes of the smallest PDF that holds a page.
LEAST_PDF = 800
#: Those with photographs: at most so many, so wide in dots.
WITH_PHOTOS = frozenset((Paper.PDF, Paper.CUSTOMER))
MOST_PHOTOS, PHOTO_DOTS = 12, 620
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
        images = photo_images(case, folder.parent) if paper in WITH_PHOTOS else {}
        html, title, drawings = _printed(paper, case, now or utc_now(), images)
        write_whole(
            path,
            lambda place: write_pdf(html, title, place, drawings, images),
            check=_pdf_wrong,
            keep=keep_by_date,
        )
    else:
        text = _text(paper, case, _embedded(case, folder.parent)).encode("utf-8", "replace")
        write_whole(
            path,
            lambda place: place.write_bytes(text),
            check=lambda place: "" if place.stat().st_size == len(text) else "it was cut off",
            keep=keep_by_date,
        )
    return path


def _printed(
    paper: Paper, case: Case, now: datetime, images: Mapping[str, QImage]
) -> tuple[str, str, dict[str, str]]:
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
    version: Literal["shop", "customer"] = "customer" if paper is Paper.CUSTOMER else "shop"
    sources = {name.partition(":")[2]: name for name in images}
    html = sheet_html(
        sheet, medium="print", version=version, photos=sources, photo_width=PHOTO_DOTS
    )
    return html, title, drawings


def photo_images(case: Case, data: Path) -> dict[str, QImage]:
    """Return a job's photographs as they go on paper, by the name that the HTML gives them.

    Those that are not here, or cannot be read, are left out.
    """
    found = {}
    for photo in case.state.photos[:MOST_PHOTOS]:
        place = photo_place(data, photo.sha256, photo.suffix)
        if place is None or not place.exists():
            continue
        try:
            image = decoded(read_bytes(place, most=MOST_PHOTO), place.name, 2 * PHOTO_DOTS)
        except BenchLampError:
            continue
        smooth = Qt.TransformationMode.SmoothTransformation
        found[f"photo:{photo.sha256}"] = image.scaledToWidth(PHOTO_DOTS, smooth)
    return found


def print_sheet(case: Case, printer: QPagedPaintDevice, images: Mapping[str, QImage]) -> int:
    """Draw the sheet with its photographs on a printer; return the number of pages."""
    html, title, drawings = _printed(Paper.PDF, case, utc_now(), images)
    return draw_pages(printer, html, title, drawings, images)


def save_bundle(case: Case, folder: Path, profiles: Mapping[str, Path]) -> Path:
    """Write the whole job as one file that opens on another bench, with its profile; return where."""
    from bench_lamp.journal.job_bundle import write_job
    from bench_lamp.journal.merging import BUNDLE_SUFFIX
    from bench_lamp.journal.store import FILE_NAME

    path = folder / f"{name_of(case.state.job)}{BUNDLE_SUFFIX}"
    folder.mkdir(parents=True, exist_ok=True)
    own = {k: v for k, v in profiles.items() if k == case.profile.id}
    places = {p.sha256: photo_place(folder.parent, p.sha256, p.suffix) for p in case.state.photos}
    photos = {f"{s}{p.suffix}": p for s, p in places.items() if p is not None and p.exists()}
    write_job(path, folder.parent / FILE_NAME, case.state.job, own, photos)
    return path


def _embedded(case: Case, data: Path) -> dict[str, str]:
    """Return a job's photographs as they stand in an HTML file of its own, by their sums."""
    found = {}
    for name, image in photo_images(case, data).items():
        coded = base64.b64encode(as_file(image, b"jpeg", 85)).decode()
        found[name.partition(":")[2]] = f"data:image/jpeg;base64,{coded}"
    return found


def _text(paper: Paper, case: Case, photos: Mapping[str, str]) -> str:
    if paper is Paper.HTML:
        return sheet_html(make_sheet(case), photos=photos)
    if paper is Paper.STOCK:
        return stock_csv(case.stock)
    return readings_csv(case) if paper is Paper.CSV else job_json(case)


def _pdf_wrong(place: Path) -> str:
    """Say what is wrong with a PDF: its head, its trailer, its size."""
    raw = place.read_bytes()
    is_whole = raw[:5] == b"%PDF-" and b"%%EOF" in raw[-1024:] and b"startxref" in raw[-1024:]
    return "" if is_whole and len(raw) >= LEAST_PDF else "the PDF was cut off"
