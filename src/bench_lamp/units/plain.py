"""Plain data (what JSON can hold) from frozen values, and back, checked.

The journal's events and the compiled profiles pass through here. It costs no
import, so a window can be painted before the heavy libraries are loaded.
"""

import types
from collections.abc import Callable, Mapping
from enum import StrEnum
from functools import cache
from typing import Any, Literal, TypeVar, Union, cast, get_args, get_origin, get_type_hints

from msgspec import NODEFAULT, Struct, structs

from bench_lamp.errors import BenchLampError

Decoder = Callable[[Any], Any]
T = TypeVar("T")


class PlainError(BenchLampError):
    """Data that does not have the shape of the value it should become."""


class UnknownFieldError(PlainError):
    """Data with a field that the value does not have: something newer wrote it."""


def to_plain(value: Any, *, whole: bool = False) -> Any:
    """Turn a frozen value into lists, dicts, text and numbers.

    Defaults are left out, unless it is to be `whole`: then a field that is not there
    is one that its writer did not know.
    """
    if isinstance(value, Struct):
        defaults = _defaults(type(value))
        return {
            name: to_plain(item, whole=whole)
            for name in value.__struct_fields__
            if (item := getattr(value, name)) != defaults.get(name, NODEFAULT)
            or whole
            or name == "kind"
        }
    if isinstance(value, tuple):
        return [to_plain(item, whole=whole) for item in value]
    if isinstance(value, Mapping):
        return {key: to_plain(item, whole=whole) for key, item in value.items()}
    return value


def from_plain(kind: type[T], data: Any) -> T:
    """Build a value of `kind` from plain data; raise `PlainError` when it does not fit."""
    return cast("T", decoder(cast("Any", kind))(data))


@cache
def decoder(hint: Any) -> Decoder:
    """Return the function that builds a value of this type; made once for each type."""
    origin, args = get_origin(hint), get_args(hint)
    if hasattr(hint, "__metadata__"):
        return decoder(args[0])
    if isinstance(hint, type) and issubclass(hint, Struct):
        return _struct(hint)
    if isinstance(hint, type) and issubclass(hint, StrEnum):
        return _enum(hint)
    if origin is Literal:
        return _literal(args)
    if origin in {Union, types.UnionType}:
        return _union(args)
    if origin is tuple:
        return _tuple(args)
    if origin is not None and issubclass(origin, Mapping):
        return _mapping(args)
    return _scalar(hint)


def _scalar(kind: type[Any]) -> Decoder:
    accepted = (float, int) if kind is float else (kind,)

    def build(data: Any) -> Any:
        if type(data) is kind:
            return data
        if isinstance(data, bool) or not isinstance(data, accepted):
            raise PlainError(f"{kind.__name__} expected, found {str(data)[:40]!r}")
        return float(data) if kind is float else data

    return build


def _enum(kind: type[StrEnum]) -> Decoder:
    def build(data: Any) -> Any:
        try:
            return kind(data)
        except ValueError as exc:
            raise PlainError(f"one of {', '.join(kind)} expected, found {data!r}") from exc

    return build


def _literal(choices: tuple[Any, ...]) -> Decoder:
    def build(data: Any) -> Any:
        if data not in choices:
            raise PlainError(f"one of {', '.join(map(str, choices))} expected, found {data!r}")
        return data

    return build


def _tuple(args: tuple[Any, ...]) -> Decoder:
    """Return the decoder of `tuple[X, ...]`, or of one with as many places as it has kinds."""
    size = None if args[-1] is ... else len(args)
    items = [decoder(kind) for kind in args if kind is not ...]

    def build(data: Any) -> Any:
        if not isinstance(data, list):
            raise PlainError("a list expected")
        if size is None:
            return tuple(items[0](entry) for entry in data)
        if len(data) != size:
            raise PlainError(f"{size} entries expected, found {len(data)}")
        return tuple(item(entry) for item, entry in zip(items, data, strict=True))

    return build


def _mapping(args: tuple[Any, ...]) -> Decoder:
    item = decoder(args[1])

    def build(data: Any) -> Any:
        if not isinstance(data, dict):
            raise PlainError("a mapping expected")
        return {str(key): item(entry) for key, entry in data.items()}

    return build


def _union(args: tuple[Any, ...]) -> Decoder:
    """Choose by the `kind` field among Structs; else None or the one other type."""
    tagged = {
        choice: decoder(arg)
        for arg in args
        if isinstance(arg, type) and issubclass(arg, Struct) and "kind" in get_type_hints(arg)
        for choice in get_args(get_type_hints(arg)["kind"])
    }
    others = [decoder(arg) for arg in args if arg is not types.NoneType and not tagged]

    def build(data: Any) -> Any:
        if data is None and types.NoneType in args:
            return None
        if not tagged:
            return others[0](data)
        kind = data.get("kind") if isinstance(data, dict) else None
        if kind not in tagged:
            raise PlainError(f"unknown kind {kind!r}")
        return tagged[kind](data)

    return build


def _struct(kind: type[Struct]) -> Decoder:
    hints = get_type_hints(kind, include_extras=True)
    parts = {name: decoder(hints[name]) for name in kind.__struct_fields__}
    required = parts.keys() - _defaults(kind).keys()

    def build(data: Any) -> Any:
        if not isinstance(data, dict) or not required <= data.keys():
            raise PlainError(f"{kind.__name__} is incomplete: {str(data)[:60]}")
        try:
            return kind(**{name: parts[name](item) for name, item in data.items()})
        except KeyError as exc:
            raise UnknownFieldError(f"{kind.__name__} has no field {exc}") from exc

    return build


@cache
def _defaults(kind: type[Struct]) -> dict[str, Any]:
    """Return the defaults by field; those that are made anew each time as one of them."""
    return {
        field.name: field.default_factory() if field.default is NODEFAULT else field.default
        for field in structs.fields(kind)
        if not field.required
    }
