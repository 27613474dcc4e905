"""The line of states per signal, and counts per window."""

import pytest

from phasko.bench import pool_engine
from phasko.bench.probe import Probe
from phasko.core.capture.health import irregularities, signal_health
from phasko.core.cycle.cycles import Cycle
from phasko.core.engine.wheel import place_between_teeth
from phasko.core.phase.irregularities import SignalEvent, locked_to_ignition
from phasko.core.phase.pulse_counts import pulse_counts
from tests.builders import FOUR, profile, run_recording
from tests.core.phase.test_irregularities import held
from trials.measurements import measure_capture

CYCLES = [Cycle(i + 1, float(i), float(i + 1), 120.0) for i in range(4)]


def event(
    kind: str, time_s: float, to_s: float | None = None, count: int = 1, angle: float | None = None
) -> SignalEvent:
    end = time_s if to_s is None else to_s
    return SignalEvent("A1", "c2", kind, count, time_s, end, None, angle)  # type: ignore[arg-type]


def test_the_line_covers_the_capture_without_holes() -> None:
    known = pool_engine(FOUR)
    recording, _ = run_recording(known, [Probe("crank"), Probe("cam", cam="B1I")], 91)
    measured = measure_capture(held(recording, 1, 1.5, 2.2), known)
    for line in signal_health(measured):
        assert line.spans[0].from_s == 0.0
        assert line.spans[-1].to_s == pytest.approx(recording.duration_s)
        assert all(a.to_s == b.from_s and a.state != b.state for a, b in zip(line.spans, line.spans[1:], strict=False))
    crank, cam = signal_health(measured)
    assert {span.state for span in crank.spans} == {"standing", "unread", "good"}
    silent = next(span for span in cam.spans if span.state == "silent")
    assert (silent.from_s, silent.to_s) == pytest.approx((1.5, 2.2), abs=0.2)
    assert [one.kind for one in irregularities(measured)].count("silent") == 1


def test_a_lost_pulse_makes_its_own_window_bad_and_no_other() -> None:
    counted = pulse_counts({"A1": 6}, [event("missing", 1.5), event("extra", 3.2, count=2)], CYCLES)
    assert (counted[0].bad_windows, counted[0].windows) == (2, 4)
    assert counted[0].per_cycle == pytest.approx(6 + 1 / 4)


def test_a_silent_stretch_makes_every_window_bad_that_it_touches() -> None:
    counted = pulse_counts({"A1": 6}, [event("silent", 0.5, 2.5)], CYCLES)
    assert counted[0].bad_windows == 3
    assert counted[0].per_cycle == pytest.approx(6 - 2 * 6 / 4)


def test_pulses_at_one_angle_are_tied_to_the_ignition() -> None:
    tied = [event("extra", i, angle=180.0 * (i % 4) + 12.0 + i % 3) for i in range(8)]
    loose = [event("extra", i, angle=(97.0 * i) % 720.0) for i in range(8)]
    place = locked_to_ignition(tied, 180.0)
    assert place == pytest.approx(13.0, abs=1.0)
    assert locked_to_ignition(loose, 180.0) is None
    assert locked_to_ignition(tied[:4], 180.0) is None


@pytest.mark.parametrize(("after_deg", "share"), [(0.0, 0.0), (3.0, 0.5), (343.5, 0.5 / 6 * 0.5 * 2), (357.0, 15 / 18)])
def test_the_place_between_two_teeth(after_deg: float, share: float) -> None:
    """Teeth of a 60-2 wheel are 6 degrees apart, the last one 18 from the next tooth 1."""
    assert place_between_teeth(after_deg, profile().crank.known_wheel) == pytest.approx(share)
