"""Plain data from frozen values, and back."""

from collections.abc import Mapping
from typing import Literal

import pytest
from msgspec import Struct

from bench_lamp.units.plain import PlainError, from_plain, to_plain


class Round(Struct, frozen=True, kw_only=True):
    kind: Literal["round"] = "round"
    size: float


class Square(Struct, frozen=True, kw_only=True):
    kind: Literal["square", "box"] = "square"
    sides: tuple[int, ...] = ()


class Tray(Struct, frozen=True, kw_only=True):
    name: str
    parts: tuple[Round | Square, ...] = ()
    notes: Mapping[str, str] | None = None
    is_full: bool = False


TRAY = Tray(
    name="left", parts=(Round(size=1.5), Square(kind="box", sides=(1, 2))), notes={"a": "b"}
)


def test_a_value_comes_back_equal_and_defaults_take_no_room():
    plain = to_plain(TRAY)
    assert "is_full" not in plain
    assert from_plain(Tray, plain) == TRAY


@pytest.mark.parametrize(
    "data",
    [
        {"parts": []},
        {"name": 7},
        {"name": "x", "colour": "red"},
        {"name": "x", "parts": [{"kind": "oval", "size": 1.0}]},
        {"name": "x", "parts": {"kind": "round"}},
        {"name": "x", "parts": [{"kind": "round", "size": True}]},
        {"name": "x", "parts": [{"kind": "box", "sides": ["a"]}]},
        {"name": "x", "notes": []},
        "tray",
    ],
)
def test_what_does_not_fit_is_refused(data):
    with pytest.raises(PlainError):
        from_plain(Tray, data)


def test_whole_numbers_pass_as_floats():
    assert from_plain(Round, {"kind": "round", "size": 2}) == Round(size=2.0)
