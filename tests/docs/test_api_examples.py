"""The examples of the API's page, one after the other, against a server that was started as the page says."""

from __future__ import annotations

import re
import shlex
import subprocess
import sys
from contextlib import closing
from pathlib import Path

import pytest

from phasko.keeping.people import add_person
from phasko.store import Database
from trials.serving import served

OWN_PLACES = ("docs/api.md", "src/phasko/web")

PAGE = Path(__file__).parents[2] / "docs" / "api.md"
BLOCKS = re.findall(r"```(console|python)\n(.*?)```", PAGE.read_text(encoding="utf-8"), re.DOTALL)


@pytest.mark.exhaustive
def test_every_example_runs_as_it_stands(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    monkeypatch.chdir(tmp_path)
    with closing(Database(tmp_path / "workshop")) as database:
        add_person(database, "Lin", "lead", "four good long words")
    lines = [line.removeprefix("$ ") for kind, text in BLOCKS if kind == "console" for line in text.splitlines()]
    served_lines = [line for line in lines if line.startswith("phasko serve")]
    assert served_lines == ["phasko serve --data workshop"]
    for line in lines:
        if line not in served_lines:
            _run(line)
    with served(tmp_path / "workshop") as running:
        monkeypatch.setenv("PHASKO_ADDRESS", running.address)
        names: dict[str, object] = {}
        for kind, text in BLOCKS:
            if kind == "python":
                exec(compile(text, PAGE.name, "exec"), names)
    told = capsys.readouterr().out
    assert "no\n" in told
    assert "degrees of the crank" in told
    assert (tmp_path / "job.zip").stat().st_size > 10_000


def _run(line: str) -> None:
    command, _, into = line.partition(" > ")
    words = shlex.split(command)
    assert words[0] == "phasko"
    run = subprocess.run([sys.executable, "-m", *words], capture_output=True, check=True, timeout=120)
    if into:
        Path(into.strip()).write_bytes(run.stdout)
