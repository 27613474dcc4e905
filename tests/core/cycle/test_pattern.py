"""Which turn it is, and where a cam's pattern stands."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from phasko.bench import Cranking, Shift
from phasko.core.angles import wrap_cycle, wrap_difference
from phasko.core.cycle.pattern import assign_edges, fit_pattern
from phasko.core.documents.engine import CamEdge
from tests.builders import COARSE_FOUR, FOUR, SIX, bench_recording, pool_engine, profile
from trials.measurements import measure_capture

PATTERN = [
    CamEdge(deg=40, kind="rising"),
    CamEdge(deg=130, kind="falling"),
    CamEdge(deg=310, kind="rising"),
    CamEdge(deg=580, kind="falling"),
]


def edges(shift: float, pattern: list[CamEdge] = PATTERN, cycles: int = 5) -> tuple[np.ndarray, np.ndarray]:
    angles = np.concatenate([[e.deg + shift + 720.0 * c for e in pattern] for c in range(cycles)])
    return angles, np.array([e.kind == "rising" for e in pattern] * cycles)


@given(st.floats(-1e4, 1e4))
def test_differences_lie_within_half_a_turn(angle: float) -> None:
    assert -180.0 < wrap_difference(angle) <= 180.0
    assert -360.0 < wrap_cycle(angle) <= 360.0


def test_half_a_turn_is_late_not_early() -> None:
    assert wrap_difference(180.0) == 180.0
    assert wrap_difference(-180.0) == 180.0


@pytest.mark.parametrize("shift", [0.0, 17.1, -52.0, 170.0, -170.0])
def test_the_shift_is_found(shift: float) -> None:
    fit = fit_pattern(*edges(shift), PATTERN)
    assert fit is not None
    assert fit.shift_deg == pytest.approx(shift, abs=1e-6)
    assert fit.modulo_deg == 720.0


def test_a_pattern_that_repeats_every_turn_is_ambiguous() -> None:
    twice = [CamEdge(deg=d, kind=k) for d, k in ((10, "rising"), (90, "falling"), (370, "rising"), (450, "falling"))]
    fit = fit_pattern(*edges(20.0, twice), twice)
    assert fit is not None
    assert fit.modulo_deg == 360.0


def test_a_lost_edge_leaves_the_others_in_place() -> None:
    angles, rising = edges(17.0)
    found = assign_edges(np.delete(angles, 6), np.delete(rising, 6), PATTERN, 17.0)
    assert np.delete(np.tile([0, 1, 2, 3], 5), 6).tolist() == found.reference.tolist()
    assert found.delta_deg == pytest.approx(17.0)


def test_a_stray_edge_belongs_to_none() -> None:
    angles, rising = edges(0.0)
    found = assign_edges(np.append(angles, 700.0), np.append(rising, True), PATTERN, 0.0)
    assert found.reference[-1] == -1


@pytest.mark.parametrize("engine", [FOUR, COARSE_FOUR, SIX])
@pytest.mark.parametrize("start_deg", [20.0, 380.0])
def test_the_right_turn_whatever_the_start(engine: str, start_deg: float) -> None:
    known = pool_engine(engine)
    wanted = {cam.id: 12.0 for cam in known.cams}
    recording = bench_recording(engine, 9, Shift(wanted), cranking=Cranking(cycles=4.2, start_deg=start_deg))
    read = {r.cam.id: r.offset for r in measure_capture(recording, known).cams}
    assert {cam: round(o.offset.value) for cam, o in read.items() if o} == dict.fromkeys(wanted, 12)


def repeating(period: int) -> list[dict[str, object]]:
    return [
        {"deg": base + deg, "kind": kind}
        for base in range(0, 720, period)
        for deg, kind in ((10, "rising"), (90, "falling"))
    ]


@pytest.mark.parametrize(("period", "modulo"), [(360, None), (180, 180.0), (120, 120.0)])
def test_a_cam_that_repeats_gives_its_smallest_offset_and_says_so(period: int, modulo: float | None) -> None:
    """Offsets lie within half a turn, so a repetition every whole turn leaves only the turn open."""
    known = profile(cams=[{"id": "CAM", "edges": repeating(period)}])
    measured = measure_capture(bench_recording(known, 4, Shift({"CAM": 8.0})), known)
    assert measured.cams[0].ambiguous_modulo_deg == modulo
    assert measured.cams[0].offset is not None
    assert measured.cams[0].offset.offset.value == pytest.approx(8.0, abs=0.05)
    codes = {p.code for p in measured.problems}
    assert "turn_ambiguous" in codes
    assert ("offset_ambiguous" in codes) == (modulo is not None)


def test_pieces_known_only_modulo_a_pitch_stand_at_one_place() -> None:
    """Near half a pitch the smallest offset of one piece is +4.99 and of the next -4.98 degrees."""
    known = profile(crank__wheel={"slots": 36}, cams=[{"id": "CAM", "edges": [e.model_dump() for e in PATTERN]}])
    for seed in range(30, 36):
        recording = bench_recording(known, seed, Shift({"CAM": 5.0}))
        crank = next(c for c in recording.channels if c.description.role == "crank")
        half = crank.samples.size // 2
        crank.samples[half : half + crank.samples.size // 4] = crank.samples[half]
        offset = measure_capture(recording, known).cams[0].offset
        assert offset is not None
        assert abs(offset.offset.value) == pytest.approx(5.0, abs=0.05)
