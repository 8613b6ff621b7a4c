"""Field types whose file form is what a bench writes (`12000 uF`, `3 A slow`)."""

import re
from collections.abc import Callable
from typing import Annotated, Any, get_type_hints

from msgspec import NODEFAULT, Struct, structs

from bench_lamp.errors import BenchLampError
from bench_lamp.units import Band, FuseRating, UnitError, parse_quantity

#: Longest range of signal lines.
MOST_LINES = 64


class Written(Struct, frozen=True):
    """Marks a field that is written as text and kept as a value.

    pydantic asks for the schema only when a file is read, so the import of its
    core waits until then.
    """

    parse: Callable[[str], Any]
    #: Shown in the JSON Schema and in messages.
    example: str
    title: str

    def __get_pydantic_core_schema__(self, source: Any, handler: Any) -> Any:
        """Return the schema: text or number in, parsed value out."""
        from pydantic_core import PydanticCustomError, core_schema

        def build(text: object) -> Any:
            if isinstance(text, bool) or not isinstance(text, (str, int, float)):
                raise PydanticCustomError(
                    "written", "write it as text, such as {e}", {"e": self.example}
                )
            try:
                return self.parse(str(text))
            except BenchLampError as exc:
                message = f"{exc}. {exc.hint}".replace("{", "(").replace("}", ")")
                raise PydanticCustomError("written", message) from exc

        return core_schema.no_info_plain_validator_function(build)

    def __get_pydantic_json_schema__(self, schema: Any, handler: Any) -> dict[str, Any]:
        """Return the JSON Schema of the written form."""
        return {"type": ["string", "number"], "title": self.title, "examples": [self.example]}


def _in(unit: str, example: str, title: str) -> Written:
    def parse(text: str) -> float:
        found = parse_quantity(text, unit)
        if found.is_overload:
            raise UnitError("A board has no overload", hint=f"Write a figure, such as {example}.")
        return found.value

    return Written(parse, example, title)


Volts = Annotated[float, _in("V", "5.05 V", "volts")]
Amps = Annotated[float, _in("A", "1.1 A", "amperes")]
Farads = Annotated[float, _in("F", "12000 uF", "farads")]
Ohms = Annotated[float, _in("Ω", "4k7", "ohms")]
Seconds = Annotated[float, _in("s", "10", "seconds")]
Fuse = Annotated[FuseRating, Written(FuseRating.parse, "3 A slow", "fuse rating")]
Limits = Annotated[Band, Written(Band.parse, "4.75..5.25", "lower and upper limit")]


def parse_lines(text: str) -> tuple[str, ...]:
    """Return the names of signal lines, ranges spelt out.

    >>> parse_lines("PA0..2 RES"), parse_lines("D7..6")
    (('PA0', 'PA1', 'PA2', 'RES'), ('D7', 'D6'))
    """
    names: list[str] = []
    for word in text.replace(",", " ").split():
        match = re.fullmatch(r"(.*?)(\d+)\.\.(\d+)", word)
        if match is None:
            names.append(word)
            continue
        head, first, last = match[1], int(match[2]), int(match[3])
        if abs(last - first) >= MOST_LINES:
            raise BenchLampError(
                f"“{word}” are {abs(last - first) + 1} lines",
                hint=f"At most {MOST_LINES} in one range",
            )
        step = 1 if last >= first else -1
        names += [f"{head}{number}" for number in range(first, last + step, step)]
    return tuple(names)


Lines = Annotated[tuple[str, ...], Written(parse_lines, "PA0..7 RES", "signal lines")]


class FromFile(Struct, frozen=True, kw_only=True):
    """Base of every profile value: unknown fields are errors; `from_` is written `from`."""

    @classmethod
    def __get_pydantic_core_schema__(cls, source: Any, handler: Any) -> Any:
        """Return the schema: a mapping of the fields in, the value out."""
        from pydantic_core import core_schema

        hints = get_type_hints(cls, include_extras=True)
        fields = {
            field.name.rstrip("_"): core_schema.typed_dict_field(
                _with_default(field, handler.generate_schema(hints[field.name])),
                required=field.required,
            )
            for field in structs.fields(cls)
        }
        names = {field.rstrip("_"): field for field in cls.__struct_fields__}
        return core_schema.no_info_after_validator_function(
            lambda data: cls(**{names[key]: item for key, item in data.items()}),
            core_schema.typed_dict_schema(
                fields,
                cls=cls,
                cls_name=cls.__name__,
                extra_behavior="forbid",
                ref=cls.__qualname__,
            ),
        )


def _with_default(field: structs.FieldInfo, schema: Any) -> Any:
    """Return the schema of a field with its default, which the JSON Schema shows."""
    from pydantic_core import core_schema

    if field.default is not NODEFAULT:
        return core_schema.with_default_schema(schema, default=field.default)
    if field.default_factory is not NODEFAULT:
        return core_schema.with_default_schema(schema, default_factory=field.default_factory)
    return schema
