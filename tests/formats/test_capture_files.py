"""A capture is two files; both must be there and agree."""

import io
import json
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
import soundfile

from phasko.core.errors import DataError, DocumentError
from phasko.formats import WRITTEN, CaptureFiles, Table, read_capture, read_raw_capture
from phasko.formats.capture_files import read_capture_files
from phasko.formats.registry import WritableFormat
from tests.builders import bench_files


def files(**described: object) -> CaptureFiles:
    channel = {
        "column": "c1",
        "role": "starter_current",
        "unit": "V",
        "scale": 1000.0,
        "offset": 5.0,
        "scaled_unit": "A",
    }
    text = {"schema": "phasko.capture/1", "data": "x.csv", "channels": [channel], **described}
    return CaptureFiles("x.capture.json", json.dumps(text).encode(), "x.csv", b"time_s,c1\n0,0.1\n0.1,0.2\n")


def test_scale_and_offset_are_applied() -> None:
    channel = read_capture(files()).channels[0]
    assert channel.samples.tolist() == pytest.approx([105.0, 205.0])
    assert channel.unit == "A"


def test_a_column_that_is_not_there_lists_what_is() -> None:
    with pytest.raises(DataError, match=r"x\.capture\.json: describes column 'c9', but x\.csv has c1"):
        read_capture(files(channels=[{"column": "c9", "role": "crank"}]))


def test_the_bench_writes_what_can_be_read() -> None:
    recording = read_capture(bench_files())
    assert [c.description.role for c in recording.channels] == ["crank", "cam", "cam"]
    assert recording.interval_s == pytest.approx(1e-5, rel=1e-9)


def test_the_hash_changes_with_either_file() -> None:
    one = files()
    assert len({one.sha256, replace(one, data=one.data + b"0.2,3\n").sha256, files(condition="idle").sha256}) == 3


def test_a_missing_file_is_named(tmp_path: Path) -> None:
    with pytest.raises(DataError, match=r"none\.capture\.json: does not exist"):
        read_capture_files(tmp_path / "none.capture.json")
    (tmp_path / "x.capture.json").write_bytes(files().description)
    with pytest.raises(DataError, match=r"x\.csv: does not exist"):
        read_capture_files(tmp_path / "x.capture.json")


def test_data_lies_beside_its_description(tmp_path: Path) -> None:
    (tmp_path / "x.capture.json").write_bytes(files(data="../secret.csv").description)
    with pytest.raises(DataError, match="plain file name"):
        read_capture_files(tmp_path / "x.capture.json")


def test_a_description_that_is_not_json_says_where() -> None:
    with pytest.raises(DocumentError, match=r"x\.capture\.json, line 1, column 1"):
        read_capture(replace(files(), description=b"time_s,c1"))


@pytest.mark.parametrize("form", WRITTEN, ids=lambda f: f.name)
def test_a_described_capture_in_any_format(form: WritableFormat) -> None:
    """The same samples, whatever the data file is."""
    csv = bench_files()
    plain = read_capture(csv)
    raw = read_raw_capture(csv)
    data = form.write(Table(raw.start_s, raw.interval_s, raw.columns))
    described = json.loads(csv.description) | {"data": f"x{form.suffixes[0]}"}
    again = read_capture(
        replace(csv, data=data, data_name=described["data"], description=json.dumps(described).encode())
    )
    assert again.interval_s == pytest.approx(plain.interval_s, rel=1e-9)
    for a, b in zip(plain.channels, again.channels, strict=True):
        np.testing.assert_array_equal(a.samples, b.samples)


@pytest.mark.parametrize("name", ["c2", "ch2", "Channel 2", "2"])
def test_channels_of_a_file_without_names_go_by_their_number(name: str) -> None:
    sink = io.BytesIO()
    soundfile.write(sink, np.column_stack([np.zeros(50), np.linspace(-1, 1, 50)]), 8000, format="WAV", subtype="FLOAT")
    description = {"schema": "phasko.capture/1", "data": "x.wav", "channels": [{"column": name, "role": "crank"}]}
    files = CaptureFiles("x.capture.json", json.dumps(description).encode(), "x.wav", sink.getvalue())
    recording = read_capture(files)
    assert recording.interval_s == 1 / 8000
    assert recording.channels[0].samples[-1] == 1.0


def test_a_file_without_time_is_read_with_the_described_interval() -> None:
    bare = b"c1\n" + b"".join(b"%d\n" % (k % 5) for k in range(40))
    channel = {"column": "c1", "role": "crank"}
    with pytest.raises(DataError, match="interval_s"):
        read_capture(replace(files(channels=[channel]), data=bare))
    assert read_capture(replace(files(channels=[channel], interval_s=1e-4), data=bare)).interval_s == 1e-4
