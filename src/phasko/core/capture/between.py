"""What changed from one capture of a job to another: cams, speed, compression, sparks, injection."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.documents.engine import EngineProfile
from phasko.core.documents.repair_results import ChangeResult, RepairPair
from phasko.core.words import angle_words, cam_name

__all__ = ["changes_between", "repair_pairs"]


def repair_pairs(
    before: Sequence[CaptureMeasurement], after: Sequence[CaptureMeasurement], profile: EngineProfile
) -> list[RepairPair]:
    """Every capture of ``after`` a repair beside the one of ``before`` that was recorded most alike; one that has no
    like in what it recorded stands alone and is left out."""
    found = []
    for late in after:
        best = max(before, key=lambda early: _likeness(early, late), default=None)
        if best is None or not _likeness(best, late)[0]:
            continue
        found.append(
            RepairPair(
                before=best.recording.file,
                after=late.recording.file,
                alike=_state(best) == _state(late),
                changes=list(changes_between(best, late, profile)),
            )
        )
    return found


def _likeness(early: CaptureMeasurement, late: CaptureMeasurement) -> tuple[int, int, int]:
    """How many signals both recorded, whether in one condition, and in how much of the same state: what counts most
    first."""
    signals = [
        {(c.role, c.cam, c.cylinder) for c in one.recording.description.channels if c.role != "other"}
        for one in (early, late)
    ]
    states = list(zip(_state(early), _state(late), strict=True))
    same_condition = states[0][0] == states[0][1]
    shared = len(signals[0] & signals[1])
    return (shared if same_condition else min(shared, 1), int(same_condition), sum(a == b for a, b in states))


def _state(one: CaptureMeasurement) -> tuple[str | None, str, str, str]:
    about = one.recording.description
    return (about.condition, about.temperature, about.phasers, about.throttle)


def changes_between(
    before: CaptureMeasurement, after: CaptureMeasurement, profile: EngineProfile
) -> tuple[ChangeResult, ...]:
    """Every figure that both captures have, and what only one of them has. Half widths are those of the measurements:
    the reference cancels, since both were compared with the same."""
    return (
        *_speed(before, after),
        *_cams(before, after, profile),
        *_index(before, after),
        *_compression(before, after),
        *_pressure(before, after),
        *_sparks(before, after),
        *_injection(before, after),
    )


def _speed(before: CaptureMeasurement, after: CaptureMeasurement) -> Iterator[ChangeResult]:
    first, second = (c.clock.mean_rpm if c.clock is not None else None for c in (before, after))
    if first is None and second is None:
        return
    words = tuple("does not turn" if rpm is None else f"{rpm:.0f} rpm" for rpm in (first, second))
    by = None if first is None or second is None else second - first
    # A pace that differs by a twentieth is no other engine.
    u95 = None if first is None else 0.05 * first
    real = by is None or (u95 is not None and abs(by) > u95)
    yield ChangeResult(what="Speed", before=words[0], after=words[1], by=by, u95=u95, unit="rpm", real=real)


def _cams(before: CaptureMeasurement, after: CaptureMeasurement, profile: EngineProfile) -> Iterator[ChangeResult]:
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
        yield ChangeResult(
            what=cam_name(cam, profile),
            before=words[0],
            after=words[1],
            by=by,
            u95=u95,
            unit="°",
            real=by is None or abs(by) > (u95 or 0.0),
        )


def _index(before: CaptureMeasurement, after: CaptureMeasurement) -> Iterator[ChangeResult]:
    first, second = before.index, after.index
    if first is None or second is None:
        return
    words = tuple(angle_words(one.offset_deg, one.u95_deg) for one in (first, second))
    half = (first.u95_deg, second.u95_deg)
    yield _change("Crank wheel against the pistons", (first.offset_deg, second.offset_deg), half, words, unit="°")


def _pressure(before: CaptureMeasurement, after: CaptureMeasurement) -> Iterator[ChangeResult]:
    found = [{(f.cylinder, f.segment): f for f in c.felt} for c in (before, after)]
    for place in sorted(found[0].keys() & found[1].keys()):
        first, second = found[0][place], found[1][place]
        peaks = (first.peak_bar, second.peak_bar)
        half = (first.peak_u95_bar, second.peak_u95_bar)
        words = tuple(f"{peak:.1f} bar" for peak in peaks)
        yield _change(f"Peak pressure, cylinder {place[0]}", peaks, half, words, unit="bar")
        for name, one, other in (
            ("Exhaust opens", first.exhaust_open, second.exhaust_open),
            ("Intake closes", first.intake_close, second.intake_close),
        ):
            if one is not None and other is not None:
                angles = (one.angle_deg, other.angle_deg)
                words = tuple(f"{angle:.0f}°" for angle in angles)
                yield _change(f"{name}, cylinder {place[0]}", angles, (one.u95_deg, other.u95_deg), words, unit="°")


def _compression(before: CaptureMeasurement, after: CaptureMeasurement) -> Iterator[ChangeResult]:
    found = [{} if c.compression is None else {y.cylinder: y for y in c.compression.cylinders} for c in (before, after)]
    for cylinder in sorted(found[0].keys() & found[1].keys()):
        first, second = found[0][cylinder], found[1][cylinder]
        if first.relative is None or second.relative is None:
            continue
        shares = (100.0 * first.relative, 100.0 * second.relative)
        half = (100.0 * (first.u95 or 0.0), 100.0 * (second.u95 or 0.0))
        words = tuple(f"{share:.0f} %" for share in shares)
        yield _change(f"Compression, cylinder {cylinder}", shares, half, words, unit="%")


def _change(
    what: str, values: tuple[float, float], half_widths: tuple[float, float], words: tuple[str, ...], *, unit: str
) -> ChangeResult:
    """A figure that both captures have: before and after in ``unit``, with their half widths."""
    by, u95 = values[1] - values[0], math.hypot(*half_widths)
    real = abs(by) > u95
    return ChangeResult(what=what, before=words[0], after=words[1], by=by, u95=u95, unit=unit, real=real)


def _sparks(before: CaptureMeasurement, after: CaptureMeasurement) -> Iterator[ChangeResult]:
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
        yield ChangeResult(
            what=f"Spark, cylinder {cylinder}", before=words[0], after=words[1], by=by, u95=u95, unit="°", real=real
        )


def _injection(before: CaptureMeasurement, after: CaptureMeasurement) -> Iterator[ChangeResult]:
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
        yield ChangeResult(what=name, before=words[0], after=words[1], by=by, u95=u95, unit="ms", real=real)
