"""Reads one Parquet file into plain arrays, as a process of its own: ``python -m phasko.readers.parquet``."""

from __future__ import annotations

import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pyarrow as pa
import pyarrow.parquet as pq
from numpy.typing import NDArray

from phasko.readers.arrow_columns import numbers_of
from phasko.readers.limits import check_size
from phasko.readers.process import Outgoing, write_apart

__all__ = ["DESCRIPTION", "UNIT", "read_parquet"]

DESCRIPTION = b"phasko.capture"
UNIT = b"unit"
_BLOCK = 1 << 18


def read_parquet(path: Path, out: Outgoing) -> dict[str, Any]:
    """Units and description of a file; its columns of numbers go to ``out``. Raises DataError for one that unpacks to
    more than is read, before anything is unpacked."""
    with pq.ParquetFile(path, memory_map=True) as file:
        schema = file.schema_arrow
        numeric = [field for field in schema if pa.types.is_floating(field.type) or pa.types.is_integer(field.type)]
        check_size(file.metadata.num_rows * len(numeric), path.stat().st_size, "")
        for field in numeric:
            out.add(field.name, _blocks(file, field.name))
    units = {
        field.name: (field.metadata or {})[UNIT].decode("utf-8", errors="replace")
        for field in schema
        if UNIT in (field.metadata or {})
    }
    described = (schema.metadata or {}).get(DESCRIPTION)
    text = None if described is None else described.decode("utf-8", errors="replace")
    return {"units": units, "description": text}


def _blocks(file: pq.ParquetFile, column: str) -> Iterator[NDArray[Any]]:
    for batch in file.iter_batches(batch_size=_BLOCK, columns=[column], use_threads=False):
        yield numbers_of(pa.chunked_array([batch.column(0)]))


if __name__ == "__main__":
    sys.exit(write_apart(read_parquet, sys.argv[1:]))
