"""Rest, cranking, run-up and running, by speed."""

import itertools

import numpy as np

from phasko.core.crank.segments import segments_by_speed
from tests.builders import clock_of, profile


def segmented(speeds_rpm: list[tuple[float, float]], rest_s: float = 0.0) -> list[tuple[str, float, float]]:
    """Segments of a capture whose speed is given by (time, rpm) points, straight in between."""
    known = profile()
    t = np.arange(0.0, speeds_rpm[-1][0], 1e-4)
    speed = np.interp(t, *zip(*speeds_rpm, strict=True))
    angle = np.concatenate([[0.0], np.cumsum(6.0 * speed[:-1] * 1e-4)])
    turns = range(int(angle[-1] // 360) + 1)
    teeth = np.array([a + 360.0 * k for k in turns for a in known.crank.wheel.angles_deg if a + 360.0 * k < angle[-1]])
    times = rest_s + np.interp(teeth, angle, t)
    clock = clock_of(known, times, 276.0)
    found = segments_by_speed(clock, 0.0, rest_s + t[-1])
    return [(s.kind, round(s.from_s, 1), round(s.to_s, 1)) for s in found]


def test_steady_cranking_is_one_segment() -> None:
    assert [kind for kind, *_ in segmented([(0.0, 200.0), (3.0, 200.0)])] == ["cranking"]


def test_silence_before_is_rest() -> None:
    kinds = segmented([(0.0, 200.0), (3.0, 200.0)], rest_s=0.8)
    assert kinds[0] == ("rest", 0.0, 0.8)
    assert kinds[1][0] == "cranking"


def test_a_start_has_all_kinds_in_order() -> None:
    start = [(0.0, 200.0), (2.0, 200.0), (2.8, 900.0), (5.0, 850.0)]
    assert [kind for kind, *_ in segmented(start, rest_s=0.5)][:4] == ["rest", "cranking", "run_up", "running"]


def test_a_swing_within_cranking_is_no_change_of_kind() -> None:
    swing = [(0.05 * i, 230.0 + (140.0 if i % 2 else 0.0)) for i in range(60)]
    assert {kind for kind, *_ in segmented(swing)} == {"cranking"}


def test_segments_touch_and_never_overlap() -> None:
    found = segmented([(0.0, 200.0), (2.0, 200.0), (2.8, 900.0), (5.0, 850.0)], rest_s=0.5)
    assert all(a[2] == b[1] for a, b in itertools.pairwise(found))
