"""Finds public functions of the core whose docstring leaves out what a caller must know.

A function or method that takes or returns an array says its shape ("(n,)", "(cycles, steps)", "one per ...") and its
unit; one that raises says what. Exit status 1 and a line for each that does not.
"""

from __future__ import annotations

import ast
import re
import sys
from collections.abc import Iterator
from pathlib import Path

CORE = Path(__file__).resolve().parents[1] / "src" / "phasko" / "core"

ARRAY = re.compile(r"\b(Floats|Ints|Bools|Samples|NDArray)\b")
SHAPE = re.compile(
    r"\(\w+,\)|\(\w+(?: [-+] \d)?, \w+(?: [-+] \d)?(?:, \w+)*\)|any shape|one per|one for each", re.IGNORECASE
)
UNIT = re.compile(
    r"\b(deg|degrees?|s|seconds?|V|volts?|bar|rpm|samples|A|Hz|rad|unitless|shares?|ratios?|counts?|kJ|K|kPa|%|index|indices)\b"
    r"|own unit|scaled unit"
)


def faults(path: Path) -> Iterator[str]:
    """What the docstrings of one module leave out, a line each."""
    for function in _public_functions(ast.parse(path.read_text(encoding="utf-8"))):
        told = ast.get_docstring(function) or ""
        arguments = [*function.args.posonlyargs, *function.args.args, *function.args.kwonlyargs]
        hints = [a.annotation for a in arguments] + [function.returns]
        where = f"{path.relative_to(CORE.parents[2])}:{function.lineno} {function.name}"
        if any(hint is not None and ARRAY.search(ast.unparse(hint)) for hint in hints):
            if not SHAPE.search(told):
                yield f"{where}: says no shape of its arrays"
            if not UNIT.search(told):
                yield f"{where}: says no unit of its arrays"
        if any(isinstance(node, ast.Raise) and node.exc is not None for node in ast.walk(function)) and (
            "aises" not in told
        ):
            yield f"{where}: does not say what it raises"


def _public_functions(module: ast.Module) -> Iterator[ast.FunctionDef]:
    for node in module.body:
        if isinstance(node, ast.FunctionDef) and not node.name.startswith("_"):
            if not any(isinstance(d, ast.Name) and d.id == "overload" for d in node.decorator_list):
                yield node
        elif isinstance(node, ast.ClassDef) and not node.name.startswith("_"):
            yield from (n for n in node.body if isinstance(n, ast.FunctionDef) and not n.name.startswith("_"))


def main() -> int:
    found = [fault for path in sorted(CORE.rglob("*.py")) for fault in faults(path)]
    print("\n".join(found), file=sys.stderr)
    return 1 if found else 0


if __name__ == "__main__":
    sys.exit(main())
