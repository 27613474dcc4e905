"""Why a cam reads so many degrees, and why the crank's TDC stands where it does."""

from __future__ import annotations

import math
from collections.abc import Iterator

from phasko.core.documents.analysis import CamResult, CaptureResult, CrankResult
from phasko.core.documents.engine import EngineProfile
from phasko.core.why.answer import Part, SoMuch, Why, cycles_words
from phasko.core.words import angle_words, cam_name, plus_minus

__all__ = ["offset_whys"]

_GUM = "Half widths of parts that do not depend on each other add as squares: JCGM 100:2008 (GUM), 5.1.2; from memory."
_TDC_BY = {
    "cylinder_pressure": "The line of symmetry of a cylinder's pressure about its TDC, less the loss angle.",
    "speed": "The crank's speed over a cycle, whose dips lie before each firing TDC.",
    "current": "The humps of the starter current, which end at each firing TDC.",
    "joined": "Pressure and the crank's speed, each weighted by 1 over its half width squared.",
}


def offset_whys(capture: CaptureResult, number: int, engine: EngineProfile) -> Iterator[Why]:
    """One for each cam that has something to be compared with, and one for the TDC where it was found;
    ``number`` is the capture's own."""
    for cam in capture.cams:
        if cam.offset_deg is not None and cam.offset_u95_deg is not None and cam.total_u95_deg is not None:
            yield _offset(capture, number, cam, engine)
    if capture.crank is not None and capture.crank.index_offset_deg is not None:
        yield _tdc(capture, number, capture.crank)


def _offset(capture: CaptureResult, number: int, one: CamResult, engine: EngineProfile) -> Why:
    total, own, offset = one.total_u95_deg or 0.0, one.offset_u95_deg or 0.0, one.offset_deg or 0.0
    cam = engine.cam(one.cam)
    # An edge that was not seen, or that the reference lacks, is no part of the mean.
    edges = [edge for edge in one.edges if edge.delta_deg is not None]
    parts = [
        Part(name=f"Edge {edge.edge}, {edge.kind}", value=_edge(edge.measured_deg, edge.reference_deg))
        for edge in edges
    ]
    parts.append(Part(name="of the measurement", value=plus_minus(own)))
    parts.append(Part(name="of the reference", value=plus_minus(math.sqrt(max(0.0, total**2 - own**2)))))
    if one.cycle_spread_deg is not None:
        parts.append(Part(name="Standard deviation from cycle to cycle", value=f"{one.cycle_spread_deg:.2f}°"))
    if cam is not None and one.reference == "profile":
        parts.append(Part(name="Limit of the profile", value=f"± {cam.tolerance_deg:g}°"))
    return Why(
        id=f"cam/{number}/{one.cam}/{one.segment or ''}",
        title=f"{cam_name(cam, engine) if cam else one.cam}, offset",
        value=f"{angle_words(offset, total)} {plus_minus(total)}",
        formula="Offset = mean over edges and cycles of (angle measured − angle of the reference). "
        "± = √(± of the measurement² + ± of the reference²).",
        parts=parts,
        source=f"Reference: {_reference(one.reference)}. {_GUM}",
        taken_from=_cycles(capture, one),
        cycles=[SoMuch(time_s=c.time_s, value=angle_words(c.offset_deg, own)) for c in one.per_cycle],
    )


def _cycles(capture: CaptureResult, one: CamResult) -> str:
    """As the headline counts them: whole ones; edges of cycles that are cut by begin and end are used all the same."""
    whole = capture.crank.cycles if capture.crank is not None else None
    if whole and one.cycles > whole:
        return cycles_words(capture.file, whole, one.segment, parts=True)
    return cycles_words(capture.file, one.cycles, one.segment)


def _edge(measured_deg: float | None, reference_deg: float | None) -> str:
    if measured_deg is None or reference_deg is None:
        return "not seen"
    return f"{measured_deg:.1f}° measured, {reference_deg:.1f}° where it belongs"


def _reference(reference: str) -> str:
    if reference == "profile":
        return "the engine's profile"
    if reference == "reference":
        return "known good captures of this engine"
    return f"the other bank, cam {reference.partition(':')[2]}" if reference.startswith("bank:") else reference


def _tdc(capture: CaptureResult, number: int, crank: CrankResult) -> Why:
    offset, u95 = crank.index_offset_deg or 0.0, crank.index_offset_u95_deg or 0.0
    return Why(
        id=f"tdc/{number}",
        title="TDC against the crank wheel",
        value=f"{angle_words(offset, u95)} {plus_minus(u95)}",
        formula="TDC found by itself − TDC where the wheel and its index say it is.",
        parts=[Part(name="Found by", value=_TDC_BY.get(crank.index_offset_source or "", "What the capture tells."))],
        source="Symmetry of a motored cylinder and its loss angle: Stas, SAE 960610; inertia and gas torque in the "
        "crank's speed: Heywood 1988, section 2; from memory.",
        taken_from=cycles_words(capture.file, crank.cycles or 0, None),
    )
