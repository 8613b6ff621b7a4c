"""The advice as plain values, for `bench-lamp advise`; documented in docs/advise.md."""

import math
from typing import Any

from bench_lamp.cards.fault_words import fault_title
from bench_lamp.cards.leads import SETTINGS, UNITS, leads
from bench_lamp.cards.outcome_words import outcomes
from bench_lamp.case.case import Case
from bench_lamp.commands.advice_lines import test_id
from bench_lamp.reason.values.clues import Weight
from bench_lamp.reason.values.insight import Insight, Suspect, Try
from bench_lamp.reason.values.tests import LogicTest, Test
from bench_lamp.stages.trace.cards import runner_words
from bench_lamp.stages.trace.logic_cards import logic_card

Plain = dict[str, Any]


def advice(case: Case) -> tuple[Plain, dict[str, Test | LogicTest]]:
    """Return the advice of a case as plain values, and its tests by id."""
    insight, state = case.insight, case.state
    found: Plain = {
        "profile": case.profile.id,
        "power": state.power.power,
        "out": sorted(state.out),
        "suspects": [],
        "called": None,
        "doubt": None,
        "tests": [],
        "nothing": None,
        "unlisted": None,
        "several": None,
    }
    if insight is None:
        return found, {}
    suspects = [_suspect(case, suspect) for suspect in insight.suspects]
    called = insight.called
    found |= {
        "suspects": suspects,
        "called": suspects[insight.suspects.index(called)] if called else None,
        "doubt": _doubt(case, insight),
        "tests": [_test(case, insight, attempt) for attempt in insight.tries],
        "nothing": _rounded(insight.nothing),
        "unlisted": _rounded(insight.unknown),
        "several": _rounded(insight.several),
    }
    return found, {test_id(t.test): t.test for t in insight.tries}


def _rounded(value: float) -> float | None:
    """Return a figure with six digits; None for what has no figure."""
    return float(f"{value:.6g}") if math.isfinite(value) else None


def _suspect(case: Case, suspect: Suspect) -> Plain:
    evidence = (*suspect.speaks_for, *suspect.speaks_against)
    return {
        "id": suspect.key,
        "title": fault_title(case.profile, suspect.fault),
        "part": suspect.fault.block,
        "kind": str(suspect.fault.kind),
        "odds": _rounded(suspect.odds),
        "members": [
            {
                "title": fault_title(case.profile, fault),
                "part": fault.block,
                "kind": str(fault.kind),
                "odds": _rounded(odds),
            }
            for fault, odds in suspect.members
        ],
        "evidence": [_weight(weight) for weight in evidence],
    }


def _weight(weight: Weight) -> Plain:
    expects = _rounded(weight.expects) if weight.expects is not None else None
    unit = UNITS.get(weight.kind, "")
    return {"text": weight.text, "bits": _rounded(weight.bits), "expects": expects, "unit": unit}


def _doubt(case: Case, insight: Insight) -> Plain | None:
    if not insight.is_poor:
        return None
    if insight.is_not_cured:
        return {"reason": f"{insight.suspects[0].block} was mended, and is accused again"}
    if insight.worst is None:
        return {"reason": "nothing on the list explains the readings well"}
    clue, expected = insight.worst
    best = fault_title(case.profile, insight.suspects[0].fault) if insight.suspects else ""
    reason = f"{clue.text} does not fit {best}: it would read {expected:.4g} {UNITS[clue.kind]}"
    return {"reason": reason.strip(), "reading": clue.text, "expects": _rounded(expected)}


def _test(case: Case, insight: Insight, attempt: Try) -> Plain:
    test = attempt.test
    if isinstance(test, LogicTest):
        where, mode, part = logic_card(case, test).leads, str(test.kind), test.target.split(":")[0]
    else:
        where, mode, part = leads(case, test), SETTINGS[test.kind], ""
    return {
        "id": test_id(test),
        "title": runner_words(case, attempt),
        "part": test.target if isinstance(test, Test) and test.kind.is_on_part else part,
        "target": test.target,
        "leads": [{"kind": lead.kind, "text": lead.text} for lead in where],
        "mode": mode,
        "unit": UNITS.get(test.kind, ""),
        "condition": {
            "power": "live" if test.condition.is_powered else "off",
            "out": sorted(test.condition.out),
            "hung": sorted(test.condition.hung),
        },
        "seconds": _rounded(attempt.seconds),
        "bits": _rounded(attempt.bits),
        "outcomes": [
            {"reads": o.reads, "means": o.means, "low": _rounded(o.low), "high": _rounded(o.high)}
            for o in outcomes(case.profile, insight, attempt)
        ],
    }
