"""Apache Parquet."""

from __future__ import annotations

import io

import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq

from phasko.core.errors import DataError
from phasko.formats.arrow_columns import numbers_of
from phasko.formats.series import table_of_series
from phasko.formats.table import FileBytes, Table

__all__ = ["ParquetFormat"]

_TIME = "time_s"
_DESCRIPTION = b"phasko.capture"
_UNIT = b"unit"


class ParquetFormat:
    """Apache Parquet."""

    name = "Parquet"
    suffixes = (".parquet",)
    mapping = (
        "One column a channel, `time_s` (or a column named as a time) beside them. The unit is the field metadata "
        "`unit`, the description the file metadata `phasko.capture`. A null is a missing sample."
    )

    def sniff(self, head: bytes) -> bool:
        return head.startswith(b"PAR1")

    def read(self, data: FileBytes, place: str) -> Table:
        """The table; raises DataError."""
        try:
            arrow = pq.read_table(pa.BufferReader(pa.py_buffer(data)))
            series = {
                name: numbers_of(arrow.column(name))
                for name in arrow.column_names
                if pa.types.is_floating(arrow.schema.field(name).type)
                or pa.types.is_integer(arrow.schema.field(name).type)
            }
        except (pa.ArrowException, OSError, ValueError) as error:
            remedy = "Was the file cut off?"
            raise DataError(f"cannot be read as Parquet: {_short(error)}", place=place, remedy=remedy) from error
        units = {}
        for name in arrow.column_names:
            told = (arrow.schema.field(name).metadata or {}).get(_UNIT)
            if told is not None:
                units[name] = told.decode("utf-8", errors="replace")
        described = (arrow.schema.metadata or {}).get(_DESCRIPTION)
        text = None if described is None else described.decode("utf-8", errors="replace")
        return table_of_series(series, {}, units, place, text)

    def write(self, table: Table) -> bytes:
        """Channels as float32 with their units, the time as float64."""
        count = next(iter(table.columns.values())).size
        times = table.start_s + (table.interval_s or 1.0) * np.arange(count)
        fields = [pa.field(_TIME, pa.float64(), metadata={_UNIT: b"s"})]
        fields += [
            pa.field(name, pa.float32(), metadata={_UNIT: table.units.get(name, "").encode()}) for name in table.columns
        ]
        about = {} if table.description is None else {_DESCRIPTION: table.description.encode()}
        schema = pa.schema(fields, metadata=about)
        sink = io.BytesIO()
        pq.write_table(pa.table([times, *table.columns.values()], schema=schema), sink)
        return sink.getvalue()


def _short(error: Exception) -> str:
    return str(error).split("\n", 1)[0][:160]
