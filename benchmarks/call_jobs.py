"""Jobs for the table of calls: an engine with one fault, captures of it, and what a technician noted beside them.

Everything is drawn from the job's seed. The nuisances are wider than the judgement assumes: the profile's edges and
index are off, one profile in fifty is another engine's, cylinders are uneven, teeth have errors, levels carry noise.
What is noted is drawn with a reliability of its own, not with the chances of the judgement's table.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

import numpy as np

from benchmarks.call_leads import leads, pressure_leads
from phasko.bench.faults import CylinderFault, DriveFaults, EngineFaults, PhaserFault, Spread
from phasko.bench.pool import pool_engine, pool_engines
from phasko.bench.probe import Probe
from phasko.bench.recorder import ScopeSettings, record_run
from phasko.bench.run import Run, run_engine
from phasko.bench.scenario import PhaserCommand, Scenario, clear_flood_cranking, idling
from phasko.core import numbers
from phasko.core.documents import EngineProfile
from phasko.core.documents.job import Look
from phasko.core.signals.recording import Channel, Recording

__all__ = ["MIXES", "BenchJob", "Truth", "drawn_job"]

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

BEHIND_COVERS = (
    "chain_jumped",
    "chain_stretched",
    "cam_slipped",
    "crank_sprocket_slipped",
    "crank_hub_slipped",
    "drive_broken",
)


@dataclass(frozen=True)
class Truth:
    """What is really wrong: the word, further words that are right too, where, and what it does to valves, wheels,
    cylinders. ``wrong_profile``: the profile is another engine's; ``hidden``: it comes and goes and was not there."""

    fault: str
    also: tuple[str, ...] = ()
    cams: tuple[str, ...] = ()
    cylinders: tuple[int, ...] = ()
    valves_deg: Mapping[str, float] = field(default_factory=dict)
    hub_deg: float = 0.0
    wheel_deg: float = 0.0
    target_deg: Mapping[str, float] = field(default_factory=dict)
    wrong_profile: bool = False
    hidden: bool = False

    @property
    def acceptable(self) -> tuple[str, ...]:
        return ("reference_wrong", self.fault, *self.also) if self.wrong_profile else (self.fault, *self.also)

    @property
    def word(self) -> str:
        """The one word for it."""
        return "reference_wrong" if self.wrong_profile else self.fault

    @property
    def unseen(self) -> bool:
        """Whether nothing that is hooked up or looked at here can show it, so that a healthy call is no error."""
        return self.hidden or self.fault == "something_else"

    @property
    def needs_opening(self) -> bool:
        return self.fault in BEHIND_COVERS


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


@dataclass(frozen=True)
class _Drawn:
    """A fault as the bench makes it, in which condition it is there, and what is done to signals."""

    truth: Truth
    cranking: EngineFaults = field(default_factory=EngineFaults)
    when: str = "always"
    bad_signal: str | None = None
    bad_how: str = ""
    spark_window_deg: float = 0.0


def drawn_job(mix: str, seed: int) -> BenchJob:
    """The job of that seed."""
    rng = np.random.default_rng([seed, 41])
    engines = list(pool_engines())
    name = engines[int(rng.integers(len(engines)))]
    engine = pool_engine(name)
    faults = [fault for fault in MIXES[mix] if _able(fault, engine)]
    weights = np.array([MIXES[mix][fault] for fault in faults])
    fault = faults[int(rng.choice(len(faults), p=weights / weights.sum()))]
    drawn = _fault(fault, engine, rng)
    wrong = bool(rng.random() < 0.02)
    profile = _other_profile(engine, rng) if wrong else engine
    truth = replace(drawn.truth, wrong_profile=wrong)
    recordings, seen, low = _recordings(engine, drawn, seed, rng)
    if low and "weak_cylinder" not in (truth.fault, *truth.also):
        # A cylinder that the spread of building left below what counts as healthy is weak, whatever else is wrong.
        truth = replace(truth, also=(*truth.also, "weak_cylinder"))
    truth = replace(truth, hidden=truth.hidden or not seen)
    looks = _looks(engine, truth, rng) if rng.random() < 0.7 else ()
    return BenchJob(seed, mix, name, profile, recordings, looks, truth)


def _able(fault: str, engine: EngineProfile) -> bool:
    drive = engine.drive.type if engine.drive else "chain"
    banks = {cam.bank for cam in engine.cams}
    if fault in ("chain_jumped", "tensioner_slack", "crank_sprocket_slipped", "drive_broken"):
        return drive in ("chain", "belt")
    if fault == "chain_stretched":
        return drive == "chain" and _limit_percent(engine) < 1.3
    if fault == "sync_misadjusted":
        return drive == "distributor_gear"
    if fault == "phaser_off_park":
        return any(cam.phaser for cam in engine.cams)
    if fault == "cam_slipped":
        return drive in ("chain", "belt") and len(engine.cams) >= len(banks)
    if fault == "ignition_mistimed":
        return engine.ignition is not None and engine.ignition.cranking_spark_deg is not None
    return True


def _limit_percent(engine: EngineProfile) -> float:
    """The elongation at which the first cam leaves its limit."""
    assert engine.drive is not None
    pitch = 360.0 / (engine.drive.crank_sprocket_teeth or 21)
    links = max(engine.drive.free_links.values(), default=40.0)
    return 100.0 * 5.0 / (links * pitch)


def _amount(rng: np.random.Generator, low: float = 4.0, sd: float = 14.0, most: float = 50.0) -> float:
    while True:
        size = abs(float(rng.normal(0.0, sd)))
        if low <= size <= most:
            return size if rng.random() < 0.5 else -size


def _fault(fault: str, engine: EngineProfile, rng: np.random.Generator) -> _Drawn:
    cams = [cam.id for cam in engine.cams]
    one = cams[int(rng.integers(len(cams)))]
    made = _drive_fault(fault, engine, cams, one, rng) or _other_fault(fault, engine, one, rng)
    assert made is not None, fault
    return made


def _drive_fault(  # noqa: PLR0911
    fault: str, engine: EngineProfile, cams: list[str], one: str, rng: np.random.Generator
) -> _Drawn | None:
    pitch = 360.0 / ((engine.drive.crank_sprocket_teeth if engine.drive else None) or 21)
    if fault == "chain_jumped":
        count = int(rng.choice([1, 1, 1, 2, 2, 3])) * (1 if rng.random() < 0.75 else -1)
        banks = sorted({cam.bank for cam in engine.cams})
        where = float(rng.random())
        if len(banks) > 1 and where < 0.3:
            bank = int(rng.choice(banks))
            moved = [cam.id for cam in engine.cams if cam.bank == bank]
        elif len(cams) > 1 and where < 0.5:
            moved = [one]
        else:
            moved = cams
        shift = dict.fromkeys(moved, count * pitch + float(rng.normal(0.0, 0.4)))
        also = ("cam_slipped", "crank_sprocket_slipped") if len(moved) == len(cams) else ("cam_slipped",)
        return _Drawn(Truth(fault, also, tuple(moved), valves_deg=shift), EngineFaults(DriveFaults(slipped_deg=shift)))
    if fault in ("chain_stretched", "none"):
        worn = fault == "none"
        if worn and (rng.random() > 0.25 or engine.drive is None or engine.drive.type != "chain"):
            return _Drawn(Truth("none"))
        limit = _limit_percent(engine)
        percent = float(rng.uniform(0.1, 0.7)) * limit if worn else limit * float(rng.uniform(1.25, 2.2))
        late = {c: percent / 100.0 * engine.drive.free_links.get(c, 40.0) * pitch for c in cams} if engine.drive else {}
        drive = DriveFaults(elongation_percent=percent, slack_deg=float(rng.uniform(0.0, 0.3)))
        return _Drawn(Truth(fault, (), tuple(cams), valves_deg={} if worn else late), EngineFaults(drive))
    if fault == "cam_slipped":
        shift = {one: _amount(rng)}
        return _Drawn(
            Truth(fault, ("chain_jumped",), (one,), valves_deg=shift), EngineFaults(DriveFaults(slipped_deg=shift))
        )
    if fault == "crank_sprocket_slipped":
        shift = dict.fromkeys(cams, _amount(rng))
        also = ("chain_jumped", "cam_slipped")
        return _Drawn(Truth(fault, also, tuple(cams), valves_deg=shift), EngineFaults(DriveFaults(slipped_deg=shift)))
    if fault == "crank_hub_slipped":
        size = _amount(rng, 6.0)
        truth = Truth(fault, (), tuple(cams), valves_deg=dict.fromkeys(cams, size), hub_deg=size, wheel_deg=size)
        return _Drawn(truth, EngineFaults(DriveFaults(crank_hub_deg=size)))
    if fault == "tensioner_slack":
        size = float(rng.uniform(4.0, 13.0))
        links = engine.drive.free_links if engine.drive else {}
        most = max((links.get(c, 40.0) for c in cams), default=40.0)
        shift = {c: size * links.get(c, 40.0) / most for c in cams}
        when = str(rng.choice(["cranking", "cold", "hot", "running"], p=[0.4, 0.3, 0.2, 0.1]))
        return _Drawn(Truth(fault, (), tuple(cams)), EngineFaults(DriveFaults(slipped_deg=shift)), when)
    if fault == "drive_broken":
        # As the valves stand where the cams have come to rest; every fourth time a bank rolled on by itself.
        at = float(rng.uniform(0.0, 720.0))
        own = {c: (at - tdc + 360.0) % 720.0 - 360.0 for c, tdc in engine.firing_tdc_deg.items()}
        dead = [c for c, angle in own.items() if not -130.0 < angle < 140.0 or rng.random() < 0.08]
        held = CylinderFault(intake_held_mm=4.0)
        faults = EngineFaults(cylinders={int(c): held for c in dead})
        return _Drawn(
            Truth(fault, (), tuple(cams), tuple(int(c) for c in dead)), faults, bad_signal="cams", bad_how="lost"
        )
    return None


def _other_fault(  # noqa: PLR0911
    fault: str, engine: EngineProfile, one: str, rng: np.random.Generator
) -> _Drawn | None:
    cylinder = int(rng.choice(engine.firing_order))
    if fault == "phaser_off_park":
        with_phaser = [cam for cam in engine.cams if cam.phaser]
        cam = with_phaser[int(rng.integers(len(with_phaser)))]
        assert cam.phaser is not None
        low, high = cam.phaser.authority_deg
        place = float(rng.uniform(0.15, 0.95)) * (low if abs(low) >= abs(high) else high)
        if rng.random() < 0.2:
            # Driven there by its control: with the phasers unplugged nothing shows.
            return _Drawn(Truth(fault, (), (cam.id,), hidden=True))
        phasers = {cam.id: PhaserFault(park_deg=place, stuck=True)}
        return _Drawn(
            Truth(fault, (), (cam.id,), valves_deg={cam.id: place}), EngineFaults(DriveFaults(phasers=phasers))
        )
    if fault in ("cam_signal_shifted", "sync_misadjusted"):
        size = _amount(rng)
        sync = fault == "sync_misadjusted"
        drive = DriveFaults(sync_deg=size) if sync else DriveFaults(cam_wheel_deg={one: size})
        clocked = engine.drive is not None and engine.drive.type == "distributor_gear"
        also = ("cam_signal_shifted",) if sync else ("sync_misadjusted",) if clocked else ()
        return _Drawn(Truth(fault, also, (one,), target_deg={one: size}), EngineFaults(drive))
    if fault == "crank_signal_shifted":
        size = _amount(rng)
        return _Drawn(Truth(fault, (), wheel_deg=size), EngineFaults(DriveFaults(crank_wheel_deg=size)))
    if fault in ("cam_sensor_fault", "crank_sensor_fault", "induced_pulses"):
        signal = one if fault != "crank_sensor_fault" else "crank"
        how = "extra" if fault == "induced_pulses" else "lost" if rng.random() < 0.4 else "erratic"
        moved = (one,) if signal == one else ()
        if rng.random() < 0.4:
            return _Drawn(Truth(fault, (), moved, hidden=True))
        return _Drawn(Truth(fault, (), moved), bad_signal=signal, bad_how=how)
    if fault == "weak_cylinder":
        leak = (
            CylinderFault(plug="out")
            if rng.random() < 0.2
            else CylinderFault(exhaust_leak_mm2=float(rng.uniform(1.0, 8.0)))
        )
        return _Drawn(Truth(fault, (), (), (cylinder,)), EngineFaults(cylinders={cylinder: leak}))
    if fault == "valve_train":
        lobe = CylinderFault(intake_lobe_share=0.0)
        return _Drawn(Truth(fault, ("weak_cylinder",), (), (cylinder,)), EngineFaults(cylinders={cylinder: lobe}))
    if fault == "exhaust_restricted":
        return _Drawn(Truth(fault), EngineFaults(exhaust_blocked_share=float(rng.uniform(0.96, 0.995))))
    if fault == "intake_restricted":
        return _Drawn(Truth(fault), EngineFaults(intake_blocked_share=float(rng.uniform(0.6, 0.9))))
    if fault == "something_else":
        return _Drawn(Truth(fault))
    if fault == "ignition_mistimed":
        return _Drawn(Truth(fault), spark_window_deg=_amount(rng, 15.0))
    return None


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


def _recordings(
    engine: EngineProfile, drawn: _Drawn, seed: int, rng: np.random.Generator
) -> tuple[tuple[Recording, ...], bool, bool]:
    """Cranking first; often once more, or idling too; whether what comes and goes was there in any; and whether a
    cylinder compresses clearly less than the others though nothing was broken in it."""
    broken = drawn.truth.fault == "drive_broken" or (bool(drawn.truth.cylinders) and len(drawn.truth.cylinders) > 1)
    far = any(abs(v) > 25.0 for v in drawn.truth.valves_deg.values())
    count = int(rng.choice([1, 1, 2, 2, 3]))
    scenarios: list[Scenario] = []
    for k in range(count):
        running = k > 0 and rng.random() < 0.6 and not broken and not far and drawn.bad_signal != "crank"
        hot = rng.random() < 0.5
        scenario = idling(1.2) if running else clear_flood_cranking(float(rng.uniform(2.6, 4.0)))
        scenarios.append(replace(scenario, temperature="hot" if hot else "cold"))
    spread = Spread(
        cylinder_share=float(rng.uniform(0.01, 0.035)),
        edge_deg=0.5,
        index_deg=0.5,
        tooth_deg=float(rng.uniform(0.02, 0.08)),
        run_out_deg=float(rng.uniform(0.0, 0.08)),
        build_deg=float(rng.uniform(0.2, 0.6)),
    )
    simulated = engine
    if drawn.spark_window_deg and engine.ignition is not None and engine.ignition.cranking_spark_deg is not None:
        low, high = engine.ignition.cranking_spark_deg
        window = (low + drawn.spark_window_deg, high + drawn.spark_window_deg)
        simulated = engine.model_copy(
            update={"ignition": engine.ignition.model_copy(update={"cranking_spark_deg": window})}
        )
    probes = leads(engine, rng)
    # A broken drive is drawn by what its cylinders still press; the bench's valves go on moving, which nobody may feel.
    felt = [] if drawn.truth.fault == "drive_broken" else pressure_leads(engine, seed)
    found = []
    seen = low = False
    for k, scenario in enumerate(scenarios):
        turning = "running" if scenario.fuel else "cranking"
        there = drawn.when in ("always", turning, scenario.temperature)
        seen = seen or there
        faults = drawn.cranking if there else EngineFaults()
        run = run_engine(simulated, scenario, seed, faults=faults, spread=spread)
        low |= turning == "cranking" and _uneven(run)
        own = probes if turning == "running" else [*probes, *felt][:8]
        made = record_run(run, own, ScopeSettings(rate_hz=25_000.0, bits=int(rng.choice([8, 12]))))
        columns = {
            d.column: _spoilt(d.role, d.cam, made.columns[d.column], drawn, rng) for d in made.description.channels
        }
        description = made.description.model_copy(update={"symptom": "present" if rng.random() < 0.5 else "unknown"})
        channels = tuple(Channel(d, columns[d.column]) for d in description.channels)
        found.append(Recording(f"{seed}-{k}.capture.json", description, 0.0, made.interval_s, channels))
    if drawn.when == "always" and drawn.bad_signal is None and any(scenario.fuel for scenario in scenarios):
        found += _sweep(simulated, drawn, seed, spread)
    return tuple(found), seen, low


def _sweep(engine: EngineProfile, drawn: _Drawn, seed: int, spread: Spread) -> list[Recording]:
    """In a third of the jobs whose engine runs a phaser is driven, too: that of the cam that is off where it has one.
    Its own random numbers leave every other draw as it was."""
    rng = np.random.default_rng([seed, 77])
    able = [cam.id for cam in engine.cams if cam.phaser]
    if not able or rng.random() > _SWEPT:
        return []
    off = [cam for cam in able if cam in drawn.truth.cams]
    cam = str(rng.choice(off or able))
    scenario = idling(3.4, target_rpm=float(rng.uniform(700.0, 1000.0)))
    driven = {cam: (PhaserCommand(2.5 + float(rng.uniform(1.0, 1.2)), 2.5 + float(rng.uniform(2.2, 2.4))),)}
    run = run_engine(engine, replace(scenario, phaser_commands=driven), seed, faults=drawn.cranking, spread=spread)
    probes = [Probe("crank"), *(Probe("cam", cam=c.id) for c in engine.cams), Probe("phaser_command", cam=cam)]
    made = record_run(run, probes[:8], ScopeSettings(rate_hz=25_000.0))
    kept = [d for d in made.description.channels if d.column in made.columns]
    channels = tuple(Channel(d, made.columns[d.column]) for d in kept)
    return [Recording(f"{seed}-sweep.capture.json", made.description, 0.0, made.interval_s, channels)]


_SWEPT = 0.35


def _uneven(run: Run) -> bool:
    """Whether the highest pressure of a cylinder stays under 0.88 of the cylinders' median."""
    peaks = np.array([float(np.quantile(pa[pa.size // 3 :], 0.995)) for pa in run.cylinders_pa.values()]) - 1e5
    return bool(peaks.min() < 0.88 * np.median(peaks))


def _spoilt(role: str, cam: str | None, samples: np.ndarray, drawn: _Drawn, rng: np.random.Generator) -> np.ndarray:
    """A signal that is lost, comes and goes, or has pulses added."""
    own = (role == "crank" and drawn.bad_signal == "crank") or (role == "cam" and drawn.bad_signal in (cam, "cams"))
    if not own:
        return samples
    made = samples.copy()
    high = float(np.percentile(samples, 95))
    if drawn.bad_how == "lost":
        made[:] = high + 0.01 * rng.standard_normal(made.size)
    elif drawn.bad_how == "erratic":
        for start in rng.uniform(0.15, 0.85, 4):
            first = int(start * made.size)
            made[first : first + int(0.06 * made.size)] = high
    else:
        low = float(np.percentile(samples, 5))
        for first in (rng.uniform(0.15, 0.95, 12) * made.size).astype(int).tolist():
            made[first : first + 5] = low if samples[first] > 0.5 * (low + high) else high
    return made


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
