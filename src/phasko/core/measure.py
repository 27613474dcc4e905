"""Measures one capture: the readable list of steps from samples to cam offsets."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from phasko.core import numbers
from phasko.core.aux_wheel import as_cam, aux_edges, crank_from_aux, turn_of_even_wheel
from phasko.core.breathing import (
    Manifold,
    PulseMeasurement,
    breathing_problems,
    mean_pressures,
    measure_pulses,
)
from phasko.core.cam_reading import CamReading, CamRun, cam_run, read_cam, with_banks
from phasko.core.clock import CrankClock, ToothSensor, crank_clock
from phasko.core.cycles import Cycle, Exclusion, exclusions, whole_cycles
from phasko.core.documents.analysis import FilterResult, Problem
from phasko.core.documents.engine import EngineProfile
from phasko.core.edges import EdgeTrain
from phasko.core.events import SignalEvent, cam_events, crank_events, placed
from phasko.core.exchanged import exchanged_cams, exchanged_crank
from phasko.core.ignition import CoilFiring, ignition_problems, measure_firing, turn_by_coil
from phasko.core.learning import Learnt, learn_what_is_missing
from phasko.core.pressure import turn_by_pressure
from phasko.core.problems import (
    cam_problems,
    signal_problems,
    speed_problems,
    state_problems,
    turn_problems,
    vote_problems,
)
from phasko.core.recognition import is_another_wheel, recognised_wheel
from phasko.core.recording import Recording
from phasko.core.reference import CamReference, profile_references
from phasko.core.ripple import firing_ripple
from phasko.core.seal import (
    Compression,
    compression_without_crank,
    measure_compression,
    seal_problems,
    unread_sources,
)
from phasko.core.segments import Segment, SegmentKind, measured_kinds, segments_by_speed
from phasko.core.signal_filter import FilterEffect, effect_on_edges, filter_problems, filter_results, with_filters
from phasko.core.signals import aux_trains, cam_trains, counted_teeth, crank_edges, every_train
from phasko.core.teeth import ToothCount
from phasko.core.turn import PieceTurn, TurnSource, resolve_turn, turned_by_cams
from phasko.core.wheel import wheel_name
from phasko.core.windows import SignalCount, odd_one_out, pulse_counts

__all__ = ["CamReading", "CaptureMeasurement", "measure_capture"]

Floats = NDArray[np.float64]


@dataclass(frozen=True, slots=True, eq=False)
class CaptureMeasurement:
    """Everything measured in one capture, and everything that could not be, with the reason.

    ``engine`` is the profile it was read with: the given one, with what had to be learnt from the signals themselves.
    """

    recording: Recording
    engine: EngineProfile
    problems: tuple[Problem, ...]
    wheel: str | None = None
    matches_profile: bool | None = None
    clock: CrankClock | None = None
    pieces: tuple[PieceTurn, ...] = ()
    segments: tuple[Segment, ...] = ()
    cycles: tuple[Cycle, ...] = ()
    left_out: tuple[Exclusion, ...] = ()
    cams: tuple[CamReading, ...] = ()
    silent_cams: tuple[str, ...] = ()
    events: tuple[SignalEvent, ...] = ()
    counts: tuple[SignalCount, ...] = ()
    learnt: Learnt | None = None
    filters: tuple[FilterResult, ...] = ()
    compression: Compression | None = None
    firings: tuple[CoilFiring, ...] = ()
    pulses: tuple[PulseMeasurement, ...] = ()
    manifolds: tuple[Manifold, ...] = ()

    @property
    def turned(self) -> bool:
        """Whether the crank's angle is known anywhere."""
        return self.clock is not None and bool(self.clock.pieces)

    @property
    def rocks(self) -> bool:
        """Whether it turns so slowly that the crank rocks at its compressions, as with an empty battery."""
        rpm = self.clock.mean_rpm if self.clock is not None else None
        return rpm is not None and rpm < numbers.ROCKING_RPM.value

    @property
    def usable(self) -> bool:
        """Whether anything at all could be measured; without a crank signal that was hooked up, nothing was."""
        return self.turned or (self.compression is not None and not self.recording.with_role("crank"))


def measure_capture(
    recording: Recording,
    profile: EngineProfile,
    known_good: Mapping[tuple[str, SegmentKind], CamReference] | None = None,
) -> CaptureMeasurement:
    """Edges, tooth count, clock, segments, turn, cam offsets and irregularities of one capture.

    A cam is compared with ``known_good`` where that has it in the same state, else with the profile; what the profile
    does not know is learnt from the signals and compared with nothing. Channels that ask for a low-pass get it, and
    what that does to their edges is measured too.

    Nothing here raises for a bad signal: what could not be measured is absent and a problem says why.
    """
    if all(channel.description.filter_hz is None for channel in recording.channels):
        return _measure(recording, profile, known_good)
    smooth = with_filters(recording)
    measured = _measure(smooth, profile, known_good)
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


def _measure(
    recording: Recording,
    profile: EngineProfile,
    known_good: Mapping[tuple[str, SegmentKind], CamReference] | None,
) -> CaptureMeasurement:
    problems = state_problems(recording)
    train = crank_edges(recording, profile, problems)
    trains, aux = cam_trains(recording, profile, problems), aux_trains(recording, profile, problems)
    if train is None:
        stand_in = crank_from_aux(profile, aux)
        if stand_in is not None:
            profile, train, aux = stand_in
            text = f"The crank angle was taken from {train.channel}, a further signal wheel on the crank, instead."
            problems.append(Problem(code="crank_from_aux", channel=train.channel, text=text))
    if train is None:
        return _without_crank(recording, profile, trains, problems)
    learning = learn_what_is_missing(profile, train, trains, problems)
    if learning.engine.crank.wheel is None:
        return CaptureMeasurement(recording, profile, tuple(problems), learnt=learning.learnt)
    engine = learning.engine
    times, count = counted_teeth(train, engine, problems)
    if is_another_wheel(count, engine.crank.known_wheel):
        return _other_wheel(recording, engine, train, problems)
    span_s = (recording.start_s, recording.start_s + recording.duration_s)
    clock, modulo = _clock(times, count, engine, aux, train.alike_s, span_s)
    wheel = wheel_name(engine.crank.known_wheel)
    if not clock.pieces:
        text = "Less than a whole turn with a steady count of teeth."
        problems.append(Problem(code="too_short", channel=train.channel, text=text))
        return CaptureMeasurement(recording, engine, tuple(problems), wheel, learning.matches, clock)
    learning = learning.with_cams(trains, clock.pieces)
    engine = learning.engine
    known = {cam.id for cam in profile.cams if cam.edges}
    pieces = tuple(resolve_turn(piece, trains, engine.cams, modulo, known) for piece in clock.pieces)
    problems += turn_problems(pieces, trains, engine)
    read = _Read(recording, engine, learning.learnt, train.channel, clock, modulo, pieces, trains, aux)
    return _measured(read, known_good, known, problems)


def _without_crank(
    recording: Recording, profile: EngineProfile, trains: Mapping[str, EdgeTrain], problems: list[Problem]
) -> CaptureMeasurement:
    """What a capture says whose crank angle is not known: which cylinders press, from the starter and the battery."""
    compression = compression_without_crank(recording, profile)
    problems += seal_problems(compression, profile) + unread_sources(recording, compression, None)
    breathing = _breathing(recording, profile, compression, problems)
    silent = _silent(recording, profile, trains)
    return CaptureMeasurement(
        recording,
        profile,
        tuple(problems),
        silent_cams=silent,
        compression=compression,
        pulses=breathing[0],
        manifolds=breathing[1],
    )


def _breathing(
    recording: Recording, engine: EngineProfile, compression: Compression | None, problems: list[Problem]
) -> tuple[tuple[PulseMeasurement, ...], tuple[Manifold, ...]]:
    """Pulses and mean pressures over the cycles from which sealing was judged."""
    if compression is None:
        return (), ()
    low = {*compression.dead, *compression.weak}
    pulses = measure_pulses(recording, engine, compression.cycles, compression.identified_by is not None, low)
    manifolds = mean_pressures(recording, compression.cycles)
    problems += breathing_problems(pulses, manifolds)
    return pulses, manifolds


@dataclass(frozen=True, slots=True, eq=False)
class _Read:
    """A capture whose signals stand on the clock."""

    recording: Recording
    engine: EngineProfile
    learnt: Learnt | None
    crank_channel: str
    clock: CrankClock
    modulo_deg: float | None
    pieces: tuple[PieceTurn, ...]
    trains: Mapping[str, EdgeTrain]
    aux: Mapping[str, EdgeTrain]


def _measured(
    read: _Read,
    known_good: Mapping[tuple[str, SegmentKind], CamReference] | None,
    known: set[str],
    problems: list[Problem],
) -> CaptureMeasurement:
    recording, engine, clock = read.recording, read.engine, read.clock
    end_s = recording.start_s + recording.duration_s
    runs = {cam.id: cam_run(cam, read.trains[cam.id], read.pieces) for cam in engine.cams if cam.id in read.trains}
    cycles = whole_cycles(read.pieces, engine.cylinders)
    events = placed(_events(read, runs, end_s), read.pieces, cycles)
    dead = [(e.time_s, e.to_s) for e in events if e.signal == "crank" and e.kind == "silent"]
    segments = segments_by_speed(clock, recording.start_s, end_s, dead)
    cams = with_banks(_readings(read, runs, segments, known_good or {}, known, problems), engine, known)
    problems += cam_problems(cams, engine, clock)
    compression: Compression | None = None
    firings: tuple[CoilFiring, ...] = ()
    seen = _turned_otherwise(read, segments) if read.modulo_deg is None else turned_by_cams(read.pieces)
    if seen is not None:
        own = cycles if seen is read.pieces else whole_cycles(seen, engine.cylinders)
        compression = measure_compression(recording, engine, clock, seen, own, segments)
    if compression is None and (seen is None or not clock.index_known):
        compression = compression_without_crank(recording, engine)
    if seen is not None and read.modulo_deg is None:
        named = all(turn.source is not None for turn in seen)
        firings = measure_firing(recording, engine, seen, segments, clock.index_known, named)
    problems += ignition_problems(firings)
    problems += seal_problems(compression, engine)
    problems += unread_sources(recording, compression, read.modulo_deg)
    breathing = _breathing(recording, engine, compression, problems)
    problems += signal_problems(events, engine) + speed_problems(clock.mean_rpm)
    problems += vote_problems(odd_one_out(_votes(read)), engine)
    return CaptureMeasurement(
        recording,
        engine,
        tuple(problems),
        wheel_name(engine.crank.known_wheel),
        None if read.learnt is not None and read.learnt.wheel is not None else True,
        clock,
        read.pieces,
        segments,
        cycles,
        exclusions(read.pieces, recording.start_s, end_s),
        cams,
        _silent(recording, engine, read.trains),
        events,
        pulse_counts(_expected(read), events, cycles),
        read.learnt,
        compression=compression,
        firings=firings,
        pulses=breathing[0],
        manifolds=breathing[1],
    )


def _turned_otherwise(read: _Read, segments: Sequence[Segment]) -> tuple[PieceTurn, ...]:
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
    hooked = {channel.description.cam for channel in recording.with_role("cam")}
    return tuple(cam.id for cam in profile.cams if cam.id in hooked and cam.id not in trains)


def _clock(
    times: Floats,
    count: ToothCount,
    engine: EngineProfile,
    aux: Mapping[str, EdgeTrain],
    alike_s: float,
    span_s: tuple[float, float],
) -> tuple[CrankClock, float | None]:
    """(the clock, after which angle it repeats: ``None`` once the turn is known)."""
    crank = engine.crank
    about = (crank.index_deg, firing_ripple(engine), ToothSensor(crank.sensor == "vr", alike_s), span_s)
    clock = crank_clock(times, count, crank.known_wheel, *about)
    if count.signature:
        return clock, None
    turned = [turn_of_even_wheel(piece, aux, engine, count.repeats_deg) for piece in clock.pieces]
    if len(turned) != 1 or turned[0] is None or crank.index_deg is None:
        return clock, count.repeats_deg
    return crank_clock(times, count, crank.known_wheel, crank.index_deg - turned[0], *about[1:]), None


def _readings(
    read: _Read,
    runs: Mapping[str, CamRun | None],
    segments: Sequence[Segment],
    known_good: Mapping[tuple[str, SegmentKind], CamReference],
    known: set[str],
    problems: list[Problem],
) -> list[CamReading]:
    swapped = exchanged_cams(read.pieces, read.trains, [c for c in read.engine.cams if c.id in known])
    if not read.clock.index_known:
        swapped = []
    for one, other in swapped:
        text = (
            f"The signals of {one} and {other} seem exchanged: each follows the other one's pattern. "
            "Correct the roles and measure again; nothing is concluded from them."
        )
        problems.append(Problem(code="channels_swapped", channel=read.trains[one].channel, text=text))
    doubtful = {cam for pair in swapped for cam in pair}
    own = profile_references(read.engine, known)
    found = []
    for cam_id, run in runs.items():
        for kind in measured_kinds:
            if run is not None:
                reference = known_good.get((cam_id, kind), own[cam_id])
                found.append(read_cam(reference, kind, run, segments, read.clock.index_known, cam_id in doubtful))
    return [reading for reading in found if reading is not None]


def _events(read: _Read, runs: Mapping[str, CamRun | None], end_s: float) -> list[SignalEvent]:
    found = crank_events(read.clock, read.recording.start_s, end_s, read.crank_channel)
    found += [event for run in runs.values() if run is not None for event in run.events]
    for wheel in read.engine.aux_wheels:
        train = read.aux.get(wheel.id)
        first_cycle = 0
        for turn in read.pieces if train is not None else ():
            assert train is not None
            edges = aux_edges(turn.piece, train, wheel, turn.turn_deg, first_cycle)
            if edges is not None:
                found += cam_events(wheel.id, train, turn, edges, as_cam(wheel).edges, first_cycle)
            first_cycle += 2 + int(np.ptp(turn.piece.angles_deg) // 720.0)
    return found


def _expected(read: _Read) -> dict[str, int]:
    """Edges per cycle of every signal that is there."""
    found = {"crank": 2 * len(read.engine.crank.known_wheel.angles_deg)}
    found |= {wheel.id: len(as_cam(wheel).edges) for wheel in read.engine.aux_wheels if wheel.id in read.aux}
    return found | {cam.id: len(cam.edges) for cam in read.engine.cams if cam.id in read.trains and cam.edges}


def _votes(read: _Read) -> dict[str, tuple[Floats, int]]:
    teeth = read.clock.teeth
    expected = _expected(read)
    every = {"crank": teeth.times_s} | {
        name: train.times_s for name, train in (*read.aux.items(), *read.trains.items())
    }
    return {name: (every[name], count) for name, count in expected.items()}


def _other_wheel(
    recording: Recording, profile: EngineProfile, train: EdgeTrain, problems: list[Problem]
) -> CaptureMeasurement:
    swapped = exchanged_crank(recording, profile)
    if swapped is not None:
        problems.append(swapped)
        return CaptureMeasurement(recording, profile, tuple(problems), None, False)
    seen = recognised_wheel(train.of_kind(profile.crank.timing_edge))
    expected = wheel_name(profile.crank.known_wheel)
    text = (
        f"The crank signal does not fit the profile's {expected} wheel"
        + (f"; it looks like {seen}" if seen else "")
        + ". Wrong engine profile, wrong channel, or a damaged signal. No offset is read from it."
    )
    problems.append(Problem(code="wheel_mismatch", channel=train.channel, text=text))
    return CaptureMeasurement(recording, profile, tuple(problems), seen, False)
