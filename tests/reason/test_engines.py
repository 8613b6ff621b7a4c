"""The engines that are kept: made once for each profile, and only for that one."""

import pytest
from msgspec.structs import replace

from bench_lamp.reason import engines as module
from bench_lamp.reason.engines import MOST_KEPT, Engines
from bench_lamp.reason.values.clues import Facts


@pytest.fixture
def made(monkeypatch):
    """Count the dictionaries that are asked for; none is really made."""
    count = []
    monkeypatch.setattr(module.Engine, "of", lambda *_: "an engine")
    monkeypatch.setattr(
        module, "cached_dictionary", lambda tree, *_, **__: count.append(tree.profile.name) or tree
    )
    return count


def test_an_engine_serves_an_equal_profile_and_no_other(orrery, made):
    engines = Engines()
    first = engines.of(orrery, Facts(), lambda _: True)
    assert engines.of(replace(orrery), Facts(), lambda _: True) is first
    assert made == ["Orrery Nights"]
    other = engines.of(replace(orrery, name="a variant"), Facts(), lambda _: True)
    assert other is not first
    assert made == ["Orrery Nights", "a variant"]


def test_only_so_many_are_kept(orrery, made):
    engines = Engines()
    for number in range(MOST_KEPT):
        engines.of(replace(orrery, name=str(number)), Facts(), lambda _: True)
    engines.of(replace(orrery, name="0"), Facts(), lambda _: True)
    assert len(made) == MOST_KEPT
    engines.of(replace(orrery, name="one more"), Facts(), lambda _: True)
    engines.of(replace(orrery, name="0"), Facts(), lambda _: True)
    assert len(made) == MOST_KEPT + 2
