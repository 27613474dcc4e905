"""Why a cam reads so many degrees, and why the pistons stand where they do."""

from __future__ import annotations

import math
from collections.abc import Iterator

from phasko.core import numbers
from phasko.core.documents.analysis import CamResult, CaptureResult, CrankResult
from phasko.core.documents.engine import EngineProfile
from phasko.core.why.answer import Part, SoMuch, Why, cycles_words
from phasko.core.words import angle_words, cam_name, plus_minus

__all__ = ["offset_whys"]

_TDC_BY = {
    "cylinder_pressure": "a cylinder's pressure: TDC, clearance, heat and leak, fitted while the valves are shut",
    "speed": "the crank's own speed: gas slows the crank up to each TDC and speeds it up from there",
    "current": "the starter's current, which tells the crank's speed between the teeth",
    "joined": "pressure and the crank's own speed, each weighed by 1 ÷ ±²",
}


def offset_whys(capture: CaptureResult, engine: EngineProfile) -> Iterator[Why]:
    """One for each cam that has something to be compared with, and one for the pistons where they were found."""
    for cam in capture.cams:
        if cam.offset_deg is not None and cam.offset_u95_deg is not None and cam.total_u95_deg is not None:
            yield _offset(capture, cam, engine)
    if capture.crank is not None and capture.crank.index_offset_deg is not None:
        yield _pistons(capture, capture.crank)


def _offset(capture: CaptureResult, one: CamResult, engine: EngineProfile) -> Why:
    total, own, offset = one.total_u95_deg or 0.0, one.offset_u95_deg or 0.0, one.offset_deg or 0.0
    cam = engine.cam(one.cam)
    # An edge that was not seen, or that the reference lacks, is no part of the mean.
    parts = [
        Part(
            name=f"Edge {e.edge}, {e.kind}",
            value=f"{e.measured_deg:.1f}°, belongs at {e.reference_deg:.1f}°",
        )
        for e in one.edges
        if e.measured_deg is not None and e.reference_deg is not None
    ]
    parts.append(Part(name="of the measurement", value=plus_minus(own)))
    parts.append(Part(name="of the reference", value=plus_minus(math.sqrt(max(0.0, total**2 - own**2)))))
    if one.cycle_spread_deg is not None:
        parts.append(Part(name="Standard deviation from cycle to cycle", value=f"{one.cycle_spread_deg:.2f}°"))
    if cam is not None and one.reference == "profile":
        parts.append(Part(name="Limit of the profile", value=f"± {cam.tolerance_deg:g}°"))
    return Why(
        id=f"cam/{one.cam}/{one.segment or ''}",
        title=f"{cam_name(cam, engine) if cam else one.cam}, offset",
        value=f"{angle_words(offset, total)} {plus_minus(total)}",
        formula="Offset = mean over the edges of the mean over the cycles of (measured − reference). "
        "± = √(± of the measurement² + ± of the reference²).",
        parts=parts,
        source=f"The reference is {_reference(one.reference)}. The half width of the measurement is that of one-way "
        "random effects (Box and Tiao 1973, chapter 5; from memory), joined by JCGM 100:2008, G.4.1.",
        taken_from=_cycles(capture, one),
        cycles=[SoMuch(time_s=c.time_s, value=angle_words(c.offset_deg, own)) for c in one.per_cycle],
    )


def _cycles(capture: CaptureResult, one: CamResult) -> str:
    """As the headline counts them: whole ones; edges of cycles that are cut by begin and end are used all the same."""
    whole = capture.crank.cycles if capture.crank is not None else None
    if whole and one.cycles > whole:
        return cycles_words(capture.file, whole, one.segment, parts=True)
    return cycles_words(capture.file, one.cycles, one.segment)


def _reference(reference: str) -> str:
    if reference == "profile":
        return "the engine's profile"
    if reference == "reference":
        return "known good captures of this engine"
    return f"the other bank, cam {reference.partition(':')[2]}"


def _pistons(capture: CaptureResult, crank: CrankResult) -> Why:
    offset, u95 = crank.index_offset_deg or 0.0, crank.index_offset_u95_deg or 0.0
    least = numbers.INDEX_TRUE_DEG
    return Why(
        id="pistons",
        title="Crank wheel against the pistons",
        value=f"{angle_words(offset, u95)} {plus_minus(u95)}",
        formula="Where the wheel and its index say that TDC is − where it is found. The profile's place is confirmed "
        "where that is nothing beside its half width.",
        parts=[
            Part(name="Found by", value=_TDC_BY[crank.index_offset_source or "joined"]),
            Part(name="Confirmed up to", value=f"its half width, at least {least.value:g}°"),
        ],
        source="First law between shut valves, with heat after Hohenberg (SAE 790825, 1979) and leak (Heywood 1988, "
        "appendix C); work and energy of a crank (Heywood 1988, section 2.2); from memory.",
        taken_from=cycles_words(capture.file, crank.cycles or 0, None),
    )
