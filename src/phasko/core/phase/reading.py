"""One cam in one segment: its edges, where they stand against the reference, and what that comparison is worth."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from phasko.core.angles import wrap_cycle
from phasko.core.crank.segments import Segment, SegmentKind
from phasko.core.cycle.cycle_half import PieceTurn
from phasko.core.documents.engine import Cam, CamEdge, EngineProfile
from phasko.core.phase.banks import BankDifference, PlacedCam, compare_banks
from phasko.core.phase.irregularities import SignalEvent, cam_events
from phasko.core.phase.offset import CamEdges, CamOffset, cam_edges_in_piece, cam_offset
from phasko.core.phase.reference import CamReference
from phasko.core.signals.switching import EdgeTrain

__all__ = ["CamReading", "CamRun", "against_reference", "cam_run", "read_cam", "with_banks"]


@dataclass(frozen=True, slots=True, eq=False)
class CamReading:
    """One cam in one segment. ``relative`` is how far its edges stand from those of ``reference`` on the clock as it
    is; ``offset`` is the same where that is an offset of the engine, and ``None`` where the wheel's place or the cam's
    edges are not known. ``bank`` compares it with the like cam of the other bank. ``swapped``: its channel seems to
    be swapped with another one, so nothing is concluded from it.
    """

    reference: CamReference
    segment: SegmentKind
    edges: CamEdges
    relative: CamOffset | None
    offset: CamOffset | None
    ambiguous_modulo_deg: float | None
    missing_edges: int
    extra_edges: int
    bank: BankDifference | None = None
    swapped: bool = False

    @property
    def cam(self) -> Cam:
        """The cam with the edges it is compared with."""
        return self.reference.cam


@dataclass(frozen=True, slots=True, eq=False)
class CamRun:
    """Every edge of one cam over the whole capture, piece by piece, with what was lost and added."""

    cam: Cam
    edges: CamEdges
    modulo_deg: float | None
    events: tuple[SignalEvent, ...]


def cam_run(cam: Cam, train: EdgeTrain, pieces: Sequence[PieceTurn]) -> CamRun | None:
    """Reads the cam in every piece in which its pattern was found; ``None`` where it was in none."""
    parts: list[CamEdges] = []
    events: list[SignalEvent] = []
    modulo: float | None = None
    first_cycle = 0
    for turn in pieces:
        place = turn.places.get(cam.id)
        if place is not None:
            modulo = place.ambiguous_modulo_deg or modulo
            part = cam_edges_in_piece(train, turn.piece, cam, place, first_cycle)
            parts.append(part)
            events += cam_events(cam.id, train, turn, part, cam.edges, first_cycle)
        first_cycle += 2 + int(np.ptp(turn.piece.angles_deg) // 720.0)
    return CamRun(cam, CamEdges.joined(parts), modulo, tuple(events)) if parts else None


def read_cam(
    reference: CamReference,
    kind: SegmentKind,
    run: CamRun,
    segments: Sequence[Segment],
    index_known: bool,
    swapped: bool,
) -> CamReading | None:
    """The cam in all segments of one kind; ``None`` without an edge there.

    The difference to a known good capture needs no index, since both stand on the same kind of wheel.
    """
    spans = [(segment.from_s, segment.to_s) for segment in segments if segment.kind == kind]
    edges = _against(run.edges.within(spans), run.cam, reference.cam)
    relative = cam_offset(edges, reference.cam, reference.u95_deg)
    if relative is None and not edges.times_s.size:
        return None
    absolute = reference.source == "reference" or (reference.source == "profile" and index_known)
    inside = [e for e in run.events if any(low <= e.time_s <= high for low, high in spans)]
    return CamReading(
        reference=reference,
        segment=kind,
        edges=edges,
        relative=relative,
        offset=relative if absolute else None,
        ambiguous_modulo_deg=run.modulo_deg,
        missing_edges=sum(event.count for event in inside if event.kind != "extra"),
        extra_edges=sum(event.count for event in inside if event.kind == "extra"),
        bank=None,
        swapped=swapped,
    )


def against_reference(run: CamRun, reading: CamReading) -> CamEdges:
    """All edges of the run, each with its lateness against the edges that ``reading`` is compared with."""
    return _against(run.edges, run.cam, reading.cam)


def _against(edges: CamEdges, cam: Cam, reference: Cam) -> CamEdges:
    """The same edges with their lateness against another set of reference edges."""
    moved = np.array([wrap_cycle(b.deg - a.deg) for a, b in zip(cam.edges, reference.edges, strict=True)])
    if not moved.any():
        return edges
    shift = np.where(edges.reference >= 0, moved[np.maximum(edges.reference, 0)], 0.0)
    return replace(edges, delta_deg=edges.delta_deg - shift)


def with_banks(
    readings: Sequence[CamReading], profile: EngineProfile, known: Collection[str]
) -> tuple[CamReading, ...]:
    """The same readings; those without an offset of their own are compared with the like cam of the other bank."""
    placed = [
        PlacedCam(r.cam.id, r.segment, _standing(r), r.relative.offset.u95, r.cam.edges_u95_deg)
        for r in readings
        if r.relative is not None and r.offset is None and not r.swapped
    ]
    found: Mapping[tuple[str, str], BankDifference] = {
        (d.cam, d.segment): d for d in compare_banks(placed, profile, known)
    }
    return tuple(replace(r, bank=found.get((r.cam.id, r.segment))) for r in readings)


def _standing(reading: CamReading) -> tuple[CamEdge, ...]:
    """Where the edges stand on the clock: the reference's, each moved by its mean deviation."""
    assert reading.relative is not None
    means = reading.relative.statistics.edge_means
    return tuple(
        edge.model_copy(update={"deg": (edge.deg + float(means[i])) % 720.0})
        for i, edge in enumerate(reading.cam.edges)
        if np.isfinite(means[i])
    )
