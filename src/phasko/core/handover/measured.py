"""The table of a hand-over: every reading that tells something, with its half width, what it is held against, and its
limit."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from phasko.core import numbers
from phasko.core.documents.analysis import CamResult, CaptureResult, CylinderPressureResult
from phasko.core.documents.capture import CaptureDescription, Valve, ValveEnd
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.filling import timing_deg
from phasko.core.handover.document import MeasuredRow, Result
from phasko.core.handover.facts import Facts
from phasko.core.words import angle_words, cam_name, plus_minus

__all__ = ["measured_rows"]

_AGAINST: Mapping[str, str] = {"profile": "profile", "reference": "known good captures"}
_CORNERS: tuple[tuple[str, str, Valve, ValveEnd], ...] = (
    ("exhaust_open_deg", "Exhaust opens", "exhaust", "opens"),
    ("intake_close_deg", "Intake closes", "intake", "closes"),
    ("exhaust_close_deg", "Exhaust closes", "exhaust", "closes"),
    ("intake_open_deg", "Intake opens", "intake", "opens"),
)
_SEEN_AT_THE_DRIVE = ("marks", "crank_wheel", "cam_target", "tensioner", "valve_moves", "borescope")
"""Looks that stand beside the readings; the others are told further on."""
_SOURCE = {
    "cylinder_pressure": "cylinder pressure",
    "speed": "the crank's speed",
    "current": "starter current",
    "joined": "pressure and speed",
}


def measured_rows(facts: Facts) -> list[MeasuredRow]:
    """Every reading once: of a cam or cylinder that several captures recorded, the newest of each condition; of what
    was seen by hand, every answer."""
    found: dict[str, MeasuredRow] = {}
    several = len({_condition(described) for _, described in facts.captures}) > 1
    for capture, described in facts.captures:
        where = f", {_condition(described)}" if several and _condition(described) else ""
        for row in _of_capture(capture, facts.profile):
            named = row.model_copy(update={"what": f"{row.what}{where}"})
            found[named.what] = named
    rows = list(found.values())
    if facts.analysis.elongation is not None and facts.analysis.elongation.fits and not facts.repaired:
        one = facts.analysis.elongation
        rows.append(
            MeasuredRow(
                what="Elongation, from the pattern of all cams",
                reading=f"{one.percent:.2f} %",
                half_width=f"± {one.u95_percent:.2f} %",
                against="a new one",
                limit="",
                result="",
            )
        )
    return [*rows, *_looks(facts)]


def _condition(described: CaptureDescription) -> str:
    parts = [described.condition or "", "" if described.temperature == "unknown" else described.temperature]
    return " ".join(part for part in parts if part)


def _of_capture(capture: CaptureResult, profile: EngineProfile) -> Iterator[MeasuredRow]:
    yield from (_cam(cam, profile) for cam in _in_one_state(capture) if cam.offset_deg is not None)
    for cam in capture.cams:
        if cam.state == "no_signal":
            known = profile.cam(cam.cam)
            name = cam_name(known, profile) if known is not None else cam.cam
            yield MeasuredRow(
                what=f"{name} signal", reading="no signal", half_width="", against="", limit="", result="over"
            )
    yield from (row for felt in capture.cylinder_pressure for row in _pressure(felt, profile))
    yield from _index(capture)
    yield from _compression(capture)
    for phaser in capture.phasers:
        if phaser.swept_deg is not None:
            yield MeasuredRow(
                what=f"Phaser of {phaser.cam}, driven",
                reading=f"{abs(phaser.swept_deg):.1f}° of travel",
                half_width=plus_minus(phaser.stop_u95_deg) if phaser.stop_u95_deg is not None else "",
                against="its range" if phaser.range_deg is not None else "",
                limit=f"{phaser.range_deg:.0f}°" if phaser.range_deg is not None else "",
                result="within" if phaser.state == "moves" and not phaser.short_side else "over",
            )
    for spark in capture.ignition:
        if spark.spark_deg is not None and spark.state in ("in", "early", "late"):
            yield MeasuredRow(
                what=f"Spark, cylinder {spark.cylinder}",
                reading=f"{abs(spark.spark_deg):.1f}° {'before' if spark.spark_deg < 0 else 'after'} TDC",
                half_width=plus_minus(spark.spark_u95_deg or 0.5),
                against="profile",
                limit="its window",
                result="within" if spark.state == "in" else "over",
            )


def _in_one_state(capture: CaptureResult) -> list[CamResult]:
    """Cams compared while cranking, or while running where nothing was cranked."""
    for kind in ("cranking", "running"):
        found = [cam for cam in capture.cams if cam.segment == kind and cam.offset_deg is not None]
        if found:
            return found
    return []


def _cam(cam: CamResult, profile: EngineProfile) -> MeasuredRow:
    known = profile.cam(cam.cam)
    total = cam.total_u95_deg or 0.5
    against = _AGAINST.get(cam.reference, "")
    if cam.reference.startswith("bank:"):
        other = profile.cam(cam.reference.removeprefix("bank:"))
        against = f"the {cam_name(other, profile).lower()}, assumed good" if other is not None else "the other bank"
    limit = known.tolerance_deg if known is not None else None
    result: Result = "" if limit is None else "over" if abs(cam.offset_deg or 0.0) > limit else "within"
    pitches = "" if cam.pitches is None or abs(cam.pitches) < 0.05 else f", {abs(cam.pitches):.2f} pitches"
    return MeasuredRow(
        what=f"{cam_name(known, profile) if known is not None else cam.cam} signal",
        reading=f"{angle_words(cam.offset_deg or 0.0, total)}{pitches}",
        half_width=plus_minus(total),
        against=against,
        limit=f"{limit:g}°" if limit is not None else "",
        result=result,
    )


def _pressure(felt: CylinderPressureResult, profile: EngineProfile) -> Iterator[MeasuredRow]:
    timing = profile.valve_timing
    for field, name, valve, end in _CORNERS:
        at = getattr(felt, field)
        u95 = getattr(felt.corners_u95_deg, field) if felt.corners_u95_deg is not None else None
        if at is None:
            continue
        half = u95 if u95 is not None else felt.corner_u95_deg or 3.0
        by_hand = ", by hand" if field.removesuffix("_deg") in felt.by_hand else ""
        if timing is None:
            reading, against = f"{at:.0f}° after its TDC", ""
        else:
            reading, against = angle_words(at - timing_deg(timing, valve, end), half), "profile"
        yield MeasuredRow(
            what=f"{name}, cylinder {felt.cylinder}{by_hand}",
            reading=reading,
            half_width=plus_minus(half),
            against=against,
            limit="as the cam" if against else "",
            result="",
        )
    if felt.peak_bar is None:
        return
    expected = felt.expected_peak_bar
    low = expected is not None and felt.peak_bar < numbers.GAUGE_LOW_SHARE.value * expected
    window = profile.cranking_pressure_bar
    yield MeasuredRow(
        what=f"Peak pressure, cylinder {felt.cylinder}",
        reading=f"{felt.peak_bar:.1f} bar",
        half_width=f"± {felt.peak_u95_bar:.1f} bar" if felt.peak_u95_bar is not None else "",
        against=f"{expected:.1f} bar if it were sound" if expected is not None else "",
        limit=f"{window[0]:g} to {window[1]:g} bar" if window is not None else "",
        result="low" if low else "" if expected is None else "sound",
    )


def _index(capture: CaptureResult) -> Iterator[MeasuredRow]:
    crank = capture.crank
    if crank is None or crank.index_offset_deg is None or crank.index_offset_u95_deg is None:
        return
    limit = max(crank.index_offset_u95_deg, numbers.INDEX_TRUE_DEG.value)
    yield MeasuredRow(
        what="Crank wheel against the pistons",
        reading=angle_words(crank.index_offset_deg, crank.index_offset_u95_deg),
        half_width=plus_minus(crank.index_offset_u95_deg),
        against=_SOURCE.get(crank.index_offset_source or "", ""),
        limit=f"{limit:.0f}°",
        result="in place" if abs(crank.index_offset_deg) <= limit else "over",
    )


def _compression(capture: CaptureResult) -> Iterator[MeasuredRow]:
    found = capture.compression
    if found is None:
        return
    named = [c for c in found.cylinders if c.relative is not None and c.u95 is not None]
    if named:
        low = min(named, key=lambda c: c.relative or 0.0)
        sound = [c for c in named if c.state == "good"]
        alike = len(sound) == len(found.cylinders)
        reading = f"{len(sound)} of {len(found.cylinders)} alike" if alike else f"cylinder {low.cylinder} at "
        reading += "" if alike else f"{100 * (low.relative or 0.0):.0f} %"
        half = max(c.u95 or 0.0 for c in named) if alike else low.u95 or 0.0
        yield MeasuredRow(
            what="Cylinders against one another",
            reading=reading,
            half_width=f"± {100 * half:.0f} %",
            against="the median of the healthy ones",
            limit="90 %",
            result="sound" if alike else "low" if low.state in ("weak", "dead") else "",
        )
    elif found.words:
        yield MeasuredRow(
            what="Cylinders against one another",
            reading=found.words,
            half_width="",
            against="one another",
            limit="",
            result="",
        )


def _looks(facts: Facts) -> Iterator[MeasuredRow]:
    """What was seen, heard or read by hand, of the engine that the document is about."""
    after = {id(look) for look in facts.told.looks if look.repair == "after"}
    for look, result in zip(facts.told.looks, facts.analysis.looks, strict=False):
        if (facts.repaired and id(look) in after) or (look.value is None and look.question not in _SEEN_AT_THE_DRIVE):
            continue
        where = f", cylinder {look.cylinder}" if look.cylinder is not None else ""
        cam = facts.profile.cam(look.cam) if look.cam is not None else None
        where += f", {cam_name(cam, facts.profile).lower()}" if cam is not None else ""
        size = f", {angle_words(look.amount_deg)}" if look.amount_deg else ""
        at = {"tdc": "a piston proved at TDC", "mark": "crank on the maker's mark"}[look.crank_at]
        yield MeasuredRow(
            what=f"{result.title}{where}",
            reading=f"{result.answer}{size}",
            half_width="",
            against=at if look.question == "marks" else "seen by hand",
            limit="",
            result="noted",
        )
