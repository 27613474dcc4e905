"""The pressure in cylinders as it stands in the result document."""

from __future__ import annotations

from collections.abc import Sequence

from phasko.core.cylinder.felt_cylinder import FeltCylinder
from phasko.core.documents.analysis import CornerU95, CylinderPressureResult
from phasko.core.documents.cylinder_results import CornerCycle

__all__ = ["pressure_results"]


def pressure_results(felt: Sequence[FeltCylinder]) -> list[CylinderPressureResult]:
    """One entry per cylinder and state."""
    return [_result(one) for one in felt]


def _result(one: FeltCylinder) -> CylinderPressureResult:
    corners = (one.exhaust_open, one.exhaust_close, one.intake_open, one.intake_close)
    half = [None if corner is None else corner.u95_deg for corner in corners]
    at = [None if corner is None else corner.angle_deg for corner in corners]
    u95 = CornerU95(
        exhaust_open_deg=half[0], exhaust_close_deg=half[1], intake_open_deg=half[2], intake_close_deg=half[3]
    )
    names = ("exhaust_open", "exhaust_close", "intake_open", "intake_close")
    by_hand = [name for name, corner in zip(names, corners, strict=True) if corner is not None and corner.by_hand]
    given = [own for own in half if own is not None]
    return CylinderPressureResult(
        cylinder=one.cylinder,
        segment=one.segment,
        channel=one.trace.channel,
        state=one.state,
        peak_bar=one.peak_bar,
        peak_u95_bar=one.peak_u95_bar,
        expected_peak_bar=one.expected_bar,
        peak_deg=one.peak_deg,
        loss_angle_deg=one.loss_deg,
        tdc_u95_deg=one.tdc_u95_deg,
        symmetry=one.symmetry,
        exhaust_open_deg=at[0],
        exhaust_close_deg=at[1],
        intake_open_deg=at[2],
        intake_close_deg=at[3],
        corner_u95_deg=max(given, default=None),
        corners_u95_deg=u95 if given else None,
        exhaust_pressure_bar=one.exhaust_bar,
        intake_pressure_bar=one.intake_bar,
        exhaust_top_bar=one.exhaust_top_bar,
        leak_mm2=None if one.line is None else one.line.leak_mm2,
        clearance_share=None if one.line is None else one.line.clearance,
        lost_by=one.lost_by,
        by_hand=by_hand,
        by_cycle=[
            CornerCycle(
                at_s=cycle.at_s,
                exhaust_open_deg=None if cycle.exhaust_open is None else cycle.exhaust_open.angle_deg,
                intake_close_deg=None if cycle.intake_close is None else cycle.intake_close.angle_deg,
            )
            for cycle in one.swept
        ],
        cycles=int(one.trace.absolute_bar.shape[0]),
    )
