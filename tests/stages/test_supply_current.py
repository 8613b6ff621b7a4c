"""A bench supply in the mains' place: its current is asked for at each gate, and every view shows the reading."""

import pytest
from tests.seen import take

from bench_lamp.case.gates import current_gate
from bench_lamp.case.hand import Hand
from bench_lamp.journal.events import ActionDone, GateMarked
from bench_lamp.journal.state import ROUND
from bench_lamp.report.exports import readings_csv
from bench_lamp.stages import STAGES, card_for
from bench_lamp.views.tape import tape

RULES = {"limiting": "bench supply"}


@pytest.fixture
def at_the_first_gate(job):
    job.log(GateMarked(gate=ROUND, mark="round done"))
    off = [name for gate in job.profile.wake.gates[1:] for name in gate.on]
    job.log(*(ActionDone(action="removed for test", target=name) for name in off))
    job.switch("live")
    return job


@pytest.mark.parametrize(
    ("typed", "amps"), [("0.3", 0.3), ("300 mA", 0.3), ("0", 0.0), ("12 mA", 0.012), ("OL", None)]
)
def test_what_the_display_shows_is_taken_and_shown_everywhere(at_the_first_gate, typed, amps):
    job = at_the_first_gate
    seen = job.seen(rules=RULES)
    card = card_for("wake", *seen)
    assert card.title.startswith("Current of the supply on ")
    answer = take("wake", *seen, typed)
    (body,) = answer.log
    assert body.overload if amps is None else body.value == pytest.approx(amps)
    job.log(body)
    after = job.seen(rules=RULES)
    current = current_gate(after.case).currents[0]
    assert current.reading is not None
    assert current.label == f"{current.supply.split()[-1]} A"
    assert current_gate(after.case).status == ("failed" if amps is None or amps > 0.2 else "here")
    for stage in STAGES:
        stage.card(*after)
        stage.state(after.case)
    assert tape(after.case)[-1].title.startswith("supply on ")
    assert "supply on" in readings_csv(after.case)


def test_it_can_be_left_out(at_the_first_gate):
    seen = at_the_first_gate.seen(rules=RULES)
    card = card_for("wake", *seen)
    assert card.can_skip
    later = card_for("wake", seen.case, Hand(skipped=frozenset({card.id})))
    assert not later.title.startswith("Current ")
