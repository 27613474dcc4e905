"""Small things that several tests build: profiles, edge times of ideal wheels, recordings of the bench."""

from __future__ import annotations

import copy
from collections.abc import Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from phasko.bench import Cranking, HookUp, Nuisances, Shift, capture_files, pool_engine
from phasko.bench.faults import EngineFaults, Spread
from phasko.bench.probe import Probe
from phasko.bench.recorder import ScopeSettings
from phasko.bench.run import Run
from phasko.bench.scenario import Scenario, clear_flood_cranking
from phasko.core.analyse import HashedCapture
from phasko.core.call import call
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.crank.clock import ClockSetting, CrankClock, crank_clock
from phasko.core.crank.tooth_count import count_teeth
from phasko.core.documents import Analysis, CaptureDescription, EngineProfile
from phasko.core.documents.analysis import RoadTestResult, Verdict
from phasko.core.documents.job import JobDocument, Look
from phasko.core.engine.firing_ripple import firing_ripple
from phasko.core.evidence import JobEvidence
from phasko.core.signals.recording import Channel, Recording
from phasko.formats import CaptureFiles
from phasko.jobs.captures import import_capture
from phasko.jobs.engine_profiles import save_engine
from phasko.jobs.opening import open_job
from phasko.store import Database
from trials.analyses import analyse_job
from trials.recordings import record, record_run, run_engine

FOUR = "corvane-2.1-four"
COARSE_FOUR = "ostrin-1.4-four"
SIX = "brimholt-3.2-six"

PROFILE: dict[str, Any] = {
    "schema": "phasko.engine/1",
    "name": "Test four",
    "cylinders": 4,
    "firing_order": [1, 3, 4, 2],
    "crank": {"wheel": {"slots": 60, "missing": [59, 60]}, "index_deg": 276.0},
    "cams": [
        {"id": "B1I", "shaft": "intake", "edges": [{"deg": 40, "kind": "rising"}, {"deg": 130, "kind": "falling"}]}
    ],
}


def profile_dict(**changes: Any) -> dict[str, Any]:
    """A small valid profile as JSON data; ``a__b=value`` changes a key inside a key."""
    made = copy.deepcopy(PROFILE)
    for path, value in changes.items():
        *parents, last = path.split("__")
        place = made
        for key in parents:
            place = place[key]
        place[last] = value
    return made


def profile(**changes: Any) -> EngineProfile:
    return EngineProfile.model_validate(profile_dict(**changes))


def tooth_times(profile: EngineProfile, turns: float, rpm: float = 200.0) -> NDArray[np.float64]:
    """Timing edges of an ideal wheel at constant speed, tooth 1 at 0 s."""
    teeth = np.array(profile.crank.wheel.angles_deg)
    angles = (teeth[None, :] + 360.0 * np.arange(int(turns) + 1)[:, None]).ravel()
    return angles[angles <= 360.0 * turns] / (6.0 * rpm)


def clock_of(known: EngineProfile, times_s: NDArray[np.float64], index_deg: float | None) -> CrankClock:
    """The crank clock from the times of a Hall sensor's timing edges."""
    wheel = known.crank.known_wheel
    return crank_clock(times_s, count_teeth(times_s, wheel), wheel, ClockSetting(index_deg, firing_ripple(known)))


def square_wave(period: int, count: int, low: float = 0.0, high: float = 5.0) -> NDArray[np.float32]:
    """``count`` periods of a 50 % square wave."""
    one = np.concatenate([np.full(period // 2, low), np.full(period - period // 2, high)])
    return np.tile(one, count).astype(np.float32)


def recording_of(samples: NDArray[np.float32], rate_hz: float = 1000.0, role: str = "crank") -> Recording:
    channel = {"column": "c1", "role": role, "unit": "V"}
    described = CaptureDescription.model_validate(
        {"schema": "phasko.capture/1", "data": "x.csv", "channels": [channel]}
    )
    return Recording("x.capture.json", described, 0.0, 1.0 / rate_hz, (Channel(described.channels[0], samples),))


def bench_recording(
    engine: str | EngineProfile = FOUR,
    seed: int = 1,
    shift: Shift | None = None,
    nuisances: Nuisances | None = None,
    cranking: Cranking | None = None,
    hookup: HookUp | None = None,
    **described: Any,
) -> Recording:
    """What the simulated scope recorded, as a recording; ``described`` changes its description."""
    known = pool_engine(engine) if isinstance(engine, str) else engine
    made = record(
        known, seed, shift=shift, nuisances=nuisances or Nuisances(), cranking=cranking, hookup=hookup, name="bench"
    )
    description = made.description.model_copy(update=described)
    channels = tuple(Channel(d, made.columns[d.column]) for d in description.channels)
    return Recording("bench.capture.json", description, 0.0, made.interval_s, channels)


def bench_files(
    name: str = "bench", engine: str = FOUR, seed: int = 1, cycles: float = 4.2, **shifts: float
) -> CaptureFiles:
    """The same as files, as they come from a scope; ``shifts`` are cam offsets."""
    made = record(pool_engine(engine), seed, shift=Shift(shifts), cranking=Cranking(cycles=cycles), name=name)
    files = capture_files(made)
    described, data = f"{name}.capture.json", f"{name}.csv"
    return CaptureFiles(described, files[described], data, files[data])


def job_with_capture(
    database: Database, vehicle: str = "Van 1", engine: str = FOUR, seed: int = 1, **shifts: float
) -> int:
    """The number of a new job with one capture of the bench; ``shifts`` are cam offsets."""
    text = pool_engine(engine).model_dump_json(by_alias=True, exclude_none=True).encode()
    stored = save_engine(database, text, "engine.json")
    job = open_job(database, vehicle=vehicle, make_model="", complaint="", codes=[], engine_id=stored.id)
    import_capture(database, job.id, bench_files("run", engine, seed, cycles=8.0, **shifts))
    return job.id


def analysed(*recordings: Recording, engine: str | EngineProfile = FOUR, good: tuple[Recording, ...] = ()) -> Analysis:
    known = pool_engine(engine) if isinstance(engine, str) else engine
    return analyse_job([HashedCapture(r, "0" * 64) for r in recordings], known, "1" * 64, good)


def called(
    *captures: CaptureMeasurement,
    engine: str | EngineProfile = FOUR,
    looks: Sequence[Look] = (),
    roads: Sequence[RoadTestResult] = (),
    **told: Any,
) -> Verdict:
    """The call on measured captures, looks and drives; ``told`` are fields of a job document."""
    known = pool_engine(engine) if isinstance(engine, str) else engine
    document = JobDocument.model_validate({"schema": "phasko.job/1", **told}) if told else None
    return call(JobEvidence(known, captures, tuple(looks), tuple(roads), document))


def saw(question: str, answer: str | None = None, **more: Any) -> Look:
    return Look(question=question, answer=answer, **more)


def chances(verdict: Verdict) -> dict[str, float]:
    return {fault.fault: fault.probability for fault in verdict.faults if not fault.besides}


def probabilities(analysis: Analysis) -> dict[str, float]:
    return {fault.fault: fault.probability for fault in analysis.verdict.faults}


def run_recording(
    engine: str | EngineProfile,
    probes: Sequence[Probe],
    seed: int = 1,
    scenario: Scenario | None = None,
    faults: EngineFaults | None = None,
    spread: Spread | None = None,
    settings: ScopeSettings | None = None,
) -> tuple[Recording, Run]:
    """What the simulated scope recorded of the physical engine, and the run itself with the truth."""
    known = pool_engine(engine) if isinstance(engine, str) else engine
    run = run_engine(known, scenario or clear_flood_cranking(3.4), seed, faults=faults, spread=spread or EXACT)
    made = record_run(run, probes, settings)
    channels = tuple(Channel(d, made.columns[d.column]) for d in made.description.channels)
    return Recording("run.capture.json", made.description, 0.0, made.interval_s, channels), run


EXACT = Spread(edge_deg=0.0, index_deg=0.0, tooth_deg=0.0, run_out_deg=0.0, build_deg=0.0, chain_jitter_deg=0.0)


def without(known: EngineProfile, *, wheel: bool = False, index: bool = False, edges: bool = False) -> EngineProfile:
    """The same engine of which less is known."""
    crank = known.crank
    if wheel:
        crank = crank.model_copy(update={"wheel": None})
    if wheel or index:
        crank = crank.model_copy(update={"index_deg": None, "index_u95_deg": None})
    cams = [cam.model_copy(update={"edges": []}) if edges else cam for cam in known.cams]
    return known.model_copy(update={"crank": crank, "cams": cams})


def codes(measured: CaptureMeasurement) -> set[str]:
    return {problem.code for problem in measured.problems}
