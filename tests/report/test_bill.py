"""Bill, offer, label and sheet: amounts by hand, what the customer reads, and the shop's own words."""

from datetime import UTC, datetime
from decimal import Decimal
from xml.etree import ElementTree

import pytest
from msgspec.structs import replace

from bench_lamp.errors import BenchLampError
from bench_lamp.journal.events import Finding, Note, PartReplaced
from bench_lamp.journal.memory_events import FaultCalled, TimeSaid
from bench_lamp.journal.open_events import OpenEnd
from bench_lamp.journal.part_events import StockMoved
from bench_lamp.report.html import bill_html, sheet_html
from bench_lamp.report.label import label_of
from bench_lamp.report.ladder_svg import BOLD, LEFT, LETTER, TRACK, ladder_svg
from bench_lamp.report.offer import offer_bill, offer_words, offered_parts
from bench_lamp.report.sheet import job_bill, make_sheet
from bench_lamp.shop.bill import bill_of, money
from bench_lamp.shop.business import NO_BUSINESS, Business, as_settings, changed, from_settings
from bench_lamp.shop.stock import Level, levels, moves_of
from bench_lamp.shop.stock_table import said_stock

SHOP = Business(name="Tidemill Lane Workshop", rate=38.0, tax=0.2)


def test_a_bill_to_the_last_coin():
    """41 min at 38 an hour are 25.97; with 4.20 and 1.235 (to 1.24) that is 31.41; a fifth of it 6.28."""
    stock = (
        Level(part="a", place="drawer 1", count=2, price=4.2),
        Level(part="b", place="", count=1, price=1.235),
    )
    found = bill_of(41, [("a", "drawer 1"), ("b", "elsewhere"), ("c", "")], stock, SHOP)
    amounts = [line.amount for line in found.lines]
    assert amounts == [Decimal("25.97"), Decimal("4.20"), Decimal("1.24"), None]
    assert (found.net, found.tax, found.total) == (
        Decimal("31.41"),
        Decimal("6.28"),
        Decimal("37.69"),
    )
    assert found.unpriced == ("c",)


@pytest.mark.parametrize(
    ("minutes", "rate", "net"),
    [(60, 38, "38.00"), (1, 38, "0.63"), (90, 0, "0.00"), (0, 38, "0.00"), (7.4, 60, "7.00")],
)
def test_labour_by_the_minute(minutes, rate, net):
    assert bill_of(minutes, [], (), Business(rate=rate)).net == Decimal(net)


def test_money_as_it_is_written():
    assert money(Decimal("5"), "€") == "€\u202f5.00"


@pytest.mark.parametrize(
    ("text", "name", "value"),
    [
        ("name Tidemill Lane Workshop", "name", "Tidemill Lane Workshop"),
        ("address Tidemill Lane; Quillhaven", "address", "Tidemill Lane; Quillhaven"),
        ("rate 38,50", "rate", 38.5),
        ("Tax: 20 %", "tax", 0.2),
        ("currency CHF", "currency", "CHF"),
        ("label 89 x 36 mm", "label_w", 89.0),
    ],
)
def test_one_thing_of_the_shop_at_a_time(text, name, value):
    assert getattr(changed(NO_BUSINESS, text), name) == value


@pytest.mark.parametrize(
    "text",
    [
        "",
        "rate",
        "rate soon",
        "rate -1",
        "tax 200 %",
        "currency dollars",
        "label 3x3",
        "colour red",
        f"name {'x' * 200}",
    ],
)
def test_what_is_no_shop_is_refused_with_the_mend(text):
    with pytest.raises(BenchLampError) as found:
        changed(NO_BUSINESS, text)
    assert found.value.hint


def test_the_shop_goes_through_its_settings_and_nonsense_is_the_default():
    assert from_settings(as_settings(SHOP)) == (SHOP, ())
    found, odd = from_settings({"rate": "many", "tax": "inf", "name": "x"})
    assert (found.rate, found.tax, found.name, odd) == (0.0, 0.0, "x", ("rate", "tax"))


def test_a_price_is_said_with_the_part():
    move = said_stock("stock 5 x 100 uF 350 V in drawer 12 @ 1,20")
    assert (move.count, move.place, move.price) == (5, "drawer 12", 1.2)
    assert said_stock("stock 5 x 100 uF 350 V in drawer 12").price == -1
    with pytest.raises(BenchLampError, match="no price"):
        said_stock("stock 5 x 100 uF in drawer 12 @ 9999999")


@pytest.fixture
def told(live_job):
    live_job.read(C=0.1)
    live_job.log(
        StockMoved(part="10 A slow 250 V", place="drawer 1", count=8, price=0.6),
        FaultCalled(part="F4", odds=0.93, tests=4),
        PartReplaced(part="F4", out="x", fitted="10 A slow 250 V", source="drawer 1"),
        Note(text="the holder is loose <b>"),
        TimeSaid(minutes=60),
        OpenEnd(what="temporary part", target="C2", text="10000 µF for now"),
    )
    live_job.read_healthy()
    return live_job


def case_of(job):
    return replace(job.seen().case, stock=levels(moves_of(job.state)), business=SHOP)


def test_the_jobs_bill_takes_its_time_and_the_price_of_the_drawer(told):
    bill = job_bill(case_of(told))
    assert [str(line.amount) for line in bill.lines] == ["38.00", "0.60"]
    assert str(bill.total) == "46.32"
    html = bill_html(make_sheet(case_of(told)), bill, title="Bill", date="17 Nov 2026")
    assert "46.32" in html
    assert "Tidemill Lane Workshop" in html


def test_the_shop_reads_why_and_the_customer_what_is_open(told):
    sheet = make_sheet(case_of(told))
    assert (
        sheet.believed == ("F4 replaced, at 93\u202f% after 4 readings: cured.",)
        or "93" in sheet.believed[0]
    )
    shop, customer = sheet_html(sheet), sheet_html(sheet, version="customer")
    assert "Why that was it" in shop
    assert "Why that was it" not in customer
    assert "C2 is a stand-in for now and has to be changed once more." in customer
    assert "the holder is loose &lt;b&gt;" in shop, "text from outside is text"
    assert "the holder is loose" not in customer
    assert "<svg" in customer


def test_the_ladder_is_a_drawing_of_what_was_read(told):
    root = ElementTree.fromstring(ladder_svg(case_of(told)))
    dots = [e for e in root.iter() if e.tag.endswith("circle")]
    texts = ["".join(e.itertext()) for e in root.iter() if e.tag.endswith("text")]
    assert any("absent" in t for t in texts)
    assert len(dots) >= len(told.profile.test_points)
    assert all(LEFT - 5 <= float(d.get("cx")) <= LEFT + TRACK + 5 for d in dots), (
        "every dot on its track"
    )
    assert "lighting at the playfield" in texts, "names are whole where they fit"


def test_a_long_name_ends_before_the_track_and_says_that_it_was_longer(orrery, make_job):
    def long(point):
        return replace(point, id=point.id + "-OF-BOARD-2", name="the far end " * 9)

    points = tuple(long(p) if p.id == "A" else p for p in orrery.test_points)
    job = make_job(replace(orrery, test_points=points))
    job.switch("live")
    job.read(**{"A-OF-BOARD-2": 5.0})
    root = ElementTree.fromstring(ladder_svg(job.seen().case))
    long_ones = [e for e in root.iter() if e.tag.endswith("text") and (e.text or "").endswith("…")]
    assert long_ones
    for each in long_ones:
        font = BOLD if each.get("font-weight") == "600" else LETTER
        assert float(each.get("x")) + font * len(each.text) <= LEFT


def test_nothing_read_is_no_drawing(job):
    assert ladder_svg(job.seen().case) == ""


def test_an_offer_names_what_is_likely_and_the_usual_time(live_job, hunted):
    live_job.read(C=0.1, Q=0.0)
    live_job.log(Finding(seen="bulged", place="C1"))
    case = replace(hunted(live_job).case, business=SHOP)
    assert "C1" in offered_parts(case)
    bill = offer_bill(case)
    assert bill.lines[0].count.startswith("60"), "an hour where no such job was done yet"
    assert any(w.startswith("C1: ") for w in offer_words(case))


def test_a_label_holds_the_tag_in_letters_and_as_a_code(told):
    label = label_of(case_of(told), datetime(2026, 11, 17, 12, tzinfo=UTC))
    assert (label.tag, label.day, label.next_check) == ("QH-050", "17 Nov 2026", "Nov 2027")
    size = len(label.code)
    assert size == len(label.code[0]) >= 21
    # The three corners of every QR code: a dark frame of seven modules around a light one.
    for x, y in ((0, 0), (size - 7, 0), (0, size - 7)):
        assert all(label.code[y][x + n] for n in range(7))
        assert not any(label.code[y + 1][x + n] for n in range(1, 6))
