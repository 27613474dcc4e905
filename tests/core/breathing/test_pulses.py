"""Breathing pulses and mean pressures while cranking, against the faults of the bench."""

from __future__ import annotations

from dataclasses import replace
from functools import cache

import numpy as np
import pytest

from phasko.bench.faults import CylinderFault, DriveFaults, EngineFaults
from phasko.bench.pool import pool_engine
from phasko.bench.probe import Probe
from phasko.bench.recorder import ScopeSettings
from phasko.bench.scenario import clear_flood_cranking
from phasko.bench.sensors.transducers import PulseSensor
from phasko.core.breathing import mean_pressures, odd_words
from phasko.core.breathing.pulse_shape import PulseRole, expected_feature_deg
from phasko.core.breathing.pulses import PulseMeasurement, _suspects, _usual
from phasko.core.breathing.view import breathing_view
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.signals.pressure_units import to_bar
from phasko.core.signals.recording import Channel, Recording
from tests.builders import called, profile
from trials.measurements import measure_capture
from trials.recordings import record_run, run_engine

pytestmark = pytest.mark.exhaustive

FOUR, SIX, EIGHT = "corvane-2.1-four", "brimholt-3.2-six", "quayle-5.0-eight"
FAULTS = {
    "plug out": CylinderFault(plug="out"),
    "exhaust valve leaks": CylinderFault(exhaust_leak_mm2=2.0),
    "intake valve leaks": CylinderFault(intake_leak_mm2=2.0),
    "rings leak": CylinderFault(ring_leak_mm2=3.0),
    "exhaust lobe worn": CylinderFault(exhaust_lobe_share=0.2),
}


@cache
def recorded(engine: str, cylinder: int, fault: str, delay_s: float = 1.5e-3) -> Recording:
    known = pool_engine(engine)
    faults = EngineFaults(cylinders={cylinder: FAULTS[fault]} if fault else {})
    run = run_engine(known, clear_flood_cranking(4.5), 900 + cylinder, faults=faults)
    probes = [Probe("crank"), Probe("cam", cam=known.cams[0].id), Probe("starter_current"), Probe("intake_pulse")]
    probes += [Probe("exhaust_pulse", pulse=PulseSensor(delay_s=delay_s)), Probe("crankcase_pulse")]
    made = record_run(run, probes, ScopeSettings(rate_hz=50_000.0))
    channels = tuple(Channel(d, made.columns[d.column]) for d in made.description.channels)
    return Recording("bench", made.description, 0.0, made.interval_s, channels)


def measured(engine: str, cylinder: int = 1, fault: str = "", delay_s: float = 1.5e-3) -> CaptureMeasurement:
    return measure_capture(recorded(engine, cylinder, fault, delay_s), pool_engine(engine))


def channel(capture: CaptureMeasurement, role: PulseRole) -> PulseMeasurement:
    return next(one for one in capture.pulses if one.role == role)


@pytest.mark.parametrize("engine", [FOUR, SIX, EIGHT])
def test_a_healthy_engine_breathes_alike(engine: str) -> None:
    capture = measured(engine)
    assert len(capture.pulses) == 3
    assert not any(one.repeats for one in capture.pulses)
    assert {c.state for one in capture.pulses for c in one.cylinders} == {"good"}
    assert not any(p.code.startswith("pulse") for p in capture.problems)


@pytest.mark.parametrize("engine", [FOUR, SIX, EIGHT])
@pytest.mark.parametrize(("cylinder", "fault"), list(enumerate(FAULTS, start=1)))
def test_the_exhaust_names_the_cylinder(engine: str, cylinder: int, fault: str) -> None:
    cylinder = min(cylinder, pool_engine(engine).cylinders)
    exhaust = channel(measured(engine, cylinder, fault), "exhaust_pulse")
    assert exhaust.odd[0].suspects[0][0] == cylinder
    off = [c.cylinder for c in exhaust.cylinders if c.state in ("weak", "dead")]
    assert off == [cylinder]


@pytest.mark.parametrize("engine", [FOUR, SIX, EIGHT])
def test_gas_past_the_rings_shows_in_the_crankcase(engine: str) -> None:
    crankcase = channel(measured(engine, 4, "rings leak"), "crankcase_pulse")
    assert crankcase.odd[0].suspects[0][0] == 4
    assert "rings" in crankcase.odd[0].suspects[0][2]


def test_gas_back_into_the_intake_shows_there() -> None:
    intake = channel(measured(FOUR, 3, "intake valve leaks"), "intake_pulse")
    assert intake.odd[0].suspects[0][0] == 3
    assert "comes back" in intake.odd[0].suspects[0][2]
    assert not channel(measured(FOUR, 3, "exhaust valve leaks"), "intake_pulse").repeats


@pytest.mark.parametrize("delay_s", [0.5e-3, 6e-3, 15e-3])
def test_the_delay_of_the_pipe_is_estimated_with_its_doubt(delay_s: float) -> None:
    exhaust = channel(measured(FOUR, 2, "plug out", delay_s), "exhaust_pulse")
    assert exhaust.delay_s is not None
    assert exhaust.delay_s == pytest.approx(delay_s, abs=exhaust.delay_u95_s)
    assert exhaust.odd[0].suspects[0][0] == 2


def test_a_doubt_between_two_cylinders_is_said() -> None:
    """Where the push of one cylinder and the opening valve of another fall together, both are named with their chance;
    where no delay is known, hardly anything is."""
    one = channel(measured(EIGHT, 5, "exhaust lobe worn"), "exhaust_pulse")
    (words,) = odd_words(one)
    assert "cylinder 5" in words
    assert "in 100, or cylinder" in words
    known = _suspects("exhaust_pulse", one.odd[0].deg, one.odd[0].size > 0, pool_engine(EIGHT), one.delay_deg)
    unknown = _suspects("exhaust_pulse", one.odd[0].deg, one.odd[0].size > 0, pool_engine(EIGHT), None)
    assert known[0][0] == 5
    assert unknown[0][1] < 0.5 < known[0][1]


def test_unevenness_that_does_not_repeat_is_told_from_one_that_does() -> None:
    """Every cycle another size: large at random, nothing once per cycle."""
    whole = recorded(FOUR, 1, "")
    rng = np.random.default_rng(5)
    channels = []
    for one in whole.channels:
        samples = one.samples
        if one.description.role == "exhaust_pulse":
            slow = np.repeat(rng.normal(0.0, 0.8, samples.size // 2500 + 1), 2500)[: samples.size]
            samples = (samples + slow * np.ptp(samples) * 0.5).astype(np.float32)
        channels.append(Channel(one.description, samples))
    capture = measure_capture(replace(whole, channels=tuple(channels)), pool_engine(FOUR))
    exhaust = channel(capture, "exhaust_pulse")
    assert exhaust.random_share > 0.25
    assert not any(c.state in ("weak", "dead") for c in exhaust.cylinders)
    assert any(p.code == "pulse_random" for p in capture.problems)


def test_beside_a_dead_cylinder_no_other_is_named() -> None:
    for one in measured(SIX, 1, "plug out").pulses:
        for odd in one.odd:
            assert [c for c, *_ in odd.suspects] in ([1], [])


def test_a_worn_exhaust_lobe_is_called_a_valve_train_fault() -> None:
    verdict = called(measured(SIX, 5, "exhaust lobe worn"), engine=SIX)
    leader = verdict.faults[0]
    assert leader.fault == "valve_train"
    assert leader.where.cylinders == [5]
    assert any("exhaust pulse differs" in line for line in leader.for_)
    assert verdict.teardown == "no"
    assert verdict.next_test is not None
    assert verdict.next_test.test == "valve_moves"


def test_the_usual_cycle_is_not_moved_by_one_odd_cylinder() -> None:
    steps = np.arange(360)
    even = np.sin(2 * np.pi * 4 * steps / 360)
    odd = even.copy()
    odd[20:60] -= 0.7
    assert _usual(odd, 4) == pytest.approx(even, abs=1e-9)


def pressure(mean_bar: float, unit: str = "bar", role: str = "intake_pulse", **said: object) -> CaptureMeasurement:
    """A four whose intake or exhaust gauge reads that mean, rippling as it should."""
    whole = recorded(FOUR, 1, "")
    size = whole.channels[0].samples.size
    ripple = 0.02 * np.sin(np.arange(size) / 700.0)
    per_bar = {"bar": 1.0, "kPa": 100.0, "psi": 14.503774}[unit]
    described = whole.with_role("intake_pulse")[0].description.model_copy(
        update={"unit": unit, "role": role, "scaled_unit": None, "scale": 1.0, **said}
    )
    gauge = Channel(described, ((mean_bar + ripple) * per_bar).astype(np.float32))
    kept = [c for c in whole.channels if not c.description.role.endswith("_pulse")]
    return measure_capture(replace(whole, channels=(*kept, gauge)), pool_engine(FOUR))


@pytest.mark.parametrize("unit", ["bar", "kPa", "psi"])
def test_suck_and_push_at_the_throttle(unit: str) -> None:
    (sucks,) = pressure(-0.11, unit).manifolds
    assert (sucks.state, sucks.mean_bar) == ("sucks", pytest.approx(-0.11, abs=0.004))
    (pushes,) = pressure(0.06, unit).manifolds
    assert pushes.state == "pushes"
    (neither,) = pressure(0.001, unit).manifolds
    assert neither.state == "neither"


def test_an_absolute_gauge_needs_to_know_the_air_pressure() -> None:
    (known,) = pressure(0.93, reference="absolute").manifolds
    assert known.mean_bar == pytest.approx(-0.07, abs=0.004)
    assert known.u95_bar > 0.05


def test_pressure_in_the_exhaust_speaks_for_a_blocked_one() -> None:
    capture = pressure(0.09, role="exhaust_pulse")
    assert capture.manifolds[0].state == "back_pressure"
    assert any(p.code == "exhaust_back_pressure" for p in capture.problems)
    verdict = called(capture, engine=FOUR)
    assert verdict.faults[0].fault == "exhaust_restricted"
    assert verdict.next_test is not None
    assert verdict.next_test.test == "exhaust_opened"


def test_pushing_back_speaks_for_valves_far_out_of_time() -> None:
    """An engine jumped two pitches: the push is among what speaks for it."""
    engine = pool_engine(FOUR)
    run = run_engine(engine, clear_flood_cranking(4.5), 931, faults=EngineFaults(DriveFaults(jumped_at_crank=2)))
    made = record_run(run, [Probe("crank"), Probe("cam", cam="B1I"), Probe("starter_current"), Probe("intake_pulse")])
    size = next(iter(made.columns.values())).size
    described = made.description.channels[3].model_copy(update={"unit": "bar"})
    channels = [Channel(d, made.columns[d.column]) for d in made.description.channels[:3]]
    channels.append(Channel(described, np.full(size, 0.05, dtype=np.float32)))
    capture = measure_capture(Recording("bench", made.description, 0.0, made.interval_s, tuple(channels)), engine)
    leader = called(capture, engine=engine).faults[0]
    assert leader.fault == "chain_jumped"
    assert any("pushes at the throttle" in line for line in leader.for_)


def test_volts_have_no_mean_pressure() -> None:
    capture = measured(FOUR)
    assert capture.compression is not None
    assert mean_pressures(capture.recording, capture.compression.cycles) == ()
    assert to_bar("V") is None
    assert to_bar("psi") == pytest.approx(0.0689476)


def test_the_view_holds_every_channel() -> None:
    capture = measured(FOUR, 2, "plug out")
    view = breathing_view(capture.pulses, capture.manifolds, capture.engine)
    assert [len(curve.values) for curve in view.pulses] == [360, 360, 360]
    assert view.pulses[1].words


def test_places_follow_the_profile_s_valve_timing() -> None:
    late = profile(
        valve_timing={
            "exhaust_open_deg": 155,
            "exhaust_close_deg": 380,
            "intake_open_deg": 370,
            "intake_close_deg": 605,
        }
    )
    usual = profile()
    for role in ("exhaust_pulse", "intake_pulse"):
        assert expected_feature_deg(role, late, False) == expected_feature_deg(role, usual, False) + 15.0  # type: ignore[arg-type]
