"""Recording on the simulated engine into files."""

from __future__ import annotations

from pathlib import Path

from phasko.bench.job_sheet import BenchSheet, read_sheet, recorded_files
from phasko.bench.pool import pool_engines
from phasko.core.errors import DataError, RefusedError

__all__ = ["bench_engines", "record_to_folder"]


def bench_engines() -> tuple[str, ...]:
    """The engines of the invented motor pool."""
    return pool_engines()


def record_to_folder(sheet: Path | None, engine: str | None, folder: Path, name: str) -> list[Path]:
    """Writes capture, description, engine profile and truth. Raises RefusedError, DataError, DocumentError."""
    if (sheet is None) == (engine is None):
        raise RefusedError("Give either a sheet or --engine NAME")
    if Path(name).name != name or not name:
        raise RefusedError(f"{name!r} is no plain file name")
    if sheet is None:
        made = BenchSheet(engine=engine or "")
    else:
        try:
            made = read_sheet(sheet.read_bytes(), sheet.name)
        except OSError as error:
            raise DataError(f"cannot be opened: {error.strerror}", place=sheet.name) from error
    folder.mkdir(parents=True, exist_ok=True)
    paths = []
    for file, content in recorded_files(made, name).items():
        path = folder / file
        path.write_bytes(content)
        paths.append(path)
    return paths
