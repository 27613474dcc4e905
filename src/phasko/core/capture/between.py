"""What changed from one capture of a job to another: cams, speed, compression, sparks, injection."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.documents.engine import EngineProfile
from phasko.core.words import angle_words, cam_name

__all__ = ["Change", "changes_between"]


@dataclass(frozen=True, slots=True)
class Change:
    """One figure before and after, in words; ``by`` the change with its half width in the figure's ``unit`` (``None``:
    no number, as where a signal came or went); ``real``: more than the half width."""

    what: str
    before: str
    after: str
    by: float | None
    u95: float | None
    unit: str
    real: bool


def changes_between(
    before: CaptureMeasurement, after: CaptureMeasurement, profile: EngineProfile
) -> tuple[Change, ...]:
    """Every figure that both captures have, and what only one of them has. Half widths are those of the measurements:
    the reference cancels, since both were compared with the same."""
    return (
        *_speed(before, after),
        *_cams(before, after, profile),
        *_compression(before, after),
        *_sparks(before, after),
        *_injection(before, after),
    )


def _speed(before: CaptureMeasurement, after: CaptureMeasurement) -> Iterator[Change]:
    first, second = (c.clock.mean_rpm if c.clock is not None else None for c in (before, after))
    if first is None and second is None:
        return
    words = tuple("does not turn" if rpm is None else f"{rpm:.0f} rpm" for rpm in (first, second))
    by = None if first is None or second is None else second - first
    # A pace that differs by a twentieth is no other engine.
    u95 = None if first is None else 0.05 * first
    real = by is None or (u95 is not None and abs(by) > u95)
    yield Change(what="Speed", before=words[0], after=words[1], by=by, u95=u95, unit="rpm", real=real)


def _cams(before: CaptureMeasurement, after: CaptureMeasurement, profile: EngineProfile) -> Iterator[Change]:
    found = [{r.cam.id: r.offset for r in c.in_one_state if r.offset is not None} for c in (before, after)]
    for cam in profile.cams:
        first, second = (one.get(cam.id) for one in found)
        if first is None and second is None:
            continue
        words = [
            "not read" if one is None else angle_words(one.offset.value, one.offset.u95) for one in (first, second)
        ]
        by = u95 = None
        if first is not None and second is not None:
            by = second.offset.value - first.offset.value
            u95 = math.hypot(first.offset.u95, second.offset.u95)
        yield Change(
            what=cam_name(cam, profile),
            before=words[0],
            after=words[1],
            by=by,
            u95=u95,
            unit="°",
            real=by is None or abs(by) > (u95 or 0.0),
        )


def _compression(before: CaptureMeasurement, after: CaptureMeasurement) -> Iterator[Change]:
    found = [{} if c.compression is None else {y.cylinder: y for y in c.compression.cylinders} for c in (before, after)]
    for cylinder in sorted(found[0].keys() & found[1].keys()):
        first, second = found[0][cylinder], found[1][cylinder]
        if first.relative is None or second.relative is None:
            continue
        by = 100.0 * (second.relative - first.relative)
        u95 = 100.0 * math.hypot(first.u95 or 0.0, second.u95 or 0.0)
        yield Change(
            what=f"Compression, cylinder {cylinder}",
            before=f"{100.0 * first.relative:.0f} %",
            after=f"{100.0 * second.relative:.0f} %",
            by=by,
            u95=u95,
            unit="%",
            real=abs(by) > u95,
        )


def _sparks(before: CaptureMeasurement, after: CaptureMeasurement) -> Iterator[Change]:
    found = [{f.cylinder: f for f in c.firings if f.cylinder is not None} for c in (before, after)]
    for cylinder in sorted(found[0].keys() & found[1].keys()):
        first, second = found[0][cylinder], found[1][cylinder]
        words = [
            "no spark" if not f.sparks else f"{f.sparks} sparks" if f.spark_deg is None else f"{f.spark_deg:.1f}°"
            for f in (first, second)
        ]
        by = u95 = None
        if first.spark_deg is not None and second.spark_deg is not None:
            by = second.spark_deg - first.spark_deg
            u95 = math.hypot(first.spark_u95_deg or 0.5, second.spark_u95_deg or 0.5)
        real = abs(by) > (u95 or 0.0) if by is not None else bool(first.sparks) != bool(second.sparks)
        yield Change(
            what=f"Spark, cylinder {cylinder}", before=words[0], after=words[1], by=by, u95=u95, unit="°", real=real
        )


def _injection(before: CaptureMeasurement, after: CaptureMeasurement) -> Iterator[Change]:
    found = [{i.cylinder: i for i in c.injections} for c in (before, after)]
    for cylinder in found[0].keys() & found[1].keys():
        first, second = found[0][cylinder], found[1][cylinder]
        words = [
            "withheld" if i.withheld else "no pulse" if i.width_ms is None else f"{i.width_ms:.2f} ms"
            for i in (first, second)
        ]
        by = u95 = None
        if first.width_ms is not None and second.width_ms is not None:
            by = second.width_ms - first.width_ms
            u95 = math.hypot(first.width_u95_ms or 0.0, second.width_u95_ms or 0.0)
        real = abs(by) > (u95 or 0.0) if by is not None else words[0] != words[1]
        name = "Injector" if cylinder is None else f"Injector {cylinder}"
        yield Change(what=name, before=words[0], after=words[1], by=by, u95=u95, unit="ms", real=real)
