"""When a phaser was driven: from the solenoid's own signal, or from what the scan tool noted."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from phasko.core.arrays import Floats
from phasko.core.documents.engine import EngineProfile
from phasko.core.signals.levels import state_levels
from phasko.core.signals.recording import Channel, Recording
from phasko.core.signals.switching import hysteresis_edges

__all__ = ["CommandSource", "CommandStep", "PhaserCommands", "driven_cams", "phaser_commands"]

CommandSource = Literal["channel", "scan_tool", "movement"]
_PULSED_S = 0.05
"""Edges that follow each other faster than this are those of a pulse-width drive, no commands of their own (common
practice: 100 to 400 Hz, no source)."""
_PULSED_EDGES = 20
_DUTY_STEP = 0.12
"""A change of the duty by less is the control's own breathing, no command."""
_DUTY_PERIODS = 3
_NOTED_U95_S = 0.1
"""How well a scan tool's clock and the scope's agree where nobody says more (common practice, no source)."""


@dataclass(frozen=True, slots=True)
class CommandStep:
    """At ``at_s`` the drive changes from one share of full drive to another (0: not driven, 1: fully)."""

    at_s: float
    before: float
    after: float
    u95_s: float = 0.0


@dataclass(frozen=True, slots=True)
class PhaserCommands:
    """All changes of one phaser's drive in a capture, in order of time, and where they are known from."""

    cam: str
    source: CommandSource
    steps: tuple[CommandStep, ...]


def driven_cams(recording: Recording, engine: EngineProfile) -> frozenset[str]:
    """Cams that their phasers may have moved on purpose while it was recorded: those with a command, and all with a
    phaser where the state says that phasers were swept or active."""
    about = recording.description
    known = {cam.id for cam in engine.cams}
    told = {c.description.cam for c in recording.with_role("phaser_command")} | {c.cam for c in about.commands}
    if about.phasers in ("sweep", "active"):
        told |= {cam.id for cam in engine.cams if cam.phaser is not None}
    return frozenset(cam for cam in told if cam in known and cam is not None)


def phaser_commands(recording: Recording, cam: str) -> PhaserCommands | None:
    """When that cam's phaser was driven; ``None`` where no channel and no note says so. The channel is believed before
    the note, since it has the capture's own clock."""
    own = [c for c in recording.with_role("phaser_command") if c.description.cam == cam]
    if own:
        # A phaser may have a solenoid for either way.
        driven = [step for channel in own for step in _channel_steps(channel, recording)]
        return PhaserCommands(cam, "channel", tuple(sorted(driven, key=lambda step: step.at_s)))
    noted = sorted((c for c in recording.description.commands if c.cam == cam), key=lambda c: c.from_s)
    if not noted:
        return None
    steps = []
    for one in noted:
        u95 = _NOTED_U95_S if one.u95_s is None else one.u95_s
        steps.append(CommandStep(one.from_s, 0.0, one.share, u95))
        steps.append(CommandStep(one.to_s, one.share, 0.0, u95))
    return PhaserCommands(cam, "scan_tool", tuple(steps))


def _channel_steps(channel: Channel, recording: Recording) -> tuple[CommandStep, ...]:
    """Changes of the drive as the solenoid's wire shows them. Low is driven unless the description says high."""
    levels = state_levels(channel.samples)
    if levels is None:
        return ()
    positions, rising = hysteresis_edges(channel.samples, levels)
    times, driven = (
        recording.start_s + positions * recording.interval_s,
        rising == (channel.description.driven == "high"),
    )
    if np.count_nonzero(np.diff(times) < _PULSED_S) >= _PULSED_EDGES:
        end_s = recording.start_s + recording.duration_s
        return _duty_steps(times, driven, (recording.start_s, end_s))
    return tuple(
        CommandStep(at, 0.0 if on else 1.0, 1.0 if on else 0.0)
        for at, on in zip(times.tolist(), driven.tolist(), strict=True)
    )


def _duty_steps(times_s: Floats, driven: np.ndarray, span_s: tuple[float, float]) -> tuple[CommandStep, ...]:
    """Changes of the duty of a pulse-width drive: share of each period that is driven, one level after the other."""
    starts = times_s[driven]
    ends = times_s[~driven]
    period = float(np.median(np.diff(starts)))
    at: list[float] = []
    duty: list[float] = []
    if starts[0] - span_s[0] > 2.0 * period:
        at, duty = [span_s[0]] * _DUTY_PERIODS, [0.0 if ends[0] > starts[0] else 1.0] * _DUTY_PERIODS
    for low, high in itertools.pairwise([*starts.tolist(), min(span_s[1], float(starts[-1]) + period)]):
        off = ends[(ends > low) & (ends <= high)]
        until = float(off[0]) if off.size else high
        if high - low > 2.0 * period:
            # Pulses stop: the rest of the pause stands at the level to which the last edge went.
            at += [low, *([until] * _DUTY_PERIODS)]
            duty += [1.0, *([0.0] * _DUTY_PERIODS)] if until - low < period else [1.0, *([1.0] * _DUTY_PERIODS)]
        else:
            at.append(low)
            duty.append((until - low) / (high - low))
    if span_s[1] - times_s[-1] > 2.0 * period:
        at += [float(times_s[-1])] * _DUTY_PERIODS
        duty += [1.0 if driven[-1] else 0.0] * _DUTY_PERIODS
    return _levels_of(at, duty)


def _levels_of(at_s: Sequence[float], duty: Sequence[float]) -> tuple[CommandStep, ...]:
    """The duty as levels: a new one begins where some periods in a row stand off the old one."""
    level = float(np.median(duty[:_DUTY_PERIODS]))
    steps: list[CommandStep] = []
    for i in range(len(duty) - _DUTY_PERIODS + 1):
        ahead = duty[i : i + _DUTY_PERIODS]
        if all(abs(one - level) > _DUTY_STEP for one in ahead):
            new = float(np.median(ahead))
            steps.append(CommandStep(float(at_s[i]), level, new))
            level = new
    return tuple(steps)
