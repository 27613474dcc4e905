"""Sealing where no crank signal is there: the classic clamp, alone or with a coil, a cam, a pressure."""

from __future__ import annotations

from functools import cache

import numpy as np
import pytest

from phasko.bench.faults import CylinderFault, EngineFaults
from phasko.bench.pool import pool_engine
from phasko.bench.probe import Probe
from phasko.bench.recorder import ScopeSettings
from phasko.bench.run import Run
from phasko.bench.scenario import clear_flood_cranking
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.compression.pacing import turning_span_s
from phasko.core.compression.view import compression_view
from phasko.core.compression.without_crank import _steady
from phasko.core.documents import EngineProfile
from phasko.core.signals.recording import Channel, Recording
from tests.builders import without
from trials.measurements import measure_capture
from trials.recordings import record_run, run_engine

pytestmark = pytest.mark.exhaustive

FOUR, SIX = "corvane-2.1-four", "brimholt-3.2-six"
OUT = CylinderFault(plug="out")


@cache
def cranked(engine: str, *dead: int) -> Run:
    known = pool_engine(engine)
    return run_engine(known, clear_flood_cranking(5.0), 77, faults=EngineFaults(cylinders=dict.fromkeys(dead, OUT)))


def clamped(run: Run, *beside: Probe, engine: EngineProfile | None = None) -> CaptureMeasurement:
    made = record_run(run, [Probe("starter_current"), *beside], ScopeSettings(rate_hz=20_000.0))
    channels = tuple(Channel(d, made.columns[d.column]) for d in made.description.channels)
    return measure_capture(Recording("bench", made.description, 0.0, made.interval_s, channels), engine or run.engine)


def states(measured: CaptureMeasurement) -> dict[int, str]:
    assert measured.compression is not None
    return {c.cylinder: c.state for c in measured.compression.cylinders}


COIL, CAM, PRESSURE = Probe("coil", cylinder=1), Probe("cam", cam="B1I"), Probe("cylinder_pressure", cylinder=1)


@pytest.mark.parametrize(("beside", "named_by"), [(COIL, "coil"), (CAM, "cam"), (PRESSURE, "cylinder_pressure")])
@pytest.mark.parametrize("engine", [FOUR, SIX])
def test_one_plug_out_is_named_by_whatever_tells_the_cycle(engine: str, beside: Probe, named_by: str) -> None:
    measured = clamped(cranked(engine, 3), beside)
    assert measured.usable
    assert measured.clock is None
    assert measured.compression is not None
    assert measured.compression.identified_by == named_by
    assert measured.compression.events_per_cycle == pool_engine(engine).cylinders - 1
    assert [c for c, state in states(measured).items() if state == "dead"] == [3]


def test_a_healthy_engine_by_clamp_and_coil() -> None:
    measured = clamped(cranked(FOUR), COIL)
    assert measured.compression is not None
    assert measured.compression.events_per_cycle == 4
    assert set(states(measured).values()) == {"good"}
    assert all(c.u95 is not None and c.u95 > 0.06 for c in measured.compression.cylinders)


def test_every_second_one_dead_is_counted_with_a_coil() -> None:
    """Three humps between two sparks of a six: narrow ones, so that it is no wasted spark of a healthy engine."""
    dead = pool_engine(SIX).firing_order[::2]
    measured = clamped(cranked(SIX, *dead), COIL)
    assert measured.compression is not None
    assert measured.compression.events_per_cycle == 3
    assert {c for c, s in states(measured).items() if s == "dead"} == set(dead)
    assert any("every second one" in p.text or "whole of bank" in p.text for p in measured.problems)


@pytest.mark.parametrize("dead", [(), tuple(pool_engine(SIX).firing_order[::2])])
def test_a_clamp_alone_counts_nothing_and_excludes_nothing(dead: tuple[int, ...]) -> None:
    measured = clamped(cranked(SIX, *dead))
    found = measured.compression
    assert found is not None
    assert found.events_per_cycle is None
    assert found.identified_by is None
    words = next(p.text for p in measured.problems if p.code == "compression_count")
    assert "cannot be excluded" in words
    assert "every second one" in words
    view = compression_view(found, measured.engine)
    assert view.count is None
    assert "nothing to count" in view.finding.text


def test_one_dead_of_four_shows_in_the_clamp_alone() -> None:
    measured = clamped(cranked(FOUR, 3))
    assert measured.compression is not None
    assert np.count_nonzero(measured.compression.sources[0].relative < 0.25) == 1
    assert "1 of every 4 humps are low" in compression_view(measured.compression, measured.engine).finding.text


def test_a_wasted_spark_counts_but_names_nobody() -> None:
    healthy = pool_engine(SIX)
    assert healthy.ignition is not None
    wasted = healthy.model_copy(update={"ignition": healthy.ignition.model_copy(update={"type": "wasted_spark"})})
    run = run_engine(wasted, clear_flood_cranking(5.0), 78)
    measured = clamped(run, COIL, engine=wasted)
    assert measured.compression is not None
    assert measured.compression.identified_by is None
    assert measured.compression.events_per_cycle == 6


def test_a_profile_without_index_is_read_by_clamp_and_coil() -> None:
    engine = pool_engine(FOUR)
    unknown = engine.model_copy(update={"crank": engine.crank.model_copy(update={"index_deg": None})})
    measured = clamped(cranked(FOUR, 3), Probe("crank"), COIL, engine=unknown)
    assert measured.compression is not None
    assert measured.compression.identified_by == "coil"
    assert states(measured)[3] == "dead"


def test_a_crank_that_was_hooked_up_and_is_flat_leaves_the_capture_unusable() -> None:
    run = cranked(FOUR)
    made = record_run(run, [Probe("crank"), Probe("starter_current"), COIL], ScopeSettings(rate_hz=20_000.0))
    flat = {name: np.zeros_like(samples) if name == "c1" else samples for name, samples in made.columns.items()}
    channels = tuple(Channel(d, flat[d.column]) for d in made.description.channels)
    measured = measure_capture(Recording("bench", made.description, 0.0, made.interval_s, channels), run.engine)
    assert not measured.usable
    assert measured.compression is not None
    assert measured.compression.events_per_cycle == 4


def test_pressure_tells_the_turn_beside_a_crank_without_cams() -> None:
    measured = clamped(cranked(FOUR, 3), Probe("crank"), Probe("cylinder_pressure", cylinder=4))
    assert measured.compression is not None
    assert measured.compression.identified_by == "cylinder_pressure"
    assert states(measured)[3] == "dead"


def test_the_longest_steady_run_of_marks() -> None:
    times = np.array([0.0, 0.9, 1.6, 2.1, 2.6, 3.1, 3.62, 4.9, 5.4])
    assert _steady(times).tolist() == [1.6, 2.1, 2.6, 3.1, 3.62]
    assert _steady(times[:2]).size == 0


def test_the_starter_turns_where_the_signal_leaves_its_rest() -> None:
    signal = np.zeros(2500)
    signal[400:2000] = 150.0
    found = turning_span_s(signal, 2e-3)
    assert found == (pytest.approx(0.8, abs=0.06), pytest.approx(4.0, abs=0.06))
    assert turning_span_s(np.zeros(2500), 2e-3) is None


LESS = {
    "index": {"index": True},
    "edges too": {"index": True, "edges": True},
    "wheel too": {"wheel": True, "edges": True},
}


@pytest.mark.parametrize("engine", [FOUR, SIX])
@pytest.mark.parametrize("less", LESS)
def test_without_an_index_cylinders_are_named_by_the_coil_and_no_learnt_cam(engine: str, less: str) -> None:
    """Edges learnt from the capture itself count from tooth 1, wherever that is: they name no cylinder."""
    bare = without(pool_engine(engine), **LESS[less])
    cams = (Probe("cam", cam="B1I"), Probe("cam", cam="B1E"))
    measured = clamped(cranked(engine, 4), Probe("crank"), COIL, *cams, engine=bare)
    assert [c for c, state in states(measured).items() if state == "dead"] == [4]
    assert measured.compression is not None
    assert measured.compression.identified_by == ("cam" if less == "index" else "coil")


@pytest.mark.parametrize("engine", [FOUR, SIX])
def test_without_an_index_a_learnt_cam_alone_names_none(engine: str) -> None:
    bare = without(pool_engine(engine), index=True, edges=True)
    measured = clamped(cranked(engine, 4), Probe("crank"), Probe("cam", cam="B1I"), engine=bare)
    assert measured.compression is not None
    assert measured.compression.identified_by is None
    assert set(states(measured).values()) == {"unknown"}
