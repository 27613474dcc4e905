"""Jobs for the table of calls: an engine with one fault, captures of it, and what a technician noted beside them.

Everything is drawn from the job's seed. The nuisances are wider than the judgement assumes: the profile's edges and
index are off, one profile in fifty is another engine's, cylinders are uneven, teeth have errors, levels carry noise.
What is noted is drawn with a reliability of its own, not with the chances of the judgement's table.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from phasko.bench.pool import pool_engine, pool_engines
from phasko.core import numbers
from phasko.core.documents import EngineProfile
from phasko.core.documents.job import Look
from phasko.core.signals.recording import Recording
from trials.drawn_faults import Truth, drawn_fault, is_able
from trials.drawn_recordings import drawn_recordings

__all__ = ["MIXES", "BenchJob", "drawn_job"]

LIKE_PRIORS: Mapping[str, float] = {
    "none": numbers.PRIOR_NONE.value,
    "chain_jumped": numbers.PRIOR_CHAIN_JUMPED.value,
    "chain_stretched": numbers.PRIOR_CHAIN_STRETCHED.value,
    "cam_slipped": numbers.PRIOR_CAM_SLIPPED.value,
    "crank_sprocket_slipped": numbers.PRIOR_CRANK_SPROCKET.value,
    "crank_hub_slipped": numbers.PRIOR_CRANK_HUB.value,
    "drive_broken": numbers.PRIOR_DRIVE_BROKEN.value,
    "tensioner_slack": numbers.PRIOR_TENSIONER.value,
    "phaser_off_park": numbers.PRIOR_PHASER_OFF_PARK.value,
    "cam_signal_shifted": numbers.PRIOR_CAM_SIGNAL.value,
    "crank_signal_shifted": numbers.PRIOR_CRANK_SIGNAL.value,
    "sync_misadjusted": numbers.PRIOR_SYNC.value,
    "cam_sensor_fault": numbers.PRIOR_CAM_SENSOR.value,
    "crank_sensor_fault": numbers.PRIOR_CRANK_SENSOR.value,
    "induced_pulses": numbers.PRIOR_INDUCED.value,
    "weak_cylinder": numbers.PRIOR_WEAK_CYLINDER.value,
    "valve_train": numbers.PRIOR_VALVE_TRAIN.value,
    "exhaust_restricted": numbers.PRIOR_EXHAUST_RESTRICTED.value,
    "intake_restricted": numbers.PRIOR_INTAKE_RESTRICTED.value,
    "ignition_mistimed": numbers.PRIOR_IGNITION_MISTIMED.value,
    "something_else": numbers.PRIOR_SOMETHING_ELSE.value,
}
"""Of these the engine that was drawn can have some: their weights are brought to sum 1."""
FAR_FROM_PRIORS: Mapping[str, float] = dict.fromkeys(LIKE_PRIORS, 1.0) | {"none": 3.0}
MIXES: Mapping[str, Mapping[str, float]] = {"like the priors": LIKE_PRIORS, "far from them": FAR_FROM_PRIORS}


@dataclass(frozen=True, eq=False)
class BenchJob:
    """One drawn job: the profile it is judged by, its recordings, its looks, and the truth."""

    seed: int
    mix: str
    engine: str
    profile: EngineProfile
    recordings: tuple[Recording, ...]
    looks: tuple[Look, ...]
    truth: Truth


def drawn_job(mix: str, seed: int) -> BenchJob:
    """The job of that seed."""
    rng = np.random.default_rng([seed, 41])
    engines = list(pool_engines())
    name = engines[int(rng.integers(len(engines)))]
    engine = pool_engine(name)
    faults = [fault for fault in MIXES[mix] if is_able(fault, engine)]
    weights = np.array([MIXES[mix][fault] for fault in faults])
    fault = faults[int(rng.choice(len(faults), p=weights / weights.sum()))]
    drawn = drawn_fault(fault, engine, rng)
    wrong = bool(rng.random() < 0.02)
    profile = _other_profile(engine, rng) if wrong else engine
    truth = replace(drawn.truth, wrong_profile=wrong)
    recordings, seen, low = drawn_recordings(engine, drawn, seed, rng)
    if low and "weak_cylinder" not in (truth.fault, *truth.also):
        # A cylinder that the spread of building left below what counts as healthy is weak, whatever else is wrong.
        truth = replace(truth, also=(*truth.also, "weak_cylinder"))
    truth = replace(truth, hidden=truth.hidden or not seen)
    looks = _looks(engine, truth, rng) if rng.random() < 0.7 else ()
    return BenchJob(seed, mix, name, profile, recordings, looks, truth)


def _other_profile(engine: EngineProfile, rng: np.random.Generator) -> EngineProfile:
    """The same kind of engine with another cam wheel: its edges stand elsewhere, each by its own amount."""
    cams = []
    for cam in engine.cams:
        by = float(rng.normal(0.0, 20.0))
        edges = [
            edge.model_copy(update={"deg": (edge.deg + by + float(rng.normal(0.0, 3.0))) % 720.0}) for edge in cam.edges
        ]
        cams.append(cam.model_copy(update={"edges": sorted(edges, key=lambda edge: edge.deg)}))
    try:
        return EngineProfile.model_validate(
            engine.model_copy(update={"cams": cams}).model_dump(by_alias=True, exclude_none=True)
        )
    except ValueError:
        return engine.model_copy(
            update={
                "crank": engine.crank.model_copy(update={"index_deg": ((engine.crank.index_deg or 0.0) + 25.0) % 360.0})
            }
        )


def _looks(engine: EngineProfile, truth: Truth, rng: np.random.Generator) -> tuple[Look, ...]:
    """What a technician notes, right with a reliability drawn for this job."""
    right = float(rng.uniform(0.93, 0.99))
    marks_right = float(rng.uniform(0.97, 0.998))
    found = []
    at_tdc = bool(rng.random() < 0.25)
    out_deg = max((abs(v - (0.0 if at_tdc else truth.hub_deg)) for v in truth.valves_deg.values()), default=0.0)
    if truth.fault == "phaser_off_park":
        out_deg = 0.0
    out = truth.fault == "drive_broken" or out_deg > 8.0
    if rng.random() < 0.6:
        seen = out if rng.random() < marks_right else not out
        found.append(Look(question="marks", answer="out" if seen else "true", crank_at="tdc" if at_tdc else "mark"))
    looks = (
        ("cam_target", ("sits_right", "moved"), any(abs(v) > 5 for v in truth.target_deg.values()), 0.2, right),
        ("crank_wheel", ("sits_right", "moved"), abs(truth.wheel_deg) > 5.0, 0.2, right),
        ("tensioner", ("usual", "far_out"), truth.fault == "chain_stretched", 0.15, 0.9),
        ("rattle", ("none", "at_start"), truth.fault in ("chain_stretched", "tensioner_slack"), 0.3, 0.7),
        ("throttle_hand", ("pulls", "pushes_back"), out_deg > 22.0, 0.2, 0.85 if out_deg > 22.0 else 0.99),
        ("exhaust_opened", ("same", "better"), truth.fault == "exhaust_restricted", 0.15, 0.92),
        ("intake_opened", ("same", "better"), truth.fault == "intake_restricted", 0.15, 0.92),
        ("fuel_pressure", ("right", "low"), truth.fault == "something_else" and rng.random() < 0.5, 0.15, 0.95),
        ("wiring", ("good", "damaged"), "sensor" in truth.fault, 0.3, 0.75),
    )
    for question, (usual, other), holds, asked, reliable in looks:
        if rng.random() < asked:
            shown = holds if rng.random() < reliable else not holds
            found.append(Look(question=question, answer=other if shown else usual))
    if truth.fault in ("weak_cylinder",) and rng.random() < 0.5:
        found.append(Look(question="leak_down", cylinder=truth.cylinders[0], value=float(rng.uniform(35.0, 80.0))))
    return tuple(found) if engine.cams else ()
