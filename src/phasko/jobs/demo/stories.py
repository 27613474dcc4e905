"""The stories of the demo: what each vehicle of the island motor pool complains of, and what is really wrong."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from phasko.bench.drive_log import Drive
from phasko.bench.faults import CylinderFault, DriveFaults, EngineFaults, PhaserFault, Spread
from phasko.bench.probe import Probe
from phasko.bench.scenario import PhaserCommand, Scenario, clear_flood_cranking, idling
from phasko.bench.sensors.hall import HallFault, HallPickup
from phasko.core.looks import Look

__all__ = ["STORIES", "Story", "Take"]

_SHAKES_LOOSE = HallPickup(fault=HallFault(dead_from_s=2.1, dead_to_s=2.9))


@dataclass(frozen=True, slots=True)
class Take:
    """One more recording of a story: what differs from its first."""

    capture: str
    seed: int
    scenario: Scenario | None = None
    faults: EngineFaults | None = None
    probes: tuple[Probe, ...] = ()
    after_repair: bool = False


@dataclass(frozen=True, slots=True)
class Story:
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
    more: tuple[Take, ...] = ()
    live: str = ""
    """The question whose hook-up is recorded from the simulated scope; the story has no files then."""


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

STORIES = (
    Story(
        vehicle="Library buses 3 to 6, on service days",
        make_model="Brimholt Folio",
        engine="brimholt-3.2-six",
        complaint="Sound engines, recorded at their services to compare others with",
        codes=(),
        capture="bus-3-service",
        seed=2131,
        known_good=True,
        more=tuple(Take(f"bus-{number}-service", 2128 + number) for number in (4, 5, 6)),
    ),
    Story(
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
        more=(Take("bus-7-cranking", 2171, clear_flood_cranking(4.4)),),
    ),
    Story(
        vehicle="Snow blower 1",
        make_model="Tarrant Meadow",
        engine="tarrant-3.0-straight-six",
        complaint="Hunts at idle after every pull up the hill, fine when it was started afresh",
        codes=("P0011",),
        capture="blower-1-cranking",
        seed=2211,
        more=(Take("blower-1-sweep", 2212, _SWEEP, _COMES_BACK_SHORT, _SWEEP_PROBES),),
    ),
    Story(
        vehicle="Ferry shuttle 1",
        make_model="Haverel Strand",
        engine="haverel-2.4-five",
        complaint="Weak and rough once it is hot, right again the next morning",
        codes=("P0017",),
        capture="shuttle-1-cold",
        seed=2251,
        scenario=replace(clear_flood_cranking(4.4), temperature="cold"),
        more=(Take("shuttle-1-hot", 2252, clear_flood_cranking(4.4), _LOCK_FAILS),),
    ),
    Story(
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
    Story(
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
    Story(
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
    Story(
        vehicle="Post car 5",
        make_model="Corvane Petrel",
        engine="corvane-2.1-four",
        complaint="Stalled on the ferry ramp and would not start again; chain rattled for months",
        codes=("P0016", "P0017"),
        capture="post-5-before",
        seed=503,
        faults=EngineFaults(DriveFaults(jumped_at_crank=-1)),
        more=(Take("post-5-after", seed=504, faults=EngineFaults(), after_repair=True),),
    ),
    Story(
        vehicle="Grader 2",
        make_model="Corvane Tern",
        engine="corvane-2.2-diesel",
        complaint="Cuts out for a moment on the gravel pit's washboard track, always while the blade is up",
        codes=("P0340",),
        capture="grader-2-washboard",
        seed=1006,
        probes=(Probe("crank"), Probe("cam", cam="B1E", hall=_SHAKES_LOOSE), Probe("starter_current")),
    ),
    Story(
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
    Story(
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
    Story(
        vehicle="Ferry tender 2",
        make_model="Ostrin Otter",
        engine="ostrin-1.6-distributor",
        complaint="Hard to start since the boatyard lifted the engine to reach the bilge pump",
        codes=("P0016",),
        capture="tender-2-cranking",
        seed=702,
        faults=EngineFaults(DriveFaults(sync_deg=13.0)),
    ),
    Story(
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
    Story(
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
    Story(
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
    Story(
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
    Story(
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
    Story(
        vehicle="Beach tractor 2",
        make_model="Ostrin Dune",
        engine="ostrin-1.6-distributor",
        complaint="Spits back and runs roughly since the distributor was out for a new cap",
        codes=("P0016",),
        capture="",
        seed=1903,
        faults=EngineFaults(DriveFaults(sync_deg=-11.0)),
        scenario=idling(2.0),
        looks=(_saw("spark", "present"),),
        live="sync",
    ),
)
