"""Sparks against the crank, on the bench's coils."""

from __future__ import annotations

from dataclasses import replace
from functools import cache

import numpy as np
import pytest

from phasko.bench.faults import CylinderFault, DriveFaults, EngineFaults
from phasko.bench.pool import pool_engine
from phasko.bench.probe import Probe
from phasko.bench.recorder import ScopeSettings
from phasko.bench.run import Run
from phasko.bench.scenario import Scenario, clear_flood_cranking, idling, snapping, starting
from phasko.bench.sensors.coil import CoilWiring
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.ignition.sparks import spark_times_s
from phasko.core.signals.recording import Channel, Recording
from trials.measurements import measure_capture
from trials.recordings import record_run, run_engine

FOUR = "corvane-2.1-four"


@cache
def cranked(engine: str, seed: int, crank_wheel_deg: float = 0.0, plug_out: int = 0) -> Run:
    faults = EngineFaults(
        drive=DriveFaults(crank_wheel_deg=crank_wheel_deg),
        cylinders={plug_out: CylinderFault(plug="out")} if plug_out else {},
    )
    return run_engine(pool_engine(engine), clear_flood_cranking(5.0), seed, faults=faults)


def recorded(run: Run, *coils: Probe, cams: int = 2, current: bool = True) -> Recording:
    probes = [Probe("crank"), *(Probe("cam", cam=cam.id) for cam in run.engine.cams[:cams]), *coils]
    probes += [Probe("starter_current")] if current else []
    made = record_run(run, probes, ScopeSettings(rate_hz=50_000.0))
    channels = tuple(Channel(d, made.columns[d.column]) for d in made.description.channels)
    return Recording("bench", made.description, 0.0, made.interval_s, channels)


def measured(recording: Recording, engine: str = FOUR) -> CaptureMeasurement:
    return measure_capture(recording, pool_engine(engine))


def true_spark_deg(run: Run) -> float:
    """What the control unit aims at while cranking, in the wheel's frame."""
    return float(np.median(run.spark_deg))


@pytest.mark.parametrize("signal", ["drive", "primary"])
@pytest.mark.parametrize("cylinder", [1, 3])
def test_the_spark_stands_where_the_control_unit_put_it(signal: str, cylinder: int) -> None:
    run = cranked(FOUR, 9300)
    probe = Probe("coil", cylinder=cylinder, signal=signal)  # type: ignore[arg-type]
    (firing,) = measured(recorded(run, probe)).firings
    assert firing.spark_deg == pytest.approx(true_spark_deg(run), abs=0.3)
    assert (firing.spark_u95_deg or 9.0) < 0.6
    assert (firing.every_deg, firing.nearest, firing.state) == (720.0, cylinder, "in")


def test_the_kind_of_coil_signal_is_found_where_nobody_said() -> None:
    run = cranked(FOUR, 9300)
    recording = recorded(run, Probe("coil", cylinder=1, signal="primary"))
    channels = tuple(Channel(c.description.model_copy(update={"signal": None}), c.samples) for c in recording.channels)
    (firing,) = measured(replace(recording, channels=channels)).firings
    assert firing.spark_deg == pytest.approx(true_spark_deg(run), abs=0.3)


def test_the_spark_follows_a_shifted_crank_wheel() -> None:
    """The control unit times from the wheel, so the right angle in the wheel's frame does not clear the wheel."""
    (firing,) = measured(recorded(cranked(FOUR, 9301, 8.0), Probe("coil", cylinder=1))).firings
    assert firing.state == "in"


def test_a_wrong_cylinder_named_at_the_coil_is_said() -> None:
    recording = recorded(cranked(FOUR, 9300), Probe("coil", cylinder=1))
    channels = tuple(
        Channel(c.description.model_copy(update={"cylinder": 3}), c.samples) if c.description.role == "coil" else c
        for c in recording.channels
    )
    found = measured(replace(recording, channels=channels))
    text = next(p.text for p in found.problems if p.code == "coil_cylinder")
    assert "said to be cylinder 3's but fires at the TDC of cylinder 1" in text
    assert "coil_cylinder" not in {p.code for p in measured(recording).problems}


def test_a_coil_proved_to_fire_once_per_cycle_names_the_cylinders() -> None:
    run = cranked(FOUR, 9303, 0.0, 3)
    found = measured(recorded(run, Probe("coil", cylinder=1), cams=0)).compression
    assert found is not None
    assert found.identified_by == "coil"
    assert found.dead == (3,)


def test_a_wasted_spark_names_nobody_and_no_bank_is_called_dead() -> None:
    """A healthy vee six with a coil that fires every turn: all six are counted, none is named."""
    run = cranked("brimholt-3.2-six", 9304)
    coil = Probe("coil", cylinder=1, coil=CoilWiring(doubles_until_s=1e9))
    found = measured(recorded(run, coil, cams=0), "brimholt-3.2-six")
    assert found.firings[0].every_deg == 360.0
    assert "coil_every_turn" in {p.code for p in found.problems}
    assert found.compression is not None
    assert found.compression.identified_by is None
    assert found.compression.events_per_cycle == 6
    assert {c.state for c in found.compression.cylinders} == {"unknown"}


def test_a_coil_that_never_fires_is_said() -> None:
    recording = recorded(cranked(FOUR, 9300), Probe("coil", cylinder=1))
    channels = tuple(
        Channel(c.description, np.full_like(c.samples, 0.1)) if c.description.role == "coil" else c
        for c in recording.channels
    )
    found = measured(replace(recording, channels=channels))
    assert found.firings[0].state == "none"
    assert "no_spark" in {p.code for p in found.problems}


@pytest.mark.parametrize("signal", ["drive", "primary"])
@pytest.mark.parametrize(
    "scenario",
    [idling(2.0), idling(1.5, target_rpm=2600.0), snapping(2.5), starting(3.0)],
    ids=["idle", "2600 rpm", "snap", "start"],
)
def test_sparks_are_found_at_every_speed(scenario: Scenario, signal: str) -> None:
    """Every spark of a running engine is counted, none is said to be missing, and no window of cranking judges it."""
    run = run_engine(pool_engine(FOUR), scenario, 9310)
    found = measured(recorded(run, Probe("coil", cylinder=1, signal=signal), current=False))  # type: ignore[arg-type]
    (firing,) = found.firings
    assert (firing.segment, firing.every_deg, firing.state) == ("running", 720.0, "unknown")
    assert firing.sparks > 8
    assert firing.cycles_without == 0
    assert not {problem.code for problem in found.problems} & {"no_spark", "spark_missing"}


def test_a_dead_coil_on_a_running_engine_is_that_coil_s_affair() -> None:
    run = run_engine(pool_engine(FOUR), idling(1.5), 9311)
    recording = recorded(run, Probe("coil", cylinder=1, signal="drive"), current=False)
    flat = tuple(
        Channel(c.description, np.zeros_like(c.samples)) if c.description.role == "coil" else c
        for c in recording.channels
    )
    found = measured(replace(recording, channels=flat))
    (text,) = [problem.text for problem in found.problems if problem.code == "no_spark"]
    assert "although the engine runs" in text
    assert "withheld" not in text


@pytest.mark.parametrize("count", [5, 6])
def test_firings_in_two_places_still_have_an_angle(count: int) -> None:
    """The middle between two places is no firing: an even number of them once gave no number at all."""
    recording = recorded(cranked(FOUR, 9300), Probe("coil", cylinder=1))
    coil = next(c for c in recording.channels if c.description.role == "coil")
    times = spark_times_s(coil, recording)[1 : count + 1]
    samples = np.zeros_like(coil.samples)
    for k, time_s in enumerate(times.tolist()):
        ends = int((time_s + 0.1 * (k % 2) - recording.start_s) / recording.interval_s)
        samples[ends - 150 : ends] = 5.0
    channels = tuple(replace(c, samples=samples) if c is coil else c for c in recording.channels)
    (firing,) = measured(replace(recording, channels=channels)).firings
    assert firing.sparks == count
    assert firing.spark_deg is not None
    assert np.isfinite(firing.spark_deg)
