"""The words that people read keep to a few rules: one name for one thing, the trade's own words, no field names."""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
CORE = ROOT / "src" / "phasko"
SCREENS = ROOT / "web" / "src"

FORBIDDEN = {
    r"\bpress(es)?\b(?! M)": "a cylinder compresses",
    r"\b[Tt]ake (back|away)\b": "take out, which can be brought back",
    r"\bGive away\b": "export",
    r"\b[Bb]undle\b": "exported capture",
    r"\b(credible interval|posterior|likelihood|null hypothesis|p-value|modulo)\b": "words of statistics",
    r"\bPlug (seen )?tight\b": "check that the plug is tight first",
    r"\b(Wheels chocked|Fuel disabled|Hands clear)\b": "say it as what to do",
}
ON_BUTTONS = {
    r"^(Keep|Store)( (the|this|these|it)\b.*)?$": "save",
    r"^Remove\b": "take out, or erase for good",
    r"^Save as (a file|CSV)\b": "export",
}
FIELD_NAME = r"\b[a-z]+_(deg|hz|s|bar|mm|id|ms|rpm|a|v)\b"
# They name the keys of a file that the reader wrote, or talk to a program.
FILES = ("core/documents/", "formats/", "store/", "web/", "cli/", "bench/", "devices/", "keeping/", "core/numbers/")


def texts_of_python(path: Path) -> Iterator[tuple[int, str]]:
    """(line, words) of every string with a blank in it that is no docstring; places to fill in stand as ``{}``."""
    tree = ast.parse(path.read_text(encoding="utf-8"))
    quiet = {id(node.value) for node in ast.walk(tree) if isinstance(node, ast.Expr)}
    for node in ast.walk(tree):
        if isinstance(node, ast.JoinedStr):
            quiet |= {id(part) for part in node.values}
            told = "".join(str(part.value) if isinstance(part, ast.Constant) else "{}" for part in node.values)
            yield node.lineno, told
    for node in ast.walk(tree):
        if isinstance(node, ast.Constant) and isinstance(node.value, str) and id(node) not in quiet:
            yield node.lineno, node.value


def texts_of_screen(path: Path) -> Iterator[tuple[int, str]]:
    """(line, words) of what stands between tags, and of quoted strings; comments left out."""
    source = path.read_text(encoding="utf-8")
    source = re.sub(r"/\*.*?\*/|(?<!:)//[^\n]*", lambda m: re.sub(r"[^\n]", " ", m.group()), source, flags=re.S)
    for found in re.finditer(r">([^<>{}]*[A-Za-z][^<>{}]*)<|\"([^\"\n]*)\"|`([^`]*)`", source):
        words = next(group for group in found.groups() if group is not None)
        yield source[: found.start()].count("\n") + 1, " ".join(words.split())


def faults(words: str, rules: dict[str, str]) -> list[str]:
    return [better for rule, better in rules.items() if re.search(rule, words)]


def python_files() -> list[Path]:
    return sorted(CORE.rglob("*.py"))


def test_what_the_program_says() -> None:
    found = []
    for path in python_files():
        name = path.relative_to(CORE).as_posix()
        for line, words in texts_of_python(path):
            if " " not in words.strip():
                continue
            rules = FORBIDDEN if name.startswith(FILES) else FORBIDDEN | {FIELD_NAME: "no field names"}
            found += [f"{name}:{line}: {words!r}: {better}" for better in faults(words, rules)]
    assert found == []


def test_what_the_screens_say() -> None:
    found = []
    for path in sorted(SCREENS.rglob("*.ts*")):
        if path.name == "schema.d.ts":
            continue
        for line, words in texts_of_screen(path):
            if re.match(r"[./@]|/api|\$\{base\}", words) or (re.fullmatch(r"[\w.:/-]*", words) and words.islower()):
                continue
            better = [*faults(words, FORBIDDEN), *faults(words, ON_BUTTONS)]
            found += [f"{path.relative_to(SCREENS)}:{line}: {words!r}: {one}" for one in better]
    assert found == []


@pytest.mark.parametrize(
    ("words", "rules"),
    [
        ("Cylinder 3 does not press", FORBIDDEN),
        ("Take back", FORBIDDEN),
        ("the signals fit only modulo 120°", FORBIDDEN),
        ("Bundle for a colleague", FORBIDDEN),
        ("Keep these", ON_BUTTONS),
        ("Keep", ON_BUTTONS),
        ("Remove this engine", ON_BUTTONS),
        ("The profile has no index_deg", {FIELD_NAME: ""}),
    ],
)
def test_the_rules_find_what_they_forbid(words: str, rules: dict[str, str]) -> None:
    assert faults(words, rules)


@pytest.mark.parametrize("words", ["Keep as known good", "press M when it happens", "Cylinder 3 compresses 40 %"])
def test_the_rules_leave_the_rest(words: str) -> None:
    assert not faults(words, FORBIDDEN | ON_BUTTONS)


def test_every_place_is_read(tmp_path: Path) -> None:
    python = tmp_path / "a.py"
    python.write_text('"""No press here."""\nX = f"it does {1} press"\nY = "cylinders press"\n', encoding="utf-8")
    assert [words for _, words in texts_of_python(python)] == ["it does {} press", "cylinders press"]
    screen = tmp_path / "a.tsx"
    screen.write_text('// press\n<Text title="Take back">\n  Give\n  away\n</Text>', encoding="utf-8")
    assert [words for _, words in texts_of_screen(screen)] == ["Take back", "Give away"]
