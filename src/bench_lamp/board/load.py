"""Loading a profile: every problem at once, each with file, line, field and mend."""

from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Any

from msgspec import Struct

from bench_lamp.board.lines_of import ParsedFile, line_of
from bench_lamp.board.merge import merged
from bench_lamp.board.profile import FORMAT, Profile
from bench_lamp.errors import BenchLampError
from bench_lamp.files import FileError, read_text, shown_name

#: Profiles are small; anything beyond is not one.
MAX_BYTES = 200_000
MAX_DEPTH = 20
TOO_DEEP = "aliases and deep nesting are refused; write the values where they belong"
#: A profile may extend one that extends one, and no deeper.
MAX_EXTENDS = 4
#: Problems that are named; the rest is counted.
MOST_NAMED = 50


class Problem(Struct, frozen=True):
    """One bad place in a profile."""

    file: str
    #: Counted from 1; 0 when the place is the file as a whole.
    line: int
    #: Path of the field, as `test_points[3].design`.
    field: str
    message: str

    def __str__(self) -> str:
        where = f"{self.file}, line {self.line}" if self.line else self.file
        return (
            f"{where}: {self.field}: {self.message}" if self.field else f"{where}: {self.message}"
        )


class ProfileError(BenchLampError):
    """A profile file that cannot be used; `problems` lists every bad place."""

    @classmethod
    def of(cls, problems: Sequence[Problem]) -> "ProfileError":
        """Build the error from all that was found."""
        error = cls(
            "\n".join(map(str, problems)),
            hint="Mend the lines named here and open the profile again; nothing was changed.",
        )
        error.problems = tuple(problems)
        return error

    problems: tuple[Problem, ...] = ()


def load_profile(path: Path, *, parents: Mapping[str, Path] | None = None) -> Profile:
    """Load one profile; raise `ProfileError` naming every bad place at once.

    Parameters
    ----------
    path : Path
        A `*.board.yaml` file.
    parents : mapping of str to Path, optional
        Where the profiles are that it may extend, by id.
    """
    sources = _with_parents(path, parents or {})
    data: dict[str, Any] = {}
    for source in reversed(sources):
        data = merged(data, source.data)
    return _validated(data, sources)


def _with_parents(path: Path, parents: Mapping[str, Path]) -> list[ParsedFile]:
    sources = [_read(path)]
    while wanted := sources[-1].data.get("extends"):
        name = sources[-1].name
        if wanted not in parents:
            known = ", ".join(sorted(parents)) or "none"
            raise ProfileError.of(
                [
                    Problem(
                        name,
                        line_of(sources[-1:], ("extends",))[1],
                        "extends",
                        f"no profile has the id “{wanted}”; known are: {known}",
                    )
                ]
            )
        if len(sources) > MAX_EXTENDS:
            raise ProfileError.of(
                [Problem(name, 0, "extends", "extends itself, or too deep a chain")]
            )
        sources.append(_read(parents[wanted]))
    return sources


def _read(path: Path) -> ParsedFile:
    from ruamel.yaml import YAML
    from ruamel.yaml.error import MarkedYAMLError, YAMLError

    from bench_lamp.board.texts import is_deep

    try:
        text = read_text(path, most=MAX_BYTES)
    except FileError as exc:
        raise ProfileError.of([Problem(shown_name(path), 0, "", f"{exc}. {exc.hint}")]) from exc
    if is_deep(text):
        raise ProfileError.of([Problem(shown_name(path), 0, "", TOO_DEEP)])
    try:
        reader = YAML(typ="safe")
        root = reader.compose(text)
        _refuse_depth(root, path.name)
        data = reader.constructor.construct_document(root) if root is not None else None
    except MarkedYAMLError as exc:
        line = exc.problem_mark.line + 1 if exc.problem_mark else 0
        raise ProfileError.of([Problem(path.name, line, "", str(exc.problem))]) from exc
    except (YAMLError, ValueError, RecursionError) as exc:
        raise ProfileError.of([Problem(path.name, 0, "", str(exc).splitlines()[0])]) from exc
    except ProfileError:
        raise
    except Exception as exc:  # whatever the reader of YAML stumbles over in somebody's file
        words = f"cannot be read as YAML ({type(exc).__name__}); check brackets and quotes"
        raise ProfileError.of([Problem(shown_name(path), 0, "", words)]) from exc
    if not isinstance(data, dict):
        raise ProfileError.of(
            [Problem(path.name, 0, "", f"is not a profile; the first line says format: {FORMAT}")]
        )
    return ParsedFile(path.name, data, root)


def _refuse_depth(node: Any, name: str, depth: int = 0) -> None:
    """Refuse aliases and deep nesting: a small file must not become a large one."""
    stack = [(node, depth)]
    seen: set[int] = set()
    while stack:
        current, level = stack.pop()
        if id(current) in seen or level > MAX_DEPTH:
            line = current.start_mark.line + 1
            raise ProfileError.of([Problem(name, line, "", TOO_DEEP)])
        seen.add(id(current))
        if isinstance(getattr(current, "value", None), list):
            for child in current.value:
                parts = child if isinstance(child, tuple) else (child,)
                stack.extend((part, level + 1) for part in parts)


def _validated(data: dict[str, Any], sources: Sequence[ParsedFile]) -> Profile:
    from pydantic import ValidationError

    from bench_lamp.board.consistency import cross_check
    from bench_lamp.board.schema import adapter
    from bench_lamp.board.texts import check_texts

    if wrong := list(check_texts(data)):
        raise ProfileError.of(_named_problems(sources, data, wrong))
    try:
        profile = adapter().validate_python(data)
    except ValidationError as exc:
        told = _of_its_kind(data, exc.errors())
        wrong = [(error["loc"], _mend(error)) for error in told]
        raise ProfileError.of(_named_problems(sources, data, wrong)) from exc
    if wrong := list(cross_check(profile)):
        raise ProfileError.of(_named_problems(sources, data, wrong))
    return profile


def _named_problems(
    sources: Sequence[ParsedFile],
    data: dict[str, Any],
    wrong: Sequence[tuple[Sequence[str | int], str]],
) -> list[Problem]:
    """Return the problems with file and line; finding a line takes time, so only so many of them."""
    named = [_problem(sources, data, place, text) for place, text in wrong[:MOST_NAMED]]
    if len(wrong) > MOST_NAMED:
        left = len(wrong) - MOST_NAMED
        named.append(Problem(sources[0].name, 0, "", f"{left} more; mend these first"))
    return named


def _of_its_kind(data: dict[str, Any], errors: Sequence[Any]) -> list[Any]:
    """Keep what the kind of each entry complains of, where an entry can be of several kinds.

    An entry that fails is compared with every kind there is; only those count that do not
    object to its `kind` itself. When all of them do, one complaint says so.
    """
    groups: dict[tuple[Any, ...], dict[Any, list[Any]]] = {}
    kept = []
    for error in errors:
        at = _tag_at(data, error["loc"])
        if at is None:
            kept.append(error)
        else:
            loc = error["loc"]
            groups.setdefault(loc[:at], {}).setdefault(loc[at], []).append(error)
    for by_tag in groups.values():
        right = [found for found in by_tag.values() if all(e["loc"][-1] != "kind" for e in found)]
        if right:
            kept += right[0]
            continue
        wrong = [e for found in by_tag.values() for e in found if e["loc"][-1] == "kind"]
        known = ", ".join(
            str(e.get("ctx", {}).get("expected", "")).replace(" or ", ", ") for e in wrong
        )
        kept.append({**wrong[0], "type": "kind", "msg": f"no such kind; known are: {known}"})
    return kept


def _tag_at(data: Any, loc: Sequence[str | int]) -> int | None:
    """Return where the name of a kind stands in a path; None where there is none."""
    for index, step in enumerate(loc[:-1]):
        child = _step(data, step)
        if child is None:
            return index
        data = child
    return None


def _mend(error: Any) -> str:
    kind = error["type"]
    if kind == "missing":
        return "is missing; add it"
    if kind == "extra_forbidden":
        return "is no field of a profile; check its spelling"
    message: str = error["msg"]
    return message


def _problem(
    sources: Sequence[ParsedFile], data: dict[str, Any], loc: Sequence[str | int], message: str
) -> Problem:
    path = _real_path(data, loc)
    name, line = line_of(sources, _named(data, path))
    shown = "".join(f"[{p}]" if isinstance(p, int) else f".{p}" for p in path).lstrip(".")
    return Problem(name, line, shown, message)


def _real_path(data: Any, loc: Sequence[str | int]) -> tuple[str | int, ...]:
    """Drop the union tags that pydantic puts between the real keys."""
    path: list[str | int] = []
    for index, step in enumerate(loc):
        child = _step(data, step)
        if child is not None:
            data = child
        elif index < len(loc) - 1:
            continue
        path.append(step)
    return tuple(path)


def _named(data: Any, path: Sequence[str | int]) -> tuple[str | int, ...]:
    """Name list entries by their id, since merging moves them about."""
    steps: list[str | int] = []
    for step in path:
        siblings = data if isinstance(data, list) else []
        data = _step(data, step)
        name = data.get("id") if isinstance(step, int) and isinstance(data, dict) else None
        is_single = sum(isinstance(e, dict) and e.get("id") == name for e in siblings) == 1
        steps.append(f"#{name}" if name is not None and is_single else step)
    return tuple(steps)


def _step(data: Any, step: str | int) -> Any:
    if isinstance(data, dict):
        return data.get(step)
    is_entry = isinstance(data, list) and isinstance(step, int) and step < len(data)
    return data[int(step)] if is_entry else None
