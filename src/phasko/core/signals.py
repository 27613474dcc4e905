"""The edges of every channel: each read as its sensor demands, with what is odd about the signal."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from phasko.core import numbers
from phasko.core.documents.analysis import Problem
from phasko.core.documents.engine import AuxWheel, Cam, EngineProfile
from phasko.core.edges import EdgeTrain, shortest_pulse_share, switching_edges
from phasko.core.inductive import inductive_edges, of_one_kind
from phasko.core.plausible import level_problems
from phasko.core.recording import Channel, Recording
from phasko.core.teeth import ToothCount, count_teeth

__all__ = ["aux_trains", "cam_trains", "counted_teeth", "crank_edges", "every_train"]

Floats = NDArray[np.float64]


def crank_edges(recording: Recording, profile: EngineProfile, problems: list[Problem]) -> EdgeTrain | None:
    """Edges of the first crank channel that switches and is sampled fast enough for its teeth; ``None`` without any."""
    channels = recording.with_role("crank")
    if not channels:
        problems.append(Problem(code="no_crank_channel", text="No channel is described as the crank sensor."))
        return None
    for channel in channels:
        train = _crank_train(channel, recording, profile, problems)
        if train is not None:
            return train
    return None


def _crank_train(
    channel: Channel, recording: Recording, profile: EngineProfile, problems: list[Problem]
) -> EdgeTrain | None:
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


def counted_teeth(train: EdgeTrain, profile: EngineProfile, problems: list[Problem]) -> tuple[Floats, ToothCount]:
    """Timing edges and their count. An inductive sensor probed on its other wire is mirrored: the crossings over the
    teeth then run the other way, and only they have the whole gap in one interval."""
    crank = profile.crank
    times = train.of_kind(crank.timing_edge)
    count = count_teeth(times, crank.known_wheel)
    if crank.sensor != "vr" or not count.signature:
        return times, count
    other = train.of_kind("rising" if crank.timing_edge == "falling" else "falling")
    mirrored = count_teeth(other, crank.known_wheel)
    if _misfit(mirrored) + 0.2 < _misfit(count):
        text = "The crank signal is mirrored: the sensor is probed on its other wire. It was turned round and measured."
        problems.append(Problem(code="mirrored_signal", channel=train.channel, text=text))
        return other, mirrored
    return times, count


def _misfit(count: ToothCount) -> float:
    return count.odd_share + 1.0 - count.gaps_seen_share


def cam_trains(recording: Recording, profile: EngineProfile, problems: list[Problem]) -> dict[str, EdgeTrain]:
    trains: dict[str, EdgeTrain] = {}
    for channel in recording.with_role("cam"):
        named = channel.description.cam or channel.name
        cam = profile.cam(named)
        if cam is None:
            text = f"The profile has no cam {named}; it is read without a reference."
            problems.append(Problem(code="unknown_cam", channel=channel.name, text=text))
            cam = Cam(id=named)
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


def aux_trains(recording: Recording, profile: EngineProfile, problems: list[Problem]) -> dict[str, EdgeTrain]:
    """Timing edges of every further signal wheel that is hooked up, by its id."""
    trains: dict[str, EdgeTrain] = {}
    known = {wheel.id: wheel for wheel in profile.aux_wheels}
    for channel in recording.with_role("aux"):
        wheel = known.get(channel.description.wheel or "")
        if wheel is None:
            text = f"The profile has no signal wheel {channel.description.wheel}; the channel was not used."
            problems.append(Problem(code="unknown_wheel", channel=channel.name, text=text))
            continue
        train = _aux_train(channel, wheel, recording)
        if train is None:
            text = f"Signal wheel {wheel.id} gives no pulses: flat, unplugged, or the wrong wire."
            problems.append(Problem(code="no_aux_signal", channel=channel.name, text=text))
        else:
            trains[wheel.id] = train
    return trains


def _aux_train(channel: Channel, wheel: AuxWheel, recording: Recording) -> EdgeTrain | None:
    if wheel.sensor != "vr":
        train = switching_edges(channel, recording)
        return None if train is None else of_one_kind(train, wheel.timing_edge, wheel.timing_edge)
    found = inductive_edges(channel, recording)
    return None if found is None else of_one_kind(found.train, found.steep_kind, wheel.timing_edge)


def every_train(recording: Recording, profile: EngineProfile) -> dict[str, EdgeTrain]:
    """The edges of every crank, cam and further wheel's channel, by channel; what is odd is not said again."""
    ignored: list[Problem] = []
    crank = crank_edges(recording, profile, ignored) if recording.with_role("crank") else None
    cams, aux = cam_trains(recording, profile, ignored), aux_trains(recording, profile, ignored)
    trains = [crank, *cams.values(), *aux.values()]
    return {train.channel: train for train in trains if train is not None}
