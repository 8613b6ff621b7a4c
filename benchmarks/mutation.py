"""Draw small wrong changes in the core, one at a time, and count those that the suite notices.

    python benchmarks/mutation.py --count 100 --seed 10 --workers 2

Each change is made in a copy of the project: a comparison, a sign, a constant, an `and` or a
branch. Its room's own tests run first, then all others; a run that fails or does not end
has noticed it. What nothing noticed is listed with its line, to be looked at by eye.
"""

import argparse
import ast
import os
import random
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from queue import Queue

ROOT = Path(__file__).parents[1]
ROOMS = ("checks", "circuit", "reason", "logic", "case", "journal")
#: Longer than this, in seconds, and the change has made something endless.
PATIENCE_S = 900
COMPARISONS = {
    ast.Lt: "<=",
    ast.LtE: "<",
    ast.Gt: ">=",
    ast.GtE: ">",
    ast.Eq: "!=",
    ast.NotEq: "==",
    ast.In: "not in",
    ast.NotIn: "in",
    ast.Is: "is not",
    ast.IsNot: "is",
}
SIGNS = {ast.Add: "-", ast.Sub: "+", ast.Mult: "/", ast.Div: "*"}


@dataclass(frozen=True)
class Change:
    """One wrong change: a span of a file, and what stands there instead."""

    kind: str
    path: Path
    line: int
    start: int
    end: int
    new: str

    def apply(self, text: str) -> str:
        """Return the file with the change in it."""
        raw = text.encode()
        return (raw[: self.start] + self.new.encode() + raw[self.end :]).decode()

    def words(self, text: str) -> str:
        """Say where it is, and what it does."""
        old = text.encode()[self.start : self.end].decode()
        return f"{self.path}:{self.line}  {self.kind}: {old!r} becomes {self.new!r}"


@dataclass(frozen=True)
class Source:
    """A file whose spans can be changed."""

    path: Path
    text: str

    def at(self, line: int, column: int) -> int:
        """Return the place of a line and column, in bytes."""
        rows = self.text.encode().splitlines(keepends=True)
        return sum(map(len, rows[: line - 1])) + column

    def between(self, left: ast.expr, right: ast.expr, new: str, kind: str) -> Change:
        """Change the operator between two expressions."""
        start = self.at(left.end_lineno or 0, left.end_col_offset or 0)
        end = self.at(right.lineno, right.col_offset)
        old = self.text.encode()[start:end].decode()
        operator = old.strip(" \n()")
        kept = old.replace(operator, new, 1)
        return Change(kind, self.path, left.lineno, start, end, kept)

    def whole(self, node: ast.expr, new: str, kind: str) -> Change:
        """Change a whole expression."""
        start = self.at(node.lineno, node.col_offset)
        end = self.at(node.end_lineno or 0, node.end_col_offset or 0)
        return Change(kind, self.path, node.lineno, start, end, new)

    def changes(self, node: ast.AST) -> Iterator[Change]:
        """Yield every change of one node."""
        if isinstance(node, ast.Compare) and len(node.ops) == 1:
            new = COMPARISONS[type(node.ops[0])]
            yield self.between(node.left, node.comparators[0], new, "comparison")
        elif isinstance(node, ast.BinOp) and type(node.op) in SIGNS:
            yield self.between(node.left, node.right, SIGNS[type(node.op)], "sign")
        elif isinstance(node, ast.BoolOp):
            new = "or" if isinstance(node.op, ast.And) else "and"
            yield self.between(node.values[0], node.values[1], new, "and")
        elif isinstance(node, ast.Constant):
            yield from self._constant(node)
        elif isinstance(node, ast.If | ast.IfExp | ast.While):
            source = ast.get_source_segment(self.text, node.test) or ""
            yield self.whole(node.test, f"(not ({source}))", "branch")

    def _constant(self, node: ast.Constant) -> Iterator[Change]:
        if isinstance(node.value, bool):
            yield self.whole(node, str(not node.value), "constant")
        elif isinstance(node.value, int | float):
            yield self.whole(node, repr(2 * node.value if node.value else 1), "constant")


def changes_in(path: Path) -> Iterator[Change]:
    """Yield every change of a file."""
    source = Source(path, (ROOT / path).read_text(encoding="utf-8"))
    for node in _changeable(ast.parse(source.text)):
        yield from source.changes(node)


def _changeable(tree: ast.Module) -> Iterator[ast.AST]:
    """Yield what is worked out when the program runs: no decorators, no types, no imports.

    Nor what is said of a class as a whole (`frozen=True`), which is a decorator of another form.
    """
    waiting: list[ast.AST] = list(tree.body)
    while waiting:
        node = waiting.pop()
        # Places inside an f-string are not the file's.
        if isinstance(node, ast.JoinedStr) or _is_for_types(node):
            continue
        yield node
        for name, value in ast.iter_fields(node):
            if name in {"decorator_list", "annotation", "returns"}:
                continue
            if name == "keywords" and isinstance(node, ast.ClassDef):
                continue
            found = value if isinstance(value, list) else [value]
            waiting += [child for child in found if isinstance(child, ast.AST)]


def _is_for_types(node: ast.AST) -> bool:
    return isinstance(node, ast.If) and ast.unparse(node.test) == "TYPE_CHECKING"


def drawn(count: int, seed: int) -> list[Change]:
    """Return so many changes, each kind as likely as the others."""
    chance = random.Random(seed)
    by_kind: dict[str, list[Change]] = {}
    for room in ROOMS:
        for path in sorted((ROOT / "src" / "bench_lamp" / room).rglob("*.py")):
            if "migrations" not in path.parts:
                for change in changes_in(path.relative_to(ROOT)):
                    by_kind.setdefault(change.kind, []).append(change)
    kinds = sorted(by_kind)
    made: list[Change] = []
    while len(made) < count:
        change = chance.choice(by_kind[chance.choice(kinds)])
        if change not in made and _compiles(change):
            made.append(change)
    return made


def _compiles(change: Change) -> bool:
    text = (ROOT / change.path).read_text(encoding="utf-8")
    try:
        return ast.dump(ast.parse(change.apply(text))) != ast.dump(ast.parse(text))
    except SyntaxError:
        return False


def is_noticed(change: Change, copy: Path, *, window: bool) -> bool:
    """Make the change in a copy of the project, run the tests, and take it back."""
    target = copy / change.path
    text = target.read_text(encoding="utf-8")
    target.write_text(change.apply(text), encoding="utf-8")
    try:
        return any(
            not _passes(copy, part) for part in _order(copy, change.path.parts[2], window=window)
        )
    finally:
        target.write_text(text, encoding="utf-8")


def _order(copy: Path, room: str, *, window: bool) -> Iterator[list[str]]:
    """Yield the tests in the order to run them: the room's own, the others, the window's."""
    folders = sorted(p.name for p in (copy / "tests").iterdir() if p.is_dir())
    own = [f"tests/{room}"] if room in folders else []
    yield [f"src/bench_lamp/{room}", *own]
    yield [f"tests/{name}" for name in folders if name not in {room, "desktop", "__pycache__"}]
    if window:
        yield ["tests/desktop"]


def _passes(copy: Path, tests: list[str]) -> bool:
    run = [sys.executable, "-B", "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider", "-n", "0"]
    try:
        done = subprocess.run(
            [*run, *tests],
            cwd=copy,
            env={**os.environ, "PYTHONPATH": str(copy / "src")},
            capture_output=True,
            timeout=PATIENCE_S,
            check=False,
        )
    except subprocess.TimeoutExpired:
        return False
    # 5: no test was found there.
    return done.returncode in {0, 5}


def main() -> None:
    """Draw, run and count."""
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("--count", type=int, default=100)
    parser.add_argument("--seed", type=int, default=10)
    parser.add_argument("--workers", type=int, default=1)
    parser.add_argument(
        "--no-window", action="store_true", help="leave out the slow journeys through the window"
    )
    wanted = parser.parse_args()
    window = not wanted.no_window
    changes = drawn(wanted.count, wanted.seed)
    with tempfile.TemporaryDirectory(prefix="bench-lamp-mutation-") as folder:
        copies: Queue[Path] = Queue()
        for number in range(wanted.workers):
            copy = Path(folder) / str(number)
            skipped = shutil.ignore_patterns(".git", ".venv*", "__pycache__", ".*_cache")
            shutil.copytree(ROOT, copy, ignore=skipped, symlinks=True)
            copies.put(copy)
        first = copies.queue[0]
        if not all(_passes(first, part) for part in _order(first, "checks", window=window)):
            sys.exit("The tests fail without any change: mend that first.")

        def judge(change: Change) -> bool:
            copy = copies.get()
            try:
                noticed = is_noticed(change, copy, window=window)
            finally:
                copies.put(copy)
            text = (ROOT / change.path).read_text(encoding="utf-8")
            print("noticed" if noticed else "MISSED ", change.words(text), flush=True)
            return noticed

        with ThreadPoolExecutor(wanted.workers) as pool:
            count = sum(pool.map(judge, changes))
    print(f"{count} of {len(changes)} noticed (seed {wanted.seed})")


if __name__ == "__main__":
    main()
