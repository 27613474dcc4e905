"""Files that make the reader open other files: who sends a capture must not see what lies on the server's disk."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import h5py
import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq
import pytest
from asammdf import MDF, Signal

from phasko.core.errors import DataError
from phasko.formats.registry import format_of


def _other_file(folder: Path) -> Path:
    """A file of the server: samples that nobody may have."""
    path = folder / "other.h5"
    with h5py.File(path, "w") as file:
        file["secret"] = np.arange(50.0)
    return path


def _external_storage(file: h5py.File, folder: Path) -> None:
    secret = folder / "secret.bin"
    secret.write_bytes(b"\x11" * 400)
    file.create_dataset("c1", shape=(50,), dtype="f8", external=[(str(secret), 0, 400)])


def _virtual_dataset(file: h5py.File, folder: Path) -> None:
    layout = h5py.VirtualLayout(shape=(50,), dtype="f8")
    layout[:] = h5py.VirtualSource(str(_other_file(folder)), "secret", shape=(50,))
    file.create_virtual_dataset("channels/c1", layout)


def _external_link(file: h5py.File, folder: Path) -> None:
    file["c1"] = h5py.ExternalLink(str(_other_file(folder)), "/secret")


@pytest.mark.parametrize("point", [_external_storage, _virtual_dataset, _external_link])
@pytest.mark.parametrize("named", ["x.h5", "x.mat"])
def test_it_is_refused(tmp_path: Path, point: Callable[[h5py.File, Path], None], named: str) -> None:
    path = tmp_path / "x.h5"
    with h5py.File(path, "w") as file:
        file.attrs["interval_s"] = 1e-3
        file["plain"] = np.arange(50.0)
        point(file, tmp_path)
    data = path.read_bytes()
    with pytest.raises(DataError, match="another file; export the samples themselves"):
        format_of(data, named).read(data, named)


def test_a_parquet_file_whose_rows_lie_in_another(tmp_path: Path) -> None:
    """What a folder of Parquet files keeps as its ``_metadata``: rows are named, and another file holds them."""
    collected: list[pq.FileMetaData] = []
    table = pa.table({"time_s": np.arange(50.0), "secret": np.arange(50.0)})
    pq.write_table(table, tmp_path / "other.parquet", metadata_collector=collected)
    collected[0].set_file_path(str(tmp_path / "other.parquet"))
    collected[0].write_metadata_file(tmp_path / "x.parquet")
    data = (tmp_path / "x.parquet").read_bytes()
    with pytest.raises(DataError, match="cannot be read as Parquet"):
        format_of(data, "x.parquet").read(data, "x.parquet")


def test_an_mdf_attachment_that_lies_elsewhere_is_not_fetched(tmp_path: Path) -> None:
    secret = tmp_path / "description.capture.json"
    secret.write_text('{"password": "of the server"}')
    times = np.arange(50) * 1e-3
    with MDF(version="4.10") as file:
        file.append([Signal(np.arange(50.0), times, name="c1")])
        file.attach(secret.read_bytes(), str(secret), embedded=False, mime="application/json")
        path = Path(file.save(tmp_path / "x.mf4", overwrite=True))
    secret.write_text('{"password": "of the server"}')
    data = path.read_bytes()
    table = format_of(data, "x.mf4").read(data, "x.mf4")
    assert list(table.columns) == ["c1"]
    assert table.description is None


def test_a_link_inside_the_file_is_no_harm(tmp_path: Path) -> None:
    path = tmp_path / "x.h5"
    with h5py.File(path, "w") as file:
        file.attrs["interval_s"] = 1e-3
        file["plain"] = np.arange(50.0)
        file["again"] = h5py.SoftLink("/plain")
    data = path.read_bytes()
    assert list(format_of(data, "x.h5").read(data, "x.h5").columns) == ["plain"]
