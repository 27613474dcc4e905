"""Which kind a sensor is, where the profile does not say: its own signal swings both ways, or switches."""

from __future__ import annotations

from phasko.core.channels.shape import shape_of
from phasko.core.documents.analysis import Problem
from phasko.core.documents.engine import EngineProfile, SensorKind
from phasko.core.found import Found
from phasko.core.signals.recording import Channel, Recording

__all__ = ["known_sensors"]


def known_sensors(recording: Recording, profile: EngineProfile) -> Found[EngineProfile]:
    """The profile with every sensor of unknown kind as its signal shows it, and what was taken for what. One whose
    signal tells nothing is read as one that switches, like most. The profile itself where nothing is unknown."""
    kinds: dict[str, SensorKind] = {}
    problems: list[Problem] = []
    unknown = [cam.id for cam in profile.cams if cam.sensor == "unknown"]
    wheels = [wheel.id for wheel in profile.aux_wheels if wheel.sensor == "unknown"]
    for name, channel in _channels(recording, profile.crank.sensor == "unknown", [*unknown, *wheels]):
        if name not in kinds:
            kinds[name] = _kind(channel, recording)
            words = "swings like an inductive one" if kinds[name] == "vr" else "switches like a Hall one"
            text = f"The profile does not say of which kind the {name} sensor is; its signal {words} and is read so."
            problems.append(Problem(code="sensor_recognised", channel=channel.name, text=text))
    if not (profile.crank.sensor == "unknown" or unknown or wheels):
        return Found(profile)
    return Found(
        profile.model_copy(
            update={
                "crank": profile.crank.model_copy(update={"sensor": _own(profile.crank.sensor, kinds.get("crank"))}),
                "cams": [c.model_copy(update={"sensor": _own(c.sensor, kinds.get(c.id))}) for c in profile.cams],
                "aux_wheels": [
                    w.model_copy(update={"sensor": _own(w.sensor, kinds.get(w.id))}) for w in profile.aux_wheels
                ],
            }
        ),
        tuple(problems),
    )


def _own(told: SensorKind, shown: SensorKind | None) -> SensorKind:
    return told if told != "unknown" else shown or "hall"


def _channels(recording: Recording, crank: bool, names: list[str]) -> list[tuple[str, Channel]]:
    """The channels of those sensors, by the sensor's name."""
    found = [("crank", channel) for channel in recording.with_role("crank")] if crank else []
    for channel in recording.channels:
        name = channel.description.cam or channel.description.wheel
        if channel.description.role in ("cam", "aux") and name in names:
            found.append((name, channel))
    return found


def _kind(channel: Channel, recording: Recording) -> SensorKind:
    described = channel.description
    unit = described.scaled_unit or described.unit
    shape = shape_of(channel.name, unit, channel.samples, recording.start_s, recording.interval_s)
    return "vr" if shape.kind == "waves" else "hall"
