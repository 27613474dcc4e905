"""The simulated drive: the same seed gives the same log, and what is blocked costs air."""

from __future__ import annotations

import numpy as np
import pytest

from phasko.bench.drive_log import Drive, drive_log_csv
from phasko.bench.pool import pool_engine
from phasko.formats import read_scan_log

ENGINE = pool_engine("corvane-2.1-four")


def air(drive: Drive, seed: int = 1) -> float:
    found = read_scan_log(drive_log_csv(ENGINE, drive, seed), "d.csv").of("air_g_s")
    assert found is not None
    return float(np.nanmax(found))


def test_the_same_seed_is_the_same_drive() -> None:
    assert drive_log_csv(ENGINE, Drive(), 5) == drive_log_csv(ENGINE, Drive(), 5)
    assert drive_log_csv(ENGINE, Drive(), 5) != drive_log_csv(ENGINE, Drive(), 6)


def test_what_is_blocked_costs_air_and_a_meter_reads_its_share() -> None:
    free = air(Drive())
    assert air(Drive(intake_blocked=0.3)) < 0.8 * free
    assert air(Drive(exhaust_blocked=0.3)) < 0.8 * free
    assert air(Drive(meter_reads=0.7)) == pytest.approx(0.7 * free, rel=0.05)


def test_trims_answer_the_meter() -> None:
    log = read_scan_log(drive_log_csv(ENGINE, Drive(meter_reads=0.8), 1), "d.csv")
    long = log.of("long_trim_percent")
    assert long is not None
    assert np.nanmedian(long) == pytest.approx(25.0, abs=0.5)


def test_moments_come_unevenly() -> None:
    steps = np.diff(read_scan_log(drive_log_csv(ENGINE, Drive(), 1), "d.csv").times_s)
    assert steps.std() > 0.1 * steps.mean()
