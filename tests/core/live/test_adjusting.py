"""Turning a sync drive while its offset is watched (common practice: one degree of the body is two of the crank)."""

from __future__ import annotations

import pytest

from phasko.core.live import LiveCam, LiveReading, LiveSpark, adjusting


def reading(at_s: float, deg: float | None, spark: float | None = None) -> LiveReading:
    cam = LiveCam("CAM", "Cam", "single", deg, 0.05, 0.5, 0.1, 8, 6.0, 6)
    sparks = () if spark is None else (LiveSpark(1, spark, 0.1),)
    return LiveReading(at_s, (cam,), sparks)


def series(*values: float) -> list[LiveReading]:
    return [reading(0.33 * i, value) for i, value in enumerate(values)]


def test_nothing_read_is_said_so() -> None:
    assert adjusting([], "CAM", 3.0).where == "unread"
    assert adjusting([reading(0.0, None)], "CAM", 3.0).mean_deg is None


def test_a_late_drive_is_turned_back_by_half_the_crank_angle() -> None:
    found = adjusting(series(12.1, 12.0, 11.9, 12.0), "CAM", 3.0)
    assert found.where == "late" and found.body_deg == pytest.approx(6.0)
    assert "6.0° against the way its rotor turns (12.0° of the crank)" in found.words
    early = adjusting(series(-8.0, -8.0, -8.1, -7.9), "CAM", 3.0)
    assert early.where == "early" and "4.0° the way its rotor turns" in early.words


def test_inside_the_window_it_says_tighten() -> None:
    found = adjusting(series(9.0, 1.0, 1.1, 0.9, 1.0), "CAM", 3.0)
    assert found.where == "in" and "Tighten" in found.words
    assert found.jitter_deg == pytest.approx(0.08, abs=0.02)


def test_while_it_is_turned_it_asks_to_hold() -> None:
    found = adjusting(series(12.0, 9.0, 6.0, 3.0), "CAM", 3.0)
    assert found.where == "moving" and found.mean_deg == 3.0 and "hold it" in found.words


def test_whether_the_spark_goes_with_it_is_seen_only_once_it_was_turned() -> None:
    still = [reading(0.3 * i, 5.0, -6.0) for i in range(4)]
    assert adjusting(still, "CAM", 3.0).spark_moves is None
    together = [reading(0.0, 12.0, 6.0), reading(0.3, 2.0, -4.0)]
    alone = [reading(0.0, 12.0, -6.0), reading(0.3, 2.0, -6.1)]
    assert adjusting(together, "CAM", 3.0).spark_moves is True
    assert adjusting(alone, "CAM", 3.0).spark_moves is False
