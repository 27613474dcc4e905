"""All cylinders together against known good captures, and the firing order from cylinders taken out."""

from __future__ import annotations

from dataclasses import replace
from functools import cache

import numpy as np
import pytest

from phasko.bench.faults import CylinderFault, DriveFaults, EngineFaults, Spread
from phasko.bench.pool import pool_engine
from phasko.bench.probe import Probe
from phasko.bench.recorder import ScopeSettings
from phasko.bench.scenario import clear_flood_cranking
from phasko.core.analyse import HashedCapture
from phasko.core.capture.known_good import KnownGoodCaptures, known_good_captures, measure_against
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.compression import (
    CompressionSize,
    OverallCompression,
    blind_spots,
    inferred_order,
    overall_size,
    taken_out_problems,
)
from phasko.core.documents import EngineProfile
from phasko.core.documents.analysis import CompressionResult, CylinderRelative
from phasko.core.engine.filling import compression_left
from phasko.core.signals.recording import Channel, Recording
from trials.analyses import analyse_job
from trials.measurements import measure_capture
from trials.recordings import record_run, run_engine

FOUR = "corvane-2.1-four"
ENGINE = pool_engine(FOUR)


@cache
def recorded(seed: int, jumped: int = 0, ring_mm2: float = 0.0, weak_battery: float = 0.0) -> Recording:
    cylinders = {c: CylinderFault(ring_leak_mm2=ring_mm2) for c in ENGINE.firing_order} if ring_mm2 else {}
    faults = EngineFaults(DriveFaults(jumped_at_crank=jumped), cylinders, battery_weak_share=weak_battery)
    run = run_engine(ENGINE, clear_flood_cranking(4.5), seed, faults=faults, spread=Spread())
    probes = [Probe("crank"), Probe("cam", cam="B1I"), Probe("cam", cam="B1E"), Probe("starter_current")]
    made = record_run(run, probes, ScopeSettings(rate_hz=50_000.0))
    channels = tuple(Channel(d, made.columns[d.column]) for d in made.description.channels)
    return Recording("bench", made.description, 0.0, made.interval_s, channels)


@cache
def references() -> tuple[CompressionSize, ...]:
    return known_good_captures([measure_capture(recorded(s), ENGINE) for s in (201, 202, 203, 204)]).sizes


def against(recording: Recording) -> tuple[CaptureMeasurement, OverallCompression]:
    found = measure_against(recording, ENGINE, KnownGoodCaptures(sizes=references()))
    assert found.compression is not None
    assert found.compression.overall is not None
    return found, found.compression.overall


@pytest.mark.parametrize("weak_battery", [0.0, 0.3])
@pytest.mark.parametrize("seed", [211, 212])
def test_a_healthy_engine_presses_like_known_good_ones_whatever_its_battery(seed: int, weak_battery: float) -> None:
    measured, overall = against(recorded(seed, weak_battery=weak_battery))
    assert overall.relative == pytest.approx(1.0, abs=overall.u95)
    assert overall.references == 4
    assert not any(p.code.startswith("compression_all") for p in measured.problems)
    assert not any("equally low" in spot for spot in blind_spots(measured.compression, ENGINE))  # type: ignore[arg-type]


def test_all_low_alike_looks_even_and_is_found_by_its_size() -> None:
    """Worn rings everywhere: even bars, which alone would be health."""
    measured, overall = against(recorded(213, ring_mm2=2.5))
    assert measured.compression is not None
    assert {c.state for c in measured.compression.cylinders} == {"good"}
    assert overall.relative + overall.u95 < 1.0
    text = next(p.text for p in measured.problems if p.code == "compression_all_low")
    assert "All cylinders together compress" in text
    alone = measure_capture(recorded(213, ring_mm2=2.5), ENGINE).compression
    assert alone is not None
    assert any("equally low" in spot for spot in blind_spots(alone, ENGINE))


def test_two_pitches_late_on_all_lower_the_size_as_the_trade_says() -> None:
    _, overall = against(recorded(214, jumped=2))
    pitch = 360.0 / 21
    change = compression_left(ENGINE, 2 * pitch, 2 * pitch) - 1.0
    assert overall.relative - 1.0 == pytest.approx(change, abs=overall.u95 + 2 * 0.4 * abs(change))
    assert overall.relative + overall.u95 < 0.85


def test_the_size_joins_the_call_but_never_opens_the_covers() -> None:
    captures = [HashedCapture(recorded(215, jumped=2), "a" * 64)]
    good = [recorded(seed) for seed in (201, 202, 203, 204)]
    verdict = analyse_job(captures, ENGINE, "0" * 64, good).verdict
    assert verdict.faults[0].fault == "chain_jumped"
    assert any("known good" in line for line in verdict.faults[0].for_)
    assert verdict.teardown == "confirm_first"


SIZE = CompressionSize("crank_speed", 100.0, 0.01, 220.0, "open", "hot")


def width(own: CompressionSize, *others: CompressionSize) -> float:
    found = overall_size(own, others)
    assert found is not None
    return found.u95


def test_what_is_unlike_or_unknown_makes_it_less_sure() -> None:
    usual = width(SIZE, SIZE)
    assert width(replace(SIZE, throttle="closed"), SIZE) > usual + 0.05
    assert width(replace(SIZE, throttle="unknown"), SIZE) > usual + 0.03
    assert width(replace(SIZE, temperature="cold"), SIZE) > usual
    assert width(replace(SIZE, rpm=150.0), SIZE) > usual
    assert width(replace(SIZE, source="starter_current"), replace(SIZE, source="starter_current")) > usual + 0.05


def test_only_the_same_source_compares_and_the_same_throttle_first() -> None:
    assert overall_size(SIZE, [replace(SIZE, source="starter_current")]) is None
    found = overall_size(SIZE, [replace(SIZE, size=50.0, throttle="closed"), SIZE, SIZE])
    assert found is not None
    assert found.references == 2
    assert found.relative == pytest.approx(1.0)


def dead(cylinder: int, engine: EngineProfile = ENGINE, named: bool = True) -> CompressionResult:
    """A capture in which the place of that cylinder (by the profile) does not compress."""
    gone = CylinderRelative(cylinder=cylinder, relative=0.0, u95=0.05, state="dead")
    each = [
        gone if c == cylinder else CylinderRelative(cylinder=c, relative=1.0, u95=0.05, state="good")
        for c in sorted(engine.firing_order)
    ]
    return CompressionResult(
        source="starter_current",
        events_per_cycle=engine.cylinders - 1,
        expected_events=engine.cylinders,
        identified_by="cam" if named else None,
        cylinders=each,
    )


def test_the_firing_order_follows_from_gaps() -> None:
    """A profile with 1-2-3-4 for an engine that fires 1-3-4-2: two cylinders taken out tell it whole."""
    assumed = ENGINE.model_copy(update={"firing_order": [1, 2, 3, 4]})
    one = inferred_order([(3, dead(2, assumed))], assumed)
    assert one.order == (1, 3, None, None)
    assert not one.complete
    both = inferred_order([(3, dead(2, assumed)), (2, dead(4, assumed))], assumed)
    assert both.order == (1, 3, 4, 2)
    assert both.complete
    assert both.contradicts


def test_gaps_that_agree_with_the_profile_contradict_nothing() -> None:
    found = inferred_order([(c, dead(c)) for c in (2, 3, 4)], ENGINE)
    assert found.order == tuple(ENGINE.firing_order)
    assert not found.contradicts
    assert found.conflicts == ()


def test_captures_that_do_not_go_together_are_named() -> None:
    found = inferred_order([(3, dead(3)), (4, dead(3)), (2, dead(2, named=False))], ENGINE)
    assert len(found.conflicts) == 2
    assert "right plug" in found.conflicts[0]
    assert "no single gap" in found.conflicts[1]


def test_a_gap_elsewhere_than_in_the_profile_is_said() -> None:
    (problem,) = taken_out_problems(3, dead(2), ENGINE)
    assert problem.code == "firing_order_contradicts"
    assert taken_out_problems(3, dead(3), ENGINE) == []
    assert taken_out_problems(None, dead(3), ENGINE) == []
    assert taken_out_problems(3, None, ENGINE)[0].code == "taken_out_unseen"


def test_a_cylinder_taken_out_on_purpose_is_no_fault() -> None:
    out = EngineFaults(cylinders={3: CylinderFault(plug="out")})
    run = run_engine(ENGINE, clear_flood_cranking(4.5), 219, faults=out)
    made = record_run(run, [Probe("crank"), Probe("cam", cam="B1I"), Probe("starter_current")])
    described = made.description.model_copy(update={"taken_out": 3})
    channels = tuple(Channel(d, made.columns[d.column]) for d in described.channels)
    whole = Recording("bench", described, 0.0, made.interval_s, channels)
    analysis = analyse_job([HashedCapture(whole, "b" * 64)], ENGINE, "0" * 64)
    assert analysis.verdict.faults[0].fault == "none"
    assert not any(p.code.startswith("taken") for p in analysis.captures[0].problems)
    assert np.isclose(analysis.captures[0].compression.cylinders[2].relative, 0.0, atol=0.1)  # type: ignore[union-attr, arg-type]
