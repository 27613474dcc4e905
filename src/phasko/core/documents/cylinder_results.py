"""What a result says of single cylinders: sparks, injection, pressure."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from phasko.core.documents.result_part import Number, ResultPart

__all__ = ["CornerCycle", "CornerU95", "CylinderPressureResult", "IgnitionResult", "InjectionResult"]


class IgnitionResult(ResultPart):
    """``state``: ``in``, ``early``, ``late`` against the profile's window, ``unknown`` without one or while running,
    ``none`` without a spark. ``every_deg``: 720 once per cycle, 360 every turn. ``missed``: firings left out in
    ``segment``, the state in which it was measured."""

    cylinder: int
    spark_deg: Number | None
    spark_u95_deg: Number | None
    state: str
    spread_deg: Number | None = None
    every_deg: Number | None = None
    sparks: int = 0
    missed: int = 0
    channel: str | None = None
    segment: str | None = None


class InjectionResult(ResultPart):
    """An injector's pulses: width, begin after its cylinder's firing TDC (negative: before it), how many a cycle;
    ``withheld``: the engine turned and none came."""

    channel: str
    cylinder: int | None = None
    width_ms: Number | None = None
    width_u95_ms: Number | None = None
    start_deg: Number | None = None
    start_u95_deg: Number | None = None
    per_cycle: Number | None = None
    pulses: int = 0
    withheld: bool = False
    words: str = ""


class CornerU95(ResultPart):
    """Half widths of the corners one by one."""

    exhaust_open_deg: Number | None = None
    exhaust_close_deg: Number | None = None
    intake_open_deg: Number | None = None
    intake_close_deg: Number | None = None


class CornerCycle(ResultPart):
    """The corners of one cycle."""

    at_s: Number
    exhaust_open_deg: Number | None
    intake_close_deg: Number | None


class CylinderPressureResult(ResultPart):
    """Gauge pressures; angles after the cylinder's own true firing TDC. ``state``: ``motored``, ``fires`` or ``dead``
    (only its peak is read). ``expected_peak_bar``: of a sound cylinder whose charge is trapped where this one's is.
    ``loss_angle_deg``: by how much the peak lies before TDC. ``exhaust_top_bar``: how high pulses lift the exhaust
    stroke. ``leak_mm2`` an opening, ``clearance_share`` over the geometry's; ``lost_by``: which of the two makes a low
    peak low. ``by_hand``: the corners that a person set; ``by_cycle`` those of every
    cycle of a phaser sweep."""

    cylinder: int
    segment: str | None = None
    channel: str | None = None
    state: str = "motored"
    peak_u95_bar: Number | None = None
    expected_peak_bar: Number | None = None
    loss_angle_deg: Number | None = None
    tdc_u95_deg: Number | None = None
    corners_u95_deg: CornerU95 | None = None
    cycles: int | None = None
    peak_bar: Number | None
    peak_deg: Number | None
    symmetry: Number | None
    exhaust_open_deg: Number | None
    exhaust_close_deg: Number | None
    intake_open_deg: Number | None
    intake_close_deg: Number | None
    corner_u95_deg: Number | None
    exhaust_pressure_bar: Number | None
    intake_pressure_bar: Number | None
    exhaust_top_bar: Number | None = None
    leak_mm2: Number | None = None
    clearance_share: Number | None = None
    lost_by: Literal["leak", "clearance"] | None = None
    by_hand: list[str] = Field(default_factory=list)
    by_cycle: list[CornerCycle] = Field(default_factory=list)
