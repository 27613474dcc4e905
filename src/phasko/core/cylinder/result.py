"""The pressure in cylinders as it stands in the result document."""

from __future__ import annotations

from collections.abc import Sequence

from phasko.core.cylinder.felt_cylinder import FeltCylinder
from phasko.core.documents.analysis import CornerU95, CylinderPressureResult

__all__ = ["pressure_results"]


def pressure_results(felt: Sequence[FeltCylinder]) -> list[CylinderPressureResult]:
    """One entry per cylinder and state."""
    return [_result(one) for one in felt]


def _result(one: FeltCylinder) -> CylinderPressureResult:
    opens, closes = one.exhaust_open, one.intake_close
    u95 = CornerU95(
        exhaust_open_deg=None if opens is None else opens.u95_deg,
        intake_close_deg=None if closes is None else closes.u95_deg,
    )
    given = [corner.u95_deg for corner in (opens, closes) if corner is not None]
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
        exhaust_open_deg=None if opens is None else opens.angle_deg,
        exhaust_close_deg=None,
        intake_open_deg=None,
        intake_close_deg=None if closes is None else closes.angle_deg,
        corner_u95_deg=max(given, default=None),
        corners_u95_deg=u95 if given else None,
        exhaust_pressure_bar=one.exhaust_bar,
        intake_pressure_bar=one.intake_bar,
        cycles=int(one.trace.absolute_bar.shape[0]),
    )
