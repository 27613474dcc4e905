"""The engine profile document, ``phasko.engine/1``: what is known about one engine type."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from typing import Annotated, Literal, Self

from pydantic import BaseModel, ConfigDict, Field, model_validator

from phasko.core.documents.fault_name import FaultName

__all__ = [
    "AuxWheel",
    "Bank",
    "Cam",
    "CamEdge",
    "Crank",
    "Drive",
    "EngineProfile",
    "Geometry",
    "Ignition",
    "Phaser",
    "RefinedFrom",
    "SensorKind",
    "TypicalFailure",
    "ValveClearance",
    "ValveTiming",
    "Wheel",
]

SensorKind = Literal["hall", "optical", "vr", "unknown"]
"""``unknown``: the signal itself shows whether it switches or swings."""
EdgeKind = Literal["rising", "falling"]
Positive = Annotated[float, Field(ge=1e-6, le=1e6, allow_inf_nan=False)]
Pressure = Annotated[float, Field(ge=0.5, le=100, allow_inf_nan=False)]
Uncertainty = Annotated[float, Field(ge=0, le=90, allow_inf_nan=False)]
TurnAngle = Annotated[float, Field(ge=0, lt=360, allow_inf_nan=False)]
CycleAngle = Annotated[float, Field(ge=0, lt=720, allow_inf_nan=False)]
Finite = Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)]


class ProfilePart(BaseModel):
    """Common rules of all parts: frozen, and an unknown key is an error, not a silent loss."""

    model_config = ConfigDict(frozen=True, extra="forbid")


class Bank(ProfilePart):
    bank: int = Field(ge=1)
    cylinders: list[int]


class Geometry(ProfilePart):
    bore_mm: Annotated[float, Field(ge=10, le=400, allow_inf_nan=False)]
    stroke_mm: Annotated[float, Field(ge=10, le=500, allow_inf_nan=False)]
    rod_mm: Annotated[float, Field(ge=20, le=1200, allow_inf_nan=False)]
    compression_ratio: Annotated[float, Field(gt=1, le=40)]
    crank_offset_mm: Finite = 0.0

    @model_validator(mode="after")
    def _rod_reaches(self) -> Self:
        if self.rod_mm <= self.stroke_mm / 2 + abs(self.crank_offset_mm):
            raise ValueError("rod_mm must be longer than half the stroke plus crank_offset_mm")
        return self


class Wheel(ProfilePart):
    """A signal wheel: equal ``slots`` of which some are ``missing``, or ``teeth_deg`` after the index tooth."""

    slots: int | None = Field(default=None, ge=2, le=720)
    missing: list[int] = Field(default_factory=list)
    teeth_deg: list[TurnAngle] | None = None

    @model_validator(mode="after")
    def _one_description(self) -> Self:
        if (self.slots is None) == (self.teeth_deg is None):
            raise ValueError("give either slots (with missing) or teeth_deg, not both and not neither")
        if self.slots is not None:
            _check_missing(self.slots, self.missing)
        else:
            if self.missing:
                raise ValueError("missing belongs to slots; leave it out beside teeth_deg")
            _check_teeth(self.teeth_deg or [])
        return self

    @property
    def pitch_deg(self) -> float | None:
        """Crank degrees from slot to slot, missing ones counted; ``None`` for an irregular wheel."""
        return None if self.slots is None else 360.0 / self.slots

    @property
    def angles_deg(self) -> tuple[float, ...]:
        """Angle of each real tooth's timing edge after tooth 1, ascending in [0, 360)."""
        if self.slots is None:
            return tuple(self.teeth_deg or ())
        absent = set(self.missing)
        return tuple((slot - 1) * 360.0 / self.slots for slot in range(1, self.slots + 1) if slot not in absent)


def _check_missing(slots: int, missing: Sequence[int]) -> None:
    outside = [slot for slot in missing if not 1 <= slot <= slots]
    if outside:
        raise ValueError(f"missing names slot {outside[0]}, but the wheel has slots 1 to {slots}")
    if len(set(missing)) != len(missing):
        raise ValueError("missing names a slot twice")
    if slots - len(missing) < 2:
        raise ValueError(f"{slots} slots with {len(missing)} missing leave fewer than two teeth")


def _check_teeth(teeth_deg: Sequence[float]) -> None:
    if len(teeth_deg) < 1 or teeth_deg[0] != 0:
        raise ValueError("teeth_deg must begin with the index tooth itself, 0")
    if any(b <= a for a, b in itertools.pairwise(teeth_deg)):
        raise ValueError("teeth_deg must ascend")


class Crank(ProfilePart):
    sensor: SensorKind = "hall"
    timing_edge: EdgeKind = "falling"
    wheel: Wheel | None = None
    index_deg: TurnAngle | None = None
    index_u95_deg: Uncertainty | None = None
    tooth_deg: Annotated[float, Field(gt=-360, lt=360)] | None = None

    @property
    def known_wheel(self) -> Wheel:
        """The wheel, where it is given or has been learnt. Raises ValueError where it is neither."""
        if self.wheel is None:
            raise ValueError("the profile does not describe the crank wheel")
        return self.wheel


class AuxWheel(ProfilePart):
    id: str = Field(min_length=1)
    turns_with: str = Field(min_length=1)
    sensor: SensorKind = "hall"
    timing_edge: EdgeKind = "falling"
    teeth_deg: list[CycleAngle] = Field(min_length=1)


class CamEdge(ProfilePart):
    deg: CycleAngle
    kind: EdgeKind


class Phaser(ProfilePart):
    park: Literal["retarded", "advanced", "mid"]
    range_deg: Annotated[float, Field(gt=0, le=180)]

    @property
    def authority_deg(self) -> tuple[float, float]:
        """Offsets a healthy phaser can reach, (lowest, highest); late is positive."""
        if self.park == "retarded":
            return -self.range_deg, 0.0
        if self.park == "advanced":
            return 0.0, self.range_deg
        return -self.range_deg / 2, self.range_deg / 2


class Cam(ProfilePart):
    id: str = Field(min_length=1)
    bank: int = 1
    shaft: Literal["intake", "exhaust", "single"] = "single"
    sensor: SensorKind = "hall"
    tolerance_deg: Annotated[float, Field(gt=0, le=90)] = 5.0
    edges_u95_deg: Uncertainty | None = None
    edges: list[CamEdge] = Field(default_factory=list)
    phaser: Phaser | None = None

    @model_validator(mode="after")
    def _edges_make_sense(self) -> Self:
        ordered = sorted(self.edges, key=lambda edge: edge.deg)
        if any(a.deg == b.deg for a, b in itertools.pairwise(ordered)):
            raise ValueError(f"cam {self.id}: two edges stand at the same angle")
        if self.sensor in ("vr", "unknown") or not ordered:
            return self
        pairs = zip(ordered, [*ordered[1:], ordered[0]], strict=True)
        if any(a.kind == b.kind for a, b in pairs):
            raise ValueError(f"cam {self.id}: rising and falling edges must alternate round the 720 degrees")
        return self


class ValveTiming(ProfilePart):
    lift_mm: Positive = 0.5
    exhaust_open_deg: CycleAngle
    exhaust_close_deg: CycleAngle
    intake_open_deg: CycleAngle
    intake_close_deg: CycleAngle


class Drive(ProfilePart):
    type: Literal["chain", "belt", "gear", "distributor_gear"] = "chain"
    pitch_mm: Annotated[float, Field(ge=2, le=60, allow_inf_nan=False)] | None = None
    crank_sprocket_teeth: int | None = Field(default=None, ge=5, le=200)
    pitch_crank_deg: dict[str, list[Positive]] = Field(default_factory=dict)
    free_links: dict[str, Annotated[float, Field(ge=0)]] = Field(default_factory=dict)


class Ignition(ProfilePart):
    type: Literal["coil_on_plug", "wasted_spark", "distributor", "none"]
    cranking_spark_deg: tuple[Finite, Finite] | None = None


class ValveClearance(ProfilePart):
    """How far a cam may be out before a valve meets a piston, in crank degrees."""

    exhaust_late: Annotated[float, Field(ge=0, le=180)] = 10.0
    intake_early: Annotated[float, Field(ge=0, le=180)] = 10.0


class TypicalFailure(ProfilePart):
    """A failure that this type of engine is known for: it moves the chance of ``fault`` by ``factor``, never the
    gate."""

    fault: FaultName
    factor: Annotated[float, Field(ge=0.2, le=5.0)] = 1.0
    text: Annotated[str, Field(max_length=500)] = ""


class LearntFrom(ProfilePart):
    """Where edges of ``cams`` come from that were read from one car's own signals: the capture, the index they were
    written for (``None``: they count from tooth 1), and how that car was ``known_good``. Until somebody says so its
    edges are a pattern, no reference."""

    capture: str = ""
    cams: list[str] = Field(default_factory=list)
    index_deg: TurnAngle | None = None
    known_good: str | None = None


class RefinedFrom(ProfilePart):
    """Known good captures (by hash) that edges, index and half widths of this version rest on, and from how many
    engines; a later refinement leaves them out, so that none counts twice."""

    captures: list[str] = Field(default_factory=list)
    engines: int = 0


class EngineProfile(ProfilePart):
    """One engine type. Only name, cylinders, firing order and the crank are required; absent means not known."""

    schema_: Literal["phasko.engine/1"] = Field(alias="schema")
    name: str = Field(min_length=1)
    cylinders: int = Field(ge=1, le=24)
    layout: Literal["inline", "vee", "flat"] | None = None
    banks: list[Bank] = Field(default_factory=list)
    firing_order: list[int]
    firing_angles_deg: list[CycleAngle] | None = None
    displacement_l: Annotated[float, Field(ge=0.02, le=60, allow_inf_nan=False)] | None = None
    interference: bool | None = None
    geometry: Geometry | None = None
    crank: Crank
    aux_wheels: list[AuxWheel] = Field(default_factory=list)
    cams: list[Cam] = Field(default_factory=list)
    valve_timing: ValveTiming | None = None
    drive: Drive | None = None
    ignition: Ignition | None = None
    cranking_pressure_bar: tuple[Pressure, Pressure] | None = None
    learnt: LearntFrom | None = None
    refined: RefinedFrom | None = None
    valve_clearance_deg: ValveClearance | None = None
    typical_failures: list[TypicalFailure] = Field(default_factory=list)

    model_config = ConfigDict(frozen=True, extra="forbid", populate_by_name=True)

    @model_validator(mode="after")
    def _consistent(self) -> Self:
        everyone = set(range(1, self.cylinders + 1))
        _check_firing_order(self.firing_order, everyone)
        self._check_firing_angles()
        self._check_banks(everyone)
        self._check_ids()
        return self

    def _check_firing_angles(self) -> None:
        angles = self.firing_angles_deg
        if angles is None:
            return
        if len(angles) != self.cylinders:
            raise ValueError(f"firing_angles_deg has {len(angles)} angles for {self.cylinders} cylinders")
        if angles[0] != 0 or any(b <= a for a, b in itertools.pairwise(angles)):
            raise ValueError("firing_angles_deg must begin with 0 and ascend, one per place in firing_order")

    def _check_banks(self, everyone: set[int]) -> None:
        if not self.banks:
            return
        listed = [cylinder for bank in self.banks for cylinder in bank.cylinders]
        if len(set(listed)) != len(listed):
            raise ValueError("banks name a cylinder twice")
        if set(listed) != everyone:
            odd = sorted(set(listed) ^ everyone)[0]
            raise ValueError(f"banks and cylinders disagree about cylinder {odd}")
        known = {bank.bank for bank in self.banks}
        for cam in self.cams:
            if cam.bank not in known:
                raise ValueError(f"cam {cam.id} sits on bank {cam.bank}, which banks does not list")

    def _check_ids(self) -> None:
        ids = [cam.id for cam in self.cams]
        if len(set(ids)) != len(ids):
            raise ValueError("two cams have the same id")
        if self.drive is None:
            return
        for field, named in (("free_links", self.drive.free_links), ("pitch_crank_deg", self.drive.pitch_crank_deg)):
            unknown = sorted(set(named) - set(ids))
            if unknown:
                raise ValueError(f"drive.{field} names cam {unknown[0]}, which cams does not list")

    @property
    def reference_cams(self) -> frozenset[str]:
        """Ids of the cams whose edges say where a healthy engine has them: not those learnt from a car of which nobody
        has said that it was good."""
        doubtful = set(self.learnt.cams) if self.learnt is not None and not self.learnt.known_good else set()
        return frozenset(cam.id for cam in self.cams if cam.edges and cam.id not in doubtful)

    @property
    def placed_cams(self) -> frozenset[str]:
        """Ids of the reference cams whose edges are angles after TDC 1: learnt edges without an index are not, and
        cannot tell which cylinder is which."""
        adrift = set(self.learnt.cams) if self.learnt is not None and self.learnt.index_deg is None else set()
        return self.reference_cams - adrift

    def moved_with_index(self) -> EngineProfile:
        """The same with learnt edges moved along where ``crank.index_deg`` is another one than they were written for.

        Learnt edges are angles after tooth 1. They were written as if tooth 1 passed at ``learnt.index_deg`` (0 where
        that is not known); a new index moves tooth 1, and they move with it."""
        learnt, index = self.learnt, self.crank.index_deg
        if learnt is None or learnt.index_deg == index:
            return self
        by = (index or 0.0) - (learnt.index_deg or 0.0)
        cams = [
            cam.model_copy(update={"edges": _moved(cam.edges, by)}) if cam.id in learnt.cams else cam
            for cam in self.cams
        ]
        return self.model_copy(update={"cams": cams, "learnt": learnt.model_copy(update={"index_deg": index})})

    def cam(self, cam_id: str) -> Cam | None:
        """The cam with that id, or ``None``."""
        return next((cam for cam in self.cams if cam.id == cam_id), None)

    def whole_bank(self, bank: int | None) -> tuple[int, ...]:
        """The cylinders of a bank, where there are several banks; else none."""
        if len(self.banks) < 2:
            return ()
        return tuple(sorted(next((b.cylinders for b in self.banks if b.bank == bank), [])))

    @property
    def bank_of(self) -> dict[int, int]:
        """The bank of every cylinder; 1 where no banks are named."""
        named = {c: bank.bank for bank in self.banks for c in bank.cylinders}
        return {c: named.get(c, 1) for c in self.firing_order}

    @property
    def fires_evenly(self) -> bool:
        """Whether all firing intervals are alike, within five degrees."""
        angles = sorted(self.firing_tdc_deg.values())
        steps = [b - a for a, b in itertools.pairwise([*angles, angles[0] + 720.0])]
        return max(steps) - min(steps) < 5.0

    @property
    def firing_tdc_deg(self) -> dict[int, float]:
        """Crank angle of each cylinder's firing TDC in cylinder 1's frame, in firing order, each in [0, 720)."""
        angles = self.firing_angles_deg or [720.0 * i / self.cylinders for i in range(self.cylinders)]
        of_one = angles[self.firing_order.index(1)]
        return {cyl: (angle - of_one) % 720.0 for cyl, angle in zip(self.firing_order, angles, strict=True)}


def _moved(edges: Sequence[CamEdge], by_deg: float) -> list[CamEdge]:
    """Edges later by so much, again in [0, 720) and ascending."""
    moved = [edge.model_copy(update={"deg": round((edge.deg + by_deg) % 720.0, 6) % 720.0}) for edge in edges]
    return sorted(moved, key=lambda edge: edge.deg)


def _check_firing_order(order: Sequence[int], everyone: set[int]) -> None:
    absent = sorted(everyone - set(order))
    if absent:
        raise ValueError(f"firing_order misses cylinder {absent[0]}")
    if len(order) != len(everyone):
        raise ValueError("firing_order names a cylinder twice or one that does not exist")
