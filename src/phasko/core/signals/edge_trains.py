"""The edges of every channel: each read as its sensor demands, with what is odd about the signal."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from phasko.core import numbers
from phasko.core.documents.analysis import Problem
from phasko.core.documents.capture import Role
from phasko.core.documents.engine import AuxWheel, Cam, EngineProfile
from phasko.core.found import Found
from phasko.core.signals.inductive import inductive_edges, of_one_kind
from phasko.core.signals.level_checks import level_problems
from phasko.core.signals.recording import Channel, Recording
from phasko.core.signals.switching import EdgeTrain, shortest_pulse_share, switching_edges

__all__ = ["aux_trains", "cam_trains", "crank_edges", "every_train"]

Trains = dict[str, EdgeTrain]


def crank_edges(recording: Recording, profile: EngineProfile) -> Found[EdgeTrain | None]:
    """Edges of the first crank channel that switches and is sampled fast enough for its teeth; ``None`` without any."""
    channels = recording.with_role("crank")
    if not channels:
        return Found(None, (Problem(code="no_crank_channel", text="No channel is described as the crank sensor."),))
    problems: tuple[Problem, ...] = ()
    for channel in channels:
        train = _crank_train(channel, recording, profile)
        problems += train.problems
        if train.value is not None:
            return Found(train.value, problems)
    return Found(None, problems)


def _crank_train(channel: Channel, recording: Recording, profile: EngineProfile) -> Found[EdgeTrain | None]:
    inductive = profile.crank.sensor == "vr"
    train = _inductive_train(channel, recording) if inductive else switching_edges(channel, recording)
    if train is None:
        text = "The crank signal never switches between two levels: flat, unplugged, or not a Hall signal."
        if inductive:
            text = "The crank signal shows no waves: flat, unplugged, or the other wire is the one that carries it."
        return Found(None, (Problem(code="no_crank_signal", channel=channel.name, text=text),))
    sampled = _sampled_fast_enough(train, profile)
    problems = (*(() if inductive else level_problems(train)), *sampled.problems)
    return Found(train if sampled.value else None, problems)


def _inductive_train(channel: Channel, recording: Recording) -> EdgeTrain | None:
    found = inductive_edges(channel, recording)
    return None if found is None else found.train


def _sampled_fast_enough(train: EdgeTrain, profile: EngineProfile) -> Found[bool]:
    times = train.of_kind(profile.crank.timing_edge)
    rate = 1.0 / train.interval_s
    per_tooth = float(np.median(np.diff(times))) / train.interval_s if times.size > 2 else 0.0
    wanted = numbers.SAMPLES_PER_TOOTH_GOOD.value
    if per_tooth < numbers.SAMPLES_PER_TOOTH_MIN.value or shortest_pulse_share(train) > 0.05:
        text = (
            f"Too slow for its teeth: {per_tooth:.1f} samples per tooth at {rate:.0f} samples a second, so teeth are "
            f"lost between samples. Record again with {wanted:.0f} or more per tooth."
        )
        return Found(False, (Problem(code="low_sample_rate", channel=train.channel, text=text),))
    if per_tooth < wanted:
        text = f"Only {per_tooth:.1f} samples per tooth; {wanted:.0f} or more make the angle surer."
        return Found(True, (Problem(code="low_sample_rate", channel=train.channel, text=text),))
    return Found(True)


def cam_trains(recording: Recording, profile: EngineProfile) -> Found[Trains]:
    """Edges of every cam that is hooked up, by its id; cams that the profile does not list are read as Hall sensors."""

    def read(channel: Channel) -> Found[tuple[str, EdgeTrain] | None]:
        named = channel.description.cam or channel.name
        cam = profile.cam(named)
        problems: tuple[Problem, ...] = ()
        if cam is None:
            text = f"The profile has no cam {named}; it is read without a reference."
            problems = (Problem(code="unknown_cam", channel=channel.name, text=text),)
            cam = Cam(id=named)
        train = _cam_train(channel, cam, recording)
        return Found(None if train.value is None else (cam.id, train.value), (*problems, *train.problems))

    return _each(recording, "cam", read)


def _each(
    recording: Recording, role: Role, read: Callable[[Channel], Found[tuple[str, EdgeTrain] | None]]
) -> Found[Trains]:
    """What ``read`` finds in every channel of that role."""
    found = [read(channel) for channel in recording.with_role(role)]
    return Found(dict(one.value for one in found if one.value), tuple(p for one in found for p in one.problems))


def _cam_train(channel: Channel, cam: Cam, recording: Recording) -> Found[EdgeTrain | None]:
    if cam.sensor == "vr":
        return _inductive_cam(channel, cam, recording)
    train = switching_edges(channel, recording)
    if train is None:
        text = f"Cam {cam.id} never switches between two levels: flat, unplugged, or not a Hall signal."
        return Found(None, (Problem(code="no_cam_signal", channel=channel.name, text=text),))
    return Found(train, tuple(level_problems(train)))


def _inductive_cam(channel: Channel, cam: Cam, recording: Recording) -> Found[EdgeTrain | None]:
    """Timing crossings of an inductive cam sensor, turned round when it is probed on its other wire."""
    found = inductive_edges(channel, recording)
    if found is None:
        text = f"Cam {cam.id} shows no waves: flat, unplugged, or the other wire is the one that carries it."
        return Found(None, (Problem(code="no_cam_signal", channel=channel.name, text=text),))
    kinds = {edge.kind for edge in cam.edges}
    if len(kinds) != 1:
        return Found(found.train)
    wanted, steep = next(iter(kinds)), found.steep_kind
    problems: tuple[Problem, ...] = ()
    if wanted != steep:
        text = f"Cam {cam.id} is mirrored: the sensor is probed on its other wire. It was turned round and measured."
        problems = (Problem(code="mirrored_signal", channel=channel.name, text=text),)
    return Found(of_one_kind(found.train, steep, wanted), problems)


def aux_trains(recording: Recording, profile: EngineProfile) -> Found[Trains]:
    """Timing edges of every further signal wheel that is hooked up, by its id."""
    known = {wheel.id: wheel for wheel in profile.aux_wheels}

    def read(channel: Channel) -> Found[tuple[str, EdgeTrain] | None]:
        wheel = known.get(channel.description.wheel or "")
        if wheel is None:
            text = f"The profile has no signal wheel {channel.description.wheel}; the channel was not used."
            return Found(None, (Problem(code="unknown_wheel", channel=channel.name, text=text),))
        train = _aux_train(channel, wheel, recording)
        if train is None:
            text = f"Signal wheel {wheel.id} gives no pulses: flat, unplugged, or the wrong wire."
            return Found(None, (Problem(code="no_aux_signal", channel=channel.name, text=text),))
        return Found((wheel.id, train))

    return _each(recording, "aux", read)


def _aux_train(channel: Channel, wheel: AuxWheel, recording: Recording) -> EdgeTrain | None:
    if wheel.sensor != "vr":
        train = switching_edges(channel, recording)
        return None if train is None else of_one_kind(train, wheel.timing_edge, wheel.timing_edge)
    found = inductive_edges(channel, recording)
    return None if found is None else of_one_kind(found.train, found.steep_kind, wheel.timing_edge)


def every_train(recording: Recording, profile: EngineProfile) -> Trains:
    """The edges of every crank, cam and further wheel's channel, by channel; what is odd is not said again."""
    crank = crank_edges(recording, profile).value
    cams, aux = cam_trains(recording, profile).value, aux_trains(recording, profile).value
    trains = [crank, *cams.values(), *aux.values()]
    return {train.channel: train for train in trains if train is not None}
