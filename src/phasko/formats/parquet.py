"""Apache Parquet."""

from __future__ import annotations

import io

import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq

from phasko.formats.apart import read_apart
from phasko.formats.series import table_of_series
from phasko.formats.table import FileBytes, Table
from phasko.readers.parquet import DESCRIPTION, UNIT

__all__ = ["ParquetFormat"]

_TIME = "time_s"


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
        """The table; raises DataError. A process of its own reads it: a small file may unpack to any size."""
        about, series = read_apart("phasko.readers.parquet", "Parquet", data, place)
        return table_of_series(series, {}, about["units"], place, about["description"])

    def write(self, table: Table) -> bytes:
        """Channels as float32 with their units, the time as float64."""
        count = next(iter(table.columns.values())).size
        times = table.start_s + (table.interval_s or 1.0) * np.arange(count)
        fields = [pa.field(_TIME, pa.float64(), metadata={UNIT: b"s"})]
        fields += [
            pa.field(name, pa.float32(), metadata={UNIT: table.units.get(name, "").encode()}) for name in table.columns
        ]
        about = {} if table.description is None else {DESCRIPTION: table.description.encode()}
        schema = pa.schema(fields, metadata=about)
        sink = io.BytesIO()
        pq.write_table(pa.table([times, *table.columns.values()], schema=schema), sink)
        return sink.getvalue()
