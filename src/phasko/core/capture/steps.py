"""Measures one capture: the readable list of steps from samples to cam offsets."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.breathing import Manifold, PulseMeasurement, breathing_problems, mean_pressures, measure_pulses
from phasko.core.capture.cam_readings import References, cam_readings
from phasko.core.capture.crank_angle import OnTheClock, Signals, put_on_the_clock, read_signals
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.capture.problems import cam_problems, signal_problems, speed_problems, state_problems, vote_problems
from phasko.core.capture.swept import driven_runs, measured_sweeps
from phasko.core.channels.sensor_kind import known_sensors
from phasko.core.compression import (
    Compression,
    compression_problems,
    compression_without_crank,
    measure_compression,
    unread_sources,
)
from phasko.core.crank.segments import Segment, segments_by_speed
from phasko.core.cycle.angle_grid import chosen_span, without_span
from phasko.core.cycle.cycle_half import PieceTurn, TurnSource, turned_by_cams
from phasko.core.cycle.cycles import Cycle, exclusions, whole_cycles
from phasko.core.cylinder import (
    Cranked,
    CurrentTdc,
    SpeedTdc,
    felt_cylinders,
    felt_without_crank,
    index_by_current,
    index_by_pressure,
    index_by_speed,
    joined_index,
    tdc_by_current,
    tdc_by_speed,
    turn_by_pressure,
    wall_k,
)
from phasko.core.documents.analysis import Problem
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.wheel import wheel_name
from phasko.core.found import Found
from phasko.core.ignition import CoilFiring, ignition_problems, measure_firing, turn_by_coil
from phasko.core.injection import Injection, measure_injection
from phasko.core.phase.aux_wheel import as_cam, aux_edges
from phasko.core.phase.irregularities import SignalEvent, cam_events, crank_events, placed, sensed
from phasko.core.phase.pulse_counts import odd_one_out, pulse_counts
from phasko.core.phase.reading import CamReading, CamRun, cam_run, with_banks
from phasko.core.signals.edge_trains import every_train
from phasko.core.signals.gaps import unrecorded_spans
from phasko.core.signals.low_pass import FilterEffect, effect_on_edges, filter_problems, filter_results, with_filters
from phasko.core.signals.recording import Recording
from phasko.core.signals.switching import EdgeTrain

__all__ = ["measure_capture"]


def measure_capture(
    recording: Recording, profile: EngineProfile, known_good: References | None = None
) -> CaptureMeasurement:
    """Edges, tooth count, clock, segments, turn, cam offsets and irregularities of one capture.

    A cam is compared with ``known_good`` where that has it in the same state, else with the profile; what the profile
    does not know is learnt from the signals and compared with nothing. Channels that ask for a low-pass get it, and
    what that does to their edges is measured too.

    Nothing here raises for a bad signal: what could not be measured is absent and a problem says why.
    """
    kinds = known_sensors(recording, profile)
    measured = _measure_filtered(recording, kinds.value, known_good)
    return replace(measured, problems=(*kinds.problems, *measured.problems)) if kinds.problems else measured


def _measure_filtered(
    recording: Recording, profile: EngineProfile, known_good: References | None
) -> CaptureMeasurement:
    """With the low-pass that channels ask for, and what that did to their edges."""
    if all(channel.description.filter_hz is None for channel in recording.channels):
        return _measure(recording, profile, known_good or {})
    smooth = with_filters(recording)
    measured = _measure(smooth, profile, known_good or {})
    effects = _filter_effects(recording, smooth, profile)
    speed = 6.0 * (measured.clock.mean_rpm or 0.0) if measured.clock is not None else 0.0
    u95 = [r.relative.offset.u95 for r in measured.cams if r.relative is not None]
    results = filter_results(effects, speed, min(u95, default=0.0))
    problems = (*measured.problems, *filter_problems(results))
    return replace(measured, recording=recording, problems=problems, filters=tuple(results))


def _filter_effects(recording: Recording, smooth: Recording, profile: EngineProfile) -> list[FilterEffect]:
    """Edges with and without, for every signal that has a low-pass."""
    found = []
    plain, through = every_train(recording, profile), every_train(smooth, profile)
    for channel in recording.channels:
        corner = channel.description.filter_hz
        if corner is not None:
            effect = effect_on_edges(plain.get(channel.name), through.get(channel.name), corner)
            found.append(effect)
    return [effect for effect in found if effect is not None]


def _measure(recording: Recording, profile: EngineProfile, known_good: References) -> CaptureMeasurement:
    signals = read_signals(recording, profile)
    problems = (*state_problems(recording), *signals.problems)
    crank = signals.value.crank
    if crank is None:
        measured = _without_crank(signals.value, problems)
    else:
        clocked = put_on_the_clock(signals.value, crank)
        problems = (*problems, *clocked.problems)
        if isinstance(clocked.value, CaptureMeasurement):
            measured = replace(clocked.value, problems=problems)
        else:
            measured = _at_crank_angles(clocked.value, known_good, problems)
    return replace(measured, edges=signals.value.by_channel)


def _without_crank(signals: Signals, problems: tuple[Problem, ...]) -> CaptureMeasurement:
    """What a capture says whose crank angle is not known: which cylinders press, from the starter and the battery."""
    recording, profile = signals.recording, signals.profile
    compression = compression_without_crank(recording, profile)
    breathing = _breathing(recording, profile, compression)
    felt = felt_without_crank(recording, profile)
    return CaptureMeasurement(
        recording,
        profile,
        problems=(
            *problems,
            *felt.problems,
            *compression_problems(compression, profile),
            *unread_sources(recording, compression, None),
            *breathing.problems,
        ),
        silent_cams=_silent(recording, profile, signals.cams),
        compression=compression,
        compression_whole=compression_without_crank(without_span(recording), profile)
        if chosen_span(recording) is not None
        else None,
        pulses=breathing.value[0],
        manifolds=breathing.value[1],
        felt=felt.value,
    )


def _at_crank_angles(read: OnTheClock, known_good: References, problems: tuple[Problem, ...]) -> CaptureMeasurement:
    """Every measurement that needs the crank's angle, one step after the other."""
    recording, engine, clock = read.recording, read.engine, read.clock
    cycles = whole_cycles(read.pieces, engine.cylinders)
    runs = {cam.id: cam_run(cam, read.cams[cam.id], read.pieces) for cam in engine.cams if cam.id in read.cams}
    odd = _events(read, runs)
    # A crank signal that is gone while the cams go on is no rest, so that no state may end there.
    dead = [(e.time_s, e.to_s) for e in odd if e.signal == "crank" and e.kind == "silent"]
    unrecorded = {channel.name: unrecorded_spans(channel, recording) for channel in recording.channels}
    around_s = numbers.GAP_REACH_DEG.value / (6.0 * (clock.mean_rpm or math.inf))
    events = placed(sensed(odd, unrecorded, around_s), read.pieces, cycles)
    segments = segments_by_speed(clock, recording.start_s, read.end_s, dead)
    driven = driven_runs(recording, engine, runs)
    readings = cam_readings(read, driven.at_rest, segments, known_good)
    sweeps = measured_sweeps(recording, driven, runs, readings.value)
    cams = with_banks(readings.value, engine, read.known_cams)
    # The turn by which sealing and sparks are named; the cams' own reading stays as the cams tell it.
    turned = _turned_otherwise(read, segments) if read.modulo_deg is None else turned_by_cams(read.pieces)
    compression = _compression(read, turned, cycles, segments)
    whole = None
    if chosen_span(recording) is not None:
        whole = _compression(replace(read, recording=without_span(recording)), turned, cycles, segments)
    firings = _firings(read, turned, segments)
    felt = felt_cylinders(recording, engine, turned if turned is not None else read.pieces, segments)
    by_pressure = index_by_pressure(felt.value) if _wheel_is_placed(read) else None
    speed_tdc, current_tdc = _tdc_by_humps(read, compression, cams)
    index = joined_index(by_pressure, index_by_speed(speed_tdc), index_by_current(current_tdc))
    breathing = _breathing(recording, engine, compression)
    expected = _expected(read)
    return CaptureMeasurement(
        recording=recording,
        engine=engine,
        problems=(
            *problems,
            *readings.problems,
            *sweeps.problems,
            *cam_problems(cams, engine, clock),
            *ignition_problems(firings),
            *compression_problems(compression, engine),
            *unread_sources(recording, compression, read.modulo_deg),
            *breathing.problems,
            *felt.problems,
            *index.problems,
            *signal_problems(events, engine),
            *speed_problems(clock.mean_rpm),
            *vote_problems(odd_one_out(_votes(read, expected), [s for of in unrecorded.values() for s in of]), engine),
        ),
        wheel=wheel_name(engine.crank.known_wheel),
        matches_profile=None if read.learnt is not None and read.learnt.wheel is not None else True,
        clock=clock,
        pieces=read.pieces,
        segments=segments,
        cycles=cycles,
        left_out=exclusions(read.pieces, recording.start_s, read.end_s),
        cams=cams,
        silent_cams=_silent(recording, engine, read.cams),
        events=events,
        counts=pulse_counts(expected, events, cycles),
        learnt=read.learnt,
        compression=compression,
        compression_whole=whole,
        firings=firings,
        injections=_injections(read, turned),
        pulses=breathing.value[0],
        manifolds=breathing.value[1],
        index=index.value,
        speed_tdc=speed_tdc,
        felt=felt.value,
        sweeps=sweeps.value,
    )


def _compression(
    read: OnTheClock,
    turned: tuple[PieceTurn, ...] | None,
    cycles: tuple[Cycle, ...],
    segments: Sequence[Segment],
) -> Compression | None:
    """Which cylinders press, at crank angles; from the humps' own rhythm where these are not known well enough."""
    found: Compression | None = None
    if turned is not None:
        own = cycles if turned is read.pieces else whole_cycles(turned, read.engine.cylinders)
        found = measure_compression(read.recording, read.engine, read.clock, turned, own, segments)
    if found is None and (turned is None or not read.clock.index_known):
        found = compression_without_crank(read.recording, _as_told(read))
    return found


def _tdc_by_humps(
    read: OnTheClock, compression: Compression | None, cams: Sequence[CamReading]
) -> tuple[SpeedTdc | None, CurrentTdc | None]:
    """Where the wheel stands against the pistons, from the cycles in which sealing was judged: by the crank's speed,
    and by the starter's current."""
    if compression is None or not _wheel_is_placed(read) or compression.cycles.pace_u95:
        return None, None
    named = {c.cylinder: c.relative for c in compression.cylinders if c.relative is not None}
    relative = named if len(named) == read.engine.cylinders else None
    starter = next((s for s in compression.sources if s.source != "crank_speed"), None)
    # A battery sags as its starter draws.
    sign = -1.0 if starter is not None and starter.source == "battery_voltage" else 1.0
    drive = None if starter is None else (starter.source, sign * starter.signal)
    late = {one.cam.id: one.offset.offset.value for one in cams if one.offset is not None and one.segment == "cranking"}
    walls_k = wall_k(read.recording.description.temperature)
    cranked = Cranked(compression.cycles, read.engine, relative, walls_k, late)
    by_current = None
    if starter is not None and starter.source == "starter_current":
        by_current = tdc_by_current(cranked, starter.signal)
    return tdc_by_speed(cranked, drive), by_current


def _wheel_is_placed(read: OnTheClock) -> bool:
    """Whether the wheel's place is known at all. One that repeats within the reach of faults may stand a tooth off
    without anything showing it."""
    modulo = read.modulo_deg
    return read.clock.index_known and (modulo is None or modulo >= 2.0 * numbers.TDC_REACH_DEG.value)


def _as_told(read: OnTheClock) -> EngineProfile:
    """The engine without the cam edges that were only learnt here. Those are angles on this capture's own clock, after
    tooth 1 where no index is known, and cannot tell which cylinder is which."""
    cams = [cam if cam.id in read.known_cams else cam.model_copy(update={"edges": []}) for cam in read.engine.cams]
    return read.engine.model_copy(update={"cams": cams})


def _firings(
    read: OnTheClock, turned: tuple[PieceTurn, ...] | None, segments: Sequence[Segment]
) -> tuple[CoilFiring, ...]:
    if turned is None or read.modulo_deg is not None:
        return ()
    named = all(turn.source is not None for turn in turned)
    return measure_firing(read.recording, read.engine, turned, segments, read.clock.index_known, named)


def _injections(read: OnTheClock, turned: tuple[PieceTurn, ...] | None) -> tuple[Injection, ...]:
    pieces = turned if turned is not None else read.pieces
    named = read.modulo_deg is None and all(turn.source is not None for turn in pieces)
    return measure_injection(read.recording, read.engine, pieces, read.clock.index_known, named)


def _breathing(
    recording: Recording, engine: EngineProfile, compression: Compression | None
) -> Found[tuple[tuple[PulseMeasurement, ...], tuple[Manifold, ...]]]:
    """Pulses and mean pressures over the cycles from which sealing was judged."""
    if compression is None:
        return Found(((), ()))
    # Beside a cylinder that does not compress the pulses swing by themselves, and no other may be blamed for it.
    low = {*compression.dead, *compression.weak}
    pulses = measure_pulses(recording, engine, compression.cycles, compression.identified_by is not None, low)
    manifolds = mean_pressures(recording, compression.cycles)
    return Found((pulses, manifolds), tuple(breathing_problems(pulses, manifolds)))


def _turned_otherwise(read: OnTheClock, segments: Sequence[Segment]) -> tuple[PieceTurn, ...]:
    """The pieces with their turn; where no cam tells it, by the pressure in a cylinder, or by a coil that is proved to
    fire once per cycle."""
    if len(read.pieces) != 1 or read.pieces[0].source is not None or not read.clock.index_known:
        return read.pieces
    only = read.pieces[0]
    source: TurnSource = "cylinder_pressure"
    turn = turn_by_pressure(read.recording, read.engine, read.pieces)
    if turn is None:
        source = "coil"
        turn = turn_by_coil(read.recording, read.engine, read.pieces, segments)
    if turn is None:
        return read.pieces
    return (replace(only, turn_deg=(only.turn_deg + turn) % 720.0, source=source),)


def _silent(recording: Recording, profile: EngineProfile, trains: Mapping[str, EdgeTrain]) -> tuple[str, ...]:
    """Cams that are hooked up and give no edges."""
    hooked = {channel.description.cam for channel in recording.with_role("cam")}
    return tuple(cam.id for cam in profile.cams if cam.id in hooked and cam.id not in trains)


def _events(read: OnTheClock, runs: Mapping[str, CamRun | None]) -> list[SignalEvent]:
    """Lost, added and silent pulses of every signal."""
    cams_s = [train.times_s for train in read.cams.values()]
    found = crank_events(read.clock, (read.recording.start_s, read.end_s), read.crank_channel, cams_s)
    found += [event for run in runs.values() if run is not None for event in run.events]
    for wheel in read.engine.aux_wheels:
        train = read.aux.get(wheel.id)
        # Cycles are counted on over the pieces with two to spare, so that no edges of two pieces share a cycle.
        first_cycle = 0
        for turn in read.pieces if train is not None else ():
            assert train is not None
            edges = aux_edges(turn.piece, train, wheel, turn.turn_deg, first_cycle)
            if edges is not None:
                found += cam_events(wheel.id, train, turn, edges, as_cam(wheel).edges, first_cycle)
            first_cycle += 2 + int(np.ptp(turn.piece.angles_deg) // 720.0)
    return found


def _expected(read: OnTheClock) -> dict[str, int]:
    """Edges per cycle of every signal that is there."""
    found = {"crank": 2 * len(read.engine.crank.known_wheel.angles_deg)}
    found |= {wheel.id: len(as_cam(wheel).edges) for wheel in read.engine.aux_wheels if wheel.id in read.aux}
    return found | {cam.id: len(cam.edges) for cam in read.engine.cams if cam.id in read.cams and cam.edges}


def _votes(read: OnTheClock, expected: Mapping[str, int]) -> dict[str, tuple[Floats, int]]:
    """Per signal its edge times (n,) in s, and how many there should be in a cycle."""
    every = {"crank": read.clock.teeth.times_s} | {
        name: train.times_s for name, train in (*read.aux.items(), *read.cams.items())
    }
    return {name: (every[name], count) for name, count in expected.items()}
