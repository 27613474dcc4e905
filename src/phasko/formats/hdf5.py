"""HDF5."""

from __future__ import annotations

import io

from phasko.formats.apart import read_apart
from phasko.formats.series import table_of_series
from phasko.formats.table import FileBytes, Table
from phasko.readers.hdf5 import DESCRIPTION

__all__ = ["Hdf5Format", "read_hdf5"]


class Hdf5Format:
    """HDF5."""

    name = "HDF5"
    suffixes = (".h5", ".hdf5")
    mapping = (
        "Every one-dimensional numeric dataset is a series, called by its path below the root (`channels/` left out); "
        "a two-dimensional one gives a series a column. The unit is the dataset attribute `unit` or `units`. Time: a "
        "dataset named so, else the root attributes `interval_s` or `sample_rate_hz` and `start_s`. The description "
        "is the root attribute `phasko.capture`."
    )

    def sniff(self, head: bytes) -> bool:
        return head.startswith(b"\x89HDF\r\n\x1a\n")

    def read(self, data: FileBytes, place: str) -> Table:
        """The table; raises DataError."""
        return read_hdf5(data, place)

    def write(self, table: Table) -> bytes:
        """Datasets ``channels/NAME`` as compressed float32 with their units."""
        import h5py

        sink = io.BytesIO()
        with h5py.File(sink, "w") as file:
            file.attrs["start_s"] = table.start_s
            file.attrs["interval_s"] = table.interval_s or 1.0
            if table.description is not None:
                file.attrs[DESCRIPTION] = table.description
            group = file.create_group("channels")
            for number, (name, samples) in enumerate(table.columns.items(), start=1):
                plain = name if name.isidentifier() else f"channel {number}"
                stored = group.create_dataset(plain, data=samples, compression="gzip", compression_opts=1, shuffle=True)
                stored.attrs["name"], stored.attrs["number"] = name, number
                stored.attrs["unit"] = table.units.get(name, "")
        return sink.getvalue()


def read_hdf5(data: FileBytes, place: str) -> Table:
    """Every series of an HDF5 file as a table; also that of newer MAT files, which are HDF5. A process of its own reads
    it: the library can crash over a file that lies. Raises DataError."""
    about, series = read_apart("phasko.readers.hdf5", "HDF5", data, place)
    return table_of_series(series, about["scalars"], about["units"], place, about["description"])
