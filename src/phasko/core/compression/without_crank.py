"""Relative compression of a capture without a crank signal: paced by a cam, an in-cylinder pressure, a coil that is
proved to fire once per cycle, or by nothing but the humps themselves."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import scipy

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.compression.pacing import COARSE_SWINGS, SWINGS, hump_knots, swings
from phasko.core.compression.relative import Compression, SourceCompression, best_explained, joined, starter_sources
from phasko.core.cycle.angle_grid import STEPS, CrankingCycles, chosen_span, settled_cycles
from phasko.core.cycle.cycles import Cycle, cycle_origin_deg
from phasko.core.cylinder import peak_times_s
from phasko.core.documents.engine import Cam, EngineProfile
from phasko.core.ignition.sparks import spark_times_s
from phasko.core.signals.edge_trains import cam_trains
from phasko.core.signals.recording import Recording
from phasko.core.signals.switching import EdgeTrain

__all__ = ["compression_without_crank"]

_PLACE_STEPS = 12
"""Places of TDC are tried this many steps of the grid apart, 24 degrees: the separation finds humps that stand up to
twelve degrees away."""

Knots = tuple[Floats, Floats]
"""Moments (s) and the running crank angle (deg) at them, after cylinder 1's firing TDC."""


def compression_without_crank(recording: Recording, engine: EngineProfile) -> Compression | None:
    """Relative compression where no crank angle is known; ``None`` without humps that fit the engine's firing.

    The angle between two marks of a cycle is carried smoothly over time, which adds to the half widths. A cam with a
    known pattern, a pressure peak and a coil name the cylinders; a coil only once the humps prove that it fires once
    per cycle: two of its firings a turn apart would show the humps half as often and twice as wide.
    """
    for source, knots in (("cam", _cam_knots(recording, engine)), ("cylinder_pressure", _peaks(recording, engine))):
        found = _judged(recording, engine, knots, source) if knots is not None else None
        if found is not None:
            return found
    return _by_coil(recording, engine) or _by_humps(recording, engine)


def _judged(recording: Recording, engine: EngineProfile, knots: Knots, named_by: str | None) -> Compression | None:
    """With the swing of the speed inside a cycle under which the humps are explained best."""
    every = [_cycles(recording, warped, engine) for warped in swings(recording, knots, SWINGS)]
    tried = [(c, starter_sources(recording, c, engine)) for c in every if c is not None]
    if not tried:
        return None
    cycles, sources = max(tried, key=lambda one: best_explained(one[1]))
    return joined(sources, cycles, engine, named_by)


def _by_coil(recording: Recording, engine: EngineProfile) -> Compression | None:
    """By the first coil whose firings the humps prove to be one cycle apart; counted, but not named, by one that fires
    every turn, which is believed of an engine with a wasted spark."""
    lead = numbers.SPARK_USUAL_DEG.value
    for channel in recording.with_role("coil"):
        times = _steady(spark_times_s(channel, recording))
        if times.size < numbers.COMPRESSION_CYCLES_LEAST.value + 1:
            continue
        tdc = engine.firing_tdc_deg.get(channel.description.cylinder or 0)
        count = np.arange(times.size, dtype=np.float64)
        named_by = "coil" if tdc is not None else None
        once = _judged(recording, engine, (times, 720.0 * count + (tdc or 0.0) + lead), named_by)
        twice = _judged(recording, engine, (times, 360.0 * count + lead), None)
        first, second = (0.0 if f is None else best_explained(f.sources) for f in (once, twice))
        # Neither explains the humps: this coil fires at something else.
        if max(first, second) < numbers.COMPRESSION_TURN_LEAST.value:
            continue
        wasted = engine.ignition is not None and engine.ignition.type == "wasted_spark"
        if wasted and second > numbers.COMPRESSION_TURN_LEAST.value:
            return twice
        if abs(first - second) > numbers.COMPRESSION_TURN_TOLD.value:
            return once if first > second else twice
    return None


def _by_humps(recording: Recording, engine: EngineProfile) -> Compression | None:
    """With nothing but humps: as if the strongest line of their rhythm were one of the first harmonics of a cycle. How
    many humps there really are per 720 degrees is then not known."""
    best: tuple[float, CrankingCycles | None, list[SourceCompression]] = (0.0, None, [])
    for knots in hump_knots(recording, engine.cylinders):
        every = [_cycles(recording, warped, engine) for warped in swings(recording, knots, COARSE_SWINGS)]
        found = max(
            (_placed(recording, cycles, engine) for cycles in every if cycles is not None),
            key=lambda one: one[0],
            default=best,
        )
        if found[0] > best[0] + numbers.COMPRESSION_RHYTHM_TOLD.value:
            best = found
    if best[1] is None:
        return None
    joint = joined(best[2], best[1], engine, None)
    return None if joint is None else replace(joint, events_per_cycle=None, sound=None)


def _placed(
    recording: Recording, cycles: CrankingCycles, engine: EngineProfile
) -> tuple[float, CrankingCycles, list[SourceCompression]]:
    """(share explained, cycles, sources) with the humps at the place inside a firing interval that fits them best."""
    places = range(0, STEPS // engine.cylinders, _PLACE_STEPS)
    turned = [c for c in map(cycles.turned, places) if len(c.edges_s) > 1]
    tried = [(c, starter_sources(recording, c, engine)) for c in turned]
    if not tried:
        return 0.0, cycles, []
    best, sources = max(tried, key=lambda one: best_explained(one[1]))
    return best_explained(sources), best, sources


def _cycles(recording: Recording, knots: Knots, engine: EngineProfile) -> CrankingCycles | None:
    """Settled cycles between the first and the last mark, by a monotone cubic of time over angle."""
    times, angles = knots
    if times.size < 3 or np.any(np.diff(angles) <= 0):
        return None
    when = scipy.interpolate.PchipInterpolator(angles, times)
    origin = cycle_origin_deg(engine.cylinders)
    first, last = np.ceil((angles[0] - origin) / 720.0), np.floor((angles[-1] - origin) / 720.0)
    begins = origin + 720.0 * np.arange(first, last)
    cycles: list[Cycle] = []
    edges: list[Floats] = []
    for begin in begins.tolist():
        moments = np.asarray(when(begin + 720.0 / STEPS * np.arange(STEPS + 1)), dtype=np.float64)
        took = float(moments[-1] - moments[0])
        cycles.append(Cycle(len(cycles) + 1, float(moments[0]), float(moments[-1]), 120.0 / took))
        edges.append(moments)
    cranked = [c for c in cycles if c.mean_rpm < numbers.CRANKING_MAX_RPM.value]
    kept = settled_cycles(cranked, chosen_span(recording))
    if len(kept) < numbers.COMPRESSION_CYCLES_LEAST.value:
        return None
    moments = np.array([edges[c.number - 1] for c in kept])
    speed = np.radians(720.0 / STEPS) / np.diff(moments, axis=1)
    return CrankingCycles(tuple(kept), moments, speed, len(cranked) - len(kept), numbers.COMPRESSION_PACED_U95.value)


def _steady(times_s: Floats) -> Floats:
    """The longest run of marks whose steps differ little from one to the next: cranking after the start."""
    if times_s.size < 3:
        return np.zeros(0)
    steps = np.diff(times_s)
    like = np.abs(np.diff(steps)) < 0.25 * np.minimum(steps[1:], steps[:-1])
    best = start = 0
    length = 0
    for i, same in enumerate([*like.tolist(), False]):
        if same:
            continue
        if i - start > length:
            best, length = start, i - start
        start = i + 1
    return times_s[best : best + length + 2] if length else np.zeros(0)


def _peaks(recording: Recording, engine: EngineProfile) -> Knots | None:
    for channel in recording.with_role("cylinder_pressure"):
        tdc = engine.firing_tdc_deg.get(channel.description.cylinder or 0)
        times = _steady(peak_times_s(channel, recording))
        if tdc is not None and times.size > numbers.COMPRESSION_CYCLES_LEAST.value:
            return times, 720.0 * np.arange(times.size, dtype=np.float64) + tdc
    return None


def _cam_knots(recording: Recording, engine: EngineProfile) -> Knots | None:
    """Marks at every edge of the first cam whose known pattern fits in one place only."""
    trains = cam_trains(recording, engine).value
    for cam in engine.cams:
        able = cam.id in trains and cam.id in engine.placed_cams and len(cam.edges) > 1
        found = _followed(trains[cam.id], cam) if able else None
        if found is not None:
            return found
    return None


def _followed(train: EdgeTrain, cam: Cam) -> Knots | None:
    """Gives every edge its place by the shares of a cycle between edges; ``None`` where two places fit alike."""
    edges = sorted(cam.edges, key=lambda edge: edge.deg)
    count, places = len(edges), np.array([edge.deg for edge in edges])
    times, rising = train.times_s, train.rising
    if times.size < 2 * count + 1:
        return None
    kinds = np.array([edge.kind == "rising" for edge in edges])
    cycle = times[count:] - times[:-count]
    shares = np.diff(times)[: cycle.size] / cycle
    costs = []
    for first in range(count):
        row = (first + np.arange(times.size)) % count
        # An inductive sensor's polarity is anybody's, a switching one's is known.
        if cam.sensor != "vr" and np.mean(kinds[row] == rising) < 0.9:
            costs.append(np.inf)
            continue
        expected = ((places[(row + 1) % count] - places[row]) % 720.0 / 720.0)[: cycle.size]
        costs.append(float(np.mean(np.abs(shares - expected))))
    order = np.argsort(costs)
    # Two places that fit alike would name the wrong cylinder half the time.
    if costs[order[0]] > numbers.COMPRESSION_PACE_FIT.value or (
        count > 1 and costs[order[1]] < 2.0 * costs[order[0]] + 0.01
    ):
        return None
    number = int(order[0]) + np.arange(times.size)
    return times, places[number % count] + 720.0 * (number // count)
