"""`bench-lamp advise`: lines in, one JSON object out for each."""

import io
import json

import pytest

from bench_lamp.__main__ import main
from bench_lamp.board.condition import TestKind
from bench_lamp.board.library import ProfileLibrary
from bench_lamp.commands.advise import Adviser, run_advise
from bench_lamp.reason.values.tests import OFF, Test

ORRERY = "tessenby-orrery-nights"


@pytest.fixture(scope="module")
def cache(tmp_path_factory):
    return tmp_path_factory.mktemp("cache")


@pytest.fixture
def adviser(cache):
    return Adviser(ProfileLibrary().get(ORRERY), cache)


def told(adviser, *lines):
    return [adviser.answer(line) for line in lines][-1]


def test_a_job_is_told_line_by_line(adviser):
    first = told(adviser, "complaint half the lamps dead", "C 0.1")
    assert {
        "suspects",
        "called",
        "doubt",
        "tests",
        "nothing",
        "unlisted",
        "several",
    } <= first.keys()
    assert first["suspects"][0]["part"] == "F4"
    assert {"id", "title", "part", "odds", "members", "evidence"} <= first["suspects"][0].keys()
    for test in first["tests"]:
        assert {"id", "title", "leads", "mode", "seconds", "bits"} <= test.keys()
        assert test["seconds"] > 0
    total = sum(s["odds"] for s in first["suspects"]) + first["nothing"] + first["unlisted"]
    assert 0.9 < total < 1.2
    last = told(adviser, "Q ac 0.0", "F4 open")
    assert last["power"] == "discharged"
    assert last["suspects"][0]["odds"] > first["suspects"][0]["odds"]
    assert told(adviser, "replaced F4")["suspects"][0]["part"] != "F4"


@pytest.mark.parametrize(
    ("line", "event"),
    [
        ("C 18.2", {"kind": "reading", "target": "C", "mode": "dc V", "value": 18.2}),
        ("Q ac 0.0", {"kind": "reading", "target": "Q", "mode": "ac V", "value": 0.0}),
        ("C ac 0.4", {"kind": "reading", "target": "C", "mode": "ac V", "value": 0.4}),
        ("C ohm 4.1", {"kind": "reading", "target": "C", "mode": "ohm", "value": 4.1}),
        ("C 182", {"kind": "reading", "target": "C", "value": 182.0}),
        ("C OL ohm", {"error": True}),
        ("C2 7900 uF", {"kind": "reading", "target": "C2", "mode": "F", "value": pytest.approx(0.0079)}),
        ("C2 esr 0.08", {"kind": "reading", "target": "C2", "mode": "esr", "value": 0.08}),
        ("C2 7900 F", {"error": True}),
        ("J3.5 2.4 A", {"kind": "reading", "target": "J3.5", "mode": "A", "value": 2.4}),
        ("J4.1 5 A", {"kind": "reading", "target": "J4.1", "mode": "A", "value": 5.0}),
        ("F4 5 A", {"error": True}),
        ("power off", {"kind": "power", "power": "off"}),
        ("power on", {"kind": "power", "power": "live"}),
        ("F4 open", {"kind": "reading", "target": "F4", "mode": "tone", "value": 1.0}),
        ("J3 off", {"kind": "action", "target": "J3", "action": "removed for test"}),
        ("reseated J3", {"kind": "action", "target": "J3", "action": "reseated"}),
        ("replaced F4 10 A slow", {"kind": "replaced", "part": "F4", "fitted": "10 A slow"}),
        ("bulged C2", {"kind": "finding", "place": "C2", "seen": "bulged"}),
        ("complaint hums when warm", {"kind": "complaint", "text": "hums when warm"}),
        ("answer dc:nothing 4", {"error": True}),
        ("answer", {"error": True}),
        ("what", {"error": True}),
        ("replaced QQ9", {"error": True}),
        ("power perhaps", {"error": True}),
    ],
)  # fmt: skip
def test_a_line_logs_what_it_says(adviser, line, event):
    before = len(adviser.case.state.tape)
    answer = adviser.answer(line)
    if event == {"error": True}:
        assert answer["error"]
        assert answer["hint"]
        assert len(adviser.case.state.tape) == before
        return
    assert "error" not in answer
    body = adviser.case.state.tape[-1].event.body
    assert {name: getattr(body, name) for name in event} == event


def test_every_test_that_is_named_can_be_answered_by_its_id(adviser):
    found = told(adviser, "complaint half the lamps dead", "C 12.1")
    answered = 0
    for test in found["tests"]:
        result = "open" if test["mode"] == "continuity" else "1.0"
        answer = adviser.answer(f"answer {test['id']} {result}")
        assert "error" not in answer
        assert set(answer["out"]) == set(test["condition"]["out"])
        answered += 1
    assert answered > 3


@pytest.mark.parametrize(
    ("kind", "result", "value"),
    [
        ("farads", "7900", 7.9e-3),
        ("farads", "7900 uF", 7.9e-3),
        ("farads", "12000 F", None),
        ("esr", "0.08", 0.08),
    ],
)
def test_a_capacitor_is_answered_in_microfarads_and_ohms(adviser, kind, result, value):
    test = Test(kind=TestKind(kind), target="C2", part=1, seconds=20.0, condition=OFF)
    adviser.tests["it"] = test
    answer = adviser.answer(f"answer it {result}")
    if value is None:
        assert "no reservoir" in answer["error"]
        return
    assert answer["power"] == "discharged"
    assert adviser.case.state.tape[-1].event.body.value == pytest.approx(value)


def test_logic_is_answered_by_cells_codes_and_words(cache):
    adviser = Adviser(ProfileLibrary().get("ardvane-cinder-dunes"), cache)
    profile = adviser.case.profile
    memory = next(t for t in profile.self_tests if t.kind == "memory")
    first = adviser.answer(f"answer cells:{memory.id} good")
    assert "error" not in first
    from bench_lamp.logic.kinds import cells_of

    bad = cells_of(memory)[0]
    second = adviser.answer(f"answer cells:{memory.id} {bad}")
    assert second["suspects"]
    parts = [t for t in second["tests"] if t["id"].split(":")[0] in {"donor", "pulled", "tester"}]
    word = {"donor": "gone", "pulled": "same", "tester": "fail"}
    for test in parts[:2]:
        answer = adviser.answer(f"answer {test['id']} {word[test['id'].split(':')[0]]}")
        assert "error" not in answer
    assert adviser.answer(f"answer cells:{memory.id} nowhere")["error"]


def test_a_job_file_goes_in_and_a_broken_one_is_refused(adviser, cache, tmp_path, capsys):
    from bench_lamp.report.exports import job_json

    told(adviser, "complaint half the lamps dead", "C 0.1", "F4 open")
    place = tmp_path / "job.json"
    place.write_text(job_json(adviser.case))
    out = io.StringIO()
    assert run_advise([ORRERY, str(place)], cache, lines=io.StringIO("Q ac 0\n"), out=out) == 0
    first, second = map(json.loads, out.getvalue().splitlines())
    assert first["suspects"][0]["odds"] == adviser.advice()["suspects"][0]["odds"]
    assert second["line"] == "Q ac 0"
    whole = json.loads(place.read_text())
    for broken in ("{", "[]", '{"format": "other"}', json.dumps({**whole, "events": [{"id": 1}]})):  # fmt: skip
        place.write_text(broken)
        assert run_advise([ORRERY, str(place)], cache, lines=io.StringIO(), out=out) == 2
        assert "job" in capsys.readouterr().err
    place.write_text(json.dumps(whole))
    assert run_advise(["ruskel-36", str(place)], cache, lines=io.StringIO(), out=out) == 2
    assert run_advise(["no-such-board"], cache, lines=io.StringIO(), out=out) == 2
    assert main(["advise"]) == 2
