"""HDF5."""

from __future__ import annotations

import io

import numpy as np
from numpy.typing import NDArray

from phasko.core.errors import DataError
from phasko.formats.series import columns_of, table_of_series
from phasko.formats.table import FileBytes, Table, check_size

__all__ = ["Hdf5Format", "read_hdf5"]

_DESCRIPTION = "phasko.capture"
_MOST_SERIES = 200


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
                file.attrs[_DESCRIPTION] = table.description
            group = file.create_group("channels")
            for number, (name, samples) in enumerate(table.columns.items(), start=1):
                plain = name if name.isidentifier() else f"channel {number}"
                stored = group.create_dataset(plain, data=samples, compression="gzip", compression_opts=1, shuffle=True)
                stored.attrs["name"], stored.attrs["number"] = name, number
                stored.attrs["unit"] = table.units.get(name, "")
        return sink.getvalue()


def read_hdf5(data: FileBytes, place: str) -> Table:
    """Every series of an HDF5 file as a table; also that of newer MAT files, which are HDF5. Raises DataError."""
    import h5py

    series: dict[str, NDArray[np.generic]] = {}
    scalars: dict[str, float] = {}
    units: dict[str, str] = {}
    try:
        with h5py.File(io.BytesIO(data[:]), "r") as file:
            scalars |= {key: float(np.asarray(value)) for key, value in file.attrs.items() if _number(value)}
            described = file.attrs.get(_DESCRIPTION)
            found: list[tuple[str, h5py.Dataset]] = []
            file.visititems(lambda path, item: found.append((path, item)) if isinstance(item, h5py.Dataset) else None)
            check_size(sum(int(item.size or 0) for _, item in found[:_MOST_SERIES]), len(data), place)
            for path, item in sorted(found[:_MOST_SERIES], key=_number_of):
                if item.dtype.kind not in "fiub" or not item.size:
                    continue
                values, name = item[()], _text(item.attrs.get("name")) or path.removeprefix("channels/")
                unit = _text(item.attrs.get("unit", item.attrs.get("units")))
                if np.size(values) == 1:
                    scalars[name] = float(np.ravel(values)[0])
                for own, column in columns_of(name, np.asarray(values)):
                    series[own] = column
                    if unit:
                        units[own] = unit
    except (OSError, RuntimeError, KeyError, ValueError, TypeError, OverflowError) as error:
        text = f"cannot be read as HDF5: {str(error)[:160]}"
        raise DataError(text, place=place, remedy="Was the file cut off?") from error
    return table_of_series(series, scalars, units, place, _text(described) or None)


def _number_of(found: tuple[str, object]) -> int:
    """The place that an earlier export gave the series; the others keep their order behind."""
    told = getattr(found[1], "attrs", {}).get("number")
    return int(told) if isinstance(told, (int, np.integer)) else 1 << 30


def _number(value: object) -> bool:
    return isinstance(value, (int, float, np.integer, np.floating))


def _text(value: object) -> str:
    if isinstance(value, bytes):
        return value.decode("utf-8", errors="replace")
    return value if isinstance(value, str) else ""
