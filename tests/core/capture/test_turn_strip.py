"""What the picture of one unrolled cycle is drawn from: places, order, ruler, history, speed."""

from __future__ import annotations

import itertools

import numpy as np
import pytest

from phasko.bench import Cranking, Nuisances, Shift
from phasko.core.capture.turn_strip import TurnStrip, turn_strip
from phasko.core.cycle.cycles import cycle_origin_deg
from tests.builders import COARSE_FOUR, FOUR, SIX, bench_recording, pool_engine
from trials.measurements import measure_capture


def drawn(engine: str = FOUR, shift: Shift | None = None, cranking: Cranking | None = None) -> TurnStrip:
    known = pool_engine(engine)
    usual = Nuisances(cam_jitter_deg=0.1)
    measured = measure_capture(bench_recording(engine, 95, shift, usual, cranking), known)
    return turn_strip(measured, {cam.id: None for cam in known.cams})


@pytest.mark.parametrize("engine", [FOUR, COARSE_FOUR, SIX, "pellowe-1.0-triple", "quayle-5.0-eight"])
def test_everything_lies_on_the_strip(engine: str) -> None:
    strip = drawn(engine)
    low, high = strip.origin_deg, strip.origin_deg + 720.0
    assert strip.origin_deg == cycle_origin_deg(pool_engine(engine).cylinders)
    places = [line.deg for line in strip.tdc]
    places += [edge.measured_deg for lane in strip.lanes for edge in lane.edges]
    places += [edge.reference_deg for lane in strip.lanes for edge in lane.edges]
    places += [tick.deg for tick in strip.ruler.ticks] if strip.ruler else []
    assert all(low <= place < high for place in places)


@pytest.mark.parametrize("engine", [FOUR, SIX, "quayle-5.0-eight"])
def test_tdc_lines_stand_in_firing_order(engine: str) -> None:
    assert [line.cylinder for line in drawn(engine).tdc] == pool_engine(engine).firing_order


@pytest.mark.parametrize(("engine", "teeth", "gaps"), [(FOUR, 58, 2), (COARSE_FOUR, 35, 2), (SIX, 58, 2)])
def test_the_ruler_has_every_tooth_twice_and_its_gap_as_a_window(engine: str, teeth: int, gaps: int) -> None:
    ruler = drawn(engine).ruler
    assert ruler is not None
    assert len(ruler.ticks) == 2 * teeth
    inside = [g for g in ruler.gaps if g.to_deg - g.from_deg > 1.0]
    assert gaps <= len(inside) <= gaps + 1
    for gap in inside:
        assert not [tick for tick in ruler.ticks if gap.from_deg < tick.deg < gap.to_deg]


def test_tick_n_is_tooth_n() -> None:
    known = pool_engine(FOUR)
    ruler = drawn().ruler
    assert ruler is not None
    assert known.crank.index_deg is not None
    for tick in ruler.ticks:
        assert (tick.deg - known.crank.index_deg - 6.0 * (tick.tooth - 1)) % 360.0 == pytest.approx(0.0, abs=1e-9)


def test_edges_keep_their_order_when_one_passes_the_end() -> None:
    """A cam so late that its last edge leaves the strip on the right and comes in on the left."""
    lane = next(lane for lane in drawn(shift=Shift({"B1I": 52.0})).lanes if lane.cam == "B1I")
    places = [edge.measured_deg for edge in lane.edges]
    assert places == sorted(places)
    assert lane.starts_high == (lane.edges[0].kind == "falling")
    kinds = [edge.kind for edge in lane.edges]
    assert all(a != b for a, b in itertools.pairwise(kinds))


def test_the_lane_says_what_the_table_says() -> None:
    lane = next(lane for lane in drawn(shift=Shift({"B1I": 12.0})).lanes if lane.cam == "B1I")
    assert lane.offset_deg == pytest.approx(12.0, abs=0.1)
    assert lane.wheel_teeth == pytest.approx(2.0, abs=0.02)
    assert (lane.state, lane.reference, lane.tolerance_deg) == ("late", "profile", 5.0)
    assert lane.offset_u95_deg < lane.total_u95_deg


def test_history_has_every_edge_of_every_whole_cycle() -> None:
    strip = drawn()
    for lane in strip.lanes:
        seen = {(edge.cycle, edge.edge) for edge in lane.cycle_edges}
        assert seen == {(cycle.number, edge.edge) for cycle in strip.cycles for edge in lane.edges}
        for edge in lane.cycle_edges:
            cycle = strip.cycles[edge.cycle - 1]
            assert cycle.from_s <= edge.time_s <= cycle.to_s


def test_cycles_are_numbered_without_overlap_and_the_rest_has_a_reason() -> None:
    strip = drawn(cranking=Cranking(cycles=4.2, from_rest=True, rest_s=0.5))
    assert [cycle.number for cycle in strip.cycles] == list(range(1, len(strip.cycles) + 1))
    assert all(a.to_s <= b.from_s + 1e-9 for a, b in itertools.pairwise(strip.cycles))
    assert strip.left_out[0].reason == "at rest"
    assert all(part.to_s > part.from_s for part in strip.left_out)


def test_speed_over_the_cycle_is_the_speed_over_time() -> None:
    strip = drawn()
    lane = strip.speed_lane
    assert lane is not None
    for cycle, rpm, times in zip(strip.cycles, lane.rpm, lane.times_s, strict=True):
        assert np.mean(rpm[:-1]) == pytest.approx(cycle.mean_rpm, rel=0.03)
        assert times[0] == pytest.approx(cycle.from_s, abs=1e-5)
        assert times[-1] == pytest.approx(cycle.to_s, abs=1e-5)
        assert np.all(np.diff(times) > 0)


def test_an_irregular_wheel_has_no_wheel_teeth_between_marks() -> None:
    strip = drawn("quayle-5.0-eight")
    assert strip.ruler is not None
    assert strip.ruler.pitch_deg is None
    assert all(lane.wheel_teeth is None for lane in strip.lanes)


def test_a_capture_without_a_fitting_wheel_is_an_empty_strip() -> None:
    known = pool_engine(FOUR)
    strip = turn_strip(measure_capture(bench_recording(COARSE_FOUR, 96), known), {})
    assert (strip.ruler, strip.lanes, strip.cycles, strip.speed_lane) == (None, [], [], None)
