"""The pressure in a cylinder against what the bench did: peak, top dead centre, corners, and what is not read."""

from __future__ import annotations

from dataclasses import replace
from functools import cache

import numpy as np
import pytest

from phasko.bench.faults import CylinderFault, DriveFaults, EngineFaults
from phasko.bench.probe import Probe
from phasko.bench.recorder import ScopeSettings
from phasko.bench.scenario import idling
from phasko.bench.sensors.transducers import PressureTransducer
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.signals.recording import Channel, Recording
from tests.builders import FOUR, analysed, codes, pool_engine, run_recording
from trials.measurements import measure_capture

TIMING = pool_engine(FOUR).valve_timing
assert TIMING is not None
OPENS, CLOSES = TIMING.exhaust_open_deg, TIMING.intake_close_deg
FINE = ScopeSettings(rate_hz=25_000.0, bits=12)
PITCH = 360.0 / 21


def felt(cylinder: int = 3, **transducer: float) -> Probe:
    sensor = PressureTransducer(**transducer)  # type: ignore[arg-type]
    return Probe("cylinder_pressure", cylinder=cylinder, transducer=sensor, range_v=20.0)


def leads(*more: Probe) -> list[Probe]:
    return [Probe("crank"), Probe("cam", cam="B1I"), *more]


@cache
def recorded(
    slipped: tuple[tuple[str, float], ...] = (), wheel_deg: float = 0.0, leak_mm2: float = 0.0, bits: int = 12
) -> Recording:
    faults = EngineFaults(
        DriveFaults(slipped_deg=dict(slipped), crank_wheel_deg=wheel_deg),
        cylinders={3: CylinderFault(ring_leak_mm2=leak_mm2)} if leak_mm2 else {},
    )
    settings = ScopeSettings(rate_hz=25_000.0, bits=bits)
    return run_recording(FOUR, leads(felt()), 21, faults=faults, settings=settings)[0]


@cache
def measured(*args: object, **kwargs: object) -> CaptureMeasurement:
    return measure_capture(recorded(*args, **kwargs), pool_engine(FOUR))  # type: ignore[arg-type]


def changed(make: object, **described: object) -> CaptureMeasurement:
    """The sound capture with its pressure changed by a function of its samples, and described otherwise."""
    recording = recorded()
    channels = []
    for channel in recording.channels:
        if channel.description.role == "cylinder_pressure":
            about = channel.description.model_copy(update=described)
            samples = np.asarray(make(channel.samples), dtype=np.float32)  # type: ignore[operator]
            channels.append(Channel(about, samples))
        else:
            channels.append(channel)
    return measure_capture(replace(recording, channels=tuple(channels)), pool_engine(FOUR))


def test_a_sound_cylinder_is_read_whole() -> None:
    one = measured().felt[0]
    assert one.state == "motored"
    assert one.exhaust_open is not None
    assert one.intake_close is not None
    assert one.exhaust_open.angle_deg == pytest.approx(OPENS, abs=one.exhaust_open.u95_deg)
    assert one.intake_close.angle_deg == pytest.approx(CLOSES, abs=one.intake_close.u95_deg)
    assert max(one.exhaust_open.u95_deg, one.intake_close.u95_deg) < 4.5
    assert one.peak_bar == pytest.approx(one.expected_bar, rel=0.12)
    assert one.peak_deg is not None
    assert -4.0 < one.peak_deg < -0.5, "loss angle of a sound cylinder while cranking: one to three degrees"
    assert one.symmetry is not None
    assert 0.7 < one.symmetry < 1.0, "it falls faster than it rose"
    assert abs(one.exhaust_bar or 1.0) < 0.05


@pytest.mark.parametrize("wheel_deg", [-11.0, 0.0, 9.0])
def test_top_dead_centre_says_where_the_wheel_stands(wheel_deg: float) -> None:
    index = measured((), wheel_deg).index
    assert index is not None
    assert index.source in ("cylinder_pressure", "joined")
    assert index.offset_deg == pytest.approx(wheel_deg, abs=0.5)
    assert index.u95_deg < 1.0


@pytest.mark.parametrize("late", [-28.0, -PITCH, PITCH, 28.0])
def test_corners_follow_their_own_cam_and_no_other(late: float) -> None:
    sound = measured().felt[0]
    one = measured((("B1I", late),)).felt[0]
    assert one.intake_close is not None
    assert one.exhaust_open is not None
    assert sound.intake_close is not None
    assert sound.exhaust_open is not None
    assert one.intake_close.angle_deg - sound.intake_close.angle_deg == pytest.approx(late, abs=2.5)
    assert one.exhaust_open.angle_deg - sound.exhaust_open.angle_deg == pytest.approx(0.0, abs=1.5)


def test_a_leak_turns_the_peak_back_and_moves_neither_tdc_nor_corners() -> None:
    one, sound = measured((), 0.0, 4.0).felt[0], measured().felt[0]
    assert one.peak_bar < 0.6 * sound.peak_bar
    assert one.loss_deg is not None
    assert sound.loss_deg is not None
    assert one.loss_deg > sound.loss_deg + 2.0
    assert one.line is not None
    assert one.line.tdc_axis_deg == pytest.approx(0.0, abs=one.tdc_u95_deg or 0.0)
    assert one.symmetry is not None
    assert sound.symmetry is not None
    assert one.symmetry < sound.symmetry - 0.05
    assert one.intake_close is not None
    assert one.intake_close.angle_deg == pytest.approx(CLOSES, abs=one.intake_close.u95_deg)


def test_from_a_dead_trace_nothing_is_read() -> None:
    faults = EngineFaults(cylinders={3: CylinderFault(plug="out")})
    recording, _ = run_recording(FOUR, leads(felt()), 22, faults=faults, settings=FINE)
    found = measure_capture(recording, pool_engine(FOUR))
    if found.felt:
        one = found.felt[0]
        assert one.state == "dead"
        assert one.line is one.exhaust_open is one.intake_close is one.symmetry is None
        assert "pressure_dead" in codes(found)
    else:
        assert "pressure_flat" in codes(found)
    assert found.index is None or found.index.source == "speed"


def test_a_motored_cylinder_of_an_idling_engine_is_read_and_a_burning_one_is_not() -> None:
    scenario = idling(1.4, motored=(3,))
    recording, _ = run_recording(FOUR, leads(felt(3), felt(2)), 23, scenario=scenario, settings=FINE)
    found = measure_capture(recording, pool_engine(FOUR))
    motored, burns = (next(f for f in found.felt if f.cylinder == c) for c in (3, 2))
    assert motored.state == "motored"
    assert motored.line is not None
    assert motored.line.tdc_axis_deg == pytest.approx(0.0, abs=1.0)
    assert motored.exhaust_open is not None
    assert motored.exhaust_open.angle_deg == pytest.approx(OPENS, abs=4.0)
    assert motored.intake_bar is not None
    assert motored.intake_bar < -0.3
    assert burns.state == "fires"
    assert burns.line is None
    assert "pressure_fires" in codes(found)


def test_coarse_steps_allow_no_corners() -> None:
    found = measured((), 0.0, 0.0, 8)
    assert found.felt[0].coarse
    assert found.felt[0].exhaust_open is found.felt[0].intake_close is None
    assert "pressure_coarse" in codes(found)
    assert found.felt[0].peak_bar == pytest.approx(measured().felt[0].peak_bar, abs=0.2)


@pytest.mark.parametrize(
    ("make", "described", "code"),
    [
        (lambda p: 0.001 * p, {}, "pressure_flat"),
        (lambda p: -p, {}, "pressure_upside_down"),
        (lambda p: p / 0.0689476, {}, "pressure_unit"),
        (lambda p: p, {"unit": "V"}, "pressure_unit"),
        (lambda p: np.minimum(p, 8.0), {}, "pressure_clipped"),
        (lambda p: np.maximum(p, 6.0), {}, "pressure_held"),
        (lambda p: np.full(p.shape, np.nan), {}, "pressure_missing"),
        (lambda p: p, {"cylinder": 9}, "pressure_cylinder"),
    ],
)
def test_what_cannot_be_a_cylinder_is_said_and_not_read(make: object, described: dict[str, object], code: str) -> None:
    found = changed(make, **described)
    assert code in codes(found)
    assert found.felt == ()


@pytest.mark.parametrize(
    ("make", "described", "code"),
    [
        (lambda p: p / 0.0689476, {"unit": "psi"}, None),
        (lambda p: 100.0 * p, {"unit": "kPa"}, None),
        (lambda p: p + 1.0, {}, "pressure_reference"),
        (lambda p: p, {"reference": "absolute"}, "pressure_reference"),
        (lambda p: p + 0.12, {}, "pressure_zero"),
    ],
)
def test_units_references_and_zeros_are_put_right(make: object, described: dict[str, object], code: str | None) -> None:
    found, sound = changed(make, **described), measured()
    assert (code is None) or code in codes(found)
    assert found.felt[0].peak_bar == pytest.approx(sound.felt[0].peak_bar, abs=0.03)
    assert found.felt[0].intake_close is not None
    assert sound.felt[0].intake_close is not None
    assert found.felt[0].intake_close.angle_deg == pytest.approx(sound.felt[0].intake_close.angle_deg, abs=0.5)


def test_another_cylinder_on_the_lead_is_named() -> None:
    found = changed(lambda p: p, cylinder=2)
    problem = next(p for p in found.problems if p.code == "cylinders_swapped")
    assert "cylinder 3's TDC" in problem.text
    assert found.index is None or found.index.source == "speed"


def test_the_document_says_what_was_measured_with_its_half_widths() -> None:
    result = analysed(recorded((("B1I", PITCH),))).captures[0]
    one = result.cylinder_pressure[0]
    assert one.intake_close_deg == pytest.approx(CLOSES + PITCH, abs=4.0)
    assert one.corners_u95_deg is not None
    given = (one.corners_u95_deg.exhaust_open_deg, one.corners_u95_deg.intake_close_deg)
    assert one.corner_u95_deg == max(given)  # type: ignore[type-var]
    assert one.intake_open_deg is None
    assert result.crank is not None
    assert result.crank.index_offset_source in ("cylinder_pressure", "joined")
    cam = next(c for c in result.cams if c.cam == "B1I")
    assert cam.offset_from_tdc_deg == pytest.approx(PITCH, abs=1.5)


def test_a_hose_makes_it_late_and_the_half_width_says_so() -> None:
    """Half a millisecond, give or take as much (common practice, no source)."""
    probe = felt(3, hose_s=0.7e-3)
    recording, _ = run_recording(FOUR, leads(probe), 25, settings=FINE)
    channels = tuple(
        Channel(c.description.model_copy(update={"adapter": "hose", "hose_volume_cm3": 0.0}), c.samples)
        if c.description.role == "cylinder_pressure"
        else c
        for c in recording.channels
    )
    hose = measure_capture(replace(recording, channels=channels), pool_engine(FOUR)).felt[0]
    direct = measure_capture(recording, pool_engine(FOUR)).felt[0]
    assert hose.line is not None
    assert direct.line is not None
    assert abs(hose.line.tdc_axis_deg) < abs(direct.line.tdc_axis_deg)
    assert hose.line.tdc_axis_deg == pytest.approx(0.0, abs=hose.tdc_u95_deg or 0.0)
    assert (hose.tdc_u95_deg or 0.0) > 1.4 * (direct.tdc_u95_deg or 0.0)
