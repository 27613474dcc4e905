"""Engines of which little is known: the wheel, the cams' patterns and the banks are read from the signals."""

from collections.abc import Sequence

import numpy as np
import pytest

from phasko.bench import pool_engine
from phasko.bench.faults import DriveFaults, EngineFaults
from phasko.bench.pool import pool_engines
from phasko.bench.probe import Probe
from phasko.core.analyse import HashedCapture
from phasko.core.angles import wrap
from phasko.core.crank.wheel_recognition import learn_wheel
from phasko.core.documents.engine import Cam, CamEdge
from phasko.core.engine.open_points import open_points
from phasko.core.engine.wheel import wheel_name
from phasko.core.phase.learning import learnt_profile
from tests.builders import SIX, codes, run_recording, without
from trials.analyses import analyse_job
from trials.measurements import measure_capture

LIKE_TEETH = [name for name in pool_engines() if pool_engine(name).crank.known_wheel.slots]


@pytest.mark.parametrize("engine", LIKE_TEETH)
def test_the_wheel_is_recognised_with_a_cam_that_tells_the_cycle(engine: str) -> None:
    known = pool_engine(engine)
    probes = [Probe("crank"), *(Probe("cam", cam=cam.id) for cam in known.cams)]
    recording, _ = run_recording(known, probes, 3)
    measured = measure_capture(recording, without(known, wheel=True, edges=True))
    assert measured.wheel == wheel_name(known.crank.known_wheel)
    assert "wheel_recognised" in codes(measured)
    assert measured.matches_profile is None


def _furthest(seen: Sequence[CamEdge], there: Sequence[CamEdge], moved_deg: float) -> float:
    """How far any seen edge is from the nearest one of its kind."""
    off = [
        min(abs((b.deg + moved_deg - a.deg + 360.0) % 720.0 - 360.0) for b in there if b.kind == a.kind) for a in seen
    ]
    return max(off) if len(seen) == len(there) else np.inf


@pytest.mark.parametrize("engine", [FIVE := "haverel-2.4-five", SIX])
def test_cam_patterns_are_learnt_as_they_are(engine: str) -> None:
    """Edges per cycle, their kinds and their spacing; never where they should be."""
    known = pool_engine(engine)
    recording, _ = run_recording(known, [Probe("crank"), *(Probe("cam", cam=cam.id) for cam in known.cams)], 4)
    measured = measure_capture(recording, without(known, wheel=True, edges=True))
    assert measured.learnt is not None
    index = known.crank.index_deg or 0.0
    for learnt in measured.learnt.cams:
        cam = known.cam(learnt.cam)
        assert cam is not None
        assert min(_furthest(learnt.edges, cam.edges, turn - index) for turn in (0.0, 360.0)) < 0.3
    assert any("TDC" in text for text in measured.learnt.unknown)
    assert [reading.offset for reading in measured.cams if reading.offset is not None] == []


def test_an_even_wheel_alone_is_not_named() -> None:
    assert learn_wheel(np.arange(200) * 0.005) is None


def test_a_bank_is_compared_with_the_other_when_nothing_else_is_known() -> None:
    known = pool_engine(SIX)
    probes = [Probe("crank"), *(Probe("cam", cam=cam) for cam in ("B1I", "B2I"))]
    faults = EngineFaults(drive=DriveFaults(slipped_deg={"B1I": 14.0}))
    for profile in (without(known, index=True), without(known, wheel=True, edges=True)):
        recording, _ = run_recording(known, probes, 5, faults=faults)
        measured = measure_capture(recording, profile)
        differences = [reading.bank for reading in measured.cams if reading.bank is not None]
        assert [(d.cam, d.other) for d in differences] == [("B1I", "B2I")]
        assert differences[0].offset_deg == pytest.approx(14.0, abs=0.3)
        assert differences[0].total_u95_deg >= 0.5


def test_what_was_learnt_is_a_profile_for_the_next_capture() -> None:
    """No index is guessed: against such a profile only another capture of its kind can be compared."""
    known = pool_engine("ostrin-1.4-four")
    recording, _ = run_recording(known, [Probe("crank"), Probe("cam", cam="B1I")], 6)
    bare = without(known, wheel=True, edges=True)
    measured = measure_capture(recording, bare)
    assert measured.learnt is not None
    learnt = learnt_profile(bare, measured.learnt, "Learnt", "baler")
    assert learnt.crank.index_deg is None
    again = measure_capture(recording, learnt)
    assert again.matches_profile
    assert again.learnt is None
    assert "index_unknown" in codes(again)


@pytest.mark.parametrize("engine", ["ostrin-1.4-four", SIX])
def test_learnt_edges_move_with_the_index_once_it_is_known(engine: str) -> None:
    """They count from tooth 1 until then. Corrected indices move them again, and they end where the engine has them."""
    known = pool_engine(engine)
    recording, _ = run_recording(known, [Probe("crank"), *(Probe("cam", cam=c.id) for c in known.cams)], 6)
    bare = without(known, index=True, edges=True)
    measured = measure_capture(recording, bare)
    assert measured.learnt is not None
    learnt = learnt_profile(bare, measured.learnt, "Learnt", "baler")
    for index in (100.0, known.crank.index_deg):
        crank = learnt.crank.model_copy(update={"index_deg": index})
        learnt = learnt.model_copy(update={"crank": crank}).moved_with_index()
        read = measure_capture(recording, learnt)
        seen = [reading.relative.offset.value for reading in read.cams if reading.relative is not None]
        assert len(seen) == len(known.cams)
        assert max(abs(value) for value in seen) < 0.2
    for made, true in zip(learnt.cams, known.cams, strict=True):
        off = [wrap(a.deg - b.deg, 360.0) for a, b in zip(sorted_as(made, true), true.edges, strict=True)]
        assert max(abs(value) for value in off) < 1.5
    assert learnt.moved_with_index() is learnt


def sorted_as(made: Cam, true: Cam) -> list[CamEdge]:
    """The learnt edges in the order of the true ones; the two turns of a cycle are not told apart without an index."""
    return [
        min((m for m in made.edges if m.kind == edge.kind), key=lambda m: abs(wrap(m.deg - edge.deg, 360.0)))
        for edge in true.edges
    ]


def test_edges_of_one_car_are_no_reference_until_somebody_vouches_for_it() -> None:
    known = pool_engine("ostrin-1.4-four")
    late, _ = run_recording(
        known,
        [Probe("crank"), Probe("cam", cam="B1I")],
        6,
        faults=EngineFaults(drive=DriveFaults(slipped_deg={"B1I": 14.0})),
    )
    bare = without(known, edges=True)
    measured = measure_capture(late, bare)
    assert measured.learnt is not None
    learnt = learnt_profile(bare, measured.learnt, "Learnt", "baler")
    again = measure_capture(late, learnt)
    assert [reading.reference.source for reading in again.cams] == ["none"]
    assert all(reading.offset is None for reading in again.cams)
    assert "learnt.known_good" in {point.field for point in open_points(learnt)}
    assert learnt.learnt is not None
    vouched = learnt.model_copy(update={"learnt": learnt.learnt.model_copy(update={"known_good": "marks seen true"})})
    assert [reading.reference.source for reading in measure_capture(late, vouched).cams] == ["profile"]
    assert "learnt.known_good" not in {point.field for point in open_points(vouched)}


def test_a_cam_that_the_profile_does_not_list_is_read() -> None:
    known = pool_engine("ostrin-1.4-four")
    recording, _ = run_recording(known, [Probe("crank"), Probe("cam", cam="B1E")], 7)
    measured = measure_capture(recording, known.model_copy(update={"cams": known.cams[:1]}))
    assert "unknown_cam" in codes(measured)
    assert [(r.cam.id, r.offset, len(r.cam.edges)) for r in measured.cams] == [("B1E", None, 4)]


@pytest.mark.parametrize("slipped_deg", [0.0, 14.0])
def test_banks_against_each_other_feed_the_call_without_an_index(slipped_deg: float) -> None:
    """Half a measurement: it names the bank that is off against the other, and opens no covers."""
    known = pool_engine(SIX)
    faults = EngineFaults(drive=DriveFaults(slipped_deg={"B1I": slipped_deg}))
    probes = [Probe("crank"), *(Probe("cam", cam=cam.id) for cam in known.cams)]
    recording, _ = run_recording(known, probes, 8, faults=faults)
    result = analyse_job([HashedCapture(recording, "0" * 64)], without(known, index=True), "1" * 64)
    against = {cam.cam: cam for cam in result.captures[0].cams if cam.reference.startswith("bank:")}
    assert against["B1I"].reference == "bank:B2I"
    assert against["B1I"].offset_deg == pytest.approx(slipped_deg, abs=0.3)
    assert result.verdict.teardown != "go"
    leader = result.verdict.faults[0]
    assert (leader.fault == "none") == (slipped_deg == 0.0)
    finding = result.captures[0].finding
    assert finding is not None
    assert ("in step" in finding.text) == (slipped_deg == 0.0)
