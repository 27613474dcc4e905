"""What each way in loads before it can answer: nothing that it does not need."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

import pytest

from tests.builders import FOUR, bench_files, pool_engine

READERS = {"hdf5": "h5py", "mat": "scipy", "mdf": "asammdf", "parquet": "pyarrow", "wav": "soundfile"}


def loaded_by(code: str, *arguments: str) -> set[str]:
    """The modules that a new process has loaded after some code."""
    ending = "\nimport json, sys\nprint('\\n' + json.dumps(sorted(sys.modules)))"
    command = [sys.executable, "-c", code + ending, *arguments]
    told = subprocess.run(command, capture_output=True, text=True, check=True)
    return set(json.loads(told.stdout.splitlines()[-1]))


def of(modules: set[str], *packages: str) -> list[str]:
    return sorted(name for name in modules if any(name == p or name.startswith(f"{p}.") for p in packages))


def test_the_server_loads_neither_compiler_nor_cluster_nor_statistics() -> None:
    modules = loaded_by("import phasko.web.serving")
    assert of(modules, "numba", "distributed", "dask", "alembic", "h5py", "asammdf", "pandas", "weasyprint") == []
    assert of(modules, "scipy.stats", "scipy.optimize", "scipy.interpolate", "scipy.signal", "scipy.ndimage") == []
    assert of(modules, "phasko.fleet.running", "phasko.fleet.measuring", "phasko.fleet.tables") == []
    assert of(modules, "phasko.bench.physics.kernel", "phasko.jobs.demo") == []


def test_no_passphrase_is_hashed_before_somebody_signs_in() -> None:
    code = """
import argon2
def refuse(*_): raise AssertionError("hashed at import")
argon2.PasswordHasher.hash = refuse
import phasko.web.app
"""
    assert "phasko.web.door" in loaded_by(code)


def test_analyze_loads_nothing_of_web_store_or_bench(tmp_path: Path) -> None:
    files = bench_files(cycles=4.2)
    (tmp_path / files.description_name).write_bytes(files.description)
    (tmp_path / files.data_name).write_bytes(files.data)
    engine = tmp_path / "engine.json"
    engine.write_text(pool_engine(FOUR).model_dump_json(by_alias=True, exclude_none=True))
    code = "import sys; from phasko.cli import main; assert main(['analyze', *sys.argv[1:]]) == 0"
    modules = loaded_by(code, str(tmp_path / files.description_name), "--engine", str(engine))
    assert of(modules, "phasko.web", "phasko.store", "phasko.bench", "phasko.fleet") == []
    assert of(modules, "numba", "sqlalchemy", "fastapi", "uvicorn", "jinja2", "scipy.stats", "distributed") == []


@pytest.mark.parametrize("reader", READERS)
def test_a_reader_process_loads_its_own_library_alone(reader: str) -> None:
    modules = loaded_by(f"import phasko.readers.{reader}")
    assert of(modules, "phasko.formats", "phasko.store", "phasko.web", "phasko.core.documents") == []
    others = {library for name, library in READERS.items() if name != reader} - {"scipy"}
    assert of(modules, *others, "pandas", "numba") == []
