"""ASAM MDF, version 4."""

from __future__ import annotations

import tempfile
from pathlib import Path

import numpy as np

from phasko.core.errors import DataError
from phasko.formats.apart import read_apart
from phasko.formats.series import table_of_series
from phasko.formats.table import FileBytes, Table
from phasko.readers.mdf import DESCRIPTION

__all__ = ["MdfFormat"]


class MdfFormat:
    """ASAM MDF4."""

    name = "MDF4"
    suffixes = (".mf4", ".mdf")
    mapping = (
        "Every numeric channel is a series with its unit, after the conversion that the file gives; the time is the "
        "master channel of its group. Groups with other time bases than the largest group's are left out and named. "
        "The description is the attachment `description.capture.json`."
    )

    def sniff(self, head: bytes) -> bool:
        return head.startswith((b"MDF     ", b"UnFinMF "))

    def read(self, data: FileBytes, place: str) -> Table:
        """The table; raises DataError.

        A process of its own reads the file, since the library may take any memory, or end, over a file that is not
        what it claims.
        """
        if data[:8] == b"UnFinMF ":
            raise DataError("was never finished by the program that wrote it", place=place, remedy="Export it again.")
        about, series = read_apart("phasko.readers.mdf", "MDF", data, place)
        table = table_of_series(series, {}, about["units"], place, about["description"])
        left_out = about["left_out"]
        notes = (f"Left out, on another time base: {', '.join(left_out)}.",) if left_out else ()
        return Table(
            start_s=table.start_s,
            interval_s=table.interval_s,
            columns=table.columns,
            units=table.units,
            description=table.description,
            ordered=False,
            notes=notes,
            cut_off=about["cut_off"],
        )

    def write(self, table: Table) -> bytes:
        """One group, channels as float32 with their units, the time as master."""
        from asammdf import MDF, Signal

        count = next(iter(table.columns.values())).size
        times = table.start_s + (table.interval_s or 1.0) * np.arange(count)
        with tempfile.TemporaryDirectory() as folder, MDF(version="4.10") as file:
            file.append(
                [
                    Signal(samples, times, name=name or f"c{place}", unit=table.units.get(name, ""))
                    for place, (name, samples) in enumerate(table.columns.items(), start=1)
                ]
            )
            if table.description is not None:
                file.attach(table.description.encode(), DESCRIPTION, mime="application/json")
            path = file.save(Path(folder) / "capture.mf4", overwrite=True)
            return Path(path).read_bytes()
