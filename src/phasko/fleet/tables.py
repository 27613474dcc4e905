"""The tables of a fleet as Parquet: kept in batches while the work goes on, so that a kill costs one batch and nothing
is done twice."""

from __future__ import annotations

import fcntl
import json
import os
import shutil
from collections.abc import Iterable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import asdict
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import pyarrow as pa
import pyarrow.parquet as pq

from phasko.code_hash import software_label
from phasko.core.errors import DataError, RefusedError
from phasko.fleet.folder import ENGINES, VIEW
from phasko.fleet.rows import SCHEMAS, VERSION, Rows
from phasko.fleet.units import Bad

__all__ = ["FleetTables"]

_BATCHES = "batches"
_DONE = "units.json"
_HELD = "held"


class FleetTables:
    """The folder that a fleet's results go to.

    A batch is a folder of its own with a Parquet file a table and the keys of its units. It is written under another
    name and renamed once it is whole: whatever has its right name counts.
    """

    def __init__(self, out: Path) -> None:
        """Makes the folder. Raises RefusedError where something else lies in it, DataError where it cannot be made."""
        self.out = out
        try:
            (out / _BATCHES).mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise DataError(f"cannot be made: {error.strerror}", place=str(out)) from error
        strange = [path.name for path in out.iterdir() if path.name not in _OURS]
        if strange:
            raise RefusedError(
                f"Something else lies in this folder: {strange[0]}",
                place=str(out),
                kept="Nothing was changed",
                remedy="Give an empty folder, or one that this command has written.",
            )

    @contextmanager
    def alone(self) -> Iterator[None]:
        """No other command writes into the folder meanwhile; what a killed one had begun is cleared away. Raises
        RefusedError while another does."""
        with (self.out / _HELD).open("w", encoding="utf-8") as held:
            try:
                # The system lets go of it with the process, however that ends.
                fcntl.flock(held, fcntl.LOCK_EX | fcntl.LOCK_NB)
            except BlockingIOError as error:
                raise RefusedError(
                    "Another command is writing into this folder",
                    place=str(self.out),
                    kept="It goes on, and nothing of it was changed",
                    remedy="Wait until it has ended, or give another folder.",
                ) from error
            for left in (self.out / _BATCHES).glob("*.begun"):
                shutil.rmtree(left)
            yield

    def done(self) -> dict[str, int]:
        """Keys of the units that are kept already, with the captures of each (0: it was bad)."""
        found: dict[str, int] = {}
        for batch in self._batches():
            found |= json.loads((batch / _DONE).read_text(encoding="utf-8"))["units"]
        return found

    def _batches(self) -> list[Path]:
        return sorted(path for path in (self.out / _BATCHES).iterdir() if (path / _DONE).is_file())

    def keep(self, rows: Sequence[Rows], bad: Sequence[tuple[str, Bad]]) -> None:
        """Keeps one batch: rows of units, and units (by their key) that could not be analysed. Raises DataError."""
        first = min([*(one.unit for one in rows), *(key for key, _ in bad)])
        begun, whole = (self.out / _BATCHES / f"{first[:24]}{ending}" for ending in (".begun", ""))
        try:
            begun.mkdir()
            for name, schema in SCHEMAS.items():
                table = _table([row for one in rows for row in one.tables[name]], schema)
                pq.write_table(table, begun / f"{name}.parquet", compression="zstd")
            pq.write_table(_bad_table([one for _, one in bad]), begun / "bad.parquet")
            units = {one.unit: len(one.tables["captures"]) for one in rows} | {key: 0 for key, _ in bad}
            (begun / _DONE).write_text(json.dumps({"schema": VERSION, "units": units}), encoding="utf-8")
            for path in begun.iterdir():
                _synced(path)
            self._keep_engines(rows)
            begun.replace(whole)
            _synced(whole.parent)
        except OSError as error:
            raise DataError(
                f"cannot be written: {error.strerror}",
                place=str(self.out),
                kept="Every batch before it is kept",
                remedy="Make room, then start the same command again: it goes on where it was.",
            ) from error

    def _keep_engines(self, rows: Sequence[Rows]) -> None:
        """The profiles that the rows were read with, each once."""
        for one in rows:
            path = self.out / ENGINES / f"{one.engine_sha256}.json"
            if one.engine and not path.is_file():
                path.parent.mkdir(exist_ok=True)
                begun = path.with_suffix(".begun")
                begun.write_text(one.engine, encoding="utf-8")
                begun.replace(path)

    def join(self, current: Iterable[str], found_bad: Sequence[Bad]) -> dict[str, int]:
        """Writes one Parquet file a table, of the units that there are now, and tells how many rows each has. What was
        kept of files that have changed since stays in its batch and is left out."""
        wanted = set(current)
        counts = {}
        for name, schema in SCHEMAS.items():
            counts[name] = self._joined(name, schema, wanted)
        bad = [pq.read_table(batch / "bad.parquet") for batch in self._batches()]
        table = pa.concat_tables([*bad, _bad_table(found_bad)]) if bad else _bad_table(found_bad)
        _write(table, self.out / "bad.parquet")
        counts["bad"] = table.num_rows
        made_at = datetime.now(UTC).isoformat(timespec="seconds")
        about = {"schema": VERSION, "made_at": made_at, "software": software_label(), "rows": counts}
        (self.out / "fleet.json").write_text(json.dumps(about, indent=1), encoding="utf-8")
        return counts

    def _joined(self, name: str, schema: Any, wanted: set[str]) -> int:
        """Batch by batch, so that no more than one is in memory."""
        rows = 0
        partial = self.out / f"{name}.parquet.begun"
        with pq.ParquetWriter(partial, schema, compression="zstd") as writer:
            for batch in self._batches():
                table = pq.read_table(batch / f"{name}.parquet", schema=schema)
                keep = pa.array([key in wanted for key in table.column("unit").to_pylist()], pa.bool_())
                table = table.filter(keep)
                if table.num_rows:
                    writer.write_table(table)
                rows += table.num_rows
        partial.replace(self.out / f"{name}.parquet")
        return rows


_OURS = {
    _BATCHES,
    _HELD,
    ENGINES,
    "taught.json",
    VIEW,
    f"{VIEW}.begun",
    "fleet.json",
    "bad.parquet",
    *(f"{name}.parquet{end}" for name in SCHEMAS for end in ("", ".begun")),
}
_BAD_SCHEMA = pa.schema(
    [
        pa.field("name", pa.string(), metadata={"about": "where it was found"}),
        pa.field("reason", pa.string(), metadata={"about": "why it could not be analysed"}),
    ]
)


def _table(rows: Sequence[dict[str, Any]], schema: Any) -> Any:
    named = schema.with_metadata({"schema": VERSION})
    return pa.Table.from_pylist(list(rows), schema=named)


def _bad_table(bad: Sequence[Bad]) -> Any:
    return pa.Table.from_pylist([asdict(one) for one in bad], schema=_BAD_SCHEMA)


def _write(table: Any, path: Path) -> None:
    begun = path.with_name(path.name + ".begun")
    pq.write_table(table, begun, compression="zstd")
    begun.replace(path)


def _synced(path: Path) -> None:
    """What it holds is on the disk before anything is renamed."""
    number = os.open(path, os.O_RDONLY)
    try:
        os.fsync(number)
    finally:
        os.close(number)
