"""Road tests: a scan tool's log, however it names its columns, against drives of known breathing."""

from __future__ import annotations

import numpy as np
import pytest

from phasko.bench.drive_log import Drive, drive_log_csv
from phasko.core.documents.analysis import RoadTestResult
from phasko.core.errors import DataError
from phasko.core.road import judge_road_test, road_log
from phasko.formats import read_scan_log
from tests.builders import FOUR, called, pool_engine, profile

ENGINE = pool_engine(FOUR)


def judged(seed: int = 3, without: tuple[str, ...] = (), **drive: float) -> RoadTestResult:
    log = read_scan_log(drive_log_csv(ENGINE, Drive(**drive), seed), "drive.csv")
    kept = {name: values for name, values in log.values.items() if name not in without}
    return judge_road_test(type(log)(log.times_s, kept, log.columns, log.notes), "drive.csv", ENGINE)


@pytest.mark.parametrize("seed", range(4))
def test_a_sound_engine_breathes(seed: int) -> None:
    result = judged(seed)
    assert result.state == "breathes"
    assert result.volumetric_efficiency == pytest.approx(0.88, abs=result.volumetric_efficiency_u95)
    assert result.peak_load_percent is not None
    assert result.peak_load_percent > 75.0
    assert result.trims_percent == pytest.approx(0.0, abs=2.0)


@pytest.mark.parametrize("seed", range(4))
@pytest.mark.parametrize(
    ("drive", "state"),
    [
        ({"best_fill": 0.60}, "breathing"),
        ({"exhaust_blocked": 0.4}, "breathing"),
        ({"intake_blocked": 0.4}, "intake_restricted"),
        ({"meter_reads": 0.7}, "air_flow_meter"),
    ],
)
def test_what_is_wrong_shows(drive: dict[str, float], state: str, seed: int) -> None:
    assert judged(seed, **drive).state == state


def test_efficiency_is_that_of_the_drive() -> None:
    for fill in (0.6, 0.75, 0.9):
        result = judged(best_fill=fill)
        assert result.volumetric_efficiency == pytest.approx(fill, rel=0.03)


def test_without_trims_meter_and_breathing_are_not_parted() -> None:
    result = judged(without=("short_trim_percent", "long_trim_percent"), best_fill=0.6)
    assert result.state == "low"
    assert any("trims" in line for line in result.missing)


def test_what_is_missing_widens_the_half_width_and_is_said() -> None:
    whole, bare = judged(), judged(without=("outside_kpa", "intake_c"))
    assert whole.volumetric_efficiency_u95 is not None
    assert bare.volumetric_efficiency_u95 is not None
    assert bare.volumetric_efficiency_u95 > 1.5 * whole.volumetric_efficiency_u95
    assert judged(without=("air_g_s",)).volumetric_efficiency is None
    assert any("air flow" in line for line in judged(without=("air_g_s",)).missing)


def test_a_drive_without_full_throttle_says_so() -> None:
    log = read_scan_log(drive_log_csv(ENGINE, Drive(), 3), "drive.csv")
    gentle = dict(log.values)
    gentle["throttle_percent"] = np.minimum(gentle["throttle_percent"], 30.0)
    result = judge_road_test(type(log)(log.times_s, gentle, log.columns), "drive.csv", ENGINE)
    assert result.state == "unknown"
    assert result.peak_load_percent is None
    assert any("Full throttle" in line for line in result.missing)


def test_a_charged_engine_is_not_judged_by_these_limits() -> None:
    log = read_scan_log(drive_log_csv(ENGINE, Drive(best_fill=0.6), 3), "drive.csv")
    boosted = dict(log.values)
    boosted["manifold_kpa"] = boosted["manifold_kpa"] + 60.0
    result = judge_road_test(type(log)(log.times_s, boosted, log.columns), "drive.csv", ENGINE)
    assert result.boosted
    assert result.state == "unknown"


def test_every_limit_names_its_origin() -> None:
    assert len(judged().limits) == 5
    assert all("(cp)" in limit.source for limit in judged().limits)


@pytest.mark.parametrize(
    ("name", "unit", "raw", "quantity", "value"),
    [
        ("Engine Speed", "rpm", 2000.0, "rpm", 2000.0),
        ("MAF", "kg/h", 36.0, "air_g_s", 10.0),
        ("mass_air_flow", "lb/min", 1.0, "air_g_s", 7.559873),
        ("Intake manifold pressure", "psi", 14.503774, "manifold_kpa", 100.0),
        ("MAP", "inHg", 29.53, "manifold_kpa", 100.0),
        ("Intake Air Temperature", "°F", 77.0, "intake_c", 25.0),
        ("Vehicle speed", "mph", 60.0, "speed_km_h", 96.56064),
        ("Absolute throttle position", "%", 80.0, "throttle_percent", 80.0),
        ("LTFT bank 1", "%", -3.0, "long_trim_percent", -3.0),
        ("Short Term Fuel Trim", "%", 4.0, "short_trim_percent", 4.0),
        ("Calculated Load Value", "%", 71.0, "load_percent", 71.0),
    ],
)
def test_columns_by_name_and_unit(name: str, unit: str, raw: float, quantity: str, value: float) -> None:
    """Units against NIST Special Publication 811, appendix B.8 (values from memory)."""
    rows = np.array([[0.0, 900.0, raw], [1.0, 900.0, raw], [2.0, 900.0, raw]])
    names = ["Time", "Engine speed" if quantity != "rpm" else "other", name]
    if quantity == "rpm":
        rows = rows[:, [0, 2]]
        names = ["Time", name]
    log = road_log(names, ["s", "", unit] if len(names) == 3 else ["s", unit], rows, "drive.csv")
    found = log.of(quantity)
    assert found is not None
    assert found[0] == pytest.approx(value, rel=1e-4)


def test_two_banks_trims_are_averaged_and_gaps_kept() -> None:
    rows = np.array([[0, 800, 2.0, 6.0], [1, 800, np.nan, 4.0], [2, 800, np.nan, np.nan]])
    log = road_log(["time", "rpm", "STFT B1 (%)", "STFT B2 (%)"], [""] * 4, rows, "drive.csv")
    trims = log.of("short_trim_percent")
    assert trims is not None
    assert trims[:2].tolist() == [4.0, 4.0]
    assert np.isnan(trims[2])


def test_units_that_are_not_told_are_guessed_and_said() -> None:
    rows = np.array([[0, 800, 14.6], [1000, 900, 14.7], [2000, 900, 14.7], [30000, 900, 14.7]])
    log = road_log(["time", "rpm", "MAP"], ["", "", ""], rows, "drive.csv")
    assert log.times_s[-1] == pytest.approx(30.0)
    pressure = log.of("manifold_kpa")
    assert pressure is not None
    assert pressure[1] == pytest.approx(101.35, abs=0.1)
    assert any("psi" in note for note in log.notes)


@pytest.mark.parametrize(
    ("names", "rows", "says"),
    [
        (["a", "rpm"], [[0, 1], [1, 1], [2, 1]], "time"),
        (["time", "b"], [[0, 1], [1, 1], [2, 1]], "engine speed"),
        (["time", "rpm"], [[0, 1], [2, 1], [1, 1]], "backwards"),
        (["time", "rpm"], [[0, 1], [1, 1]], "three moments"),
    ],
)
def test_what_is_no_log_is_refused_with_the_reason(names: list[str], rows: list[list[float]], says: str) -> None:
    with pytest.raises(DataError, match=says) as caught:
        road_log(names, [""] * len(names), np.array(rows, dtype=float), "drive.csv")
    assert caught.value.place == "drive.csv"


def test_the_call_weighs_a_drive() -> None:
    """Poor breathing with normal trims speaks for a blocked exhaust where nothing else is known, a blocked intake by
    its manifold, and nothing by a meter that reads low."""
    blocked = called(engine=ENGINE, roads=[judged(best_fill=0.6)])
    assert blocked.faults[0].fault == "exhaust_restricted"
    assert any("On the road" in line for line in blocked.faults[0].for_)
    assert blocked.teardown == "no"
    assert blocked.next_test is not None
    intake = called(engine=ENGINE, roads=[judged(intake_blocked=0.4)])
    assert intake.faults[0].fault == "intake_restricted"
    assert called(engine=ENGINE, roads=[judged(meter_reads=0.7)]).faults[0].fault == "something_else"
    assert called(engine=ENGINE, roads=[judged()]).faults[0].fault == "none"


def test_displacement_is_needed() -> None:
    bare = profile(displacement_l=None)
    log = read_scan_log(drive_log_csv(ENGINE, Drive(), 3), "drive.csv")
    result = judge_road_test(log, "drive.csv", bare)
    assert result.volumetric_efficiency is None
    assert any("displacement" in line for line in result.missing)
