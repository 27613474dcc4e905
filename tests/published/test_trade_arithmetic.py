"""Against the arithmetic of the trade: wheels, firing, chains, cams. Sources beside each check."""

import math

import pytest

from phasko.bench import pool_engines
from phasko.core import numbers
from phasko.core.cycle.cycles import cycle_origin_deg
from phasko.core.documents.engine import Drive
from phasko.core.engine.timing_drive import elongation_lateness_deg, pitch_stages_deg, pitches_of
from tests.builders import pool_engine, profile

ISO_606_PITCH_MM = {"05B": 8.0, "06B": 9.525, "08B": 12.7}
"""Pitches of ISO 606:2015 table 1 for short-pitch roller chains (from memory)."""


@pytest.mark.parametrize(
    ("slots", "missing", "pitch_deg", "teeth"),
    [(60, 2, 6.0, 58), (36, 1, 10.0, 35), (36, 2, 10.0, 34), (24, 1, 15.0, 23), (12, 1, 30.0, 11)],
)
def test_wheels(slots: int, missing: int, pitch_deg: float, teeth: int) -> None:
    """60-2: 6 degrees from tooth to tooth, 58 teeth, 18 over the gap (common practice, no source)."""
    wheel = profile(crank__wheel={"slots": slots, "missing": list(range(slots - missing + 1, slots + 1))}).crank.wheel
    assert (wheel.pitch_deg, len(wheel.angles_deg)) == (pitch_deg, teeth)
    assert 360.0 - wheel.angles_deg[-1] == pytest.approx((missing + 1) * pitch_deg)


@pytest.mark.parametrize(("cylinders", "interval"), [(3, 240), (4, 180), (5, 144), (6, 120), (8, 90)])
def test_even_firing(cylinders: int, interval: int) -> None:
    """Four-stroke engines fire every 720/n degrees (common practice, no source)."""
    order = list(range(1, cylinders + 1))
    tdc = profile(cylinders=cylinders, firing_order=order).firing_tdc_deg
    assert list(tdc.values()) == [interval * i for i in range(cylinders)]
    assert cycle_origin_deg(cylinders) == -interval / 2


@pytest.mark.parametrize("teeth", [18, 19, 21, 24])
@pytest.mark.parametrize("chain", ISO_606_PITCH_MM)
def test_one_link_turns_a_sprocket_by_its_pitch_angle(chain: str, teeth: int) -> None:
    """Pitch diameter d = p / sin(180/z), ISO 606:2015 clause 5: the chord of one pitch subtends 360/z degrees."""
    pitch_mm = ISO_606_PITCH_MM[chain]
    diameter = pitch_mm / math.sin(math.pi / teeth)
    subtended = math.degrees(2 * math.asin(pitch_mm / diameter))
    assert pitch_stages_deg(Drive(pitch_mm=pitch_mm, crank_sprocket_teeth=teeth), "X")[0] == pytest.approx(subtended)


@pytest.mark.parametrize(("teeth", "crank_deg", "cam_deg"), [(18, 20.0, 10.0), (21, 17.14, 8.57), (24, 15.0, 7.5)])
def test_one_tooth_of_the_crank_sprocket(teeth: int, crank_deg: float, cam_deg: float) -> None:
    """One tooth off shows 15 to 20 crank degrees, half of that at the cam (common practice, no source)."""
    pitch = pitch_stages_deg(Drive(crank_sprocket_teeth=teeth), "X")[0]
    assert pitch == pytest.approx(crank_deg, abs=0.01)
    assert pitch / 2 == pytest.approx(cam_deg, abs=0.01)


def test_an_elongated_strand_is_that_much_longer() -> None:
    """0.5 % of 47 links of 8 mm are 1.88 mm, which at the pitch circle of 21 teeth is 4.0 crank degrees (geometry)."""
    drive = Drive(pitch_mm=8.0, crank_sprocket_teeth=21, free_links={"B1I": 47})
    radius = 8.0 / math.sin(math.pi / 21) / 2
    assert elongation_lateness_deg(drive, "B1I", 0.5) == pytest.approx(
        math.degrees(0.005 * 47 * 8.0 / radius), rel=0.005
    )


def test_a_far_cam_stretches_further_than_a_near_one() -> None:
    """Stretch shows more at the cam with the longer run of free links (common practice, no source)."""
    drive = Drive(crank_sprocket_teeth=19, free_links={"near": 20, "far": 60})
    near, far = (elongation_lateness_deg(drive, cam, 0.8) for cam in ("near", "far"))
    assert far == pytest.approx(3 * near)


def test_pitches_of_a_two_stage_drive_take_the_stage_that_fits() -> None:
    drive = Drive(pitch_crank_deg={"B1I": [20.0, 17.1]})
    counted = pitches_of(34.3, drive, "B1I")
    assert counted is not None
    assert (round(counted.pitches, 2), counted.stage) == (2.01, 1)


@pytest.mark.parametrize("engine", pool_engines())
def test_the_pool_engines_are_possible(engine: str) -> None:
    """Displacement from bore and stroke (geometry); exhaust opens before, closes after TDC of overlap."""
    known = pool_engine(engine)
    assert known.geometry is not None
    litres = known.cylinders * math.pi / 4 * (known.geometry.bore_mm / 100) ** 2 * known.geometry.stroke_mm / 100
    assert litres == pytest.approx(known.displacement_l, rel=0.03)
    assert known.valve_timing is not None
    assert 90 < known.valve_timing.exhaust_open_deg < 180
    assert 540 < known.valve_timing.intake_close_deg < 640


def test_cranking_lies_below_the_limit_and_idling_above() -> None:
    """Cranking is 100 to 350 rpm, idling from 500 (common practice, no source)."""
    assert 350 <= numbers.CRANKING_MAX_RPM.value <= 500
