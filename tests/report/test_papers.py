"""What leaves the bench: sheet, HTML, CSV, JSON, PDF."""

import csv
import io
import json

import pytest

from bench_lamp.journal import Event
from bench_lamp.journal.events import (
    BODIES,
    ActionDone,
    CameWith,
    Complaint,
    Finding,
    JobClosed,
    Note,
    PartReplaced,
    ReadingTaken,
    Struck,
)
from bench_lamp.journal.open_events import ComplaintAsked
from bench_lamp.report import job_json, make_sheet, readings_csv, sheet_html
from bench_lamp.units.plain import from_plain


@pytest.fixture
def told(live_job):
    """Return a job with something on every part of the sheet."""
    live_job.log(Complaint(text="<script>alert(1)</script> & hums"), CameWith(text="one key"))
    live_job.log(Finding(seen="leaking", place="C4"))
    live_job.read_healthy()
    live_job.read(C=0.1)
    live_job.log(PartReplaced(part="F4", out="10 A slow, blown", fitted="10 A slow"))
    live_job.log(ActionDone(action="cleaned", target="J3"))
    live_job.read_healthy("C")
    live_job.log(Note(text="watch C4", about="advice"))
    return live_job


def test_the_sheet_has_readings_before_and_after(told):
    sheet = make_sheet(told.seen().case)
    rows = {r.point: r for r in sheet.readings}
    assert len(rows) == 14
    assert rows["C"].before.replace("\u202f", " ") == "17.95 V"
    assert rows["C"].after.replace("\u202f", " ") == "17.95 V"
    assert rows["A"].after == ""
    assert sheet.findings == ("leaking C4",)
    assert sheet.replaced == (("F4", "10 A slow, blown", "10 A slow"),)
    assert sheet.actions == ("J3 cleaned",)
    assert sheet.advice == ("watch C4",)
    assert sheet.proof == "Not proved: 1 of 14 points read good since the last change."
    assert sheet.open_ends[0] == "The board is still marked live."
    assert sheet.open_ends[1].startswith("Not proved")


def test_a_proved_job_says_so(told):
    told.read_healthy()
    assert make_sheet(told.seen().case).proof.startswith("Not proved"), "nobody asked the customer"
    told.works()
    told.log(ComplaintAsked(is_gone=True), JobClosed(proved=True))
    sheet = make_sheet(told.seen().case)
    assert sheet.proof.startswith("Proved: 14 of 14")
    assert sheet.open_ends == ()
    assert sheet.closed


@pytest.mark.parametrize("medium", ["screen", "print"])
def test_the_html_shows_text_as_text(told, medium):
    html = sheet_html(make_sheet(told.seen().case), medium=medium)
    assert "<script>" not in html
    assert "&lt;script&gt;alert(1)&lt;/script&gt; &amp; hums" in html
    for words in ("QH-050/1", "leaking C4", "J3 cleaned", "watch C4", "Local electrical codes"):
        assert words in html


def test_the_csv_has_base_units_and_no_formulas(told):
    told.log(
        ReadingTaken(target="=HYPERLINK(1)", mode="dc V", value=-5.1, resolution=0.1, meter="@x")
    )
    told.log(ReadingTaken(target="A", mode="dc V", value=0.0, overload=True))
    told.log(ReadingTaken(target="F4", mode="tone", value=1.0))
    rows = list(csv.DictReader(io.StringIO(readings_csv(told.seen().case))))
    assert rows[-3]["target"] == "'=HYPERLINK(1)"
    assert rows[-3]["meter"] == "'@x"
    assert float(rows[-3]["value"]) == -5.1
    assert (rows[-2]["value"], rows[-2]["verdict"]) == ("OL", "high")
    assert (rows[-1]["value"], rows[-1]["verdict"]) == ("open", "open")
    for row in rows:
        assert not any(str(v).startswith(("=", "+", "@")) for v in row.values())
    assert [r["stale"] for r in rows if r["target"] == "C"] == ["yes", "yes", ""]


def test_the_json_holds_every_event_struck_ones_too(told):
    last = told.events[-1].id
    told.log(Struck(event=last, reason="not so"))
    data = json.loads(job_json(told.seen().case))
    assert data["format"] == "bench-lamp job 1"
    assert len(data["events"]) == len(told.events)
    assert [e["id"] for e in data["events"] if e["struck_by"]] == [last]
    bodies = [from_plain(BODIES[e["body"]["kind"]], e["body"]) for e in data["events"]]
    assert bodies == [event.body for event in told.events if isinstance(event, Event)]


def test_the_pdf_has_pages_and_searchable_words(qapp, told, tmp_path):
    from bench_lamp.desktop.look import load_fonts
    from bench_lamp.desktop.paper import write_pdf

    load_fonts()
    for i in range(80):
        told.log(Note(text=f"advice number {i}", about="advice"))
    html = sheet_html(make_sheet(told.seen().case), medium="print")
    path = tmp_path / "sheet.pdf"
    assert write_pdf(html, "QH-050/1 Orrery Nights", path) >= 2
    content = path.read_bytes()
    assert content.startswith(b"%PDF")
    assert b"/FontFile" in content


@pytest.mark.parametrize(
    "text",
    ["=1+1", "+1", "-1", "@x", " =1+1", "\t=1", "\n=1", "\r=1", "\u00a0=1", "\ufeff=1", "\u200b=1", "\uff1d1",
     " \uff0b1", "\uff20x", "\ttab first"],
)  # fmt: skip
def test_no_cell_can_be_run_as_a_formula(text):
    from bench_lamp.report.exports import _safe

    assert _safe(text) == f"'{text}"


@pytest.mark.parametrize("text", ["A", "5 V", "C14+", "a=b", "F4 - open", ""])
def test_a_harmless_cell_stays_as_it_is(text):
    from bench_lamp.report.exports import _safe

    assert _safe(text) == text
