"""The same cams in every condition: cold and hot, cranking and running, before and after a repair; and what else
happened when one of them stepped."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from phasko.core import numbers
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.documents.engine import EngineProfile
from phasko.core.documents.standards_results import ConditionRow, ConditionsResult
from phasko.core.phase.reading import CamReading
from phasko.core.words import angle_words, cam_name

__all__ = ["conditions_of", "happened_then"]


def conditions_of(captures: Sequence[CaptureMeasurement], profile: EngineProfile) -> ConditionsResult | None:
    """Every cam in every condition in which it was read, and what changes between them; ``None`` where it was read in
    one condition only. Before and after a repair are two engines: their difference is the repair's."""
    rows = [
        _row(reading, capture)
        for capture in captures
        for reading in capture.cams
        if reading.offset is not None and not reading.swapped
    ]
    if len({(r.file, r.segment) for r in rows}) < 2:
        return None
    return ConditionsResult(rows=rows, said=[text for cam in profile.cams for text in _changes(cam.id, rows, profile)])


def _row(reading: CamReading, capture: CaptureMeasurement) -> ConditionRow:
    assert reading.offset is not None
    about = capture.recording.description
    return ConditionRow(
        cam=reading.cam.id,
        file=capture.recording.file,
        segment=reading.segment,
        temperature=about.temperature,
        phasers=about.phasers,
        symptom=about.symptom,
        repair=about.repair or "before",
        offset_deg=reading.offset.offset.value,
        u95_deg=reading.offset.offset.u95,
        total_u95_deg=reading.offset.total_u95_deg,
    )


def _changes(cam_id: str, rows: Sequence[ConditionRow], profile: EngineProfile) -> list[str]:
    """What is there in one condition and gone in another, in words; what stays is not said."""
    cam = profile.cam(cam_id)
    own = [r for r in rows if r.cam == cam_id]
    if cam is None or len(own) < 2:
        return []
    name = cam_name(cam, profile)
    said = []
    before, after = ([r for r in own if r.repair == repair] for repair in ("before", "after"))
    if before and after:
        said.append(f"{name}: {_reads(before[-1])} before the repair, {_reads(after[-1])} after it.")
    now = after or before
    for first, second, words in _PAIRS:
        one = [r for r in now if first in (r.temperature, r.segment, r.symptom)]
        other = [r for r in now if second in (r.temperature, r.segment, r.symptom)]
        if not one or not other:
            continue
        a, b = max(one, key=lambda r: abs(r.offset_deg)), max(other, key=lambda r: abs(r.offset_deg))
        apart = a.offset_deg - b.offset_deg
        u95 = math.hypot(a.u95_deg, b.u95_deg, numbers.CAPTURES_ALIKE_U95_DEG.value)
        driven = cam.phaser is not None and "running" in (a.segment, b.segment) and "active" in (a.phasers, b.phasers)
        if abs(apart) <= max(u95, numbers.CONDITION_CHANGE_DEG.value):
            continue
        why = " Phasers were active there: it may have been moved on purpose." if driven else f" {words}"
        said.append(f"{name}: {_reads(a)} {_WORD.get(first, first)}, {_reads(b)} {_WORD.get(second, second)}.{why}")
    return said


_COMES = "What comes and goes is no elongation"
_PAIRS = (
    ("hot", "cold", f"{_COMES}: a phaser's lock, oil that is too thin, or a tensioner that gives way."),
    (
        "cranking",
        "running",
        f"{_COMES}: a tensioner without oil pressure, or a phaser that is not locked at the start.",
    ),
    ("present", "absent", f"{_COMES}: look at what differs between the two."),
)
_WORD = {"present": "with the symptom", "absent": "without it"}


def _reads(row: ConditionRow) -> str:
    return angle_words(row.offset_deg, row.total_u95_deg)


def happened_then(capture: CaptureMeasurement, time_s: float) -> list[str]:
    """What else happened within half a second of a moment: the speed, a command, a mark."""
    near = numbers.STEP_BESIDE_S.value
    found = []
    for sweep in capture.sweeps:
        found += [
            f"the phaser of {sweep.cam.id} was {'driven' if step.after > step.before else 'let go'}"
            for step in sweep.commands.steps
            if -near <= time_s - step.at_s <= 2.0 * near
        ]
    found += [
        f"the mark “{mark.text or 'without a word'}” was set"
        for mark in capture.recording.description.marks
        if abs(mark.t_s - time_s) <= 2.0 * near
    ]
    found += [
        f"the engine went from {first.kind.replace('_', ' ')} to {second.kind.replace('_', ' ')}"
        for first, second in zip(capture.segments, capture.segments[1:], strict=False)
        if abs(second.from_s - time_s) <= near and first.kind != second.kind
    ]
    speeds = _speeds(capture, time_s)
    if speeds is not None and abs(speeds[1] / speeds[0] - 1.0) > _SPEED_SHARE:
        found.append(f"the speed went from {speeds[0]:.0f} to {speeds[1]:.0f} rpm")
    return found


_SPEED_SHARE = 0.15


def _speeds(capture: CaptureMeasurement, time_s: float) -> tuple[float, float] | None:
    """Mean speed in the half second before and after a moment (rpm)."""
    near = numbers.STEP_BESIDE_S.value
    for turn in capture.pieces:
        low, high = turn.piece.usable_s
        if not low <= time_s <= high:
            continue
        before, after = max(low, time_s - near), min(high, time_s + near)
        if time_s - before < 0.1 or after - time_s < 0.1:
            return None
        at = turn.piece.angle_deg(np.array([before, time_s, after]))
        return float(at[1] - at[0]) / (time_s - before) / 6.0, float(at[2] - at[1]) / (after - time_s) / 6.0
    return None
