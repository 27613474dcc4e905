"""What changed from one capture to another: the same engine twice, a cam that moved, a plug taken out."""

from __future__ import annotations

from phasko.bench.faults import CylinderFault, DriveFaults, EngineFaults, Spread
from phasko.bench.probe import Probe
from phasko.bench.recorder import ScopeSettings
from phasko.bench.scenario import clear_flood_cranking
from phasko.core.capture.between import changes_between
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.documents.repair_results import ChangeResult
from phasko.core.signals.recording import Channel, Recording
from tests.builders import FOUR, pool_engine
from trials.measurements import measure_capture
from trials.recordings import record_run, run_engine

PROFILE = pool_engine(FOUR)
SAME = Spread()


def cranked(seed: int = 12, faults: EngineFaults | None = None) -> CaptureMeasurement:
    run = run_engine(PROFILE, clear_flood_cranking(4.0), seed, faults=faults, spread=SAME)
    probes = [Probe("crank"), *(Probe("cam", cam=cam.id) for cam in PROFILE.cams), Probe("starter_current")]
    made = record_run(run, probes, ScopeSettings(rate_hz=25_000.0))
    channels = tuple(Channel(c, made.columns[c.column]) for c in made.description.channels)
    return measure_capture(Recording("b", made.description, 0.0, made.interval_s, channels), PROFILE)


def by_name(before: CaptureMeasurement, after: CaptureMeasurement) -> dict[str, ChangeResult]:
    return {one.what: one for one in changes_between(before, after, PROFILE)}


def test_the_same_engine_twice_has_not_changed() -> None:
    before = cranked()
    assert not any(change.real for change in by_name(before, before).values())
    assert set(by_name(before, before)) >= {"Speed", "Intake cam", "Exhaust cam", "Compression, cylinder 3"}


def test_a_cam_that_moved_is_told_with_its_half_width_and_the_other_is_alike() -> None:
    found = by_name(cranked(), cranked(faults=EngineFaults(DriveFaults(slipped_deg={"B1I": 8.0}))))
    moved, other = found["Intake cam"], found["Exhaust cam"]
    assert moved.by is not None and abs(moved.by - 8.0) < 0.2 and moved.real
    assert moved.u95 is not None and moved.u95 < 0.3
    assert other.by is not None and abs(other.by) < 0.2


def test_a_cylinder_that_lost_its_seal_is_told() -> None:
    found = by_name(cranked(), cranked(faults=EngineFaults(cylinders={3: CylinderFault(ring_leak_mm2=12.0)})))
    lost = found["Compression, cylinder 3"]
    assert lost.real and lost.by is not None and lost.by < -20.0
