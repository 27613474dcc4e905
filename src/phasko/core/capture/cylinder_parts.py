"""What the Cylinder station's picture is made of."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict

from phasko.core.documents.analysis import Finding
from phasko.core.documents.capture import Valve, ValveEnd

__all__ = [
    "CornerMark",
    "Curve",
    "CylinderPicture",
    "FeltView",
    "PeakBar",
    "ProfileCorner",
    "Stroke",
    "SweepLine",
    "TorqueView",
    "ValveBar",
    "VolumeCurve",
]


class ViewPart(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class CornerMark(ViewPart):
    """One corner: ``strip_deg`` on the strip, ``angle_deg`` after the cylinder's own true TDC; what the profile and the
    signal of its cam say, where they are known. ``follows``: whether valve and signal agree."""

    valve: Valve
    what: ValveEnd
    cam: str | None
    cam_name: str | None
    angle_deg: float
    u95_deg: float
    strip_deg: float
    bar: float
    profile_deg: float | None
    profile_strip_deg: float | None
    offset_deg: float | None
    signal_deg: float | None
    follows: bool | None
    by_hand: bool
    words: str


class ProfileCorner(ViewPart):
    """Where a corner stands with the cams in time: a place for a hand mark to start from."""

    valve: Valve
    what: ValveEnd
    angle_deg: float
    strip_deg: float


class ValveBar(ViewPart):
    """When a valve is open on the strip, by the profile and as measured; an end that is not certain is ``None``."""

    valve: Valve
    cam: str | None
    profile_from_deg: float
    profile_to_deg: float
    from_deg: float | None
    to_deg: float | None


class Stroke(ViewPart):
    name: Literal["intake", "compression", "expansion", "exhaust"]
    from_deg: float
    to_deg: float


class Curve(ViewPart):
    """Gauge pressure (bar) over strip degrees."""

    deg: list[float]
    bar: list[float]


class VolumeCurve(ViewPart):
    """Absolute pressure (bar) over cylinder volume (cm3)."""

    cm3: list[float]
    bar: list[float]


class FeltView(ViewPart):
    """One cylinder in one state."""

    cylinder: int
    segment: str
    state: str
    channel: str
    cycles: int
    rpm: float
    peak_bar: float
    peak_u95_bar: float
    expected_bar: float | None
    peak_deg: float | None
    tdc_strip_deg: float
    tdc_u95_deg: float | None
    symmetry: float | None
    exhaust_bar: float | None
    exhaust_top_bar: float | None
    intake_bar: float | None
    squeezed_bar: float | None
    drawn_bar: float | None
    leak_mm2: float | None
    profile_corners: list[ProfileCorner]
    zero_mbar: float | None
    mean: Curve
    every: list[list[float]]
    expected: Curve | None
    corners: list[CornerMark]
    valves: list[ValveBar]
    strokes: list[Stroke]
    volume: VolumeCurve | None
    sweep: list[SweepLine]
    finding: Finding


class TorqueView(ViewPart):
    """Gas torque (N m) from the crank's own speed over angles about TDC as the wheel has it, with the TDC that was
    found and its half width; where it changes its sign."""

    about_deg: list[float]
    measured_nm: list[float]
    model_nm: list[float]
    found_deg: float
    u95_deg: float
    firings: int
    words: str


class SweepLine(ViewPart):
    """One line over time (s): a corner of every cycle, or the signal of its cam, against the profile (deg)."""

    valve: Valve
    measured: Literal["corner", "signal"]
    at_s: list[float]
    offset_deg: list[float]


class PeakBar(ViewPart):
    """A cylinder beside the others: its peak measured, or reckoned from its compression; what a sound one reaches."""

    cylinder: int
    peak_bar: float | None
    u95_bar: float | None
    measured: bool
    expected_bar: float | None


class CylinderPicture(ViewPart):
    """All felt cylinders of a capture. ``index_words``: what TDC rests on, empty where nothing confirmed it;
    ``index_deg`` with its half width: by how much the crank wheel stands late."""

    felt: list[FeltView]
    firing_order: list[int]
    peaks: list[PeakBar]
    torque: TorqueView | None
    hand_u95_deg: float
    index_words: str
    index_deg: float | None
    index_u95_deg: float | None
    origin_deg: float
