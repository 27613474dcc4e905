"""What is said about a capture beside its numbers: state, turn, cams, irregular signals."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from phasko.core import numbers
from phasko.core.crank.clock import CrankClock
from phasko.core.cycle.cycle_half import PieceTurn
from phasko.core.documents.analysis import Problem
from phasko.core.documents.engine import EngineProfile
from phasko.core.phase.irregularities import SignalEvent, locked_to_ignition
from phasko.core.phase.reading import CamReading
from phasko.core.signals.gaps import missing_samples
from phasko.core.signals.recording import Recording
from phasko.core.signals.switching import EdgeTrain
from phasko.core.words import angle_words, cam_name

__all__ = ["cam_problems", "signal_problems", "state_problems", "turn_problems", "vote_problems"]


def state_problems(recording: Recording) -> list[Problem]:
    found: list[Problem] = []
    about = recording.description
    if about.phasers == "active":
        text = "The phasers were active: a cam may have been moved on purpose. Unplug or command park."
        found.append(Problem(code="phasers_active", text=text))
    if recording.cut_off:
        text = (
            f"The file was cut off {recording.cut_off}. Was its download or its copy broken off? What came is measured."
        )
        found.append(Problem(code="file_cut_off", text=text))
    for channel in recording.channels:
        lost = missing_samples(channel.samples)
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


def turn_problems(
    pieces: Sequence[PieceTurn], trains: Mapping[str, EdgeTrain], profile: EngineProfile
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


def cam_problems(cams: Sequence[CamReading], profile: EngineProfile, clock: CrankClock) -> list[Problem]:
    found: list[Problem] = []
    default = numbers.DEFAULT_REFERENCE_U95_DEG.value
    if not clock.index_known:
        text = "The profile has no index, so no angle against TDC is known and no offset is given."
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
                f"Cam {reading.cam.id}: an offset of {reading.ambiguous_modulo_deg:.1f}° more or less would fit the "
                "signals as well; the smallest is given."
            )
            found.append(Problem(code="offset_ambiguous", text=text))
    return found


def signal_problems(events: Sequence[SignalEvent], profile: EngineProfile) -> list[Problem]:
    """Lost, added and silent pulses per signal, counted, with when it happened first; and pulses tied to ignition."""
    found: list[Problem] = []
    for signal in dict.fromkeys(event.signal for event in events):
        own = [event for event in events if event.signal == signal]
        silent = [event for event in own if event.kind == "silent"]
        for event in silent[:3]:
            text = (
                f"The {_named(signal, profile)} signal is gone from {event.time_s:.2f} to {event.to_s:.2f} s although "
                "the engine turns. Nothing is read from there."
            )
            found.append(Problem(code="signal_dropout", channel=event.channel, text=text))
        lost = sum(event.count for event in own if event.kind == "missing")
        added = sum(event.count for event in own if event.kind == "extra")
        if lost or added:
            first = next(event for event in own if event.kind != "silent")
            what = " and ".join(
                part for part in (f"{lost} lost" if lost else "", f"{added} added" if added else "") if part
            )
            text = f"The {_named(signal, profile)} signal has pulses {what}; first at {_when(first)}."
            found.append(Problem(code="irregular_signal", channel=first.channel, text=text))
        place = locked_to_ignition(own, 720.0 / profile.cylinders)
        if place is not None:
            side = "after" if place >= 0 else "before"
            text = (
                f"The added pulses of the {_named(signal, profile)} signal keep coming {abs(place):.0f}° {side} a "
                "firing TDC: induced by the ignition? Look for a leaking lead, a bad screen or ground."
            )
            found.append(Problem(code="induced_pulses", channel=own[0].channel, text=text))
    return found


def speed_problems(mean_rpm: float | None) -> list[Problem]:
    """Cranking that is too slow to judge pulses by."""
    if mean_rpm is None or mean_rpm >= numbers.ROCKING_RPM.value:
        return []
    text = (
        f"It turns at {mean_rpm:.0f} rpm only. So slow, the crank rocks at its compressions: pulses lost and added say "
        "little about a sensor. If the starter turned it, charge the battery and record again."
    )
    return [Problem(code="slow_cranking", text=text)]


def _named(signal: str, profile: EngineProfile) -> str:
    cam = profile.cam(signal)
    if cam is not None:
        return cam_name(cam, profile)[0].lower() + cam_name(cam, profile)[1:]
    return signal


def _when(event: SignalEvent) -> str:
    parts = [f"{event.time_s:.2f} s"]
    if event.cycle is not None:
        parts.append(f"cycle {event.cycle}")
    if event.angle_deg is not None:
        parts.append(f"{event.angle_deg:.0f}°")
    return ", ".join(parts)


def vote_problems(votes: Mapping[str, tuple[int, int]], profile: EngineProfile) -> list[Problem]:
    """The one signal of three or more that disagrees with the rest, where the rest agree."""
    if len(votes) < 3:
        return []
    ranked = sorted(votes, key=lambda signal: -votes[signal][0])
    worst, second = votes[ranked[0]], votes[ranked[1]]
    if worst[0] < 2 or worst[0] < numbers.VOTE_LEAST_SHARE.value * worst[1] or worst[0] < 3 * second[0]:
        return []
    others = " and ".join(_named(signal, profile) for signal in sorted(set(votes) - {ranked[0]}))
    text = (
        f"In {worst[0]} of {worst[1]} windows of one cycle the {_named(ranked[0], profile)} signal disagrees with "
        f"{others}, which agree: it is the odd one."
    )
    return [Problem(code="odd_signal", text=text)]
