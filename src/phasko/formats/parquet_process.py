"""Reads one Parquet file into plain arrays, as a process of its own: ``python -m phasko.formats.parquet_process``."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Any

import pyarrow as pa
import pyarrow.parquet as pq

from phasko.formats.apart import Arrays, write_apart
from phasko.formats.arrow_columns import numbers_of
from phasko.formats.table import check_size

__all__ = ["DESCRIPTION", "UNIT", "read_parquet"]

DESCRIPTION = b"phasko.capture"
UNIT = b"unit"


def read_parquet(path: Path) -> tuple[dict[str, Any], Arrays]:
    """(units and description, the columns of numbers) of a file. Raises DataError for one that unpacks to more than is
    read, before anything is unpacked."""
    with pq.ParquetFile(path) as file:
        schema = file.schema_arrow
        numeric = [field for field in schema if pa.types.is_floating(field.type) or pa.types.is_integer(field.type)]
        check_size(file.metadata.num_rows * len(numeric), path.stat().st_size, "")
        found = file.read([field.name for field in numeric])
    series = {field.name: numbers_of(found.column(field.name)) for field in numeric}
    units = {
        field.name: (field.metadata or {})[UNIT].decode("utf-8", errors="replace")
        for field in schema
        if UNIT in (field.metadata or {})
    }
    described = (schema.metadata or {}).get(DESCRIPTION)
    text = None if described is None else described.decode("utf-8", errors="replace")
    return {"units": units, "description": text}, series


if __name__ == "__main__":
    sys.exit(write_apart(read_parquet, sys.argv[1:]))
