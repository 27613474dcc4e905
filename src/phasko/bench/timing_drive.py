"""The timing drive: where each cam and each signal wheel really stands, from its faults and over time."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import scipy

from phasko.bench.arrays import Floats
from phasko.bench.faults import DriveFaults, PhaserFault, Spread
from phasko.bench.scenario import PhaserCommand, Scenario
from phasko.core.documents import EngineProfile
from phasko.core.documents.engine import Cam

__all__ = ["CamPlacement", "cam_placements", "stage_pitches_deg"]


PHASER_RATE_DEG_S = 150.0
TENSIONER_FILLS_S = 0.8
USUAL_FREE_LINKS = 40.0
USUAL_SPROCKET_TEETH = 21


@dataclass(frozen=True, slots=True, eq=False)
class CamPlacement:
    """One cam in crank degrees, late positive: ``valves_deg`` over time (one value per slot) against the pistons,
    ``signal_deg`` the signal wheel against its own cam; ``wander_deg`` is the part of the valves that a slack strand
    moves about."""

    cam: str
    valves_deg: Floats
    signal_deg: float
    wander_deg: Floats


def stage_pitches_deg(engine: EngineProfile, cam: str) -> tuple[float, ...]:
    """Crank degrees of one pitch in each stage between the crank and a cam: 360 over the sprocket's teeth."""
    drive = engine.drive
    if drive is None:
        return (360.0 / USUAL_SPROCKET_TEETH,)
    stages = tuple(drive.pitch_crank_deg.get(cam, ()))
    return stages or (360.0 / (drive.crank_sprocket_teeth or USUAL_SPROCKET_TEETH),)


def cam_placements(
    engine: EngineProfile,
    faults: DriveFaults,
    scenario: Scenario,
    spread: Spread,
    times_s: Floats,
    rng: np.random.Generator,
) -> dict[str, CamPlacement]:
    """All cams of an engine. A hub that turned takes every cam with it."""
    whole_drive = 0.3 * spread.build_deg * rng.standard_normal()
    turning_s = np.maximum(times_s - scenario.starter_from_s, 0.0)
    unfilled = faults.tensioner_deg * np.exp(-turning_s / TENSIONER_FILLS_S)
    placed = {}
    for cam in engine.cams:
        valves = np.full(times_s.size, _fixed_shift_deg(engine, faults, cam))
        valves += unfilled + whole_drive + spread.build_deg * rng.standard_normal()
        wander = _wander(faults.slack_deg + spread.chain_jitter_deg, times_s, rng)
        valves += wander
        valves += _phaser_deg(cam, faults.phasers.get(cam.id, PhaserFault()), scenario, times_s)
        placed[cam.id] = CamPlacement(cam.id, valves, faults.cam_wheel_deg.get(cam.id, 0.0), wander)
    return placed


def _fixed_shift_deg(engine: EngineProfile, faults: DriveFaults, cam: Cam) -> float:
    stages = stage_pitches_deg(engine, cam.id)
    links = engine.drive.free_links.get(cam.id, USUAL_FREE_LINKS) if engine.drive else USUAL_FREE_LINKS
    return (
        faults.crank_hub_deg
        + faults.jumped_at_crank * stages[0]
        + faults.jumped_at_idler.get(cam.bank, 0) * stages[-1]
        + faults.jumped_at_cam.get(cam.id, 0) * stages[-1]
        + faults.slipped_deg.get(cam.id, 0.0)
        + faults.elongation_percent / 100.0 * links * stages[0]
    )


def _wander(sd_deg: float, times_s: Floats, rng: np.random.Generator) -> Floats:
    """Slow, smooth movement of a slack strand: knots every quarter of a second."""
    if sd_deg <= 0.0:
        return np.zeros(times_s.size)
    knots = np.arange(times_s[0], times_s[-1] + 0.5, 0.25)
    return np.interp(times_s, knots, sd_deg * rng.standard_normal(knots.size))


def _phaser_deg(cam: Cam, fault: PhaserFault, scenario: Scenario, times_s: Floats) -> Floats:
    """Position of a phaser over time: 0 at park, driven at its rate, within its reach. One that rests off park is
    driven to the same far stop, and lacks that much of its travel."""
    if cam.phaser is None:
        return np.zeros(times_s.size)
    low, high = cam.phaser.authority_deg
    away = low if abs(low) >= abs(high) else high
    place = np.full(times_s.size, fault.park_deg)
    commands = scenario.phaser_commands.get(cam.id, ())
    if commands and not fault.stuck:
        place = _driven_deg(commands, fault, away, times_s)
    if fault.loose_deg and scenario.temperature == "hot":
        place = place + np.sign(away) * fault.loose_deg * (1.0 - np.cos(2 * np.pi * times_s / 0.7)) / 2
    return place


def _driven_deg(commands: Sequence[PhaserCommand], fault: PhaserFault, away_deg: float, times_s: Floats) -> Floats:
    """Where the commands bring it, and where it rests once they are over."""
    wanted = np.full(times_s.size, fault.park_deg)
    for command in commands:
        on = (times_s >= command.from_s + fault.dead_s) & (times_s < command.to_s + fault.dead_s)
        wanted[on] = away_deg * command.share * fault.reach_share
        wanted[times_s >= command.to_s + fault.dead_s] = fault.park_deg + np.sign(away_deg) * fault.rests_off_deg
    place = _followed(wanted, times_s, PHASER_RATE_DEG_S * fault.rate_share)
    if fault.lag_s > 0.0:
        start = place[0]
        place = start + scipy.signal.lfilter(*_first_order(fault.lag_s, float(times_s[1] - times_s[0])), place - start)
    off = np.minimum(1.0, np.abs(place) / 5.0)
    return np.asarray(place + fault.flutter_deg * off * np.sin(2 * np.pi * _FLUTTER_HZ * times_s))


_FLUTTER_HZ = 13.0


def _first_order(lag_s: float, step_s: float) -> tuple[list[float], list[float]]:
    """Coefficients of a lag of the first order."""
    kept = float(np.exp(-step_s / lag_s))
    return [1.0 - kept], [1.0, -kept]


def _followed(wanted: Floats, times_s: Floats, rate_deg_s: float) -> Floats:
    """A position that follows what is wanted no faster than its rate."""
    step = rate_deg_s * float(times_s[1] - times_s[0]) if times_s.size > 1 else 0.0
    place = np.empty_like(wanted)
    at = float(wanted[0])
    for i, target in enumerate(wanted.tolist()):
        at += min(max(target - at, -step), step)
        place[i] = at
    return place
