"""How many wrong lines of the core the checks find: random mutations, each tried at both levels of tests.

    python -m benchmarks.mutations [mutations] [seed] [workers] [already tried]

A mutation turns a comparison round, exchanges plus and minus, times and divided, and and or, negates a condition, or
adds one to a number. Every one is made in a copy of the project, on which types, generated pages and the quick tests
are checked until one fails, the tests of the mutated package first, and then, if none did, those of ``./check``. A
mutation may change nothing that can be seen; none is left out for that. One whose tests take too long counts as not
found.
"""

from __future__ import annotations

import ast
import os
import random
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from queue import SimpleQueue

from trials.cache import cache_folder

ROOT = Path(__file__).resolve().parents[1]
COPIED = (
    "src",
    "tests",
    "trials",
    "benchmarks",
    "scripts",
    "docs",
    "web/src",
    "web/tests",
    "demo",
    "check",
    ".mypy_cache",
)
COMPARISONS = {ast.Lt: ">=", ast.LtE: ">", ast.Gt: "<=", ast.GtE: "<", ast.Eq: "!=", ast.NotEq: "==", ast.Is: "is not"}
OPERATORS = {ast.Add: "-", ast.Sub: "+", ast.Mult: "/", ast.Div: "*"}
LONGEST_S = 240.0
STATIC = (
    [sys.executable, "-m", "mypy"],
    [sys.executable, "scripts/write_generated.py", "--check"],
)


@dataclass(frozen=True)
class Mutation:
    """One changed expression: its module, line, and both texts."""

    path: Path
    line: int
    before: str
    after: str
    start: int
    end: int

    def __str__(self) -> str:
        return f"{self.path.relative_to(ROOT / 'src' / 'phasko')}:{self.line}: `{self.before}` → `{self.after}`"


def mutations_of(path: Path) -> Iterator[Mutation]:
    """Every mutation of a module; annotations, texts and tables of names are left alone."""
    source = path.read_text(encoding="utf-8")
    offsets = [0]
    for line in source.splitlines(keepends=True):
        offsets.append(offsets[-1] + len(line.encode()))
    data = source.encode()

    def place(node: ast.expr) -> tuple[int, int]:
        return offsets[node.lineno - 1] + node.col_offset, offsets[node.end_lineno - 1] + node.end_col_offset  # type: ignore[operator]

    for node in _expressions(ast.parse(source)):
        start, end = place(node)
        before = data[start:end].decode()
        after = _mutated(node, data, place)
        if after is not None and after != before and "\n" not in before:
            yield Mutation(path, node.lineno, before, after, start, end)


def _expressions(tree: ast.AST) -> Iterator[ast.expr]:
    for child in ast.iter_child_nodes(tree):
        if isinstance(child, ast.AnnAssign):
            if child.value is not None:
                yield from _expressions(child.value)
            continue
        if isinstance(child, (ast.arg, ast.Import, ast.ImportFrom, ast.JoinedStr)):
            continue
        if isinstance(child, (ast.FunctionDef, ast.ClassDef)):
            for statement in child.body:
                yield from _expressions(ast.Module(body=[statement], type_ignores=[]))
            continue
        if isinstance(child, ast.expr):
            yield child
        yield from _expressions(child)


def _mutated(node: ast.expr, data: bytes, place: object) -> str | None:
    def text(part: ast.expr) -> str:
        start, end = place(part)  # type: ignore[operator]
        return data[start:end].decode()

    match node:
        case ast.Compare(left=left, ops=[op], comparators=[right]) if type(op) in COMPARISONS:
            return f"{text(left)} {COMPARISONS[type(op)]} {text(right)}"
        case ast.BinOp(left=left, op=op, right=right) if type(op) in OPERATORS:
            return f"({text(left)}) {OPERATORS[type(op)]} ({text(right)})"
        case ast.BoolOp(op=op, values=values):
            other = " or " if isinstance(op, ast.And) else " and "
            return "(" + other.join(f"({text(value)})" for value in values) + ")"
        case ast.UnaryOp(op=ast.Not(), operand=operand):
            return f"({text(operand)})"
        case ast.Constant(value=float() | int() as value) if not isinstance(value, bool):
            return repr(value + 1)
    return None


def drawn_mutations(count: int, seed: int) -> list[Mutation]:
    """So many, each line of the core as likely as any other."""
    rng = random.Random(seed)
    every = [m for path in sorted((ROOT / "src/phasko/core").rglob("*.py")) for m in mutations_of(path)]
    by_line: dict[tuple[Path, int], list[Mutation]] = {}
    for mutation in every:
        by_line.setdefault((mutation.path, mutation.line), []).append(mutation)
    return [rng.choice(by_line[line]) for line in rng.sample(sorted(by_line), count)]


def copy_of_project(target: Path) -> None:
    for part in COPIED:
        source = ROOT / part
        if source.is_dir():
            shutil.copytree(source, target / part, ignore=shutil.ignore_patterns("__pycache__"))
        else:
            (target / part).parent.mkdir(parents=True, exist_ok=True)
            shutil.copy(source, target / part)
    for path in ROOT.iterdir():
        if path.is_file():
            shutil.copy(path, target)


def tests_near(mutation: Mutation) -> list[str]:
    """Test folders of the mutated package, where there are any."""
    package = mutation.path.relative_to(ROOT / "src" / "phasko" / "core").parts[0].removesuffix(".py")
    near = [f"tests/core/{package}", f"tests/core/test_{package}.py"]
    return [place for place in near if (ROOT / place).exists()]


def is_found(copy: Path, level: str, places: Sequence[str]) -> bool:
    """Whether a test fails within the time that there is."""
    there = os.environ | {"PYTHONPATH": str(copy / "src"), "PHASKO_TEST_CACHE": str(copy / "cache")}
    there.pop("PYTHONDONTWRITEBYTECODE", None)
    # What needs the built page or a browser is left out: the front end does not change with the core.
    if not places:
        return any(_fails(copy, there, command) for command in STATIC)
    command = [sys.executable, "-m", "pytest", "-x", "-q", "--level", level, "--ignore", "tests/browser"]
    command += ["--ignore", "tests/setup", "-p", "no:cacheprovider", *places]
    return _fails(copy, there, command)


def _fails(copy: Path, there: dict[str, str], command: Sequence[str]) -> bool:
    try:
        ended = subprocess.run(command, cwd=copy, env=there, capture_output=True, timeout=LONGEST_S, check=False)
    except subprocess.TimeoutExpired:
        return False
    # 5: no test of that level lies there.
    return ended.returncode not in (0, 5)


def level_that_finds(mutation: Mutation, copy: Path) -> str:
    """``quick``, ``check`` or ``none``."""
    path = copy / mutation.path.relative_to(ROOT)
    source = path.read_bytes()
    path.write_bytes(source[: mutation.start] + mutation.after.encode() + source[mutation.end :])
    try:
        near = tests_near(mutation)
        # Pages made from the code, and types, are part of the quick level; the tests nearest by find most.
        if (near and is_found(copy, "quick", near)) or is_found(copy, "quick", []):
            return "quick"
        if near and is_found(copy, "normal", near):
            return "check"
        if is_found(copy, "quick", ["tests"]):
            return "quick"
        return "check" if is_found(copy, "normal", ["tests/core", "tests/published", "tests/jobs"]) else "none"
    finally:
        path.write_bytes(source)


def main(count: int, seed: int, workers: int, tried_already: int) -> None:
    with tempfile.TemporaryDirectory() as name:
        copies: SimpleQueue[Path] = SimpleQueue()
        for k in range(workers):
            copy = Path(name) / str(k)
            copy_of_project(copy)
            # Recordings of the bench are found there; what a mutation measures is kept apart from the real cache.
            shutil.copytree(cache_folder(), copy / "cache", copy_function=os.link)
            copies.put(copy)

        def tried(mutation: Mutation) -> str:
            copy = copies.get()
            try:
                level = level_that_finds(mutation, copy)
            finally:
                copies.put(copy)
            print(f"{level:5} {mutation}", flush=True)
            return level

        with ThreadPoolExecutor(workers) as pool:
            levels = list(pool.map(tried, drawn_mutations(count, seed)[tried_already:]))
    quick = levels.count("quick")
    print(f"\nAt least {quick} of {len(levels)} found by ./check --quick, {quick + levels.count('check')} by ./check.")


if __name__ == "__main__":
    numbers = [int(text) for text in sys.argv[1:]]
    main(*(numbers + [40, 1, 2, 0][len(numbers) :]))
