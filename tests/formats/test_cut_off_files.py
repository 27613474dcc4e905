"""Files that end before they should: what could be read is kept, and the capture says where it was cut off."""

from __future__ import annotations

import json
import tempfile
from pathlib import Path

import numpy as np
import pytest

from phasko.core.errors import DataError
from phasko.formats import CaptureFiles, Table, format_of, read_capture
from phasko.formats.registry import FORMATS
from phasko.jobs.captures import import_data_file, list_captures
from phasko.store import Database
from tests.builders import FOUR, bench_files, pool_engine
from tests.store.test_audit import job_in
from trials.measurements import measure_capture

COUNT = 5000
TABLE = Table(
    0.0,
    1e-4,
    {
        "crank": np.sin(np.arange(COUNT) / 9.0).astype(np.float32),
        "cam": np.cos(np.arange(COUNT) / 30.0).astype(np.float32),
    },
)


def written(name: str) -> bytes:
    return next(form for form in FORMATS if form.name == name).write(TABLE)


def read(data: bytes, name: str) -> Table:
    return format_of(data, name).read(data, name)


def same_begin(found: Table, count: int) -> None:
    for name, samples in TABLE.columns.items():
        column = found.columns.get(name, found.columns.get({"crank": "c1", "cam": "c2"}[name]))
        assert column is not None
        assert column.size == count
        assert column == pytest.approx(samples[:count], abs=1e-5)


@pytest.mark.parametrize("name", ["WAV", "MDF4", "CSV"])
def test_whole_files_are_not_called_cut(name: str) -> None:
    found = read(written(name), f"a.{name}")
    assert found.cut_off is None
    same_begin(found, COUNT)


def test_a_wav_whose_header_promises_more() -> None:
    from scipy.io import wavfile

    target = Path(tempfile.mkdtemp()) / "a.wav"
    wavfile.write(target, 10000, np.column_stack(list(TABLE.columns.values())))
    data = target.read_bytes()
    assert read(data, "a.wav").cut_off is None
    for cut in (1, 8, 13, 8000):
        found = read(data[:-cut], "a.wav")
        kept = COUNT - -(-cut // 8)
        same_begin(found, kept)
        assert found.cut_off == f"after sample {kept} of the {COUNT} that its header promises"


@pytest.mark.parametrize("cut", [1, 3, 8, 20, 31])
def test_a_csv_cut_in_a_row(cut: int) -> None:
    rows = "".join(f"{k * 1e-4:.4f},{np.sin(k / 9):.5f},{np.cos(k / 30):.5f}\n" for k in range(COUNT))
    data = ("time_s,crank,cam\n" + rows).encode()[: -1 - cut]
    found = read(data, "a.csv")
    kept = data.count(b"\n") - 1
    same_begin(found, kept)
    assert found.cut_off == f"in line {kept + 2}, in the middle of a row; the rows before it were kept"


@pytest.mark.parametrize("end", ["", "\n", "\r\n", "\nEND OF FILE", "\n\n"])
def test_a_csv_that_ends_without_an_end_of_line_is_whole(end: str) -> None:
    rows = "\n".join(f"{k * 1e-4:.4f},{np.sin(k / 9):.5f},{np.cos(k / 30):.5f}" for k in range(COUNT))
    found = read(f"time_s,crank,cam\n{rows}{end}".encode(), "a.csv")
    same_begin(found, COUNT)
    assert found.cut_off is None


def test_a_csv_in_utf_16_cut_in_a_letter() -> None:
    rows = "".join(f"{k * 1e-4:.4f},{np.sin(k / 9):.5f},{np.cos(k / 30):.5f}\n" for k in range(COUNT))
    data = ("time_s,crank,cam\n" + rows).encode("utf-16")
    found = read(data[:-9], "a.csv")
    same_begin(found, COUNT - 1)
    assert found.cut_off is not None


def mdf(compression: int) -> bytes:
    from asammdf import MDF, Signal

    times = 1e-4 * np.arange(COUNT)
    with tempfile.TemporaryDirectory() as folder, MDF(version="4.10") as file:
        file.append([Signal(samples, times, name=name) for name, samples in TABLE.columns.items()])
        return Path(file.save(Path(folder) / "a.mf4", compression=compression)).read_bytes()


@pytest.mark.parametrize("compression", [0, 1, 2])
def test_an_mdf_short_by_a_byte_or_more(compression: int) -> None:
    data = mdf(compression)
    same_begin(read(data, "a.mf4"), COUNT)
    assert read(data, "a.mf4").cut_off is None
    found = read(data[:-1], "a.mf4")
    assert found.cut_off is not None
    assert "bytes before the end of block" in found.cut_off


def test_an_mdf_cut_in_its_samples_keeps_whole_records() -> None:
    """Samples stand last in a file that was cut while it was recorded: the block is moved there."""
    import struct

    data = bytearray(mdf(0))
    at = data.find(b"##DT")
    length = struct.unpack_from("<Q", data, at + 8)[0]
    block = bytes(data[at : at + length])
    moved = -(-len(data) // 8) * 8
    pointer = struct.pack("<Q", at)
    data[data.find(pointer) : data.find(pointer) + 8] = struct.pack("<Q", moved)
    data += bytes(moved - len(data)) + block
    same_begin(read(bytes(data), "a.mf4"), COUNT)
    record = (length - 24) // COUNT
    for cut in (1, record, record + 1, 100 * record):
        found = read(bytes(data[:-cut]), "a.mf4")
        same_begin(found, COUNT - -(-cut // record))
        assert found.cut_off == f"{cut} bytes before the end of block DT at byte {moved}"


def test_an_mdf_of_which_more_is_missing_says_so() -> None:
    data = mdf(0)
    with pytest.raises(DataError, match=r"cut off|cannot be read"):
        read(data[: len(data) // 3], "a.mf4")


def test_a_described_capture_that_was_cut_off_is_measured_and_says_so() -> None:
    files = bench_files(B1I=8.0, B1E=8.0)
    half = files.data[: len(files.data) * 9 // 10 - 3]
    recording = read_capture(CaptureFiles(files.description_name, files.description, files.data_name, half))
    measured = measure_capture(recording, pool_engine(FOUR))
    told = [p for p in measured.problems if p.code == "file_cut_off"]
    assert len(told) == 1
    assert "in line" in told[0].text
    assert measured.cams[0].offset is not None


def test_a_stored_capture_keeps_that_it_was_cut_off(database: Database) -> None:
    job_id = job_in(database)
    rows = "".join(f"{k * 1e-4:.4f},{np.sin(k / 9):.5f},{np.cos(k / 30):.5f}\n" for k in range(COUNT))
    data = ("time_s,crank,cam\n" + rows).encode()[:-4]
    stored = import_data_file(database, job_id, "short.csv", data)
    assert stored.cut_off is not None
    assert json.loads(list_captures(database, job_id)[0].model_dump_json())["cut_off"] == stored.cut_off
