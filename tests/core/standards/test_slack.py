"""Which strand of a chain swings: the loaded one moves all its cams together."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.standards import slack_of
from tests.builders import FOUR, bench_recording, pool_engine
from trials.measurements import measure_capture

MM_PER_DEG = 8.0 * 21 / 360.0


def swinging(together_deg: float, own_deg: dict[str, float], cycles: int = 60) -> CaptureMeasurement:
    """A capture whose cams were given that scatter from cycle to cycle (standard deviations)."""
    capture = measure_capture(bench_recording(FOUR, 6), pool_engine(FOUR))
    rng = np.random.default_rng(2)
    common = together_deg * rng.standard_normal(cycles)
    cams = []
    for reading in capture.cams:
        assert reading.relative is not None
        values = common + own_deg.get(reading.cam.id, 0.02) * rng.standard_normal(cycles)
        stats = replace(reading.relative.statistics, cycle_numbers=np.arange(cycles), cycle_values=values)
        cams.append(replace(reading, relative=replace(reading.relative, statistics=stats)))
    return replace(capture, cams=tuple(cams))


def test_a_loaded_strand_that_slackens_swings_all_cams_together() -> None:
    (found,) = slack_of(swinging(1.5, {}))
    assert found.together_mm == pytest.approx(2 * 1.96 * 1.5 * MM_PER_DEG, rel=0.25)
    assert max(found.own_mm.values()) < 0.3
    assert "the loaded strand from the crank slackens" in found.words


def test_one_cam_alone_is_its_own_strand() -> None:
    (found,) = slack_of(swinging(0.05, {"B1I": 1.5}))
    assert found.own_mm["B1I"] == pytest.approx(2 * 1.96 * 1.5 * MM_PER_DEG, rel=0.25)
    assert "Only the intake cam swings" in found.words


def test_a_tight_chain_is_said_to_be_tight() -> None:
    (found,) = slack_of(swinging(0.05, {}))
    assert "runs tight" in found.words


def test_few_cycles_say_nothing() -> None:
    assert slack_of(swinging(1.5, {}, cycles=3)) == []
