"""Small files that claim, or unpack to, more than any recording: refused in words, without their memory."""

from __future__ import annotations

import io
import json
import resource
import zipfile
from collections.abc import Callable

import h5py
import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq
import pytest

from phasko.core.errors import DataError
from phasko.formats.bundle import read_bundle
from phasko.formats.registry import format_of


def _parquet() -> bytes:
    """200 million rows of one number: run lengths make a few kilobytes of them."""
    sink = io.BytesIO()
    group = pa.table({"c1": pa.array(np.zeros(10_000_000, dtype=np.float32))})
    with pq.ParquetWriter(sink, group.schema) as writer:
        for _ in range(20):
            writer.write_table(group)
    return sink.getvalue()


def _hdf5() -> bytes:
    sink = io.BytesIO()
    with h5py.File(sink, "w") as file:
        file.attrs["interval_s"] = 1e-5
        file.create_dataset("c1", shape=(1 << 33,), dtype="f8", chunks=(1 << 20,), compression="gzip")
    return sink.getvalue()


def _wav() -> bytes:
    """A header of two gigabytes of samples, and none behind it."""
    head = b"RIFF" + (0x7FFFFFF0).to_bytes(4, "little") + b"WAVEfmt " + (16).to_bytes(4, "little")
    head += b"\x01\x00\x02\x00\x44\xac\x00\x00\x10\xb1\x02\x00\x04\x00\x10\x00"
    return head + b"data" + (0x7FFFFF00).to_bytes(4, "little") + b"\x00" * 64


def peak_mib() -> float:
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024.0


@pytest.mark.parametrize("make", [_parquet, _hdf5, _wav])
def test_it_is_refused_in_words_and_takes_no_memory(make: Callable[[], bytes]) -> None:
    data = make()
    before = peak_mib()
    try:
        table = format_of(data, "x").read(data, "x")
    except DataError as error:
        assert error.place == "x"
    else:
        assert next(iter(table.columns.values())).size < 100
    assert peak_mib() - before < 150.0


def bundle_of(**members: bytes) -> bytes:
    about = {"schema": "phasko.bundle/1", "data": "d", "description": "s", "engine": "e", "result": None}
    sink = io.BytesIO()
    with zipfile.ZipFile(sink, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("bundle.json", json.dumps(about | {"data": members.pop("named", b"d").decode()}))
        for name, content in members.items():
            archive.writestr(name, content)
    return sink.getvalue()


def test_a_bundle_whose_documents_are_huge() -> None:
    data = bundle_of(d=b"1", s=b" " * (80 << 20), e=b"{}")
    before = peak_mib()
    with pytest.raises(DataError, match="would unpack to"):
        read_bundle(data, "x.zip")
    assert peak_mib() - before < 100.0


def test_one_member_of_a_bundle_serves_one_role() -> None:
    with pytest.raises(DataError, match="one file for two"):
        read_bundle(bundle_of(s=b"{}", e=b"{}", named=b"s"), "x.zip")


@pytest.mark.parametrize("name", [b"../d", b"/d", b"a/../../d", b"c:\\d", b"..\\d", b"d\x00"])
def test_a_member_that_would_leave_its_folder_is_refused(name: bytes) -> None:
    with pytest.raises(DataError, match=r"plain file name|no bundle"):
        read_bundle(bundle_of(s=b"{}", e=b"{}", named=name, **{name.decode().rstrip("\x00"): b"1"}), "x.zip")
