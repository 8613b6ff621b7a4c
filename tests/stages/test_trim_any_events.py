"""Whatever a journal holds of what is set, of this profile or another: every view opens, every entry is answered."""

from functools import cache

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from tests.conftest import Job
from tests.seen import take

from bench_lamp.board import ProfileLibrary
from bench_lamp.cards.card import Accepted, Asked, Refused
from bench_lamp.cards.instrument import request_for
from bench_lamp.cards.instrument_trim import trim_result
from bench_lamp.case.next_stage import suggested
from bench_lamp.case.trims.items import trim_items, trim_lines
from bench_lamp.checks import load_meters
from bench_lamp.errors import BenchLampError
from bench_lamp.instrument.protocol import TrimRequest
from bench_lamp.journal.events import PartReplaced, PowerConfirmed
from bench_lamp.journal.trim_events import (
    AdjusterFound,
    AdjusterTurned,
    CoilHeld,
    PanelPaired,
    PlaceTried,
    SwitchStood,
    TrimEnded,
    TrimRead,
    TrimStep,
)
from bench_lamp.practice.demo_bench import demo_board
from bench_lamp.report import make_sheet
from bench_lamp.stages import STAGES, card_for, stage_of
from bench_lamp.stages.trim.cards import trim_picture
from bench_lamp.views.path import path
from bench_lamp.views.tape import tape

BOARDS = ("melodane-90", "grabaloft", "pellory-disc", "varnholt-vx12", "tessenby-orrery-nights")
TRIMS = ("bias", "grip", "bank", "five", "laser", "channels", "s-meter", "options", "gone", "")
WHATS = ("midpoint", "idle", "drop", "lift", "carry", "playing", "idle", "16", "77", "S1", "S9", "five",
         "drop:J2.1", "drop:gone", "gone", "")  # fmt: skip
ADJUSTERS = ("RV1", "RV2", "RV3", "RV4", "RV9", "CT1", "CT12", "gone", "")
FIGURES = st.one_of(
    st.sampled_from([0.0, 17.5, 0.008, 28.0, 1.96, 135.4e6, 5.02, 0.5, -1.0, 1e9, 1e-9]),
    st.floats(-1e12, 1e12),
)
STEPS = ("use", "model", "right", "cleaned", "state: playing", "state: idle", "into: set switch S2-8 to on",
         "into: hold CREDIT until the display shows G1", "pull the antenna plug",
         "bridge the input to ground")  # fmt: skip
TEXTS = ("", "17.4", "17.4 80", "+1/6", "RV4 -1/12", "RV3 stop", "panel 23", "panel 23 true 28", "16 135.4 6 134.9",
         "135.4", "1.96 ac", "1.18", "1/4", "half", "S2-1 on", "on", "leave: no time", "banana", "OL", "-5", "1e308",
         "CT1 +1/8",
         "drop 3", "Ω", "9" * 40)  # fmt: skip
trims, whats, adjusters = map(st.sampled_from, (TRIMS, WHATS, ADJUSTERS))
BODIES = st.one_of(
    st.builds(TrimRead, trim=trims, what=whats, value=FIGURES, resolution=st.sampled_from([0.0, 0.01, 10.0, -1.0])),
    st.builds(AdjusterTurned, trim=trims, adjuster=adjusters, turns=FIGURES),
    st.builds(AdjusterFound, trim=trims, adjuster=adjusters, text=st.just("noon")),
    st.builds(TrimStep, trim=trims, step=st.sampled_from(STEPS), text=st.sampled_from(["soft toys", "gone", ""])),
    st.builds(PanelPaired, trim=trims, shown=FIGURES, true=FIGURES),
    st.builds(CoilHeld, trim=trims),
    st.builds(
        SwitchStood, trim=trims, setting=st.sampled_from(["S2-1", "W1", "gone"]), position=st.sampled_from(["on", ""])
    ),
    st.builds(TrimEnded, trim=trims),
    st.builds(PlaceTried, place=st.sampled_from(["J5", "no journey", "gone"])),
    st.builds(PartReplaced, part=st.sampled_from(["U1", "Q3", "nobody"]), out=st.just("x"), fitted=st.just("y")),
    st.builds(PowerConfirmed, power=st.sampled_from(["off", "live", "discharged"])),
)  # fmt: skip


profile_of = cache(ProfileLibrary().get)


@pytest.mark.parametrize("board", BOARDS)
@settings(
    max_examples=60,
    deadline=None,
    suppress_health_check=[HealthCheck.function_scoped_fixture, HealthCheck.too_slow],
)
@given(
    bodies=st.lists(BODIES, max_size=24), text=st.sampled_from(TEXTS), focus=trims,
    cell=st.sampled_from(["", "RV4 0.166", "RV1 -0.5", "16", "S9", "stage:lift", "gone x", "S2-1"]),
)  # fmt: skip
def test_every_view_opens_and_every_entry_is_answered(board, bodies, text, focus, cell):
    job = Job(profile_of(board), load_meters()["hearthwell-60"])
    job.switch("live")
    job.log(*bodies)
    seen = job.seen(focus=focus, cell=cell)
    card = card_for("trim", *seen)
    assert card.title
    for stage in STAGES:
        stage.card(*seen), stage.state(seen.case), stage.beside(*seen, 1, 0), stage.turn(*seen, 1)
    stage_of("trim").beside(*seen, 0, 1)
    assert trim_picture(*seen).title
    trim_items(seen.case), trim_lines(seen.case), suggested(seen.case)
    make_sheet(seen.case), tape(seen.case), path(seen.case)
    answer = take("trim", *seen, text)
    assert answer is None or isinstance(answer, Accepted | Asked | Refused)
    if isinstance(answer, Refused):
        assert answer.what
        assert answer.mend
    if card.entry is not None:
        stage_of("trim").preview(*seen, card.entry, text)
    request = request_for(seen.case, card)
    if isinstance(request, TrimRequest):
        try:
            shown = demo_board(job.profile, job.name).read_trim(request)
        except BenchLampError:
            return
        assert trim_result(seen.case, request, shown, "bench").log
