"""Scan tool logs as they are exported: names, units, decimals, clocks, broken lines."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from phasko.bench.drive_log import Drive, drive_log_csv
from phasko.bench.pool import pool_engine
from phasko.core.errors import DataError, PhaskoError
from phasko.formats import read_scan_log
from phasko.formats.scan_log import MOST_LOG_BYTES

PLAIN = b"Time (s),Engine speed (rpm),MAF (g/s)\n0.0,800,3.1\n0.3,820,3.3\n0.7,1500,\n"


def test_uneven_moments_and_missing_values() -> None:
    log = read_scan_log(PLAIN, "a.csv")
    assert log.times_s.tolist() == [0.0, 0.3, 0.7]
    air = log.of("air_g_s")
    assert air is not None
    assert air[:2].tolist() == [3.1, 3.3]
    assert np.isnan(air[2])


@pytest.mark.parametrize(
    "text",
    [
        "Time;Engine speed;MAF\ns;rpm;g/s\n0,0;800;3,1\n0,3;820;3,3\n0,7;1500;3,4\n",
        "time_ms\trpm\tMAF [kg/h]\n0\t800\t11.16\n300\t820\t11.88\n700\t1500\t12.24\n",
        "# drive on the north road\nTime (s), RPM, MAF (g/s)\n0.0, 800, 3.1\n0.3, 820, 3.3\n0.7, 1500, 3.4\n",
        "Clock,Engine RPM,MAF (g/s)\n10:00:00.0,800,3.1\n10:00:00.3,820,3.3\n10:00:00.7,1500,3.4\n",
        "Time (s),Engine speed (rpm),MAF (g/s)\r\n0.0,800,3.1\r\n0.3,820,3.3\r\n0.7,1500,3.4\r\n",
    ],
    ids=["semicolons and commas", "tabs and milliseconds", "a comment", "a clock", "windows lines"],
)
def test_dialects(text: str) -> None:
    if text.startswith("Clock"):
        text = text.replace("Clock", "Time")
    log = read_scan_log(text.encode(), "a.csv")
    assert log.times_s == pytest.approx([0.0, 0.3, 0.7], abs=1e-6)
    assert log.of("air_g_s") == pytest.approx([3.1, 3.3, 3.4], abs=1e-6)
    assert log.of("rpm") is not None


@pytest.mark.parametrize(
    ("data", "says", "place"),
    [
        (b"", "no rows", "a.csv"),
        (b"\x00\x01\x02", "not text", "a.csv"),
        (b"hello\nthere\n", "no rows", "a.csv"),
        (b"0,800\n1,810\n2,820\n", "names", "a.csv"),
        (b"Time,RPM\n0,800\n1,810\n2,x\n3,900\n", "not a number", "line 4"),
        (b"Time,RPM\n0,800\n1,810\n2,820,9\n3,900\n4,900\n", "3 fields", "line 4"),
        (b"Time,Load\n0,80\n1,81\n2,82\n", "engine speed", "a.csv"),
    ],
)
def test_what_is_no_log_is_refused_where_it_breaks(data: bytes, says: str, place: str) -> None:
    with pytest.raises(DataError, match=says) as caught:
        read_scan_log(data, "a.csv")
    assert place in caught.value.place


def test_a_log_cut_in_its_last_line_keeps_the_rest() -> None:
    cut = b"Time (s),RPM,MAF (g/s)\n0,800,3\n1,810,3\n2,820,3\n3,8"
    assert read_scan_log(cut, "a.csv").times_s.size == 3


def test_a_scope_capture_by_mistake_is_refused_before_it_is_read() -> None:
    with pytest.raises(DataError, match="larger than"):
        read_scan_log(bytes(MOST_LOG_BYTES + 1), "big.csv")


@given(st.binary(max_size=400))
def test_any_bytes_give_a_log_or_a_clear_error(data: bytes) -> None:
    try:
        log = read_scan_log(data, "fuzz.csv")
    except PhaskoError as error:
        assert error.what
    else:
        assert log.times_s.size >= 3


@given(st.integers(0, 2000), st.binary(min_size=1, max_size=3))
def test_a_damaged_log_gives_a_log_or_a_clear_error(at: int, damage: bytes) -> None:
    whole = drive_log_csv(pool_engine("corvane-2.1-four"), Drive(rate_hz=1.0), 1)
    try:
        read_scan_log(whole[:at] + damage + whole[at + len(damage) :], "fuzz.csv")
    except PhaskoError as error:
        assert error.what
