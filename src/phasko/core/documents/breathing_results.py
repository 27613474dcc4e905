"""Breathing, road tests and looks as they stand in the result document."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from phasko.core.documents.compression_results import CylinderRelative
from phasko.core.documents.result_part import Number, ResultPart

__all__ = [
    "LookResult",
    "ManifoldResult",
    "PulseOddResult",
    "PulseResult",
    "PulseSuspect",
    "RoadLimit",
    "RoadTestResult",
]


class PulseSuspect(ResultPart):
    """Whose an odd pulse can be: the chance, and what that cylinder does."""

    cylinder: int
    chance: Number
    words: str


class PulseOddResult(ResultPart):
    """A place that differs in every cycle, ``size`` of the usual pulse's height (upwards positive)."""

    at_deg: Number
    size: Number
    u95: Number
    suspects: list[PulseSuspect]


class PulseResult(ResultPart):
    """Breathing pulses of one channel. ``delay_s``: between the engine and the sensor. ``random_share``: how much
    single cycles differ, in pulses, which is no cylinder."""

    role: str
    cylinders: list[CylinderRelative]
    channel: str | None = None
    odd: list[PulseOddResult] = Field(default_factory=list)
    delay_s: Number | None = None
    delay_u95_s: Number | None = None
    random_share: Number | None = None
    cycles: int = 0


class ManifoldResult(ResultPart):
    """Mean gauge pressure while cranking: of the intake (``sucks``, ``pushes``, ``neither``) or the exhaust."""

    place: Literal["intake", "exhaust"]
    channel: str
    mean_bar: Number
    u95_bar: Number
    state: Literal["sucks", "pushes", "neither", "back_pressure", "free"]


class RoadLimit(ResultPart):
    """A limit that a road test is judged by, and its origin."""

    words: str
    value: Number
    unit: str
    source: str


class RoadTestResult(ResultPart):
    """A scan tool's log of a drive. ``state``: ``breathes``; ``breathing`` (too little air, trims normal),
    ``intake_restricted``, ``air_flow_meter``; ``low`` without trims to part them; ``unknown``."""

    name: str
    duration_s: Number
    moments: int
    full_throttle_s: Number
    peak_load_percent: Number | None
    peak_load_u95_percent: Number | None
    peak_load_rpm: Number | None
    volumetric_efficiency: Number | None
    volumetric_efficiency_u95: Number | None
    volumetric_efficiency_rpm: Number | None
    trims_percent: Number | None
    trims_u95_percent: Number | None
    manifold_drop_kpa: Number | None
    boosted: bool
    state: Literal["breathes", "breathing", "intake_restricted", "air_flow_meter", "low", "unknown"]
    text: str
    missing: list[str]
    notes: list[str]
    limits: list[RoadLimit]


class LookResult(ResultPart):
    """Something seen, heard or read off a gauge, with its weight in words."""

    question: str
    title: str
    answer: str
    cylinder: int | None
    weight: str
    note: str
