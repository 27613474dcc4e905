"""Writes what is generated from the code: the API, and the pages of numbers, data formats, words and fleet tables.

``--check`` only compares.
"""

from __future__ import annotations

import json
import sys
import tempfile
from pathlib import Path

from phasko.core.numbers import NUMBERS_VERSION, table
from phasko.fleet.rows import SCHEMAS, VERSION
from phasko.formats import formats_page
from phasko.report.glossary import glossary_page
from phasko.store import Database
from phasko.web.app import create_app
from phasko.web.door import Door

DOCS = Path(__file__).parents[1] / "docs"


def openapi_text() -> str:
    """The API's description; the same for the same code."""
    with tempfile.TemporaryDirectory() as folder:
        database = Database(Path(folder))
        document = create_app(database, Door(tuple, loopback_only=True)).openapi()
        database.close()
    return json.dumps(document, indent=1, ensure_ascii=False) + "\n"


def numbers_text() -> str:
    """The table of numbers as a page."""
    lines = [
        "# Numbers",
        "",
        f"Version {NUMBERS_VERSION}. Made from `src/phasko/core/numbers/`; change them there.",
        "(cp) is common practice without a published source, (house) our own choice.",
        "",
        "| name | value | unit | meaning | source |",
        "|---|---:|---|---|---|",
    ]
    for name, entry in table().items():
        lines.append(f"| `{name}` | {entry.value:g} | {entry.unit} | {entry.meaning} | {entry.source} |")
    return "\n".join(lines) + "\n"


def fleet_text() -> str:
    """The tables of a fleet as a page."""
    lines = [
        "# Tables of a fleet",
        "",
        f"`{VERSION}`. Made from `src/phasko/fleet/rows.py`; change them there.",
        "How they are made: [fleet.md](fleet.md).",
        "A column that is empty was not measured, or is not known.",
    ]
    for name, schema in SCHEMAS.items():
        lines += ["", f"## {name}.parquet", "", "| column | type | about |", "|---|---|---|"]
        lines += [f"| `{field.name}` | {field.type} | {field.metadata[b'about'].decode()} |" for field in schema]
    return "\n".join(lines) + "\n"


def main(arguments: list[str]) -> int:
    stale = []
    words, drawings = glossary_page("glossary")
    (DOCS / "glossary").mkdir(exist_ok=True)
    made = {"openapi.json": openapi_text(), "numbers.md": numbers_text(), "formats.md": formats_page()}
    made["fleet-tables.md"] = fleet_text()
    made |= {"glossary.md": words} | {f"glossary/{name}": svg for name, svg in drawings.items()}
    for path, text in ((DOCS / name, text) for name, text in made.items()):
        if "--check" in arguments:
            if not path.is_file() or path.read_text(encoding="utf-8") != text:
                stale.append(path.name)
        else:
            path.write_text(text, encoding="utf-8")
    if stale:
        print(f"stale: {', '.join(stale)}; run scripts/write_generated.py", file=sys.stderr)
    return 1 if stale else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
