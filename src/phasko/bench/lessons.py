"""Pictures for lessons, each with the numbers that a person is to read off it: recorded from an engine whose sizes are
drawn anew from a seed."""

from __future__ import annotations

import random
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from functools import lru_cache

import numpy as np
import scipy

from phasko.bench.arrays import Floats
from phasko.bench.channels import spark_times_s
from phasko.bench.faults import CylinderFault, DriveFaults, EngineFaults, Spread
from phasko.bench.pool import pool_engine
from phasko.bench.probe import Probe
from phasko.bench.recorder import ScopeSettings, record_run, true_offsets_deg
from phasko.bench.run import Run, run_engine
from phasko.bench.scenario import PhaserCommand, Scenario, clear_flood_cranking, idling
from phasko.bench.scope import BenchCapture, capture_files
from phasko.bench.sensors.hall import HallFault, HallPickup
from phasko.bench.sensors.inductive import InductivePickup
from phasko.bench.sensors.transducers import CurrentClamp
from phasko.core.documents import EngineProfile
from phasko.core.documents.engine import Cam

__all__ = ["LESSON_PICTURES", "LessonPicture", "lesson_picture"]


@dataclass(frozen=True, slots=True, eq=False)
class LessonPicture:
    """One recording: its engine in the pool, its files, the true numbers by the name under which they are asked, and
    what a lesson's words have to say of this engine."""

    engine: str
    files: Mapping[str, bytes]
    name: str
    truth: Mapping[str, float]
    words: Mapping[str, str] = field(default_factory=dict)


@lru_cache(maxsize=4)
def lesson_picture(lesson: str, seed: int) -> LessonPicture:
    """The picture of a lesson for that seed. Raises KeyError for a lesson that there is not."""
    # Kept for a while: it is asked for when a lesson begins, whenever it is looked at, and when it is marked.
    return LESSON_PICTURES[lesson](random.Random(f"{lesson} {seed}"), seed)


_CRANKED = clear_flood_cranking(3.6)
# Sizes are those of the lesson alone: what a person is to read may not hide behind an engine's own spread.
_EVEN = Spread(cylinder_share=0.008, edge_deg=0.0, index_deg=0.0, tooth_deg=0.02, run_out_deg=0.02, build_deg=0.0)
_RATE_HZ = 50_000.0


def _run(engine: EngineProfile, seed: int, faults: EngineFaults | None = None, scenario: Scenario = _CRANKED) -> Run:
    return run_engine(engine, scenario, seed, faults=faults or EngineFaults(), spread=_EVEN)


def _recorded(run: Run, probes: list[Probe], lesson: str) -> BenchCapture:
    return record_run(run, probes, ScopeSettings(rate_hz=_RATE_HZ), name=f"lesson-{lesson.replace('_', '-')}")


def _picture(
    engine: str, capture: BenchCapture, truth: Mapping[str, float], words: Mapping[str, str] | None = None
) -> LessonPicture:
    name = capture.description.data.removesuffix(".csv")
    files = {file: data for file, data in capture_files(capture).items() if not file.endswith(".truth.json")}
    return LessonPicture(engine, files, name, truth, words or {})


def _pitch_deg(engine: EngineProfile) -> float:
    return engine.crank.known_wheel.pitch_deg or 6.0


def _teeth(engine: EngineProfile, deg: float) -> float:
    """Of an angle after cylinder 1's top, in wheel teeth after tooth 1, within one turn."""
    return ((deg - (engine.crank.index_deg or 0.0)) % 360.0) / _pitch_deg(engine)


def _wheel_words(engine: EngineProfile, cam: Cam | None = None, edge: int = 0) -> dict[str, str]:
    pitch = _pitch_deg(engine)
    words = {
        "pitch": f"{pitch:g}",
        "slots": f"{360.0 / pitch:.0f}",
        "timing_edge": engine.crank.timing_edge,
        "cylinders": str(engine.cylinders),
        "firing_order": "-".join(str(cylinder) for cylinder in engine.firing_order),
        "sprocket": str((engine.drive.crank_sprocket_teeth if engine.drive is not None else None) or 21),
    }
    if cam is not None:
        words |= {
            "cam": cam.id,
            "edge_kind": cam.edges[edge].kind,
            "edge_number": _NUMBERS[_place_of(engine, cam, edge)],
        }
        words["reference_teeth"] = f"{_teeth(engine, cam.edges[edge].deg):.1f}"
    return words


_NUMBERS = ("first", "second", "third", "fourth")


def _place_of(engine: EngineProfile, cam: Cam, edge: int) -> int:
    """Which of the cam's edges of that kind it is after the gap, in its own turn of the crank."""
    index = engine.crank.index_deg or 0.0
    own = cam.edges[edge]
    turn = (own.deg - index) // 360.0
    alike = [e.deg for e in cam.edges if e.kind == own.kind and (e.deg - index) // 360.0 == turn and e.deg < own.deg]
    return min(len(alike), len(_NUMBERS) - 1)


def _humps(rng: random.Random, seed: int) -> LessonPicture:
    name = "brimholt-3.2-six"
    engine = pool_engine(name)
    dead = rng.random() < 0.75
    bank = rng.choice(engine.banks)
    # Its cams stand still with valves open.
    held = {int(cylinder): CylinderFault(intake_held_mm=4.0) for cylinder in bank.cylinders}
    faults = EngineFaults(cylinders=held) if dead else EngineFaults()
    capture = _recorded(_run(engine, seed, faults), [Probe("crank"), Probe("starter_current")], "humps")
    missing = engine.cylinders // 2 if dead else 0
    truth = {"humps": float(engine.cylinders - missing), "missing": float(missing)}
    return _picture(name, capture, truth, _wheel_words(engine))


def _wasted_spark(rng: random.Random, seed: int) -> LessonPicture:
    name = rng.choice(("ostrin-1.4-four", "haverel-1.3-even", "brimholt-3.8-odd-six", "solan-2.0-flat-four"))
    engine = pool_engine(name)
    every = 360.0 if engine.ignition is not None and engine.ignition.type == "wasted_spark" else 720.0
    probes = [
        Probe("crank"),
        Probe("starter_current"),
        Probe("coil", cylinder=engine.firing_order[0], signal="primary"),
    ]
    capture = _recorded(_run(engine, seed), probes, "wasted_spark")
    cylinders = float(engine.cylinders)
    truth = {"interval": every, "humps": cylinders * every / 720.0, "cycle": cylinders}
    return _picture(name, capture, truth, _wheel_words(engine))


def _weak_cylinder(rng: random.Random, seed: int) -> LessonPicture:
    name = rng.choice(("corvane-2.1-four", "haverel-2.4-five"))
    engine = pool_engine(name)
    order = engine.firing_order
    steps = rng.randrange(1, len(order))
    weak = int(order[steps])
    faults = EngineFaults(cylinders={weak: CylinderFault(ring_leak_mm2=rng.uniform(5.0, 9.0))})
    probes = [Probe("crank"), Probe("starter_current"), Probe("coil", cylinder=int(order[0]))]
    capture = _recorded(_run(engine, seed, faults), probes, "weak_cylinder")
    truth = {"steps": float(steps), "cylinder": float(weak)}
    return _picture(name, capture, truth, _wheel_words(engine))


def _clamp(rng: random.Random, seed: int) -> LessonPicture:
    name = "corvane-2.1-four"
    engine = pool_engine(name)
    run = _run(engine, seed)
    zero_a = rng.uniform(18.0, 45.0) * rng.choice((-1.0, 1.0))
    clamp = CurrentClamp(zero_a=zero_a)
    capture = _recorded(run, [Probe("crank"), Probe("starter_current", clamp=clamp)], "clamp")
    # Read off the recording itself: its steps and noise are what the person sees.
    amperes = capture.columns["c2"].astype(np.float64) / clamp.volt_per_a
    at_s = np.arange(amperes.size) * capture.interval_s
    zero = float(np.mean(amperes[at_s < run.scenario.starter_from_s - 0.05]))
    settled = (at_s > 1.2) & (at_s < run.scenario.starter_to_s - 0.1)
    return _picture(name, capture, {"zero": zero, "mean": float(np.mean(amperes[settled])) - zero})


def _cam_and_edge(engine: EngineProfile, rng: random.Random) -> tuple[Cam, int]:
    cam = rng.choice(engine.cams)
    return cam, rng.randrange(len(cam.edges))


def _teeth_from_gap(rng: random.Random, seed: int) -> LessonPicture:
    name = "corvane-2.1-four"
    engine = pool_engine(name)
    cam, edge = _cam_and_edge(engine, rng)
    faults = EngineFaults(DriveFaults(slipped_deg={cam.id: rng.uniform(-9.0, 9.0)}))
    run = _run(engine, seed, faults)
    capture = _recorded(run, [Probe("crank"), Probe("cam", cam=cam.id)], "teeth")
    teeth = _teeth(engine, cam.edges[edge].deg + true_offsets_deg(run)[cam.id])
    return _picture(name, capture, {"teeth": teeth}, _wheel_words(engine, cam, edge))


def _revolution(rng: random.Random, seed: int) -> LessonPicture:
    name = "corvane-2.1-four"
    engine = pool_engine(name)
    cam = rng.choice(engine.cams)
    run = _run(engine, seed)
    first = engine.firing_order[0]
    sparks = spark_times_s(run, first)
    # The first two sparks come while the engine still gathers speed.
    spark_deg = float(np.median(np.interp(sparks[2:], run.times_s, run.angles_deg) % 720.0))
    # The first edge of either kind after the spark: the words name its kind.
    places = [((edge.deg + true_offsets_deg(run)[cam.id] - spark_deg) % 720.0, i) for i, edge in enumerate(cam.edges)]
    after, edge = min(places)
    probes = [Probe("crank"), Probe("cam", cam=cam.id), Probe("coil", cylinder=first)]
    capture = _recorded(run, probes, "revolution")
    return _picture(name, capture, {"after_spark": after}, _wheel_words(engine, cam, edge))


def _pitch(rng: random.Random, seed: int) -> LessonPicture:
    name = "corvane-2.1-four"
    engine = pool_engine(name)
    cam, edge = _cam_and_edge(engine, rng)
    run = _run(engine, seed, EngineFaults(DriveFaults(jumped_at_crank=rng.choice((1, 2)))))
    capture = _recorded(run, [Probe("crank"), Probe("cam", cam=cam.id)], "pitch")
    late = true_offsets_deg(run)[cam.id]
    sprocket = (engine.drive.crank_sprocket_teeth if engine.drive is not None else None) or 21
    truth = {"teeth": late / _pitch_deg(engine), "degrees": late, "pitches": late * sprocket / 360.0}
    return _picture(name, capture, truth, _wheel_words(engine, cam, edge))


def _wheel_or_chain(rng: random.Random, seed: int) -> LessonPicture:
    name = "corvane-2.1-four"
    engine = pool_engine(name)
    late = rng.uniform(9.0, 18.0)
    run = _run(engine, seed, EngineFaults(DriveFaults(crank_wheel_deg=late)))
    cylinder = int(engine.firing_order[0])
    probes = [Probe("crank"), Probe("cam", cam=engine.cams[0].id)]
    probes.append(Probe("cylinder_pressure", cylinder=cylinder, range_v=20.0))
    capture = _recorded(run, probes, "wheel_or_chain")
    words = _wheel_words(engine) | {
        "cylinder": str(cylinder),
        "tdc_teeth": f"{_teeth(engine, engine.firing_tdc_deg[cylinder]):.1f}",
    }
    return _picture(name, capture, {"wheel": late}, words)


def _phaser(rng: random.Random, seed: int) -> LessonPicture:
    name = "corvane-2.1-four"
    engine = pool_engine(name)
    cam = next(cam for cam in engine.cams if cam.phaser is not None)
    begins, held, share = 4.2, rng.uniform(1.4, 2.0), rng.uniform(0.55, 1.0)
    command = PhaserCommand(begins, begins + held, share)
    scenario = replace(idling(5.0), phasers_connected=True, phaser_commands={cam.id: (command,)})
    run = _run(engine, seed, scenario=scenario)
    probes = [Probe("crank"), Probe("cam", cam=cam.id), Probe("phaser_command", cam=cam.id)]
    capture = _recorded(run, probes, "phaser")
    places = run.cams[cam.id].valves_deg[run.slot_times_s >= 0.0]
    swept = float(np.max(places) - np.min(places))
    return _picture(name, capture, {"swept": swept, "held": held}, _wheel_words(engine, cam))


def _good_bank(rng: random.Random, seed: int) -> LessonPicture:
    name = "brimholt-3.2-six"
    engine = pool_engine(name)
    run = _run(engine, seed, EngineFaults(DriveFaults(jumped_at_idler={rng.choice((1, 2)): rng.choice((1, -1))})))
    shaft = rng.choice(("intake", "exhaust"))
    first, second = (cam for cam in engine.cams if cam.shaft == shaft)
    probes = [Probe("crank"), Probe("cam", cam=first.id), Probe("cam", cam=second.id)]
    capture = _recorded(run, probes, "good_bank")
    late = true_offsets_deg(run)
    words = _wheel_words(engine, first) | {
        "first": first.id,
        "second": second.id,
        "first_teeth": f"{_teeth(engine, first.edges[0].deg):.1f}",
        "second_teeth": f"{_teeth(engine, second.edges[0].deg):.1f}",
        "between": f"{(second.edges[0].deg - first.edges[0].deg) % 720.0:.0f}",
    }
    return _picture(name, capture, {"first": late[first.id], "second": late[second.id]}, words)


def _mirrored(rng: random.Random, seed: int) -> LessonPicture:  # noqa: ARG001
    name = "tarrant-3.0-straight-six"
    engine = pool_engine(name)
    pickup = InductivePickup(mirrored=True)
    probes = [Probe("crank", inductive=pickup), Probe("cam", cam=engine.cams[0].id)]
    capture = _recorded(_run(engine, seed), probes, "mirrored")
    return _picture(name, capture, {"half": 0.5 * _pitch_deg(engine)}, _wheel_words(engine))


def _filter(rng: random.Random, seed: int) -> LessonPicture:
    name = "corvane-2.1-four"
    engine = pool_engine(name)
    run = _run(engine, seed)
    capture = _recorded(run, [Probe("crank"), Probe("cam", cam=engine.cams[0].id)], "filter")
    delay_s = rng.uniform(1.2e-3, 2.6e-3)
    # A first-order low-pass passes half the height of a step after ln 2 of its time constant.
    share = 1.0 - np.exp(-capture.interval_s * np.log(2.0) / delay_s)
    cam_volts = capture.columns["c2"].astype(np.float64)
    filtered, _ = scipy.signal.lfilter([share], [1.0, share - 1.0], cam_volts, zi=[(1.0 - share) * cam_volts[0]])
    speed = float(np.median(run.speed_rad_s[(run.times_s > 1.0) & (run.times_s < 3.0)]))
    columns = {**capture.columns, "c3": np.asarray(filtered, dtype=np.float32)}
    beside = capture.description.channels[1].model_copy(update={"column": "c3", "role": "other", "cam": None})
    description = capture.description.model_copy(update={"channels": [*capture.description.channels, beside]})
    made = replace(capture, columns=columns, description=description)
    return _picture(name, made, {"ms": 1e3 * delay_s, "degrees": float(np.degrees(speed * delay_s))})


def _corner(rng: random.Random, seed: int) -> LessonPicture:
    name = rng.choice(("corvane-2.1-four", "haverel-2.4-five"))
    engine = pool_engine(name)
    late = rng.uniform(-4.0, 14.0)
    exhaust = next(cam.id for cam in engine.cams if cam.shaft == "exhaust")
    run = _run(engine, seed, EngineFaults(DriveFaults(slipped_deg={exhaust: late})))
    cylinder = int(rng.choice(engine.firing_order))
    probes = [Probe("crank"), Probe("cylinder_pressure", cylinder=cylinder, range_v=20.0)]
    capture = _recorded(run, probes, "corner")
    timing = engine.valve_timing
    assert timing is not None
    truth = {"peak": _peak_bar(run, cylinder), "opens": timing.exhaust_open_deg + late}
    return _picture(name, capture, truth, _wheel_words(engine))


def _peak_bar(run: Run, cylinder: int) -> float:
    """The median of the peaks of the settled cycles, over the outside (bar)."""
    pressure: Floats = run.cylinders_pa[cylinder] / 1e5 - 1.0
    # From bottom to bottom: a cycle that began at the top would be cut in its peak.
    cycle = np.floor((run.angles_deg - run.engine.firing_tdc_deg[cylinder] - 360.0) / 720.0)
    settled = (run.times_s > 1.0) & (run.times_s < run.scenario.starter_to_s - 0.05)
    peaks = [float(pressure[settled & (cycle == one)].max()) for one in np.unique(cycle[settled])]
    return float(np.median([peak for peak in peaks if peak > 0.5 * max(peaks)]))


def _dropout(rng: random.Random, seed: int) -> LessonPicture:
    name = "corvane-2.1-four"
    engine = pool_engine(name)
    begins, lasts = rng.uniform(1.2, 2.6), rng.uniform(0.12, 0.3)
    pickup = HallPickup(fault=HallFault(dead_from_s=begins, dead_to_s=begins + lasts))
    probes = [Probe("crank", hall=pickup), Probe("cam", cam=engine.cams[0].id), Probe("starter_current")]
    capture = _recorded(_run(engine, seed), probes, "dropout")
    return _picture(name, capture, {"begins": begins, "lasts": 1e3 * lasts}, {"signal": "the crank signal"})


LESSON_PICTURES: Mapping[str, Callable[[random.Random, int], LessonPicture]] = {
    "humps": _humps,
    "wasted_spark": _wasted_spark,
    "weak_cylinder": _weak_cylinder,
    "clamp": _clamp,
    "teeth": _teeth_from_gap,
    "revolution": _revolution,
    "pitch": _pitch,
    "wheel_or_chain": _wheel_or_chain,
    "phaser": _phaser,
    "good_bank": _good_bank,
    "mirrored": _mirrored,
    "filter": _filter,
    "corner": _corner,
    "dropout": _dropout,
}
