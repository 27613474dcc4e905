"""What the Cylinder station is drawn from: places on the strip, valves, the others' peaks, and the sentence."""

from __future__ import annotations

from dataclasses import replace
from functools import cache

import numpy as np
import pytest

from phasko.bench.faults import CylinderFault, DriveFaults, EngineFaults
from phasko.bench.probe import Probe
from phasko.bench.recorder import ScopeSettings
from phasko.core.capture.cylinder_finding import corner_offs, cylinder_finding, felt_words
from phasko.core.capture.cylinder_view import CylinderPicture, cylinder_picture
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.capture.turn_strip import turn_strip
from tests.builders import FOUR, bench_recording, pool_engine, run_recording
from trials.measurements import measure_capture

PITCH = 360.0 / 21


@cache
def felt(late: float = 0.0, hub_deg: float = 0.0, wheel_deg: float = 0.0, weak: bool = False) -> CaptureMeasurement:
    drive = DriveFaults(
        slipped_deg={"B1I": late} if late else {}, crank_hub_deg=hub_deg, cam_wheel_deg={"B1I": wheel_deg}
    )
    faults = EngineFaults(drive, cylinders={4: CylinderFault(ring_leak_mm2=4.0)} if weak else {})
    probes = [Probe("crank"), Probe("cam", cam="B1I"), Probe("cam", cam="B1E"), Probe("starter_current")]
    probes.append(Probe("cylinder_pressure", cylinder=3, range_v=20.0))
    recording, _ = run_recording(FOUR, probes, 41, faults=faults, settings=ScopeSettings(rate_hz=25_000.0, bits=12))
    return measure_capture(recording, pool_engine(FOUR))


def picture(capture: CaptureMeasurement) -> CylinderPicture:
    made = cylinder_picture(capture)
    assert made is not None
    return made


def test_everything_lies_on_the_strip_and_the_peak_at_its_tdc() -> None:
    made = picture(felt(PITCH))
    one = made.felt[0]
    low, high = made.origin_deg, made.origin_deg + 720.0
    for place in (*one.mean.deg, one.tdc_strip_deg, *(c.strip_deg for c in one.corners)):
        assert low <= place < high
    assert one.mean.deg == sorted(one.mean.deg)
    assert len(one.every) == one.cycles
    assert all(len(cycle) == len(one.mean.bar) for cycle in one.every)
    top = one.mean.deg[int(np.argmax(one.mean.bar))]
    assert one.peak_deg is not None
    assert top - one.tdc_strip_deg == pytest.approx(one.peak_deg, abs=1.0)
    assert sum(stroke.to_deg - stroke.from_deg for stroke in one.strokes) == pytest.approx(720.0)
    assert one.volume is not None
    assert min(one.volume.cm3) > 20.0


def test_a_corner_stands_as_far_from_its_profile_as_its_signal() -> None:
    one = picture(felt(PITCH)).felt[0]
    closes = next(c for c in one.corners if c.valve == "intake")
    assert closes.profile_strip_deg is not None
    assert closes.strip_deg - closes.profile_strip_deg == pytest.approx(closes.offset_deg)
    assert closes.signal_deg == pytest.approx(PITCH, abs=1.5)
    assert closes.follows
    bar = next(v for v in one.valves if v.valve == "intake")
    assert bar.cam == "B1I"
    assert bar.to_deg == pytest.approx(closes.strip_deg)
    assert bar.from_deg is None, "where it opens is not certain"


def test_the_phase_strip_shows_the_corner_under_its_cam() -> None:
    strip = turn_strip(felt(PITCH), {"B1I": 1.0, "B1E": 0.0})
    own = {lane.cam: lane.corners for lane in strip.lanes}
    assert [c.what for c in own["B1I"]] == ["closes"]
    assert [c.what for c in own["B1E"]] == ["opens"]
    assert own["B1I"][0].offset_deg == pytest.approx(PITCH, abs=4.0)
    assert own["B1I"][0].cylinder == 3


@pytest.mark.parametrize(
    ("capture", "words"),
    [
        ({}, "Cylinder 3: its valves move as the profile says"),
        ({"late": PITCH}, "; it follows the cam signal"),
        ({"late": PITCH, "wheel_deg": -30.0}, "; the cam signal says otherwise"),
        ({"hub_deg": 14.0}, "; so do the cam signals, counted from the pistons"),
    ],
)
def test_the_sentence_says_whether_the_signal_agrees(capture: dict[str, float], words: str) -> None:
    measured = felt(**capture)
    finding = cylinder_finding(measured.felt[0], measured)
    assert finding.text.endswith(words)
    assert finding.emphasis is None or finding.emphasis in finding.text
    assert "zero of the transducer checked at rest" in finding.detail


def test_the_others_are_reckoned_from_their_humps() -> None:
    peaks = {p.cylinder: p for p in picture(felt(weak=True)).peaks}
    assert [p.cylinder for p in picture(felt(weak=True)).peaks] == pool_engine(FOUR).firing_order
    assert peaks[3].measured
    assert not peaks[1].measured
    assert peaks[1].peak_bar == pytest.approx(peaks[3].peak_bar, rel=0.15)
    assert (peaks[4].peak_bar or 99.0) < 0.75 * (peaks[3].peak_bar or 0.0)


def test_what_does_not_press_or_burns_is_said_and_nothing_else() -> None:
    measured = felt()
    one = measured.felt[0]
    for state, words in (
        ("dead", "does not compress: nothing else is read"),
        ("fires", "burns: only its peak is read"),
    ):
        other = replace(one, state=state, line=None, exhaust_open=None, intake_close=None)
        assert words in cylinder_finding(other, measured).text
        assert corner_offs(other, measured) == []


def test_lists_say_the_one_that_is_furthest_out() -> None:
    assert felt_words([]) is None
    assert felt_words([measure_capture(bench_recording(), pool_engine(FOUR))]) is None
    words = felt_words([felt(), felt(PITCH)])
    assert words is not None
    assert "late" in words


def test_without_a_pressure_there_is_no_picture() -> None:
    assert cylinder_picture(measure_capture(bench_recording(), pool_engine(FOUR))) is None
