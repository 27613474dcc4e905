"""A capture is two files; both must be there and agree."""

import json
from dataclasses import replace
from pathlib import Path

import pytest

from phasko.core.errors import DataError, DocumentError
from phasko.formats import CaptureFiles, read_capture
from phasko.formats.capture_files import read_capture_files
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
