"""The fold: strikes, staleness, ids, and that every event survives its row."""

import json
import uuid
from datetime import UTC, datetime
from itertools import pairwise
from typing import get_args

import pytest
from hypothesis import given
from hypothesis import strategies as st

from bench_lamp.journal import Event, fold
from bench_lamp.journal.events import (
    BODIES,
    ActionDone,
    CameWith,
    CheckNoted,
    Complaint,
    Finding,
    FuseFitted,
    GateMarked,
    JobClosed,
    JobOpened,
    MainsSeen,
    Note,
    PartReplaced,
    PowerConfirmed,
    ReadingTaken,
    Seen,
    SeriesTaken,
    StageMarked,
    Struck,
    Swept,
)
from bench_lamp.journal.fold import Folding
from bench_lamp.journal.fold_steps import STEPS
from bench_lamp.journal.ids import IdMaker
from bench_lamp.journal.logic_events import (
    CellsMarked,
    ImageJudged,
    LaneRead,
    PartTried,
    PinProbed,
    RoundBegun,
    SelfTestSeen,
)
from bench_lamp.journal.memory_events import (
    FaultCalled,
    PhotoTaken,
    PracticeSaid,
    Signed,
    TimeSaid,
    WaitsFor,
)
from bench_lamp.journal.open_events import (
    ComplaintAsked,
    JobWithdrawn,
    KindCorrected,
    LoadHung,
    OpenEnd,
)
from bench_lamp.journal.part_events import PartMeasured, PlateRead, StockMoved
from bench_lamp.journal.proof_events import (
    BurnBegun,
    BurnEnded,
    FirstMinuteWatched,
    FunctionTried,
    HeatFelt,
    LoadStepRead,
)
from bench_lamp.journal.reader import checked_event
from bench_lamp.journal.rows import COLUMNS, VERSION, JournalError, SetAside, to_event, to_row
from bench_lamp.journal.sums import read_parents
from bench_lamp.journal.trim_events import (
    AdjusterFound,
    AdjusterTurned,
    CoilHeld,
    PanelPaired,
    PlaceTried,
    ReferenceRead,
    SwitchStood,
    TrimEnded,
    TrimRead,
    TrimStep,
)
from bench_lamp.units.plain import to_plain

ID = "019a0000-0000-7000-8000-000000000000"
WORDS = st.text(max_size=40)
#: Few enough that several events speak of one thing.
FIGURES = st.floats(-1e12, 1e12)
TRIMS = st.sampled_from(["bias", "grip", ""])
NAMES = st.lists(WORDS, max_size=4).map(tuple)
LEVELS = st.lists(st.integers(0, 255), max_size=6).map(tuple)
EVERY_BODY = st.one_of(
    st.builds(JobOpened, tag=WORDS, profile=WORDS),
    st.builds(Complaint, text=WORDS),
    st.builds(CameWith, text=WORDS),
    st.builds(MainsSeen, place=st.sampled_from(["selector", "sticker", "fuse"]), text=WORDS),
    st.builds(Finding, seen=st.sampled_from(get_args(Seen)), place=WORDS),
    st.builds(PowerConfirmed, power=st.sampled_from(["off", "discharged", "live"]), against=WORDS),
    st.builds(
        ReadingTaken,
        target=WORDS,
        mode=st.sampled_from(["dc V", "ac V", "ohm", "diode", "tone"]),
        value=st.floats(-1e12, 1e12),
        resolution=st.floats(0, 1),
        overload=st.booleans(),
        power=st.sampled_from(["off", "discharged", "live"]),
    ),
    st.builds(Struck, event=WORDS, reason=WORDS),
    st.builds(ActionDone, action=st.sampled_from(["reseated", "link opened"]), target=WORDS),
    st.builds(PartReplaced, part=WORDS, out=WORDS, fitted=WORDS),
    st.builds(
        StageMarked, stage=st.sampled_from(["rails", "prove"]), mark=st.sampled_from(["done"])
    ),
    st.builds(Note, text=WORDS, about=st.sampled_from(["bench", "advice"])),
    st.builds(JobClosed, proved=st.booleans()),
    st.builds(FuseFitted, fuse=WORDS, text=WORDS),
    st.builds(Swept, target=WORDS, beeped=st.lists(WORDS, max_size=4).map(tuple)),
    st.builds(
        SeriesTaken,
        target=WORDS,
        mode=st.just("ohm"),
        seconds=st.lists(st.floats(0.1, 60), max_size=4).map(tuple),
        values=st.lists(st.floats(-1, 1e7), max_size=4).map(tuple),
    ),
    st.builds(
        CheckNoted, check=WORDS, word=st.sampled_from(["good", "bad", "judge live"]), text=WORDS
    ),
    st.builds(
        GateMarked, gate=WORDS, mark=st.sampled_from(["passed", "failed", "begun"]), reason=WORDS
    ),
    st.builds(
        LoadHung, load=WORDS, is_on=st.booleans(), ohms=st.floats(0, 1e6), watts=st.floats(0, 500)
    ),
    st.builds(
        OpenEnd,
        what=st.sampled_from(["on order", "link", "left out"]),
        target=WORDS,
        text=WORDS,
        is_made_good=st.booleans(),
    ),
    st.builds(ComplaintAsked, is_gone=st.booleans()),
    st.builds(KindCorrected, profile=WORDS),
    st.builds(JobWithdrawn, reason=WORDS),
    st.builds(PartMeasured, part=WORDS, text=WORDS),
    st.builds(PlateRead),
    st.builds(TrimRead, trim=TRIMS, what=WORDS, source=WORDS, value=FIGURES, resolution=FIGURES),
    st.builds(AdjusterTurned, trim=TRIMS, adjuster=WORDS, turns=FIGURES),
    st.builds(AdjusterFound, trim=TRIMS, adjuster=WORDS, text=WORDS),
    st.builds(TrimStep, trim=TRIMS, step=WORDS, text=WORDS),
    st.builds(PanelPaired, trim=TRIMS, shown=FIGURES, true=FIGURES),
    st.builds(CoilHeld, trim=TRIMS),
    st.builds(ReferenceRead, trim=TRIMS, state=WORDS, setting=FIGURES, shown=FIGURES),
    st.builds(SwitchStood, trim=TRIMS, setting=WORDS, position=WORDS),
    st.builds(TrimEnded, trim=TRIMS, reason=WORDS),
    st.builds(PlaceTried, place=WORDS),
    st.builds(FunctionTried, step=WORDS, text=WORDS),
    st.builds(FaultCalled, part=WORDS, odds=FIGURES),
    st.builds(PracticeSaid, point=WORDS, value=FIGURES, reason=WORDS),
    st.builds(TimeSaid, minutes=FIGURES),
    st.builds(WaitsFor, what=st.sampled_from(["parts", ""]), text=WORDS),
    st.builds(Signed, by=WORDS),
    st.builds(PhotoTaken, sha256=WORDS, suffix=WORDS, about=WORDS),
    st.builds(FirstMinuteWatched, text=WORDS),
    st.builds(LoadStepRead, point=TRIMS, share=FIGURES, ohms=FIGURES, volts=FIGURES),
    st.builds(HeatFelt, part=WORDS, celsius=FIGURES),
    st.builds(BurnBegun, hours=FIGURES, every_min=FIGURES, points=st.tuples(TRIMS)),
    st.builds(BurnEnded, reason=WORDS),
    st.builds(StockMoved, part=WORDS, place=WORDS, count=st.integers(-5, 5)),
    st.builds(SelfTestSeen, test=WORDS, code=WORDS),
    st.builds(CellsMarked, test=WORDS, cells=NAMES, mark=WORDS, showed=WORDS),
    st.builds(RoundBegun, test=WORDS),
    st.builds(LaneRead, lane=WORDS, wrote=LEVELS, came=LEVELS, source=WORDS),
    st.builds(
        PartTried, part=WORDS, how=st.sampled_from(["pulled", "donor"]), result=st.just("same")
    ),
    st.builds(
        PinProbed, part=WORDS, pin=st.integers(1, 64), level=st.sampled_from(["high", "low"])
    ),
    st.builds(
        ImageJudged,
        image=WORDS,
        file=WORDS,
        size=st.integers(0, 2**24),
        crc32=WORDS,
        sha1=WORDS,
        verdict=st.sampled_from(["good", "wrong"]),
        text=WORDS,
    ),
)


@given(EVERY_BODY)
def test_every_event_survives_its_row(body):
    event = Event(
        id=IdMaker()(), job="QH-001/1", at=datetime(2026, 1, 2, 3, 4, 5, tzinfo=UTC), body=body
    )
    row = to_row(event, [("before", "0" * 64)])
    assert to_event([row[name] for name in COLUMNS]) == event
    stored = tuple(row[name].encode() for name in (*COLUMNS, "parents", "sum"))
    assert checked_event(stored) == event
    assert read_parents(row["parents"]) == (("before", "0" * 64),)


def test_every_kind_of_event_is_tried():
    assert len(BODIES) == len(EVERY_BODY.original_strategies)


@pytest.mark.parametrize(
    ("kind", "body", "says"),
    [
        ("reading", "{", "cut off"),
        ("reading", "{}", "incomplete"),
        ("reading", "[]", "not a record"),
        ("reading", '{"target": "A", "mode": "dc V", "value": "x"}', "float expected"),
        ("reading", '{"target": "A", "mode": "dc V", "value": NaN}', "NaN"),
        ("reading", '{"target": "A", "mode": "dc V", "value": 1e308}', "not a possible reading"),
        (
            "reading",
            f'{{"target": "A", "mode": "dc V", "value": {"9" * 400}}}',
            "not a possible count",
        ),
        ("note", "[" * 100_000, "cut off"),
        ("note", f'{{"version": 1, "text": "{"x" * 300_000}"}}', "more than 256 kB"),
        ("note", b'{"version": 1, "text": "\xff\xfe"}', "not text"),
        ("note", None, "does not hold text"),
        ("hologram", "{}", "its kind is 'hologram'"),
        ("note", '{"version": 2, "text": "x"}', "version 2 of 'note'"),
        ("note", '{"version": 1, "text": "x", "colour": "red"}', "Note has no field 'colour'"),
    ],
)
def test_a_row_that_makes_no_sense_is_set_aside_by_name(kind, body, says):
    raw = body.encode() if isinstance(body, str) else body
    found = to_event([ID.encode(), b"QH-001/1", b"2026-01-02T03:04:05+00:00", kind.encode(), raw])
    assert isinstance(found, SetAside)
    assert (found.event, found.job) == (ID, "QH-001/1")
    assert says in found.why


@pytest.mark.parametrize(
    ("event_id", "at"),
    [
        pytest.param("x", "2026-01-02T03:04:05+00:00", id="no-id"),
        pytest.param(ID.upper(), "2026-01-02T03:04:05+00:00", id="capitals"),
        pytest.param("ffffffff-ffff-7fff-bfff-ffffffffffff", "2026-01-02T03:04:05+00:00", id="in-8000-years"),
        pytest.param(ID, "yesterday", id="no-time"),
        pytest.param(ID, "2026-01-02T03:04:05", id="no-zone"),
    ],
)  # fmt: skip
def test_an_event_without_a_sound_id_and_time_is_set_aside(event_id, at):
    row = [event_id, "QH-001/1", at, "note", '{"version": 1, "text": "x"}']
    assert isinstance(to_event(row), SetAside)


def test_what_a_newer_version_wrote_is_no_damage():
    row = [ID, "QH-001/1", "2026-01-02T03:04:05+00:00", "note", '{"version": 9, "text": "x"}']
    assert "newer Bench Lamp" in to_event(row).why


@pytest.mark.parametrize(
    ("text", "says"),
    [("half \ud800 a character", "broken character"), ("x" * 300_000, "larger than")],
)
def test_a_text_that_cannot_be_stored_is_refused_before_it_is_acknowledged(text, says):
    event = Event(id=ID, job="QH-001/1", at=datetime(2026, 1, 2, tzinfo=UTC), body=Note(text=text))
    with pytest.raises(JournalError, match=says):
        to_row(event, ())


def test_an_event_is_written_whole_and_says_its_version():
    """So a field that is not there is one that its writer did not know, and no default."""
    event = Event(id=ID, job="QH-001/1", at=datetime(2026, 1, 2, tzinfo=UTC), body=Note(text="dry"))
    plain = json.loads(to_row(event, ())["body"])
    assert plain == {"version": VERSION, "text": "dry", "about": "bench"}


@given(EVERY_BODY)
def test_a_journal_from_before_the_versions_still_opens(body):
    """They left out what had its default, and had no version."""
    plain = to_plain(body)
    row = [ID, "QH-001/1", "2026-01-02T03:04:05+00:00", plain.pop("kind"), json.dumps(plain)]
    assert to_event(row).body == body


def test_the_fold_knows_every_kind_of_event():
    """A kind of event that changes nothing says so by a step of its own, or is a strike."""
    assert set(STEPS) | {Struck} == set(BODIES.values())


@given(st.lists(st.integers(0, 2000), min_size=2, max_size=60))
def test_ids_never_go_backwards_even_when_the_clock_does(ticks):
    clock = iter(ticks)
    ids = IdMaker(clock_ms=lambda: next(clock))
    made = [ids() for _ in ticks]
    assert all(a < b for a, b in pairwise(made))
    assert all(uuid.UUID(x).version == 7 for x in made)


def test_ids_go_on_after_what_is_on_disk():
    ahead = IdMaker(clock_ms=lambda: 5_000_000)()
    behind = IdMaker(clock_ms=lambda: 1_000)
    behind.resume_after(ahead)
    assert behind() > ahead


def test_a_struck_reading_no_longer_counts_and_stays_on_the_tape(live_job):
    live_job.read(A=5.08)
    wrong = live_job.log(ReadingTaken(target="A", mode="dc V", value=50.8, power="live"))
    assert live_job.state.latest("A", "dc V").value == 50.8
    strike = live_job.log(Struck(event=wrong, reason="misread"))
    state = live_job.state
    assert state.latest("A", "dc V").value == 5.08
    struck = next(entry for entry in state.tape if entry.event.id == wrong)
    assert (struck.struck_by, struck.reason) == (strike, "misread")
    live_job.log(Struck(event=strike, reason="it was right"))
    assert live_job.state.latest("A", "dc V").value == 50.8


def test_a_struck_repair_makes_nothing_stale(live_job):
    live_job.read(C=0.1)
    repair = live_job.log(PartReplaced(part="F4", out="10 A slow", fitted="10 A slow"))
    assert live_job.state.latest("C", "dc V", fresh=True) is None
    live_job.log(Struck(event=repair, reason="wrong job"))
    assert live_job.state.latest("C", "dc V", fresh=True).value == 0.1


@pytest.mark.parametrize(
    ("body", "stale"),
    [
        pytest.param(PartReplaced(part="F4", out="", fitted=""), {"C", "D"}, id="fuse"),
        pytest.param(ActionDone(action="reseated", target="J3"), {"D", "D2"}, id="whole-connector"),
        pytest.param(ActionDone(action="cleaned", target="J3.5"), {"D"}, id="one-pin"),
        pytest.param(PartReplaced(part="C1", out="", fitted=""), {"A"}, id="reservoir"),
        pytest.param(
            PartReplaced(part="F1", out="", fitted=""), {"A", "C", "D", "D2"}, id="main-fuse"
        ),
        pytest.param(
            PartReplaced(part="R999", out="", fitted=""), {"A", "C", "D", "D2"}, id="nobody-knows"
        ),
        pytest.param(PartReplaced(part="BT1", out="", fitted=""), set(), id="battery"),
    ],
)
def test_a_change_makes_stale_what_depends_on_it(live_job, body, stale):
    live_job.read(A=5.08, C=18.0, D=17.9, D2=35.0)
    live_job.log(body)
    assert {r.target for r in live_job.state.readings if r.is_stale} == stale
    live_job.read(C=18.0)
    assert not live_job.state.latest("C", "dc V").is_stale


def test_without_a_profile_a_change_makes_everything_stale(live_job):
    live_job.read(A=5.08)
    live_job.log(PartReplaced(part="F4", out="", fitted=""))
    assert all(r.is_stale for r in fold(None, live_job.events).readings)


@given(st.lists(EVERY_BODY, max_size=25), st.randoms())
def test_the_fold_takes_any_events_in_any_order(bodies, chance):
    """Benches that merge their journals get the same state, whatever came first."""
    ids = IdMaker(clock_ms=lambda: 1)
    at = datetime(2026, 1, 1, tzinfo=UTC)
    events = [Event(id=ids(), job="QH-001/1", at=at, body=body) for body in bodies]
    shuffled = list(events)
    chance.shuffle(shuffled)
    state = fold(None, events)
    assert fold(None, shuffled) == state
    assert len(state.tape) == len(events)


@given(st.lists(EVERY_BODY, min_size=1, max_size=25), st.integers(0, 25))
def test_a_fold_that_goes_on_comes_to_the_same_as_one_from_the_start(orrery, bodies, cut):
    ids = IdMaker()
    at = datetime(2026, 1, 2, tzinfo=UTC)
    events = [Event(id=ids(), job="QH-001/1", at=at, body=body) for body in bodies]
    folding = Folding(orrery, events[:cut])
    before, copy = folding.state, fold(orrery, events[:cut])
    done = [folding.go_on([event]) for event in events[cut:]]
    for went_on, event in zip(done, events[cut:], strict=True):
        assert went_on is not isinstance(event.body, Struck | KindCorrected)
    if all(done) and events[:cut]:
        assert folding.state == fold(orrery, events)
    assert before == copy, "a state that was handed out never changes"
    assert not events[1:] or not folding.go_on(events[:1]), "what comes before the last one"
