"""The car before the simulated instruments: when its fault is there, what its sensors spoil, what is driven."""

import numpy as np
import pytest

from phasko.bench.faults import DriveFaults, EngineFaults
from phasko.bench.instruments import CarSheet, SimulatedCar
from phasko.bench.pool import pool_engine
from phasko.bench.spoiling import spoilt

ENGINE = pool_engine("corvane-2.1-four")
SLIPPED = EngineFaults(DriveFaults(slipped_deg={"B1I": 20.0}))
SQUARE = np.where(np.arange(50_000) % 100 < 50, 0.3, 4.9)
AT_S = np.arange(50_000) / 10_000.0


@pytest.mark.parametrize(
    ("present", "turns", "temperature", "shows"),
    [
        ("always", "cranking", "hot", True),
        ("cold", "cranking", "cold", True),
        ("cold", "cranking", "hot", False),
        ("hot", "idle", "hot", True),
        ("cranking", "idle", "hot", False),
        ("running", "idle", "cold", True),
        ("not_today", "cranking", "hot", False),
    ],
)
def test_a_fault_is_there_in_its_own_condition(present: str, turns: str, temperature: str, shows: bool) -> None:
    told = {"engine": ENGINE, "present": present, "turns": turns, "temperature": temperature, "faults": SLIPPED}
    assert CarSheet.model_validate(told).shows is shows


def crossings(volts: np.ndarray) -> int:
    high = volts > 2.5
    return int(np.count_nonzero(high[1:] != high[:-1]))


def test_a_lost_signal_rests_high() -> None:
    made = spoilt(SQUARE, AT_S, "lost", np.random.default_rng(1))
    assert crossings(made) == 0
    assert float(np.mean(made)) == pytest.approx(4.9, abs=0.05)


def test_one_that_drops_out_is_whole_in_between() -> None:
    made = spoilt(SQUARE, AT_S, "erratic", np.random.default_rng(1))
    assert 0.5 * crossings(SQUARE) < crossings(made) < crossings(SQUARE)
    same = made == SQUARE
    assert 0.6 < float(np.mean(same)) < 1.0


def test_added_pulses_are_more_edges_and_nothing_else() -> None:
    made = spoilt(SQUARE, AT_S, "extra", np.random.default_rng(1))
    assert crossings(made) > crossings(SQUARE)
    assert float(np.mean(made == SQUARE)) > 0.99


def recorded(**told: object) -> dict[str, np.ndarray]:
    sheet = CarSheet.model_validate({"engine": ENGINE, "seed": 3, "length_s": 3.0, **told})
    signals = [("crank", 10.0), ("cam:B1I", 10.0)]
    volts = SimulatedCar(sheet).recorded(signals, 20_000.0).volts
    return dict(zip(("crank", "B1I"), volts, strict=True))


def test_only_the_signal_of_the_bad_sensor_is_spoilt() -> None:
    whole, bad = recorded(), recorded(signals={"B1I": "lost"})
    assert np.array_equal(whole["crank"], bad["crank"])
    assert crossings(bad["B1I"]) == 0 < crossings(whole["B1I"])


def test_a_fault_that_is_not_there_today_leaves_no_trace() -> None:
    today = recorded(signals={"B1I": "erratic"}, present="not_today")
    assert np.array_equal(today["B1I"], recorded()["B1I"])


def test_a_spark_that_is_moved_moves_and_the_valves_stay() -> None:
    late, right = (
        SimulatedCar(CarSheet.model_validate({"engine": ENGINE, "seed": 3, "length_s": 2.0, "spark_deg": deg})).run
        for deg in (20.0, 0.0)
    )
    assert float(np.median(late.spark_deg - right.spark_deg)) == pytest.approx(20.0)
    assert np.array_equal(late.cams["B1I"].valves_deg, right.cams["B1I"].valves_deg)


def places(**told: object) -> np.ndarray:
    sheet = CarSheet.model_validate({"engine": ENGINE, "seed": 3, "turns": "idle", "length_s": 12.0, **told})
    run = SimulatedCar(sheet).run
    return np.asarray(run.cams["B1I"].valves_deg[run.slot_times_s >= 0.0])


def test_a_phaser_that_is_driven_goes_to_its_stop_and_comes_back() -> None:
    cam = ENGINE.cam("B1I")
    assert cam is not None and cam.phaser is not None
    away = max(abs(deg) for deg in cam.phaser.authority_deg)
    driven = places(driven=("B1I",))
    assert float(np.ptp(driven)) == pytest.approx(away, abs=1.5)
    assert float(driven[-1] - driven[0]) == pytest.approx(0.0, abs=1.0)


def test_one_that_nobody_unplugged_is_somewhere_in_its_range() -> None:
    parked, connected = places(), places(phasers_connected=True)
    assert abs(float(np.median(connected) - np.median(parked))) > 8.0
