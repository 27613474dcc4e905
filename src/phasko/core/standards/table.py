"""Every standard side by side: what each cam reads against each of them, and where they disagree."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from phasko.core import numbers
from phasko.core.angles import wrap, wrap_cycle
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.documents.engine import Cam, CamEdge, EngineProfile
from phasko.core.documents.job import Figure
from phasko.core.documents.standards_results import StandardResult
from phasko.core.errors import RefusedError
from phasko.core.phase.banks import PlacedCam, compare_banks
from phasko.core.phase.offset import cam_offset
from phasko.core.phase.reading import CamReading
from phasko.core.phase.reference import profile_references, usual_spread_deg
from phasko.core.standards.figures import figure_place, figure_words
from phasko.core.uncertainty import NORMAL_95
from phasko.core.words import angle_words, cam_name, lower_first

__all__ = ["standards_of", "standards_said"]


def standards_of(
    capture: CaptureMeasurement,
    earlier: Sequence[CaptureMeasurement],
    figures: Sequence[Figure],
) -> list[StandardResult]:
    """What every cam of a capture reads against everything there is to compare it with. ``earlier`` are the captures
    of the same car that were recorded before it."""
    found: list[StandardResult] = []
    for reading in capture.cams:
        if reading.relative is None or reading.swapped:
            continue
        own = _own(reading, capture)
        own += _figures(reading, capture, figures)
        own += _other_shaft(reading, capture)
        own += _earlier(reading, earlier)
        own += _stretches(reading, capture)
        found += own
    found += _other_banks(capture)
    return [_judged(one, found) for one in found]


def standards_said(rows: Sequence[StandardResult], engine: EngineProfile) -> list[str]:
    """Which standard the headline uses and why, and every disagreement, in sentences."""
    said: list[str] = []
    used = [row for row in rows if row.used]
    if used:
        kinds = {row.kind for row in used}
        said.append(
            _WHY["known_good" if kinds == {"known_good"} else "profile" if "profile" in kinds else "other_bank"]
        )
    for row in rows:
        lead = _headline(row, rows)
        cam = engine.cam(row.cam)
        if not row.disagrees or row.kind in _OTHER_CAMS or lead is None or cam is None:
            continue
        said.append(
            f"{cam_name(cam, engine)}: {lower_first(row.name)} says {angle_words(row.offset_deg, row.total_u95_deg)}, "
            f"{lower_first(lead.name)} {angle_words(lead.offset_deg, lead.total_u95_deg)}. {_OR[row.kind]}"
        )
    if any(row.disagrees and row.kind in _OTHER_CAMS for row in rows):
        said.append(
            "A cam compared with one that is off itself only seems to be off, the other way round: believe bank "
            "against bank, and intake against exhaust, no further than the other cam."
        )
    return said


_OTHER_CAMS = ("other_bank", "other_shaft")
_WHY = {
    "known_good": "The headline compares with the known good engines: they were built as this one, and need no index.",
    "profile": "The headline compares with the profile: no known good engine of this state is at hand.",
    "other_bank": "The headline compares bank with bank: nothing says where the cams should be.",
}
_OR = {
    "known_good": "Either the profile is another version of the engine, or those engines are not as good as they seem.",
    "profile": "The profile may be of another version of the engine; known good engines of this state are believed.",
    "figure": "Is it the same edge, the same side of the gap, and are missing teeth counted alike?",
    "picture": "Was the picture taken of the same engine, in the same state, and read at the same edge?",
    "earlier": "It has moved since.",
    "stretch": "It has moved within the capture.",
}


def _own(reading: CamReading, capture: CaptureMeasurement) -> list[StandardResult]:
    """Against the known good engines and the profile."""
    relative = reading.relative
    assert relative is not None
    found: list[StandardResult] = []
    if reading.reference.source == "reference":
        count = reading.reference.engines
        found.append(
            StandardResult(
                cam=reading.cam.id,
                segment=reading.segment,
                kind="known_good",
                name="One known good engine" if count == 1 else f"{count} known good engines",
                offset_deg=relative.offset.value,
                u95_deg=relative.offset.u95,
                total_u95_deg=relative.total_u95_deg,
                assumes="They are sound, of the same build, and were in this state.",
                used=True,
            )
        )
    cam = capture.engine.cam(reading.cam.id)
    if cam is None or capture.engine.crank.index_deg is None or cam.id not in capture.engine.reference_cams:
        return found
    reference = profile_references(capture.engine)[cam.id]
    offset = relative.offset.value + _moved(reading.cam, cam)
    total = math.hypot(relative.offset.u95, reference.u95_deg)
    stated = cam.edges_u95_deg is not None
    return [
        *found,
        StandardResult(
            cam=cam.id,
            segment=reading.segment,
            kind="profile",
            name="The profile",
            offset_deg=offset,
            u95_deg=relative.offset.u95,
            total_u95_deg=total,
            assumes="It is of this engine version."
            + ("" if stated else " It does not say how sure it is: 1° is assumed."),
            used=reading.offset is not None and not found,
        ),
    ]


def _moved(reference: Cam, cam: Cam) -> float:
    """How much later the edges of a reference stand than the profile's, on the mean."""
    return float(np.mean([wrap_cycle(b.deg - a.deg) for a, b in zip(cam.edges, reference.edges, strict=True)]))


def _standing(reading: CamReading) -> dict[int, float]:
    """Where each edge of the cam stands on the clock (deg in [0, 720)), by its number."""
    assert reading.relative is not None
    means = reading.relative.statistics.edge_means
    return {
        i: (edge.deg + float(means[i])) % 720.0 for i, edge in enumerate(reading.cam.edges) if np.isfinite(means[i])
    }


def _figures(reading: CamReading, capture: CaptureMeasurement, figures: Sequence[Figure]) -> list[StandardResult]:
    """Against what somebody typed. A figure counts from tooth 1 and needs no index; it is of the kind, and this engine
    differs from that by its build."""
    standing = _standing(reading)
    index = capture.engine.crank.index_deg or 0.0
    found = []
    assert reading.relative is not None
    for figure in figures:
        if figure.cam != reading.cam.id or figure.edge not in standing:
            continue
        try:
            place = figure_place(figure, capture.engine)
        except RefusedError:
            continue
        after = standing[figure.edge] - index
        own = reading.relative.offset.u95
        build = NORMAL_95 * usual_spread_deg(capture.engine)[reading.cam.id]
        found.append(
            StandardResult(
                cam=reading.cam.id,
                segment=reading.segment,
                kind="picture" if figure.form == "picture" else "figure",
                name=f"Edge {figure.edge + 1}: {figure_words(figure)}",
                offset_deg=wrap(after - place.after_tooth_1_deg, 360.0),
                u95_deg=own,
                total_u95_deg=math.hypot(own, place.u95_deg, build),
                assumes="It is of a sound engine of this version, and of this edge.",
            )
        )
    return found


def _other_shaft(reading: CamReading, capture: CaptureMeasurement) -> list[StandardResult]:
    """Intake against exhaust of the same bank, after the spacing that the profile gives: what both share cancels."""
    if reading.cam.shaft not in ("intake", "exhaust") or reading.cam.id not in capture.engine.reference_cams:
        return []
    other = next(
        (
            r
            for r in capture.cams
            if r.segment == reading.segment
            and r.relative is not None
            and not r.swapped
            and r.cam.bank == reading.cam.bank
            and r.cam.shaft not in ("single", reading.cam.shaft)
            and r.cam.id in capture.engine.reference_cams
        ),
        None,
    )
    own_cam = capture.engine.cam(reading.cam.id)
    its_cam = capture.engine.cam(other.cam.id) if other is not None else None
    if other is None or own_cam is None or its_cam is None:
        return []
    assert reading.relative is not None and other.relative is not None
    mine = reading.relative.offset.value + _moved(reading.cam, own_cam)
    its = other.relative.offset.value + _moved(other.cam, its_cam)
    u95 = math.hypot(reading.relative.offset.u95, other.relative.offset.u95)
    edges = [profile_references(capture.engine)[cam.id].edges_u95_deg for cam in (own_cam, its_cam)]
    name = lower_first(cam_name(its_cam, capture.engine))
    return [
        StandardResult(
            cam=own_cam.id,
            segment=reading.segment,
            kind="other_shaft",
            name=f"The {name}",
            offset_deg=wrap_cycle(mine - its),
            u95_deg=u95,
            total_u95_deg=math.hypot(u95, *edges),
            assumes=f"The {name} is right. A fault of both, and the crank wheel's place, cancel.",
        )
    ]


def _other_banks(capture: CaptureMeasurement) -> list[StandardResult]:
    """Like cams of two banks, each against the other."""
    engine = capture.engine
    placed = [
        PlacedCam(r.cam.id, r.segment, _as_edges(r), r.relative.offset.u95, r.cam.edges_u95_deg)
        for r in capture.cams
        if r.relative is not None and not r.swapped
    ]
    bare = {(r.cam.id, r.segment) for r in capture.cams if r.bank is not None}
    found = []
    for one in compare_banks(placed, engine, engine.reference_cams):
        for cam, other, sign in ((one.cam, one.other, 1.0), (one.other, one.cam, -1.0)):
            its = engine.cam(other)
            if its is None:
                continue
            spacing = "the profile's spacing" if one.from_profile else "an even spacing of the banks"
            found.append(
                StandardResult(
                    cam=cam,
                    segment=one.segment,
                    kind="other_bank",
                    name=f"The {lower_first(cam_name(its, engine))}",
                    offset_deg=sign * one.offset_deg,
                    u95_deg=one.u95_deg,
                    total_u95_deg=one.total_u95_deg,
                    assumes=f"Bank {its.bank} is right, with {spacing}. A fault of both banks cancels.",
                    used=sign > 0 and (cam, one.segment) in bare,
                )
            )
    return found


def _as_edges(reading: CamReading) -> tuple[CamEdge, ...]:
    return tuple(reading.cam.edges[i].model_copy(update={"deg": deg}) for i, deg in _standing(reading).items())


def _earlier(reading: CamReading, earlier: Sequence[CaptureMeasurement]) -> list[StandardResult]:
    """The same cam of the same car in captures before this one: wheel and edges are the same, so only the readings are
    uncertain, and what a healthy cam moves by from one capture to the next."""
    found = []
    assert reading.relative is not None
    for capture in earlier:
        for other in capture.cams:
            if other.cam.id != reading.cam.id or other.segment != reading.segment or other.relative is None:
                continue
            if other.swapped or len(other.cam.edges) != len(reading.cam.edges):
                continue
            apart = reading.relative.offset.value - other.relative.offset.value + _moved(reading.cam, other.cam)
            u95 = math.hypot(reading.relative.offset.u95, other.relative.offset.u95)
            about = capture.recording.description
            state = ", ".join(word for word in (about.temperature, about.symptom) if word not in ("unknown", "present"))
            name = capture.recording.file.removesuffix(".capture.json")
            found.append(
                StandardResult(
                    cam=reading.cam.id,
                    segment=reading.segment,
                    kind="earlier",
                    name=f"Same car, {name}{f' ({state})' if state else ''}",
                    offset_deg=wrap_cycle(apart),
                    u95_deg=u95,
                    total_u95_deg=math.hypot(u95, numbers.CAPTURES_ALIKE_U95_DEG.value),
                    assumes="Nothing was done to the drive in between.",
                )
            )
    return found


def _stretches(reading: CamReading, capture: CaptureMeasurement) -> list[StandardResult]:
    """The same cam in another stretch of the same capture: a later start against the first, running against
    cranking."""
    spans = [(s.kind, s.from_s, s.to_s) for s in capture.segments if s.kind in ("cranking", "running")]
    own = [span for span in spans if span[0] == reading.segment]
    other = [r for r in capture.cams if r.cam.id == reading.cam.id and r.segment != reading.segment and r.relative]
    found = []
    assert reading.relative is not None
    first = None
    for number, (kind, low, high) in enumerate(own):
        part = cam_offset(reading.edges.within([(low, high)]), reading.cam, 0.0)
        if part is None or part.offset.cycles_used < 2:
            continue
        if first is None:
            first = part
            continue
        u95 = math.hypot(part.offset.u95, first.offset.u95)
        found.append(
            StandardResult(
                cam=reading.cam.id,
                segment=reading.segment,
                kind="stretch",
                name=f"The first {kind} of this capture, from its stretch {number + 1}",
                offset_deg=part.offset.value - first.offset.value,
                u95_deg=u95,
                total_u95_deg=math.hypot(u95, numbers.STRETCHES_ALIKE_U95_DEG.value),
                assumes="The engine was in the same state in both.",
            )
        )
    if reading.segment == "running" and other and other[0].relative is not None:
        before = other[0]
        assert before.relative is not None
        apart = reading.relative.offset.value - before.relative.offset.value + _moved(reading.cam, before.cam)
        u95 = math.hypot(reading.relative.offset.u95, before.relative.offset.u95)
        found.append(
            StandardResult(
                cam=reading.cam.id,
                segment=reading.segment,
                kind="stretch",
                name="Cranking, in this capture",
                offset_deg=wrap_cycle(apart),
                u95_deg=u95,
                total_u95_deg=math.hypot(u95, numbers.CAPTURES_ALIKE_U95_DEG.value),
                assumes="Nothing moved the cam on purpose when the engine ran.",
            )
        )
    return found


def _headline(row: StandardResult, rows: Sequence[StandardResult]) -> StandardResult | None:
    return next((r for r in rows if r.used and r.cam == row.cam and r.segment == row.segment), None)


def _judged(row: StandardResult, rows: Sequence[StandardResult]) -> StandardResult:
    """With whether it says something else than the standard that the headline rests on. Of the same car earlier, and
    of another stretch, that it is not nothing is what it says."""
    lead = _headline(row, rows)
    if row.used or lead is None:
        return row
    if row.kind in ("earlier", "stretch"):
        apart, u95 = row.offset_deg, row.total_u95_deg
    else:
        apart, u95 = row.offset_deg - lead.offset_deg, math.hypot(row.total_u95_deg, lead.total_u95_deg)
    return row.model_copy(update={"disagrees": True}) if abs(apart) > u95 else row
