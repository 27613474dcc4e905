"""Why a cylinder's pressure says what it does: its peak and where its valves move."""

from __future__ import annotations

from collections.abc import Iterator

from phasko.core import numbers
from phasko.core.documents.analysis import CaptureResult, CylinderPressureResult
from phasko.core.why.answer import Part, Why, cycles_words

__all__ = ["pressure_whys"]

_CORNERS = (
    ("exhaust", "opens", "exhaust_open"),
    ("exhaust", "closes", "exhaust_close"),
    ("intake", "opens", "intake_open"),
    ("intake", "closes", "intake_close"),
)
"""Valve, what it does, and how the result document names that corner."""


def pressure_whys(capture: CaptureResult) -> Iterator[Why]:
    """One for each peak and each corner of the felt cylinders."""
    for felt in capture.cylinder_pressure:
        if felt.peak_bar is not None:
            yield _peak(capture.file, felt, felt.peak_bar)
        for corner in _CORNERS:
            if getattr(felt, f"{corner[2]}_deg") is not None:
                yield _corner(capture.file, felt, corner)


def _corner(file: str, felt: CylinderPressureResult, corner: tuple[str, str, str]) -> Why:
    valve, what, name = corner
    angle_deg, u95_deg = (getattr(one, f"{name}_deg", None) for one in (felt, felt.corners_u95_deg))
    half = f" ± {u95_deg:.0f}°" if u95_deg is not None else ""
    return Why(
        id=f"corner/{felt.cylinder}/{valve}/{what}",
        title=f"Cylinder {felt.cylinder}, {valve} {what}",
        value=f"{angle_deg:.0f}°{half} after its firing TDC",
        formula="Gas through a valve of sine-squared lift, as long as the profile says; the place that fits the "
        "pressure is the corner, given where the valve passes the profile's lift.",
        parts=[Part(name="Set", value="by hand" if name in felt.by_hand else "as found")],
        source="Flow through a valve: Heywood 1988, section 6.3 and appendix C; from memory. How lobes and valves "
        "differ from the usual is shared by all cylinders and most of the half width: own method.",
        taken_from=cycles_words(file, felt.cycles or 0, felt.segment),
    )


def _peak(file: str, felt: CylinderPressureResult, peak_bar: float) -> Why:
    half = f" ± {felt.peak_u95_bar:.2f}" if felt.peak_u95_bar is not None else ""
    parts = []
    if felt.expected_peak_bar is not None:
        parts.append(Part(name="Of a sound one, trapped alike", value=f"{felt.expected_peak_bar:.1f} bar"))
    parts.append(Part(name="Sound from", value=f"{100 * numbers.LEVEL_SOUND_SHARE.value:.0f} % of that"))
    if felt.loss_angle_deg is not None:
        parts.append(Part(name="Peak before TDC by", value=f"{felt.loss_angle_deg:.1f}°"))
    if felt.lost_by is not None:
        lost = "gas that leaks away" if felt.lost_by == "leak" else "too much room above the piston"
        parts.append(Part(name="What is missing is lost by", value=lost))
    return Why(
        id=f"peak/{felt.cylinder}",
        title=f"Cylinder {felt.cylinder}, peak pressure",
        value=f"{peak_bar:.1f}{half} bar",
        formula="Mean of the peaks over whole cycles. A sound one: the charge is trapped where this one's intake valve "
        "shuts, at this speed and manifold pressure, and followed to TDC by the first law with usual heat and leak.",
        parts=parts,
        source="Heat after Hohenberg (SAE 790825, 1979), leak through an opening (Heywood 1988, appendix C); from "
        "memory. From which share of it a cylinder is sound: common practice, no source.",
        taken_from=cycles_words(file, felt.cycles or 0, felt.segment),
    )
