"""The file edge: pydantic's view of the profile, and its JSON Schema."""

from functools import cache
from typing import Any

from pydantic import TypeAdapter

from bench_lamp.board.profile import FORMAT, Profile


@cache
def adapter() -> TypeAdapter[Profile]:
    """Return the validator of profile files; built once."""
    return TypeAdapter(Profile)


def json_schema() -> dict[str, Any]:
    """Return the JSON Schema of `*.board.yaml`, as shipped in docs."""
    schema = adapter().json_schema(by_alias=True)
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": f"Profile ({FORMAT})",
        **{key: value for key, value in schema.items() if key != "title"},
    }
