"""Counting teeth: any wheel with a signature, with lost and added edges named."""

import numpy as np
import pytest

from phasko.core import numbers
from phasko.core.crank.tooth_count import count_teeth
from phasko.core.crank.wheel_recognition import is_another_wheel, recognised_wheel
from phasko.core.engine.wheel import wheel_name
from tests.builders import profile, tooth_times

IRREGULAR = {"teeth_deg": [0, 20, 50, 90, 180, 200, 270]}


@pytest.mark.parametrize(
    "wheel",
    [
        {"slots": 60, "missing": [59, 60]},
        {"slots": 36, "missing": [36]},
        {"slots": 36, "missing": [17, 18, 36]},
        {"slots": 12, "missing": [12]},
        IRREGULAR,
    ],
)
@pytest.mark.parametrize("skipped", [0, 5])
def test_every_edge_gets_its_tooth(wheel: dict[str, object], skipped: int) -> None:
    known = profile(crank__wheel=wheel)
    teeth = len(known.crank.wheel.angles_deg)
    times = tooth_times(known, 8)[skipped:]
    count = count_teeth(times, known.crank.wheel)
    assert (count.tooth_number % teeth).tolist() == [(skipped + i) % teeth for i in range(times.size)]
    assert count.irregularities == ()
    assert count.signature


def test_a_wheel_without_gap_has_no_signature() -> None:
    known = profile(crank__wheel={"slots": 36})
    assert not count_teeth(tooth_times(known, 5), known.crank.wheel).signature


def test_a_lost_edge_is_named_with_its_moment() -> None:
    known = profile()
    times = tooth_times(known, 8)
    count = count_teeth(np.delete(times, 200), known.crank.wheel)
    assert [(odd.kind, odd.count) for odd in count.irregularities] == [("missing", 1)]
    assert count.irregularities[0].time_s == pytest.approx(times[199], abs=0.02)


def test_an_added_edge_belongs_to_no_tooth() -> None:
    known = profile()
    times = tooth_times(known, 8)
    extra = 0.7 * times[200] + 0.3 * times[201]
    count = count_teeth(np.insert(times, 201, extra), known.crank.wheel)
    assert [(odd.kind, odd.count) for odd in count.irregularities] == [("extra", 1)]
    assert np.count_nonzero(count.tooth_number == -1) == 1


def test_a_swing_of_speed_is_no_irregularity() -> None:
    known = profile()
    times = tooth_times(known, 8)
    swung = times + 0.003 * np.sin(2 * np.pi * times / times[-1] * 16)
    assert count_teeth(swung, known.crank.wheel).irregularities == ()


def test_a_rest_divides_the_capture() -> None:
    known = profile()
    times = tooth_times(known, 4)
    both = np.concatenate([times, times + times[-1] + 1.0])
    assert sorted(set(count_teeth(both, known.crank.wheel).piece.tolist())) == [0, 1]


@pytest.mark.parametrize(("slots", "missing", "name"), [(60, [59, 60], "60-2"), (36, [36], "36-1")])
def test_a_wheel_is_recognised_from_its_intervals(slots: int, missing: list[int], name: str) -> None:
    known = profile(crank__wheel={"slots": slots, "missing": missing})
    assert recognised_wheel(tooth_times(known, 6)) == name


def test_names_of_wheels() -> None:
    assert wheel_name(profile(crank__wheel={"slots": 36, "missing": [17, 18, 36]}).crank.wheel) == "36-2-1"
    assert wheel_name(profile(crank__wheel=IRREGULAR).crank.wheel) == "7 irregular"


WHEELS = {"60-2": (60, [59, 60]), "36-1": (36, [36]), "60-1": (60, [60]), "36-2": (36, [35, 36]), "24-1": (24, [24])}


@pytest.mark.parametrize("seen", WHEELS)
@pytest.mark.parametrize("expected", WHEELS)
def test_another_wheel_misses_the_gaps(seen: str, expected: str) -> None:
    there, known = (
        profile(crank__wheel=dict(zip(("slots", "missing"), WHEELS[w], strict=True))) for w in (seen, expected)
    )
    times = tooth_times(there, 9)
    count = count_teeth(times, known.crank.wheel)
    assert is_another_wheel(count, known.crank.wheel) == (seen != expected)


def test_a_gap_passed_while_the_crank_comes_to_a_stand_makes_no_other_wheel() -> None:
    """The last teeth come ever slower, the gap among them no longer than its neighbours."""
    known = profile(crank__wheel={"slots": 36, "missing": [35, 36]})
    times = tooth_times(known, 8)
    usual = float(np.median(np.diff(times)))
    slow = np.cumsum(usual * np.array([1.5, 3.0, 6.0, 15.0, 8.0, 6.5, 6.5, 8.0, 11.0]))
    kept = times[: 34 * 7 + 30]
    ended = np.concatenate([kept, kept[-1] + slow])
    assert not is_another_wheel(count_teeth(ended, known.crank.wheel), known.crank.wheel)


def test_lost_edges_leave_the_gaps_seen() -> None:
    known = profile()
    times = np.delete(tooth_times(known, 9), [30, 77, 116, 200, 301])
    assert count_teeth(times, known.crank.wheel).gaps_seen_share > 0.7


@pytest.mark.parametrize(
    ("wheel", "repeats_deg"),
    [
        ({"slots": 60, "missing": [59, 60]}, 360.0),
        ({"slots": 36}, 10.0),
        ({"slots": 36, "missing": [18, 36]}, 180.0),
        ({"slots": 36, "missing": [17, 18, 36]}, 360.0),
        ({"teeth_deg": [0, 10, 90, 100, 180, 190, 270, 280]}, 90.0),
    ],
)
def test_a_wheel_repeats(wheel: dict[str, object], repeats_deg: float) -> None:
    known = profile(crank__wheel=wheel)
    assert count_teeth(tooth_times(known, 5), known.crank.wheel).repeats_deg == pytest.approx(repeats_deg)


def test_a_count_that_slipped_is_set_right_at_the_next_gap() -> None:
    """A pulse beside a tooth can be taken for it, and the tooth for the next: only the gap shows it."""
    known = profile()
    times = tooth_times(known, 9)
    doubled = times[230] + 0.45 * (times[231] - times[230])
    late = np.insert(np.delete(times, 232), 231, doubled)
    count = count_teeth(np.sort(np.insert(late, 0, times[0] + 1e-4)), known.crank.wheel)
    last = count.tooth_number[-50:]
    assert np.all(np.diff(last[last >= 0]) == 1)
    true_last = (times.size - 1) % 58
    assert last[-1] % 58 == true_last


def test_three_in_a_hundred_edges_lost_or_added_are_survived_or_refused() -> None:
    """Where the gaps are still seen, few edges are taken for a neighbour; where they are not, nothing is read."""
    known = profile()
    angles = np.array(known.crank.wheel.angles_deg)
    trusted = []
    for seed in range(16):
        rng = np.random.default_rng(seed)
        times = tooth_times(known, 9)
        few = int(0.015 * times.size)
        lost = np.delete(times, rng.choice(np.arange(60, times.size), few, replace=False))
        mixed = np.sort(np.concatenate([lost, rng.uniform(times[60], times[-1], few)]))
        count = count_teeth(mixed, known.crank.wheel)
        if count.gaps_seen_share < numbers.WHEEL_GAPS_SEEN_LEAST.value:
            continue
        counted = count.tooth_number >= 0
        off = (mixed[counted] * 1200.0 - angles[count.tooth_number[counted] % 58] + 180.0) % 360.0 - 180.0
        trusted.append(float(np.mean(np.abs(off - np.median(off)) > 3.0)))
    assert len(trusted) >= 10
    assert np.mean(trusted) < 0.06
    assert max(trusted) < 0.25


def test_a_tooth_beside_an_added_edge_is_not_relied_on() -> None:
    """Either of the two could be the tooth; the clock goes over both."""
    known = profile()
    times = tooth_times(known, 8)
    extra = 0.8 * times[200] + 0.2 * times[201]
    count = count_teeth(np.insert(times, 201, extra), known.crank.wheel)
    assert np.flatnonzero(count.tooth_number < 0).tolist() == [200, 201]
