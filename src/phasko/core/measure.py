"""Measures one capture: the readable list of steps from samples to cam offsets."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from phasko.core import numbers
from phasko.core.cams import CamEdges, CamOffset, cam_edges_in_piece, cam_offset
from phasko.core.clock import CrankClock, crank_clock
from phasko.core.cycles import Cycle, Exclusion, exclusions, whole_cycles
from phasko.core.documents.analysis import Problem
from phasko.core.documents.engine import Cam, EngineProfile
from phasko.core.edges import EdgeTrain, shortest_pulse_share, switching_edges
from phasko.core.inductive import inductive_edges, of_one_kind
from phasko.core.plausible import level_problems
from phasko.core.recognition import is_another_wheel, recognised_wheel
from phasko.core.recording import Channel, Recording
from phasko.core.reference import CamReference, profile_references
from phasko.core.segments import Segment, SegmentKind, measured_kinds, segments_by_speed
from phasko.core.teeth import ToothCount, count_teeth
from phasko.core.turn import PieceTurn, resolve_turn
from phasko.core.wheel import wheel_name
from phasko.core.words import angle_words, cam_name

__all__ = ["CamReading", "CaptureMeasurement", "measure_capture"]


Floats = NDArray[np.float64]


@dataclass(frozen=True, slots=True, eq=False)
class CamReading:
    """One cam in one segment. ``offset`` is ``None`` when the edges are there but their place is not known."""

    reference: CamReference
    segment: SegmentKind
    edges: CamEdges
    offset: CamOffset | None
    ambiguous_modulo_deg: float | None
    missing_edges: int
    extra_edges: int

    @property
    def cam(self) -> Cam:
        """The cam with the edges it is compared with."""
        return self.reference.cam


@dataclass(frozen=True, slots=True, eq=False)
class CaptureMeasurement:
    """Everything measured in one capture, and everything that could not be, with the reason."""

    recording: Recording
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

    @property
    def usable(self) -> bool:
        """Whether anything at all could be measured."""
        return self.clock is not None and bool(self.clock.pieces)


def measure_capture(
    recording: Recording,
    profile: EngineProfile,
    known_good: Mapping[tuple[str, SegmentKind], CamReference] | None = None,
) -> CaptureMeasurement:
    """Edges, tooth count, clock, segments, turn and cam offsets of one capture.

    A cam is compared with ``known_good`` where that has it in the same state, else with the profile.

    Nothing here raises for a bad signal: what could not be measured is absent and a problem says why.
    """
    problems = _state_problems(recording)
    train = _crank_edges(recording, profile, problems)
    if train is None:
        return CaptureMeasurement(recording, tuple(problems))
    times, count = _counted(train, profile, problems)
    if is_another_wheel(times, count, profile.crank.wheel):
        return _other_wheel(recording, profile, train, problems)
    firing_deg = 720.0 / profile.cylinders
    clock = crank_clock(
        times, count, profile.crank.wheel, profile.crank.index_deg, firing_deg, profile.crank.sensor == "vr"
    )
    if not clock.pieces:
        problems.append(
            Problem(
                code="too_short", channel=train.channel, text="Less than a whole turn with a steady count of teeth."
            )
        )
        return CaptureMeasurement(recording, tuple(problems), wheel_name(profile.crank.wheel), True, clock)
    end_s = recording.start_s + recording.duration_s
    segments = segments_by_speed(clock, recording.start_s, end_s)
    trains = _cam_trains(recording, profile, problems)
    modulo = None if count.signature else count.repeats_deg
    pieces = tuple(resolve_turn(piece, trains, profile.cams, modulo) for piece in clock.pieces)
    problems += _turn_problems(pieces, trains, profile)
    from_profile = profile_references(profile)
    wanted = [
        ((known_good or {}).get((cam.id, kind), from_profile[cam.id]), kind)
        for cam in profile.cams
        if cam.id in trains
        for kind in measured_kinds
    ]
    read = [_read_cam(reference, kind, trains[reference.cam.id], pieces, segments, clock) for reference, kind in wanted]
    cams = tuple(reading for reading in read if reading is not None)
    problems += _cam_problems(cams, profile, clock)
    hooked = {channel.description.cam for channel in recording.with_role("cam")}
    return CaptureMeasurement(
        recording,
        tuple(problems),
        wheel_name(profile.crank.wheel),
        True,
        clock,
        pieces,
        segments,
        whole_cycles(pieces, profile.cylinders),
        exclusions(pieces, recording.start_s, end_s),
        cams,
        tuple(cam.id for cam in profile.cams if cam.id in hooked and cam.id not in trains),
    )


def _counted(train: EdgeTrain, profile: EngineProfile, problems: list[Problem]) -> tuple[Floats, ToothCount]:
    """Timing edges and their count. An inductive sensor probed on its other wire is mirrored: the crossings over the
    teeth then run the other way, and only they have the whole gap in one interval."""
    crank = profile.crank
    times = train.of_kind(crank.timing_edge)
    count = count_teeth(times, crank.wheel)
    if crank.sensor != "vr" or not count.signature:
        return times, count
    other = train.of_kind("rising" if crank.timing_edge == "falling" else "falling")
    mirrored = count_teeth(other, crank.wheel)
    if _misfit(mirrored, other.size) + 0.2 < _misfit(count, times.size):
        text = "The crank signal is mirrored: the sensor is probed on its other wire. It was turned round and measured."
        problems.append(Problem(code="mirrored_signal", channel=train.channel, text=text))
        return other, mirrored
    return times, count


def _misfit(count: ToothCount, edges: int) -> float:
    odd_edges = sum(odd.count for odd in count.irregularities)
    return count.misfit_share + odd_edges / max(1, edges) + 1.0 - count.gaps_seen_share


def _state_problems(recording: Recording) -> list[Problem]:
    found: list[Problem] = []
    about = recording.description
    if about.phasers == "active":
        text = "The phasers were active: a cam may have been moved on purpose. Unplug or command park."
        found.append(Problem(code="phasers_active", text=text))
    for channel in recording.channels:
        lost = int(np.count_nonzero(~np.isfinite(channel.samples)))
        if lost:
            share = 100.0 * lost / channel.samples.size
            text = f"{lost} of {channel.samples.size} samples are missing ({share:.1f} %); edges there are less sure."
            found.append(Problem(code="missing_samples", channel=channel.name, text=text))
        for key in channel.description.unknown_keys():
            text = f"The description's key {key} is not known to this version and was not used."
            found.append(Problem(code="unknown_key", channel=channel.name, text=text))
    for key in about.unknown_keys():
        text = f"The description's key {key} is not known to this version and was not used."
        found.append(Problem(code="unknown_key", text=text))
    return found


def _crank_edges(recording: Recording, profile: EngineProfile, problems: list[Problem]) -> EdgeTrain | None:
    """Edges of the crank channel if it is there, switches, and is sampled fast enough for its teeth."""
    channels = recording.with_role("crank")
    if not channels:
        problems.append(Problem(code="no_crank_channel", text="No channel is described as the crank sensor."))
        return None
    channel = channels[0]
    inductive = profile.crank.sensor == "vr"
    train = _inductive_train(channel, recording) if inductive else switching_edges(channel, recording)
    if train is None:
        text = "The crank signal never switches between two levels: flat, unplugged, or not a Hall signal."
        if inductive:
            text = "The crank signal shows no waves: flat, unplugged, or the other wire is the one that carries it."
        problems.append(Problem(code="no_crank_signal", channel=channel.name, text=text))
        return None
    if not inductive:
        problems += level_problems(train)
    return train if _sampled_fast_enough(train, profile, problems) else None


def _inductive_train(channel: Channel, recording: Recording) -> EdgeTrain | None:
    found = inductive_edges(channel, recording)
    return None if found is None else found.train


def _sampled_fast_enough(train: EdgeTrain, profile: EngineProfile, problems: list[Problem]) -> bool:
    times = train.of_kind(profile.crank.timing_edge)
    rate = 1.0 / train.interval_s
    per_tooth = float(np.median(np.diff(times))) / train.interval_s if times.size > 2 else 0.0
    wanted = numbers.SAMPLES_PER_TOOTH_GOOD.value
    if per_tooth < numbers.SAMPLES_PER_TOOTH_MIN.value or shortest_pulse_share(train) > 0.05:
        text = (
            f"Too slow for its teeth: {per_tooth:.1f} samples per tooth at {rate:.0f} samples a second, so teeth are "
            f"lost between samples. Record again with {wanted:.0f} or more per tooth."
        )
        problems.append(Problem(code="low_sample_rate", channel=train.channel, text=text))
        return False
    if per_tooth < wanted:
        text = f"Only {per_tooth:.1f} samples per tooth; {wanted:.0f} or more make the angle surer."
        problems.append(Problem(code="low_sample_rate", channel=train.channel, text=text))
    return True


def _other_wheel(
    recording: Recording, profile: EngineProfile, train: EdgeTrain, problems: list[Problem]
) -> CaptureMeasurement:
    seen = recognised_wheel(train.of_kind(profile.crank.timing_edge))
    expected = wheel_name(profile.crank.wheel)
    text = (
        f"The crank signal does not fit the profile's {expected} wheel"
        + (f"; it looks like {seen}" if seen else "")
        + ". Wrong engine profile, wrong channel, or a damaged signal. No offset is read from it."
    )
    problems.append(Problem(code="wheel_mismatch", channel=train.channel, text=text))
    return CaptureMeasurement(recording, tuple(problems), seen, False)


def _cam_trains(recording: Recording, profile: EngineProfile, problems: list[Problem]) -> dict[str, EdgeTrain]:
    trains: dict[str, EdgeTrain] = {}
    for channel in recording.with_role("cam"):
        cam = profile.cam(channel.description.cam or "")
        if cam is None:
            text = f"The profile has no cam {channel.description.cam}; the channel was not used."
            problems.append(Problem(code="unknown_cam", channel=channel.name, text=text))
            continue
        train = _cam_train(channel, cam, recording, problems)
        if train is not None:
            trains[cam.id] = train
    return trains


def _cam_train(channel: Channel, cam: Cam, recording: Recording, problems: list[Problem]) -> EdgeTrain | None:
    if cam.sensor == "vr":
        return _inductive_cam(channel, cam, recording, problems)
    train = switching_edges(channel, recording)
    if train is None:
        text = f"Cam {cam.id} never switches between two levels: flat, unplugged, or not a Hall signal."
        problems.append(Problem(code="no_cam_signal", channel=channel.name, text=text))
        return None
    problems += level_problems(train)
    return train


def _inductive_cam(channel: Channel, cam: Cam, recording: Recording, problems: list[Problem]) -> EdgeTrain | None:
    """Timing crossings of an inductive cam sensor, turned round when it is probed on its other wire."""
    found = inductive_edges(channel, recording)
    if found is None:
        text = f"Cam {cam.id} shows no waves: flat, unplugged, or the other wire is the one that carries it."
        problems.append(Problem(code="no_cam_signal", channel=channel.name, text=text))
        return None
    kinds = {edge.kind for edge in cam.edges}
    if len(kinds) != 1:
        return found.train
    wanted, steep = next(iter(kinds)), found.steep_kind
    if wanted != steep:
        text = f"Cam {cam.id} is mirrored: the sensor is probed on its other wire. It was turned round and measured."
        problems.append(Problem(code="mirrored_signal", channel=channel.name, text=text))
    return of_one_kind(found.train, steep, wanted)


def _read_cam(
    reference: CamReference,
    kind: SegmentKind,
    train: EdgeTrain,
    pieces: tuple[PieceTurn, ...],
    segments: tuple[Segment, ...],
    clock: CrankClock,
) -> CamReading | None:
    cam = reference.cam
    spans = [(segment.from_s, segment.to_s) for segment in segments if segment.kind == kind]
    parts: list[CamEdges] = []
    modulo: float | None = None
    first_cycle = 0
    for turn in pieces:
        place = turn.places.get(cam.id)
        if place is not None:
            modulo = place.ambiguous_modulo_deg or modulo
            parts.append(cam_edges_in_piece(train, turn.piece, cam, place.turn_deg, place.shift_deg, first_cycle))
        first_cycle += 2 + int(np.ptp(turn.piece.angles_deg) // 720.0)
    if not parts:
        return None
    edges = CamEdges.joined(parts).within(spans)
    offset = cam_offset(edges, cam, reference.u95_deg) if clock.index_known else None
    if offset is None and not edges.times_s.size:
        return None
    return CamReading(reference, kind, edges, offset, modulo, *_edge_balance(edges, len(cam.edges)))


def _edge_balance(edges: CamEdges, edge_count: int) -> tuple[int, int]:
    """(missing, extra) edges: missing ones only within cycles seen from both sides."""
    extra = int(np.count_nonzero(edges.reference < 0))
    known = edges.reference >= 0
    place = edges.cycle[known] * edge_count + edges.reference[known]
    groups = np.unique(place)
    jumps = np.diff(groups)
    missing = int((jumps[jumps <= edge_count] - 1).sum()) if groups.size else 0
    return missing, extra


def _turn_problems(
    pieces: tuple[PieceTurn, ...], trains: Mapping[str, EdgeTrain], profile: EngineProfile
) -> list[Problem]:
    found: list[Problem] = []
    for cam_id in sorted({cam_id for turn in pieces for cam_id in turn.misfits}):
        text = f"The edges of cam {cam_id} do not follow the profile's pattern: wrong profile, or channels swapped?"
        found.append(Problem(code="cam_pattern_mismatch", channel=trains[cam_id].channel, text=text))
    if not trains:
        hooked = "Without a cam signal the two turns of a cycle cannot be told apart; nothing is said about the cams."
        found.append(Problem(code="turn_ambiguous", text=hooked))
    elif any(turn.source is None for turn in pieces) and profile.cams:
        text = "No signal tells the two turns of a cycle apart; which TDC is cylinder 1's is a convention here."
        found.append(Problem(code="turn_ambiguous", text=text))
    return found


def _cam_problems(cams: tuple[CamReading, ...], profile: EngineProfile, clock: CrankClock) -> list[Problem]:
    found: list[Problem] = []
    default = numbers.DEFAULT_REFERENCE_U95_DEG.value
    if not clock.index_known:
        text = "The profile has no index_deg, so no angle against TDC is known and no offset is given."
        found.append(Problem(code="index_unknown", text=text))
    elif profile.crank.index_u95_deg is None and any(r.reference.source == "profile" for r in cams):
        text = f"The profile does not say how sure its index is; ± {default:.0f}° is assumed."
        found.append(Problem(code="index_u95_assumed", text=text))
    from_profile = [r.cam for r in cams if r.reference.source == "profile"]
    for cam in sorted({cam.id for cam in from_profile if cam.edges_u95_deg is None}):
        text = f"The profile does not say how sure the edges of cam {cam} are; ± {default:.0f}° is assumed."
        found.append(Problem(code="edges_u95_assumed", text=text))
    for reading in cams:
        step = reading.offset.step if reading.offset is not None else None
        if step is not None:
            before, after = angle_words(step.before_deg), angle_words(step.after_deg)
            first = "right at first" if abs(step.before_deg) < reading.cam.tolerance_deg else f"{before} at first"
            text = f"{cam_name(reading.cam, profile)}: {first}, {after} after {step.time_s:.1f} s."
            found.append(Problem(code="offset_step", text=text))
        if reading.ambiguous_modulo_deg is not None:
            text = (
                f"Cam {reading.cam.id}: the signals fit an offset only modulo {reading.ambiguous_modulo_deg:.1f}°; "
                "the smallest is given."
            )
            found.append(Problem(code="offset_ambiguous", text=text))
    return found
