"""Generators of files that lie about their size, unpack to any, nest without end, or break off: each small itself."""

from __future__ import annotations

import io
import json
import struct
import tempfile
import zipfile
import zlib
from collections.abc import Callable, Mapping
from pathlib import Path

import h5py
import numpy as np
import pyarrow as pa
import pyarrow.parquet as pq

__all__ = ["HOSTILE"]

_ROWS = 4_000_000
"""Of one piece; a file repeats it."""


def parquet_runs() -> bytes:
    """Two hundred million numbers in runs."""
    sink = io.BytesIO()
    group = pa.table({f"c{k}": pa.array(np.zeros(_ROWS, dtype=np.float64)) for k in range(9)})
    with pq.ParquetWriter(sink, group.schema, compression="zstd") as writer:
        for _ in range(6):
            writer.write_table(group)
    return sink.getvalue()


def parquet_just_allowed() -> bytes:
    """As many numbers as a file of that size may hold."""
    sink = io.BytesIO()
    rng = np.random.default_rng(1)
    noise = pa.array(rng.integers(0, 2, 2_000_000).astype(np.float64))
    rest = pa.array(np.zeros(2_000_000))
    with pq.ParquetWriter(sink, pa.schema([("c1", pa.float64()), ("c2", pa.float64())])) as writer:
        for _ in range(6):
            writer.write_table(pa.table({"c1": noise, "c2": rest}))
    return sink.getvalue()


def parquet_many_columns() -> bytes:
    sink = io.BytesIO()
    pq.write_table(pa.table({f"c{k}": [1.0, 2.0] for k in range(3000)}), sink)
    return sink.getvalue()


def hdf5_empty_space() -> bytes:
    """Eight thousand million samples of which none was ever written."""
    return _hdf5(lambda file: file.create_dataset("c1", shape=(1 << 33,), dtype="f8", chunks=(1 << 20,)))


def hdf5_one_huge_piece() -> bytes:
    def fill(file: h5py.File) -> None:
        made = file.create_dataset("c1", shape=(1 << 27,), dtype="f8", chunks=(1 << 27,), compression="gzip")
        made.id.write_direct_chunk((0,), zlib.compress(bytes(1 << 20)) * 4)

    return _hdf5(fill)


def hdf5_zeros() -> bytes:
    """Four hundred thousand zeros a packed kilobyte."""

    def fill(file: h5py.File) -> None:
        for k in range(3):
            file.create_dataset(f"c{k}", data=np.zeros(_ROWS), compression="gzip", compression_opts=9)

    return _hdf5(fill)


def hdf5_deep() -> bytes:
    def fill(file: h5py.File) -> None:
        group = file
        for _ in range(2000):
            group = group.create_group("g")
        group.create_dataset("c1", data=np.arange(10.0))

    return _hdf5(fill)


def _hdf5(fill: Callable[[h5py.File], object]) -> bytes:
    sink = io.BytesIO()
    with h5py.File(sink, "w") as file:
        file.attrs["interval_s"] = 1e-5
        fill(file)
    return sink.getvalue()


def mat_zeros() -> bytes:
    """One variable of a hundred million zeros, packed in pieces of a megabyte."""
    rows = 100_000_000
    packer = zlib.compressobj(1)
    head = struct.pack("<IIIIIIIIII", 14, 8 * rows + 48, 6, 8, 6, 0, 5, 8, rows, 1)
    head += struct.pack("<HH4sII", 1, 2, b"c1\0\0", 9, 8 * rows)
    packed = packer.compress(head)
    piece = bytes(1 << 20)
    for _ in range(8 * rows >> 20):
        packed += packer.compress(piece)
    packed += packer.compress(bytes(8 * rows % (1 << 20))) + packer.flush()
    text = b"MATLAB 5.0 MAT-file".ljust(124) + struct.pack("<HH", 0x0100, 0x4D49)
    return text + struct.pack("<II", 15, len(packed)) + packed


def mdf_zeros() -> bytes:
    """Packed zeros: sixteen channels of four million."""
    from asammdf import MDF, Signal

    times = 1e-5 * np.arange(_ROWS)
    rest = np.zeros(_ROWS, dtype=np.int8)
    with tempfile.TemporaryDirectory() as folder, MDF(version="4.10") as file:
        file.append([Signal(rest, times, name=f"c{k}") for k in range(16)])
        return Path(file.save(Path(folder) / "a.mf4", compression=2)).read_bytes()


def mdf_claims() -> bytes:
    """A group that counts a million million records over a few bytes."""
    from asammdf import MDF, Signal

    with tempfile.TemporaryDirectory() as folder, MDF(version="4.10") as file:
        file.append([Signal(np.zeros(1000), 1e-5 * np.arange(1000), name="c1")])
        made = bytearray(Path(file.save(Path(folder) / "a.mf4")).read_bytes())
    at = made.find(b"##CG")
    links = struct.unpack_from("<Q", made, at + 16)[0]
    struct.pack_into("<Q", made, at + 24 + 8 * links + 8, 10**12)
    return bytes(made)


def wav_claims() -> bytes:
    head = b"RIFF" + (0x7FFFFFF0).to_bytes(4, "little") + b"WAVEfmt " + (16).to_bytes(4, "little")
    head += b"\x01\x00\x02\x00\x44\xac\x00\x00\x10\xb1\x02\x00\x04\x00\x10\x00"
    return head + b"data" + (0x7FFFFF00).to_bytes(4, "little") + b"\x00" * 64


def csv_one_line() -> bytes:
    return b"time_s,c1\n0," + b"1" * (20 << 20)


def csv_many_columns() -> bytes:
    names = ",".join(f"c{k}" for k in range(20_000))
    row = ",".join(["1"] * 20_000)
    return f"{names}\n{row}\n{row}\n{row}\n".encode()


def csv_long_number() -> bytes:
    return b"time_s,c1\n" + b"".join(b"%d,%s\n" % (k, b"9" * 4400) for k in range(40))


def bundle_of_zeros() -> bytes:
    about = {"schema": "phasko.bundle/1", "data": "d.csv", "description": "s.json", "engine": "e.json", "result": None}
    return _bundle(about, {"d.csv": bytes(600 << 20), "s.json": b"{}", "e.json": b"{}"})


def bundle_of_one_member() -> bytes:
    about = {"schema": "phasko.bundle/1", "data": "d", "description": "d", "engine": "d", "result": "d"}
    return _bundle(about, {"d": b"1" * (30 << 20)})


def bundle_huge_about() -> bytes:
    sink = io.BytesIO()
    with zipfile.ZipFile(sink, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("bundle.json", b" " * (400 << 20))
    return sink.getvalue()


def _bundle(about: Mapping[str, object], members: Mapping[str, bytes]) -> bytes:
    sink = io.BytesIO()
    with zipfile.ZipFile(sink, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("bundle.json", json.dumps(about))
        for name, content in members.items():
            archive.writestr(name, content)
    return sink.getvalue()


def json_deep() -> bytes:
    return b"[" * 2_000_000


def json_wide() -> bytes:
    return b'{"schema":"phasko.engine/1","name":"x","cylinders":' + b"[0," * 1_000_000


HOSTILE: Mapping[str, tuple[str, Callable[[], bytes]]] = {
    "runs.parquet": ("capture", parquet_runs),
    "allowed.parquet": ("capture", parquet_just_allowed),
    "columns.parquet": ("capture", parquet_many_columns),
    "space.h5": ("capture", hdf5_empty_space),
    "piece.h5": ("capture", hdf5_one_huge_piece),
    "zeros.h5": ("capture", hdf5_zeros),
    "deep.h5": ("capture", hdf5_deep),
    "zeros.mat": ("capture", mat_zeros),
    "zeros.mf4": ("capture", mdf_zeros),
    "claims.mf4": ("capture", mdf_claims),
    "claims.wav": ("capture", wav_claims),
    "line.csv": ("capture", csv_one_line),
    "columns.csv": ("capture", csv_many_columns),
    "number.csv": ("capture", csv_long_number),
    "zeros.zip": ("bundle", bundle_of_zeros),
    "member.zip": ("bundle", bundle_of_one_member),
    "about.zip": ("bundle", bundle_huge_about),
    "deep.json": ("engine", json_deep),
    "wide.json": ("engine", json_wide),
}
"""By file name: where it is sent, and what makes it."""
