"""The demo: jobs of the island motor pool, made by the bench through the same use cases as a user's work."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace

from phasko.bench.drive_log import Drive, drive_log_csv
from phasko.bench.faults import CylinderFault, DriveFaults, EngineFaults, PhaserFault, Spread
from phasko.bench.job_sheet import BenchSheet, recorded_files
from phasko.bench.pool import pool_engine, pool_engines
from phasko.bench.probe import Probe
from phasko.bench.recorder import ScopeSettings
from phasko.bench.scenario import PhaserCommand, Scenario, clear_flood_cranking, idling
from phasko.bench.sensors.hall import HallFault, HallPickup
from phasko.core.documents.capture import KnownGoodOf
from phasko.core.looks import Look
from phasko.formats import CaptureFiles
from phasko.jobs.analysing import analyse_stored_job
from phasko.jobs.board import board
from phasko.jobs.engine_profiles import engines, save_engine
from phasko.jobs.importing import import_capture
from phasko.jobs.library import keep_as_known_good
from phasko.jobs.looking import note_look
from phasko.jobs.opening import open_job
from phasko.jobs.road_testing import add_road_test
from phasko.store import Database

__all__ = ["fill_demo"]

_RATE_HZ = 50_000.0
_SHAKES_LOOSE = HallPickup(fault=HallFault(dead_from_s=2.1, dead_to_s=2.9))


@dataclass(frozen=True, slots=True)
class _Take:
    """One more recording of a story: what differs from its first."""

    capture: str
    seed: int
    scenario: Scenario | None = None
    faults: EngineFaults | None = None
    probes: tuple[Probe, ...] = ()


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
    looks: tuple[Look, ...] = ()
    drive: Drive | None = None
    known_good: bool = False
    felt: tuple[int, ...] = ()
    """Cylinders whose pressure a second capture recorded."""
    more: tuple[_Take, ...] = ()


def _saw(question: str, answer: str, note: str = "") -> Look:
    return Look(question=question, answer=answer, note=note)


_SWEEP = replace(
    idling(5.4), phasers_connected=True, phaser_commands={"B1I": (PhaserCommand(4.6, 6.4),)}, temperature="hot"
)
_SWEEP_PROBES = (
    Probe("crank"),
    Probe("cam", cam="B1I"),
    Probe("cam", cam="B1E"),
    Probe("phaser_command", cam="B1I"),
    Probe("other"),
)
_COMES_BACK_SHORT = EngineFaults(DriveFaults(phasers={"B1I": PhaserFault(rests_off_deg=9.0, lag_s=0.05)}))
_LOCK_FAILS = EngineFaults(DriveFaults(phasers={"B1E": PhaserFault(park_deg=11.0)}))

_STORIES = (
    _Story(
        vehicle="Library buses 3 to 6, on service days",
        make_model="Brimholt Folio",
        engine="brimholt-3.2-six",
        complaint="Sound engines, recorded at their services to compare others with",
        codes=(),
        capture="bus-3-service",
        seed=2131,
        known_good=True,
        more=tuple(_Take(f"bus-{number}-service", 2128 + number) for number in (4, 5, 6)),
    ),
    _Story(
        vehicle="Library bus 7",
        make_model="Brimholt Folio",
        engine="brimholt-3.2-six",
        complaint="Rattles for a moment at every start and is slow to catch; oil was changed late for years",
        codes=(),
        capture="bus-7-idle",
        seed=2172,
        faults=EngineFaults(DriveFaults(elongation_percent=0.85, slack_deg=0.25)),
        scenario=idling(2.4),
        looks=(_saw("rattle", "at_start"),),
        more=(_Take("bus-7-cranking", 2171, clear_flood_cranking(4.4)),),
    ),
    _Story(
        vehicle="Snow blower 1",
        make_model="Tarrant Meadow",
        engine="tarrant-3.0-straight-six",
        complaint="Hunts at idle after every pull up the hill, fine when it was started afresh",
        codes=("P0011",),
        capture="blower-1-cranking",
        seed=2211,
        more=(_Take("blower-1-sweep", 2212, _SWEEP, _COMES_BACK_SHORT, _SWEEP_PROBES),),
    ),
    _Story(
        vehicle="Ferry shuttle 1",
        make_model="Haverel Strand",
        engine="haverel-2.4-five",
        complaint="Weak and rough once it is hot, right again the next morning",
        codes=("P0017",),
        capture="shuttle-1-cold",
        seed=2251,
        scenario=replace(clear_flood_cranking(4.4), temperature="cold"),
        more=(_Take("shuttle-1-hot", 2252, clear_flood_cranking(4.4), _LOCK_FAILS),),
    ),
    _Story(
        vehicle="Lighthouse jeep 1",
        make_model="Corvane Gannet",
        engine="corvane-2.1-four",
        complaint="Misses on the steep track and ticks under the cover; plugs, coils and leads are new",
        codes=("P0303",),
        capture="jeep-1-cranking",
        seed=1311,
        faults=EngineFaults(cylinders={3: CylinderFault(exhaust_lobe_share=0.3)}),
        looks=(_saw("spark", "present"),),
        felt=(3, 1),
    ),
    _Story(
        vehicle="Milk lorry 2",
        make_model="Tarrant Meadow",
        engine="tarrant-3.0-straight-six",
        complaint="No power and hot since the crank pulley was off for its oil seal; no code is set",
        codes=(),
        capture="lorry-2-cranking",
        seed=1212,
        faults=EngineFaults(DriveFaults(crank_hub_deg=13.0)),
        felt=(1,),
    ),
    _Story(
        vehicle="Library bus 2",
        make_model="Brimholt Folio",
        engine="brimholt-3.2-six",
        complaint="Serviced last week, driver asks for a second look",
        codes=(),
        capture="bus-2-cranking",
        seed=211,
        looks=(_saw("rattle", "none"), _saw("oil", "good"), _saw("throttle_hand", "pulls")),
        known_good=True,
    ),
    _Story(
        vehicle="Post car 5, after repair",
        make_model="Corvane Petrel",
        engine="corvane-2.1-four",
        complaint="Chain and guides renewed, valves checked for leaks; proof that it is right",
        codes=(),
        capture="post-5-after",
        seed=504,
    ),
    _Story(
        vehicle="Post car 5",
        make_model="Corvane Petrel",
        engine="corvane-2.1-four",
        complaint="Stalled on the ferry ramp and would not start again; chain rattled for months",
        codes=("P0016", "P0017"),
        capture="post-5-before",
        seed=503,
        faults=EngineFaults(DriveFaults(jumped_at_crank=-1)),
    ),
    _Story(
        vehicle="Grader 2",
        make_model="Corvane Tern",
        engine="corvane-2.2-diesel",
        complaint="Cuts out for a moment on the gravel pit's washboard track, always while the blade is up",
        codes=("P0340",),
        capture="grader-2-washboard",
        seed=1006,
        probes=(Probe("crank"), Probe("cam", cam="B1E", hall=_SHAKES_LOOSE), Probe("starter_current")),
    ),
    _Story(
        vehicle="Quarry crane 1",
        make_model="Quayle Heron",
        engine="quayle-5.0-eight",
        complaint="Shakes at idle, one plug was oily",
        codes=("P0303",),
        capture="crane-1-cranking",
        seed=905,
        faults=EngineFaults(cylinders={3: CylinderFault(ring_leak_mm2=9.0)}),
        probes=(
            Probe("crank"),
            *(Probe("cam", cam=cam) for cam in ("B1I", "B1E", "B2I", "B2E")),
            Probe("starter_current"),
            Probe("cylinder_pressure", cylinder=3, range_v=20.0),
            Probe("exhaust_pulse"),
        ),
        looks=(_saw("rhythm", "uneven"), _saw("spark", "present")),
    ),
    _Story(
        vehicle="Fire engine 1",
        make_model="Brimholt Beacon",
        engine="brimholt-3.2-six",
        complaint="Fetched from its winter shed for the pier festival; barely moves itself, oil under a chain cover",
        codes=("P0018", "P0019"),
        capture="fire-1-cranking",
        seed=807,
        faults=EngineFaults(DriveFaults(jumped_at_idler={2: 3})),
        looks=(_saw("rhythm", "even", "sounds like any other"), _saw("spark", "present")),
    ),
    _Story(
        vehicle="Ferry tender 2",
        make_model="Ostrin Otter",
        engine="ostrin-1.6-distributor",
        complaint="Hard to start since the boatyard lifted the engine to reach the bilge pump",
        codes=("P0016",),
        capture="tender-2-cranking",
        seed=702,
        faults=EngineFaults(DriveFaults(sync_deg=13.0)),
    ),
    _Story(
        vehicle="Mail van 3",
        make_model="Pellowe Swift",
        engine="pellowe-1.0-triple",
        complaint="Hard to start, no power; crank seal and pulley were renewed the week before",
        codes=("P0016",),
        capture="mail-3-cranking",
        seed=608,
        faults=EngineFaults(DriveFaults(crank_wheel_deg=9.0)),
        felt=(1,),
    ),
    _Story(
        vehicle="Snow plough 1",
        make_model="Haverel Drift",
        engine="haverel-2.4-five",
        complaint="Idles badly, weak below 2000 rpm, oil long overdue",
        codes=("P0011",),
        capture="plough-1-cranking",
        seed=511,
        faults=EngineFaults(DriveFaults(phasers={"B1I": PhaserFault(park_deg=-22.0, stuck=True)})),
        looks=(_saw("oil", "sludged"),),
        drive=Drive(best_fill=0.63),
    ),
    _Story(
        vehicle="Ambulance 1",
        make_model="Brimholt Mercy",
        engine="brimholt-3.2-six",
        complaint="Lost power after the cam seals were done at another workshop",
        codes=("P0018",),
        capture="ambulance-1-cranking",
        seed=409,
        faults=EngineFaults(DriveFaults(slipped_deg={"B2I": 11.0})),
        felt=(4,),
    ),
    _Story(
        vehicle="School van 4",
        make_model="Ostrin Wagtail",
        engine="ostrin-1.4-four",
        complaint="Rattles for a second when started cold, tired on hills",
        codes=(),
        capture="van-4-cranking",
        seed=412,
        faults=EngineFaults(DriveFaults(elongation_percent=0.75)),
        looks=(_saw("rattle", "at_start"), _saw("oil", "low")),
        drive=Drive(best_fill=0.8),
    ),
    _Story(
        vehicle="Harbour pick-up 7",
        make_model="Corvane Skiff",
        engine="corvane-2.1-four",
        complaint="Rolled backwards down the slipway in gear and has not started since",
        codes=("P0016", "P0017"),
        capture="pick-up-7-cranking",
        seed=731,
        faults=EngineFaults(DriveFaults(jumped_at_crank=1)),
        scenario=clear_flood_cranking(5.6),
        looks=(
            _saw("rhythm", "even"),
            _saw("replaced", "sensor_in_vain", "Intake cam sensor, by the harbour master himself"),
        ),
        probes=(
            Probe("crank"),
            *(Probe("cam", cam=cam) for cam in ("B1I", "B1E")),
            Probe("starter_current"),
            Probe("cylinder_pressure", cylinder=3, range_v=20.0),
        ),
    ),
)


def fill_demo(database: Database, tell: Callable[[str], None] = lambda _: None) -> int:
    """Adds the demo's engines and jobs to an empty workshop; leaves one that holds jobs as it is. Returns jobs made.

    ``tell`` hears which job is being made, since all of them take about a minute.
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
        stored = [import_capture(database, job.id, _capture_files(story))]
        stored += [import_capture(database, job.id, _capture_files(_retaken(story, take))) for take in story.more]
        if story.felt:
            import_capture(database, job.id, _pressure_files(story))
        for look in story.looks:
            note_look(database, job.id, look)
        if story.drive is not None:
            log = drive_log_csv(pool_engine(story.engine), story.drive, story.seed)
            add_road_test(database, job.id, f"{story.capture.rsplit('-', 1)[0]}-drive.csv", log)
        if story.known_good:
            for capture in stored:
                keep_as_known_good(database, capture.id, _SEEN_GOOD)
        analyse_stored_job(database, job.id)
    return len(_STORIES)


_SEEN_GOOD = KnownGoodOf(how="marks_seen", note="Marks seen true at the service")


def _retaken(story: _Story, take: _Take) -> _Story:
    """The same story as that recording has it."""
    return replace(
        story,
        capture=take.capture,
        seed=take.seed,
        scenario=take.scenario or story.scenario,
        faults=take.faults or story.faults,
        probes=take.probes or story.probes,
    )


def _capture_files(story: _Story) -> CaptureFiles:
    """The files of one story's capture, as a scope would have written them."""
    return _recorded(story, story.capture, story.seed, list(story.probes), ScopeSettings(rate_hz=_RATE_HZ))


def _pressure_files(story: _Story) -> CaptureFiles:
    """The same engine cranked again with a transducer in place of a plug, the other plugs in."""
    probes = [Probe("crank"), *(Probe("cam", cam=cam.id) for cam in pool_engine(story.engine).cams)]
    probes += [Probe("cylinder_pressure", cylinder=cylinder, range_v=20.0) for cylinder in story.felt]
    name = f"{story.capture.rsplit('-', 1)[0]}-pressure"
    scope = ScopeSettings(rate_hz=_RATE_HZ / 2, bits=12)
    return _recorded(story, name, story.seed + 5000, [*probes, Probe("starter_current")][:8], scope)


def _recorded(story: _Story, name: str, seed: int, probes: list[Probe], scope: ScopeSettings) -> CaptureFiles:
    sheet = BenchSheet(
        engine=story.engine,
        seed=seed,
        faults=story.faults,
        spread=story.spread,
        scenario=story.scenario,
        probes=probes,
        scope=scope,
    )
    files = recorded_files(sheet, name)
    described, data = f"{name}.capture.json", f"{name}.csv"
    return CaptureFiles(described, files[described], data, files[data])
