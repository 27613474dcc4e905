"""Why a cylinder is called sound, weak or dead, and what its own pressure says."""

from __future__ import annotations

from collections.abc import Iterator

from phasko.core import numbers
from phasko.core.documents.analysis import CaptureResult, CylinderPressureResult
from phasko.core.documents.compression_results import CompressionResult, CylinderRelative
from phasko.core.why.answer import Part, Why, cycles_words

__all__ = ["sealing_whys"]

_BY = {"starter_current": "starter current", "battery_voltage": "battery voltage", "crank_speed": "crank speed"}
_CORNERS = (
    ("exhaust", "opens", "exhaust_open_deg"),
    ("exhaust", "closes", "exhaust_close_deg"),
    ("intake", "opens", "intake_open_deg"),
    ("intake", "closes", "intake_close_deg"),
)


def sealing_whys(capture: CaptureResult, number: int) -> Iterator[Why]:
    """One for each cylinder's relative compression, one for each peak and corner of a felt cylinder; ``number`` is the
    capture's own."""
    if capture.compression is not None:
        for one in capture.compression.cylinders:
            if one.relative is not None:
                yield _relative(capture, number, capture.compression, one)
    for felt in capture.cylinder_pressure:
        if felt.peak_bar is not None:
            yield _peak(capture, number, felt)
        yield from _corners(capture, number, felt)


def _relative(capture: CaptureResult, number: int, sealing: CompressionResult, one: CylinderRelative) -> Why:
    order = sorted(c.cylinder for c in sealing.cylinders)
    # Sources list their figures by cylinder number, the result in firing order.
    place = order.index(one.cylinder)
    parts = [
        Part(name=f"By {_BY[source.source]}", value=_percent(source.relative[place], source.u95[place]))
        for source in sealing.sources
        if place < len(source.relative)
    ]
    weak, dead = numbers.COMPRESSION_WEAK_BELOW, numbers.COMPRESSION_DEAD_BELOW
    parts.append(Part(name="Weak below, dead below", value=f"{100 * weak.value:.0f} %, {100 * dead.value:.0f} %"))
    if sealing.cycles_left_out:
        parts.append(Part(name="Cycles left out, since the speed was not steady", value=str(sealing.cycles_left_out)))
    return Why(
        id=f"seal/{number}/{one.cylinder}",
        title=f"Cylinder {one.cylinder}, compression beside the others",
        value=f"{_percent(one.relative or 0.0, one.u95)}, {one.state}",
        formula="Height of its hump, or depth of its dip in speed, over that of the sound cylinders. "
        "Joined = sum of (value ÷ ±²) over sum of (1 ÷ ±²).",
        parts=parts,
        source="Inverse-variance mean: any handbook of statistics, from memory. Limits: the definition of weak and "
        "dead in the result document. Even humps over a weak bank: common practice, no source.",
        taken_from=cycles_words(capture.file, sealing.cycles_used, "cranking"),
    )


def _percent(relative: float, u95: float | None) -> str:
    return f"{100 * relative:.0f} %" + (f" ± {100 * u95:.0f} %" if u95 is not None else "")


def _peak(capture: CaptureResult, number: int, felt: CylinderPressureResult) -> Why:
    half = f" ± {felt.peak_u95_bar:.2f}" if felt.peak_u95_bar is not None else ""
    parts = []
    if felt.expected_peak_bar is not None:
        parts.append(Part(name="Expected of a sound one", value=f"{felt.expected_peak_bar:.1f} bar"))
    if felt.loss_angle_deg is not None:
        parts.append(Part(name="Peak before TDC by", value=f"{felt.loss_angle_deg:.1f}°"))
    if felt.lost_by is not None:
        lost = "gas that leaks away" if felt.lost_by == "leak" else "too much room above the piston"
        parts.append(Part(name="What is missing is lost by", value=lost))
    parts.append(Part(name="Sound from", value=f"{100 * numbers.LEVEL_SOUND_SHARE.value:.0f} % of expected"))
    return Why(
        id=f"peak/{number}/{felt.cylinder}",
        title=f"Cylinder {felt.cylinder}, peak pressure",
        value=f"{felt.peak_bar or 0.0:.1f}{half} bar",
        formula="Expected: (p + 1.013 bar) · Vⁿ stays the same from where the intake valve shuts to TDC, n being the "
        "polytropic exponent, less what heat takes.",
        parts=parts,
        source="Polytropic compression, n 1.2 to 1.35 for a cold cranked engine: Heywood 1988, section 9; from memory.",
        taken_from=cycles_words(capture.file, felt.cycles or 0, felt.segment),
    )


def _corners(capture: CaptureResult, number: int, felt: CylinderPressureResult) -> Iterator[Why]:
    for valve, what, name in _CORNERS:
        angle = getattr(felt, name)
        if angle is None:
            continue
        u95 = getattr(felt.corners_u95_deg, name, None) if felt.corners_u95_deg is not None else felt.corner_u95_deg
        by_hand = name.removesuffix("_deg") in felt.by_hand
        yield Why(
            id=f"corner/{number}/{felt.cylinder}/{valve}/{what}",
            title=f"Cylinder {felt.cylinder}, {valve} {what}",
            value=f"{angle:.0f}°" + (f" ± {u95:.0f}°" if u95 is not None else "") + " after its firing TDC",
            formula="The angle at which the pressure leaves the line of shut valves, corrected by how far the valve "
            "must lift before the pressure shows it.",
            parts=[Part(name="Set", value="by hand" if by_hand else "as found")],
            source="Flow through a valve that just opens: Heywood 1988, section 6.3; from memory. "
            "Corners in a cranked cylinder: common practice, no source.",
            taken_from=cycles_words(capture.file, felt.cycles or 0, felt.segment),
        )
