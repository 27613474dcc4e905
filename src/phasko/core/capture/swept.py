"""Cams that were moved on purpose in a capture: what they read at rest, and how they moved."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from phasko.core.documents.analysis import Problem
from phasko.core.documents.engine import EngineProfile
from phasko.core.found import Found
from phasko.core.phase.reading import CamReading, CamRun, against_reference
from phasko.core.phasers import (
    CommandStep,
    PhaserCommands,
    PhaserSweep,
    commands_by_movement,
    driven_cams,
    measure_sweep,
    phaser_commands,
    recorded_beside,
    rest_until,
)
from phasko.core.signals.recording import Recording

__all__ = ["Driven", "driven_runs", "measured_sweeps"]


@dataclass(frozen=True, slots=True, eq=False)
class Driven:
    """The cams' edges before anything was driven (``at_rest``), and by cam when it was."""

    at_rest: Mapping[str, CamRun | None]
    commands: Mapping[str, PhaserCommands]


def driven_runs(recording: Recording, engine: EngineProfile, runs: Mapping[str, CamRun | None]) -> Driven:
    """Which cams were driven and when. A channel or a note of the scan tool says so; in a sweep of which neither is
    there the movement itself. An active phaser is moved by the engine's own control, which is no sweep."""
    found: dict[str, PhaserCommands] = {}
    for cam in driven_cams(recording, engine):
        run = runs.get(cam)
        commands = phaser_commands(recording, cam)
        if commands is None and recording.description.phasers == "sweep" and run is not None:
            commands = commands_by_movement(cam, run.edges)
        if commands is not None:
            found[cam] = commands
    found = _swept_in_vain(recording, found)
    at_rest = {
        cam: replace(run, edges=run.edges.within([(-math.inf, rest_until(found.get(cam)))]))
        if run is not None and cam in found
        else run
        for cam, run in runs.items()
    }
    return Driven(at_rest, found)


def _tested(recording: Recording, commands: PhaserCommands) -> bool:
    """Whether somebody drove the phaser to try it. A running control unit moves it as it pleases, by any part of its
    travel; where nobody noted which, a few plain commands are a test."""
    known = recording.description.phasers
    plain = len(commands.steps) <= _FEW_STEPS and all(
        {step.before, step.after} <= {0.0, 1.0} for step in commands.steps
    )
    return known == "sweep" or (known != "active" and plain)


_FEW_STEPS = 8


def _swept_in_vain(recording: Recording, found: Mapping[str, PhaserCommands]) -> dict[str, PhaserCommands]:
    """In a sweep of one phaser that nobody dated and that moved nothing, it was driven at some time all the same: taken
    as from the middle on."""
    dated = any(commands.steps for commands in found.values())
    if dated or len(found) != 1 or recording.description.phasers != "sweep":
        return dict(found)
    (cam, commands) = next(iter(found.items()))
    if commands.source != "movement":
        return dict(found)
    return {cam: replace(commands, steps=(CommandStep(recording.start_s + 0.5 * recording.duration_s, 0.0, 1.0),))}


def measured_sweeps(
    recording: Recording, driven: Driven, runs: Mapping[str, CamRun | None], readings: Sequence[CamReading]
) -> Found[tuple[PhaserSweep, ...]]:
    """Every phaser that was driven, against the cam's reading in the state in which it rested longest."""
    found: list[PhaserSweep] = []
    problems: list[Problem] = []
    for cam, commands in driven.commands.items():
        run = runs.get(cam)
        own = [r for r in readings if r.cam.id == cam and r.relative is not None]
        if run is None or not commands.steps:
            continue
        sweep = None
        if own:
            reading = max(own, key=lambda r: r.edges.times_s.size)
            sweep = measure_sweep(reading, against_reference(run, reading), commands, _tested(recording, commands))
        if sweep is None:
            text = (
                f"The phaser of {cam} was driven before a cycle at rest was recorded: where it started is not known. "
                "Record two seconds at rest first."
            )
            problems.append(Problem(code="sweep_without_rest", channel=None, text=text))
        else:
            found.append(replace(sweep, beside=recorded_beside(recording, commands)))
    return Found(tuple(found), tuple(problems))
