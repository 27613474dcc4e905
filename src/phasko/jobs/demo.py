"""The demo: jobs of the island motor pool, made by the bench through the same use cases as a user's work."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

from phasko.bench.drive_log import Drive, drive_log_csv
from phasko.bench.faults import CylinderFault, DriveFaults, EngineFaults, PhaserFault, Spread
from phasko.bench.job_sheet import BenchSheet, recorded_files
from phasko.bench.pool import pool_engine, pool_engines
from phasko.bench.probe import Probe
from phasko.bench.recorder import ScopeSettings
from phasko.bench.scenario import Scenario, clear_flood_cranking
from phasko.bench.sensors.hall import HallFault, HallPickup
from phasko.core.observations import Observation
from phasko.formats import CaptureFiles
from phasko.jobs.analysing import analyse_stored_job
from phasko.jobs.board import board
from phasko.jobs.engine_profiles import engines, save_engine
from phasko.jobs.importing import import_capture
from phasko.jobs.looking import note_look
from phasko.jobs.opening import open_job
from phasko.jobs.road_testing import add_road_test
from phasko.jobs.seal_station import keep_as_known_good
from phasko.store import Database

__all__ = ["fill_demo"]

_RATE_HZ = 50_000.0
_DIES_HOT = HallPickup(fault=HallFault(dead_from_s=2.1, dead_to_s=2.9))


@dataclass(frozen=True, slots=True)
class _Story:
    """One job: what the vehicle is, what was said of it, and what is really wrong with it."""

    vehicle: str
    make_model: str
    engine: str
    complaint: str
    codes: tuple[str, ...]
    capture: str
    seed: int
    faults: EngineFaults = field(default_factory=EngineFaults)
    scenario: Scenario = field(default_factory=lambda: clear_flood_cranking(4.4))
    spread: Spread = field(default_factory=lambda: Spread(edge_deg=0.12, index_deg=0.12, build_deg=0.15))
    probes: tuple[Probe, ...] = ()
    looks: tuple[Observation, ...] = ()
    drive: Drive | None = None
    known_good: bool = False


def _saw(question: str, answer: str, note: str = "") -> Observation:
    return Observation(question=question, answer=answer, note=note)


_STORIES = (
    _Story(
        "Library bus 2",
        "Brimholt Folio",
        "brimholt-3.2-six",
        "Serviced last week, driver asks for a second look",
        (),
        "bus-2-cranking",
        211,
        looks=(_saw("rattle", "none"), _saw("oil", "good"), _saw("throttle_hand", "pulls")),
        known_good=True,
    ),
    _Story(
        "Post car 5, after repair",
        "Corvane Petrel",
        "corvane-2.1-four",
        "Chain and guides renewed, valves checked for leaks; proof that it is right",
        (),
        "post-5-after",
        504,
    ),
    _Story(
        "Post car 5",
        "Corvane Petrel",
        "corvane-2.1-four",
        "Stalled on the ferry ramp and would not start again; chain rattled for months",
        ("P0016", "P0017"),
        "post-5-before",
        503,
        EngineFaults(DriveFaults(jumped_at_crank=-1)),
    ),
    _Story(
        "Grader 2",
        "Corvane Tern",
        "corvane-2.2-diesel",
        "Dies when hot, starts again after half an hour; fuel filter renewed in vain",
        ("P0340",),
        "grader-2-hot",
        1006,
        probes=(Probe("crank"), Probe("cam", cam="B1E", hall=_DIES_HOT), Probe("starter_current")),
    ),
    _Story(
        "Quarry crane 1",
        "Quayle Heron",
        "quayle-5.0-eight",
        "Shakes at idle, one plug was oily",
        ("P0303",),
        "crane-1-cranking",
        905,
        EngineFaults(cylinders={3: CylinderFault(ring_leak_mm2=9.0)}),
        probes=(
            Probe("crank"),
            *(Probe("cam", cam=cam) for cam in ("B1I", "B1E", "B2I", "B2E")),
            Probe("starter_current"),
            Probe("coil", cylinder=1),
            Probe("exhaust_pulse"),
        ),
        looks=(_saw("rhythm", "uneven"), _saw("spark", "present")),
    ),
    _Story(
        "Fire engine 1",
        "Brimholt Beacon",
        "brimholt-3.2-six",
        "Cranks evenly, fires on one bank only, pops through the intake",
        ("P0018", "P0019"),
        "fire-1-cranking",
        807,
        EngineFaults(DriveFaults(jumped_at_idler={2: 3})),
        looks=(_saw("rhythm", "even", "sounds like any other"), _saw("spark", "present")),
    ),
    _Story(
        "Ferry tender 2",
        "Ostrin Otter",
        "ostrin-1.6-distributor",
        "Runs rough since the distributor was taken out for its seal",
        ("P1391",),
        "tender-2-cranking",
        702,
        EngineFaults(DriveFaults(sync_deg=13.0)),
    ),
    _Story(
        "Mail van 3",
        "Pellowe Swift",
        "pellowe-1.0-triple",
        "Hard to start, no power; crank seal and pulley were renewed the week before",
        ("P0016",),
        "mail-3-cranking",
        608,
        EngineFaults(DriveFaults(crank_wheel_deg=9.0)),
    ),
    _Story(
        "Snow plough 1",
        "Haverel Drift",
        "haverel-2.4-five",
        "Idles badly, weak below 2000 rpm, oil long overdue",
        ("P0011",),
        "plough-1-cranking",
        511,
        EngineFaults(DriveFaults(phasers={"B1I": PhaserFault(park_deg=-22.0, stuck=True)})),
        looks=(_saw("oil", "sludged"),),
        drive=Drive(best_fill=0.63),
    ),
    _Story(
        "Ambulance 1",
        "Brimholt Mercy",
        "brimholt-3.2-six",
        "Lost power after the cam seals were done at another workshop",
        ("P0018",),
        "ambulance-1-cranking",
        409,
        EngineFaults(DriveFaults(slipped_deg={"B2I": 14.0})),
    ),
    _Story(
        "School van 4",
        "Ostrin Wagtail",
        "ostrin-1.4-four",
        "Rattles for a second when started cold, tired on hills",
        ("P0011",),
        "van-4-cranking",
        412,
        EngineFaults(DriveFaults(elongation_percent=0.75)),
        looks=(_saw("rattle", "at_start"), _saw("oil", "low")),
        drive=Drive(best_fill=0.8),
    ),
    _Story(
        "Harbour pick-up 7",
        "Corvane Skiff",
        "corvane-2.1-four",
        "No start when hot",
        ("P0016",),
        "pick-up-7-cranking",
        731,
        EngineFaults(DriveFaults(jumped_at_crank=1)),
        clear_flood_cranking(5.6),
        looks=(_saw("rhythm", "even"), _saw("replaced", "sensor_in_vain", "Cam sensor, twice")),
    ),
)


def fill_demo(database: Database, tell: Callable[[str], None] = lambda _: None) -> int:
    """Adds the demo's engines and jobs to an empty workshop; leaves one that holds jobs as it is. Returns jobs made.

    ``tell`` hears which job is being made, since all of them take half a minute.
    """
    if board(database):
        return 0
    for name in pool_engines():
        document = pool_engine(name).model_dump_json(by_alias=True, exclude_none=True, indent=1)
        save_engine(database, document.encode(), f"{name}.json")
    by_name = {engine.name: engine.id for engine in engines(database)}
    for number, story in enumerate(_STORIES, start=1):
        tell(f"Recording sample job {number} of {len(_STORIES)}: {story.vehicle}")
        job = open_job(
            database,
            vehicle=story.vehicle,
            make_model=story.make_model,
            complaint=story.complaint,
            codes=list(story.codes),
            engine_id=by_name[pool_engine(story.engine).name],
        )
        stored = import_capture(database, job.id, _capture_files(story))
        for look in story.looks:
            note_look(database, job.id, look)
        if story.drive is not None:
            log = drive_log_csv(pool_engine(story.engine), story.drive, story.seed)
            add_road_test(database, job.id, f"{story.capture.rsplit('-', 1)[0]}-drive.csv", log)
        if story.known_good:
            keep_as_known_good(database, stored.id, True)
        analyse_stored_job(database, job.id)
    return len(_STORIES)


def _capture_files(story: _Story) -> CaptureFiles:
    """The files of one story's capture, as a scope would have written them."""
    sheet = BenchSheet(
        engine=story.engine,
        seed=story.seed,
        faults=story.faults,
        spread=story.spread,
        scenario=story.scenario,
        probes=list(story.probes),
        scope=ScopeSettings(rate_hz=_RATE_HZ),
    )
    files = recorded_files(sheet, story.capture)
    described, data = f"{story.capture}.capture.json", f"{story.capture}.csv"
    return CaptureFiles(described, files[described], data, files[data])
