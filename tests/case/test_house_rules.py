"""House rules: every choice is seen somewhere, and nothing else moves with it."""

import itertools
import math

import pytest
from msgspec.structs import replace

from bench_lamp.case.cold_list import cold_items
from bench_lamp.case.gates import gates
from bench_lamp.case.house_rules import RULES, chosen
from bench_lamp.case.next_stage import suggested
from bench_lamp.case.on_map import place_of
from bench_lamp.case.power import is_live_elsewhere
from bench_lamp.case.rails import in_order, next_on_the_way
from bench_lamp.journal.events import ActionDone, Complaint, GateMarked, MainsSeen, PartReplaced
from bench_lamp.stages import STAGES, card_for
from bench_lamp.stages.wake.reading_cards import limiter_words, load_words
from bench_lamp.views.house_rules import rules_card

CHOICES = [(r.key, o.name) for r in RULES for o in r.options[1:]]


@pytest.fixture
def jobs(orrery, library, meter):
    """Return jobs at several points of the work: new, cold, awake in part, and with a part out."""
    from tests.conftest import Job

    new, cold, live, swapped = (Job(orrery, meter) for _ in range(4))
    for job in (new, cold, live, swapped):
        job.log(MainsSeen(place="fuse", text="3 A slow"), Complaint(text="dead"))
    cold.switch("discharged")
    live.switch("live")
    live.read(A=5.06)
    swapped.log(PartReplaced(part="C2", out="x", fitted="y"))
    other = Job(library.get("ardvane-cinder-dunes"), meter)
    other.log(GateMarked(gate="round", mark="round done"))
    other.log(*(ActionDone(action="removed for test", target=name) for name in ("J1", "J7")))
    other.switch("live")
    return new, cold, live, swapped, other


def everything(jobs, rules):
    """Return all that is shown under some rules: order, plan, cards."""
    states = [replace(job.state, job=str(n)) for n, job in enumerate(jobs)]
    shown = [is_live_elsewhere(states, "0", rules)]
    for job in jobs:
        seen = job.seen(rules=rules)
        plain = seen.case
        shown += [suggested(plain), [p.id for p in in_order(plain)], [g.gate.name for g in gates(plain)],
                  limiter_words(plain), load_words(plain)]  # fmt: skip
        shown += [stage.card(*seen) for stage in STAGES]
        shown += [card_for("cold", *job.seen(rules=rules, focus=i.id)) for i in cold_items(plain)]
        shown += [card_for("wake", *job.seen(rules=rules, focus=p.id))
                  for p in job.profile.test_points]  # fmt: skip
        shown += [card_for("swap", *job.seen(rules=rules, draft={"part": part}))
                  for part in ("U14", "U1", "C2", "F4")]  # fmt: skip
        shown += [card_for("swap", *job.seen(rules=rules, draft={"part": "U14", "out": "x"}))]
    return shown


@pytest.mark.parametrize(("key", "option"), CHOICES)
def test_every_choice_changes_something_that_is_seen(jobs, key, option):
    assert everything(jobs, {key: option}) != everything(jobs, {})


@pytest.mark.parametrize(("key", "option"), CHOICES)
def test_a_choice_that_is_not_known_is_the_default(key, option):
    assert chosen({key: option}, key) == option
    assert chosen({key: option + "!"}, key) == chosen({}, key)
    card = rules_card({key: option}, key)
    marked = [c.text for c in card.choices if "chosen" in c.text]
    assert [text.partition("  ")[0] for text in marked] == [option]
    assert all(c.note.startswith("for: ") and "against: " in c.note for c in card.choices)


def test_the_order_of_the_rails_follows_where_they_are_measured_first(orrery, meter):
    from tests.conftest import Job

    job = Job(orrery, meter)
    supply = [p.id for p in in_order(job.seen().case)]
    board = [p.id for p in in_order(job.seen(rules={"measure at": "the board"}).case)]
    assert sorted(supply) == sorted(board)
    assert supply.index("A") < supply.index("L1")
    assert board.index("L1") < board.index("A")


def test_by_the_shortest_way_mode_and_knob_stay_and_neighbours_follow_each_other(live_job):
    listed = [p.id for p in in_order(live_job.seen().case)]
    case = live_job.seen(rules={"sweep": "the shortest way"}).case
    way = in_order(case)
    assert sorted(p.id for p in way) == sorted(listed)
    assert way[0].id == listed[0]
    modes = [p.mode for p in way]
    assert modes == sorted(modes, key=modes.index), "the knob turns once"
    placed = [p for p in way if place_of(case, p.id)]

    def length(points) -> float:
        spots = [place_of(case, p.id)[1] for p in points]
        return sum(math.dist(a, b) for a, b in itertools.pairwise(spots))

    plain = [case.profile.point(name) for name in listed if place_of(case, name)]
    by_mode = sorted(plain, key=lambda p: modes.index(p.mode))
    assert length(placed) < 0.95 * length(by_mode)
    cold = [i.knob for i in cold_items(case)]
    assert cold == sorted(cold, key=["tone", "diode", "ohm"].index)
    assert next_on_the_way(case, case.profile.point("D")).startswith("then ")
