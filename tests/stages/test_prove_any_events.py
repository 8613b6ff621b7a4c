"""Whatever the journal holds, the proof, its pictures, the shelf, the history and the papers open."""

from datetime import timedelta

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from tests.conftest import Job
from tests.journal.test_fold import EVERY_BODY
from tests.seen import take

from bench_lamp.board import ProfileLibrary
from bench_lamp.case.proof import unproved
from bench_lamp.checks import load_meters
from bench_lamp.journal.proof_events import BurnBegun, FunctionTried, LoadStepRead
from bench_lamp.report.html import sheet_html
from bench_lamp.report.offer import offer_bill
from bench_lamp.report.sheet import make_sheet
from bench_lamp.stages import card_for
from bench_lamp.stages.prove.cards import PICKED, part_views, prove_picture
from bench_lamp.stages.prove.kinds import PARTS
from bench_lamp.views.history import history_page
from bench_lamp.views.shelf import shelf_card

LIBRARY = ProfileLibrary()
METER = load_meters()["hearthwell-60"]
NUMBERS = st.sampled_from([0.0, 1.0, -1.0, 0.001, 36.0, 1e12, -1e12])
POINTS = st.sampled_from(["OUT", "TP2", "A", "C", "ZZ", ""])
#: What is drawn of every kind, and more of what the proof is made of, with names that exist.
BODIES = st.one_of(
    EVERY_BODY,
    st.builds(LoadStepRead, point=POINTS, share=st.sampled_from([0.0, 0.25, 0.5, 1.0]), ohms=NUMBERS, volts=NUMBERS),
    st.builds(
        BurnBegun, hours=NUMBERS, every_min=NUMBERS, points=st.lists(POINTS, max_size=3).map(tuple),
        on_min=NUMBERS, off_min=NUMBERS,
    ),
    st.builds(FunctionTried, step=st.sampled_from(["coin up", "x", ""]), word=st.sampled_from(["works", "fails"])),
)  # fmt: skip
TYPED = st.sampled_from(
    ["", "36.2", "4 h every 30: A", "3 fails: y", "end: x", "OL", "-5", "°", "1e999", "x works"]
)


@pytest.mark.parametrize("name", ["tessenby-orrery-nights", "ruskel-36", "melodane-90"])
@settings(max_examples=40, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(
    bodies=st.lists(BODIES, max_size=14),
    minutes=st.integers(0, 900),
    part=st.sampled_from([p.id for p in PARTS]),
    typed=TYPED,
)
def test_everything_of_the_proof_opens(name, bodies, minutes, part, typed):
    job = Job(LIBRARY.get(name), METER)
    job.log(*bodies)
    job.now += timedelta(minutes=minutes)
    for focus in ("", f"{PICKED}{part}"):
        seen = job.seen(focus=focus)
        card = card_for("prove", *seen)
        assert card.title
        assert len(part_views(*seen)) == len(PARTS)
        picture = prove_picture(*seen)
        assert picture is None or picture.title
        if card.entry is not None:
            assert take("prove", *seen, typed) is not None
    case = job.seen().case
    assert shelf_card(case, job.now).job == job.name
    assert history_page(case).sections
    unproved(case)
    sheet = make_sheet(case)
    assert job.name in sheet_html(sheet, medium="print", version="customer")
    assert offer_bill(case).total >= 0
