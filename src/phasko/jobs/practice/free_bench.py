"""The free bench: any fault in any size with what lies over it, seen while it is turned, and made into a car."""

from __future__ import annotations

from functools import lru_cache
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from phasko.bench.blind import (
    NUISANCES,
    ByHand,
    FaultSliders,
    Slider,
    Turning,
    car_by_hand,
    cycle_by_hand,
    profile_by_hand,
    sliders_of,
)
from phasko.bench.pool import pool_engine, pool_engines
from phasko.core.documents import EngineProfile
from phasko.core.documents.fault_name import FaultName
from phasko.core.errors import DocumentError
from phasko.core.handover import FAULT_SHORT
from phasko.core.words import cam_name
from phasko.jobs.practice.attempt import AttemptView, open_attempt
from phasko.store import Database
from phasko.store.made_cars import class_key, next_number
from phasko.store.models import Attempt, MadeCar

__all__ = [
    "BenchAsked",
    "BenchEngine",
    "BenchPicture",
    "ForClass",
    "ForMyself",
    "PutInClass",
    "bench_engines",
    "bench_picture",
    "put_in_class",
    "take_made",
]


class WayOut(BaseModel):
    """One kind of a fault; ``leak`` names it where there are several."""

    model_config = ConfigDict(frozen=True)
    leak: str | None
    title: str
    slider: Slider | None


class PlaceOut(BaseModel):
    """A cam, by its name and in words."""

    model_config = ConfigDict(frozen=True)
    id: str
    title: str


class FaultOut(BaseModel):
    """What one fault can be given on this engine."""

    model_config = ConfigDict(frozen=True)
    fault: FaultName
    title: str
    ways: list[WayOut]
    cams: list[str]
    many: bool
    crank: bool
    cylinders: list[int]
    signals: list[str]
    presents: list[str]


class NuisanceOut(BaseModel):
    """Something that lies over every fault."""

    model_config = ConfigDict(frozen=True)
    id: str
    slider: Slider


class BenchEngine(BaseModel):
    """An engine of the pool with everything that can be turned at it. ``tooth_deg``: one tooth of its crank wheel;
    ``pitch_deg``: one pitch of its drive at the crank."""

    model_config = ConfigDict(frozen=True)
    id: str
    name: str
    cams: list[PlaceOut]
    cylinders: list[int]
    faults: list[FaultOut]
    nuisances: list[NuisanceOut]
    tooth_deg: float | None
    pitch_deg: float | None


class BenchAsked(BaseModel):
    """The car as the sliders stand, how it turns, and whose pressure is asked (else that of the cylinder with the
    fault)."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    car: ByHand
    turning: Turning = "cranking"
    cylinder: Annotated[int | None, Field(ge=1, le=16)] = None


class LaneOut(BaseModel):
    """What one lead carries over the cycle, ``values`` in even steps of the crank from 0 to 720 degrees."""

    model_config = ConfigDict(frozen=True)
    role: str
    cam: str | None
    cylinder: int | None
    title: str
    unit: str
    values: list[float]


class CamReads(BaseModel):
    """How late one cam's signal reads, and how late its valves really are (crank degrees)."""

    model_config = ConfigDict(frozen=True)
    cam: str
    title: str
    signal_deg: float
    valves_deg: float


class Peak(BaseModel):
    """What one cylinder reaches over the surrounding air."""

    model_config = ConfigDict(frozen=True)
    cylinder: int
    bar: float
    at_deg: float


class SparkOut(BaseModel):
    """Where the control unit fires."""

    model_config = ConfigDict(frozen=True)
    cylinder: int
    deg: float


class BenchPicture(BaseModel):
    """One cycle of that car. ``words`` say what to know of it; without ``turns`` there are no lanes."""

    model_config = ConfigDict(frozen=True)
    turns: bool
    words: str
    lanes: list[LaneOut]
    cams: list[CamReads]
    peaks: list[Peak]
    sparks: list[SparkOut]
    rpm: float


class ForMyself(BaseModel):
    """A car by hand, to practise on at once."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    car: ByHand
    person: Annotated[str, Field(min_length=1, max_length=60)]


class ForClass(ForMyself):
    """A car by hand, for everybody of a class."""

    class_name: Annotated[str, Field(min_length=1, max_length=60)]


class PutInClass(BaseModel):
    """Under which number the class takes it."""

    model_config = ConfigDict(frozen=True)
    class_name: str
    number: int


@lru_cache(maxsize=1)
def bench_engines() -> list[BenchEngine]:
    """Every engine of the pool, with its faults and what can be turned."""
    return [_engine(name, pool_engine(name)) for name in sorted(pool_engines())]


def _engine(name: str, profile: EngineProfile) -> BenchEngine:
    sprocket = profile.drive.crank_sprocket_teeth if profile.drive is not None else None
    return BenchEngine(
        id=name,
        name=profile.name,
        cams=[PlaceOut(id=cam.id, title=_cam_title(profile, cam.id)) for cam in profile.cams],
        cylinders=sorted(int(cylinder) for cylinder in profile.firing_order),
        faults=[_fault(one) for one in sliders_of(profile)],
        nuisances=[NuisanceOut(id=key, slider=slider) for key, slider in NUISANCES.items()],
        tooth_deg=profile.crank.known_wheel.pitch_deg,
        pitch_deg=360.0 / sprocket if sprocket else None,
    )


_LEAK_TITLES = {"rings": "rings", "exhaust_valve": "exhaust valve", "plug": "plug is loose"}


def _fault(one: FaultSliders) -> FaultOut:
    return FaultOut(
        fault=one.fault,
        title=FAULT_SHORT[one.fault],
        ways=[
            WayOut(
                leak=way.leak,
                title=_LEAK_TITLES.get(way.leak or "", ""),
                slider=way.slider,
            )
            for way in one.ways
        ],
        cams=list(one.cams),
        many=one.many,
        crank=one.crank,
        cylinders=list(one.cylinders),
        signals=list(one.signals),
        presents=list(one.presents),
    )


def bench_picture(asked: BenchAsked) -> BenchPicture:
    """One cycle of the car as the sliders stand. Raises NotFoundError for an unknown engine, DocumentError for a fault,
    a place or a size that it cannot have."""
    profile = profile_by_hand(asked.car)
    if asked.cylinder is not None and asked.cylinder not in profile.firing_tdc_deg:
        raise DocumentError(f"{profile.name} has no cylinder {asked.cylinder}", place="cylinder")
    cycle = cycle_by_hand(asked.car, asked.turning, asked.cylinder)
    lanes = [
        LaneOut(
            role=lane.role,
            cam=lane.cam,
            cylinder=lane.cylinder,
            title=_lane_title(profile, lane.role, lane.cam, lane.cylinder),
            unit=lane.unit,
            values=lane.values.round(3).tolist(),
        )
        for lane in cycle.lanes
    ]
    return BenchPicture(
        turns=cycle.turns,
        words=_words(asked, cycle.turns),
        lanes=lanes,
        cams=[
            CamReads(cam=cam, title=_cam_title(profile, cam), signal_deg=deg, valves_deg=cycle.valves_deg[cam])
            for cam, deg in cycle.offsets_deg.items()
        ],
        peaks=[
            Peak(cylinder=one, bar=bar, at_deg=profile.firing_tdc_deg[one] % 720.0)
            for one, bar in sorted(cycle.peaks_bar.items())
        ],
        sparks=[SparkOut(cylinder=one, deg=deg) for one, deg in cycle.sparks],
        rpm=cycle.rpm,
    )


def _words(asked: BenchAsked, turns: bool) -> str:
    if not turns:
        return (
            "It does not keep running like this. Look at it cranking."
            if asked.turning == "idle"
            else "The starter does not turn it over like this."
        )
    if asked.car.fault == "something_else":
        return "Too little fuel arrives; nothing of that shows in these signals."
    if asked.car.sized.present != "always":
        return "The fault is shown as it is while it is there."
    return ""


def _cam_title(profile: EngineProfile, cam_id: str) -> str:
    cam = profile.cam(cam_id)
    return cam_id if cam is None else cam_name(cam, profile)


_ROLE_TITLES = {
    "crank": "Crank sensor",
    "starter_current": "Starter current",
    "intake_pulse": "Intake pulses",
    "exhaust_pulse": "Exhaust pulses",
    "speed": "Speed of the crank",
}


def _lane_title(profile: EngineProfile, role: str, cam: str | None, cylinder: int | None) -> str:
    if role == "cam":
        return _cam_title(profile, cam or "")
    if role == "cylinder_pressure":
        return f"Pressure in cylinder {cylinder}"
    return _ROLE_TITLES[role]


def take_made(database: Database, asked: ForMyself) -> AttemptView:
    """Makes the car and begins at it. Its points stay out of the curve: whoever made it knows it. Raises DocumentError
    for a car that cannot be, or without a name."""
    person = _named(asked.person, "person")
    return open_attempt(database, Attempt(kind="made", person=person), car_by_hand(asked.car))


def put_in_class(database: Database, asked: ForClass) -> PutInClass:
    """Makes the car the next one of that class which nobody has begun at. Raises DocumentError for a car that cannot
    be, or without names."""
    person, class_name = _named(asked.person, "person"), _named(asked.class_name, "class_name")
    car = car_by_hand(asked.car)
    with database.transaction() as session:
        number = next_number(session, class_name)
        made = MadeCar(class_key=class_key(class_name), number=number, made_by=person, car=car.model_dump_json())
        session.add(made)
    return PutInClass(class_name=class_name, number=number)


def _named(name: str, place: str) -> str:
    if not name.strip():
        raise DocumentError("Say who makes it, and for which class", place=place, kept="Nothing was made")
    return name.strip()
