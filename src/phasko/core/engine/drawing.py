"""Everything a drawing of an engine needs: its signal wheels, its firing order on the block, its timing drive."""

from __future__ import annotations

from typing import Literal

import numpy as np
from pydantic import BaseModel, ConfigDict

from phasko.core.documents.engine import AuxWheel, Cam, Crank, EngineProfile
from phasko.core.engine.timing_drive import elongation_lateness_deg, pitch_stages_deg, sprocket_diameter_mm
from phasko.core.engine.wheel import LONG_GAP, gaps_deg, wheel_name
from phasko.core.words import cam_name

__all__ = ["EngineDrawing", "engine_drawing"]

MARK_DEG = 6.0
"""A tooth of which only one edge is known is drawn so many degrees wide."""


class DrawingPart(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class Arc(DrawingPart):
    """Passes its sensor from one crank angle to another; ``to_deg`` is not below ``from_deg`` and may exceed a turn."""

    from_deg: float
    to_deg: float


class SignalWheel(DrawingPart):
    """One wheel by the crank angles at which its parts pass the sensor: from cylinder 1's firing TDC, or from tooth 1
    where the profile has no index. ``turn_deg`` is one turn of it in crank degrees, 360 or 720."""

    name: str
    kind: Literal["crank", "aux", "intake", "exhaust", "single"]
    label: str
    turn_deg: float
    teeth: list[Arc]
    gaps: list[Arc]
    accurate_deg: list[float]


class FiringPlace(DrawingPart):
    """One cylinder: when it fires, and where it stands; ``bank`` 1 where the profile names none."""

    cylinder: int
    tdc_deg: float
    bank: int
    place_in_bank: int


class DriveStage(DrawingPart):
    """One chain, belt or gear between crank and cam: crank degrees per pitch, the teeth of the sprocket that would have
    it on the crank, and its pitch circle where the chain's pitch is known."""

    pitch_crank_deg: float
    teeth: float
    diameter_mm: float | None = None


class CamDrive(DrawingPart):
    """The way from the crank to one cam. ``late_per_percent_deg``: how late one percent of elongation makes it."""

    cam: str
    label: str
    bank: int
    stages: list[DriveStage]
    free_links: float | None
    late_per_percent_deg: float | None


class DriveLoop(DrawingPart):
    """One chain or belt: the sprockets it runs round, ``crank``, ``idler N`` of bank N (0: of all), or a cam's id."""

    stage: int
    around: list[str]


class EngineDrawing(DrawingPart):
    """``index_known``: angles count from cylinder 1's firing TDC, else from tooth 1."""

    name: str
    wheel: str | None
    index_known: bool
    layout: Literal["inline", "vee", "flat"] | None
    drive_type: str | None
    wheels: list[SignalWheel]
    firing: list[FiringPlace]
    drives: list[CamDrive]
    loops: list[DriveLoop]


def engine_drawing(profile: EngineProfile) -> EngineDrawing:
    """The drawing of a profile, with what it does not say left out."""
    crank = profile.crank
    wheels = [_crank_wheel(crank)] if crank.wheel is not None else []
    wheels += [_aux_wheel(wheel) for wheel in profile.aux_wheels]
    wheels += [_cam_wheel(profile, cam) for cam in profile.cams if cam.edges]
    return EngineDrawing(
        name=profile.name,
        wheel=None if crank.wheel is None else wheel_name(crank.wheel),
        index_known=crank.index_deg is not None,
        layout=profile.layout,
        drive_type=profile.drive.type if profile.drive is not None else None,
        wheels=wheels,
        firing=_firing(profile),
        drives=[_drive(profile, cam) for cam in profile.cams],
        loops=drive_loops(profile),
    )


def _crank_wheel(crank: Crank) -> SignalWheel:
    """Teeth lie between the timing edge and the other edge (half a usual gap where the profile does not say how far
    that is), for an inductive sensor about the crossing."""
    wheel, index = crank.known_wheel, crank.index_deg or 0.0
    angles = np.array(wheel.angles_deg) + index
    gaps = gaps_deg(wheel)
    usual = float(np.median(gaps))
    width = usual / 2 if crank.tooth_deg is None else crank.tooth_deg
    if crank.sensor == "vr":
        teeth = [_arc(at - abs(width) / 2, at + abs(width) / 2) for at in angles.tolist()]
    else:
        teeth = [_arc(*sorted((at, at + width))) for at in angles.tolist()]
    long = [(at, at + gap) for at, gap in zip(angles.tolist(), gaps.tolist(), strict=True) if gap > LONG_GAP * usual]
    return SignalWheel(
        name="crank",
        kind="crank",
        label=f"Crank {wheel_name(wheel)}",
        turn_deg=360.0,
        teeth=teeth,
        gaps=[_arc(*ends) for ends in long],
        accurate_deg=[at % 360.0 for at in angles.tolist()],
    )


def _aux_wheel(wheel: AuxWheel) -> SignalWheel:
    turn = 360.0 if wheel.turns_with == "crank" else 720.0
    return SignalWheel(
        name=wheel.id,
        kind="aux",
        label=f"Wheel {wheel.id}",
        turn_deg=turn,
        teeth=[_arc(at - MARK_DEG / 2, at + MARK_DEG / 2) for at in wheel.teeth_deg],
        gaps=[],
        accurate_deg=list(wheel.teeth_deg),
    )


def _cam_wheel(profile: EngineProfile, cam: Cam) -> SignalWheel:
    """High between rising and falling edge; an inductive cam sensor gives one mark per crossing."""
    edges = sorted(cam.edges, key=lambda edge: edge.deg)
    teeth = []
    for edge, after in zip(edges, [*edges[1:], edges[0]], strict=True):
        if edge.kind == "rising" and after.kind == "falling":
            teeth.append(_arc(edge.deg, edge.deg + (after.deg - edge.deg) % 720.0))
    if cam.sensor == "vr" or not teeth:
        teeth = [_arc(edge.deg - MARK_DEG, edge.deg + MARK_DEG) for edge in edges]
    return SignalWheel(
        name=cam.id,
        kind=cam.shaft,
        label=cam_name(cam, profile),
        turn_deg=720.0,
        teeth=teeth,
        gaps=[],
        accurate_deg=[edge.deg for edge in edges],
    )


def _arc(from_deg: float, to_deg: float) -> Arc:
    return Arc(from_deg=from_deg, to_deg=to_deg)


def _firing(profile: EngineProfile) -> list[FiringPlace]:
    banks = {b.bank: b.cylinders for b in profile.banks} or {1: sorted(profile.firing_order)}
    stands = {cylinder: (bank, i) for bank, members in banks.items() for i, cylinder in enumerate(members)}
    return [
        FiringPlace(cylinder=cylinder, tdc_deg=tdc, bank=stands[cylinder][0], place_in_bank=stands[cylinder][1])
        for cylinder, tdc in profile.firing_tdc_deg.items()
    ]


def drive_loops(profile: EngineProfile) -> list[DriveLoop]:
    """Each chain or belt once, as it runs: a belt round all cams, chains bank by bank (common practice, no source).

    With two stages the first runs to an idler and the second from there. None for gears, or where no cam is listed.
    """
    drive = profile.drive
    if drive is None or drive.type not in ("chain", "belt"):
        return []
    banks = [0] if drive.type == "belt" else sorted({cam.bank for cam in profile.cams})
    found = []
    for bank in banks:
        cams = [cam.id for cam in profile.cams if bank in (0, cam.bank)]
        staged = [cam for cam in cams if len(pitch_stages_deg(drive, cam)) > 1]
        direct = [cam for cam in cams if len(pitch_stages_deg(drive, cam)) == 1]
        if direct:
            found.append(DriveLoop(stage=0, around=["crank", *direct]))
        if staged:
            idler = f"idler {bank}"
            found += [DriveLoop(stage=0, around=["crank", idler]), DriveLoop(stage=1, around=[idler, *staged])]
    return found


def _drive(profile: EngineProfile, cam: Cam) -> CamDrive:
    drive = profile.drive
    pitch_mm = drive.pitch_mm if drive is not None and drive.type in ("chain", "belt") else None
    stages = [
        DriveStage(
            pitch_crank_deg=p,
            teeth=360.0 / p,
            diameter_mm=None if pitch_mm is None else sprocket_diameter_mm(pitch_mm, 360.0 / p),
        )
        for p in pitch_stages_deg(drive, cam.id)
    ]
    links = drive.free_links.get(cam.id) if drive is not None else None
    late = elongation_lateness_deg(drive, cam.id, 1.0) if stages and links is not None else None
    return CamDrive(
        cam=cam.id,
        label=cam_name(cam, profile),
        bank=cam.bank,
        stages=stages,
        free_links=links,
        late_per_percent_deg=late,
    )
