"""What a result says of one capture's crank, cams and signals."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from phasko.core.documents.engine import CamEdge
from phasko.core.documents.result_part import Number, ResultPart

__all__ = [
    "CamEdgeResult",
    "CamResult",
    "CountResult",
    "CrankResult",
    "CycleOffset",
    "FilterResult",
    "HealthSpan",
    "IrregularityResult",
    "LearntCamResult",
    "LearntResult",
    "OffsetStepResult",
    "Problem",
    "SegmentResult",
    "SignalHealth",
]

CamState = Literal["no_signal", "unsteady", "late", "early", "in"]


class Problem(ResultPart):
    code: str
    channel: str | None = None
    text: str


class SegmentResult(ResultPart):
    kind: Literal["rest", "cranking", "run_up", "running"]
    from_s: Number
    to_s: Number


class CrankResult(ResultPart):
    wheel: str | None
    matches_profile: bool | None
    mean_rpm: Number | None
    revolutions: Number | None
    cycles: int | None
    missing_edges: int
    extra_edges: int
    index_offset_deg: Number | None = None
    index_offset_u95_deg: Number | None = None
    index_offset_source: Literal["cylinder_pressure", "speed", "current", "joined"] | None = None


class CamEdgeResult(ResultPart):
    """``from_tooth_1_deg``: after the index tooth, in [0, 720), known without an index. ``between_teeth``: where
    between the two wheel teeth around it the edge falls, 0.5 in the middle."""

    edge: int
    kind: Literal["rising", "falling"]
    measured_deg: Number | None
    reference_deg: Number | None
    delta_deg: Number | None
    teeth_from_gap: Number | None
    from_tooth_1_deg: Number | None = None
    between_teeth: Number | None = None


class CycleOffset(ResultPart):
    """The offset of one cycle, ``time_s`` being the middle of its edges."""

    time_s: Number
    offset_deg: Number


class OffsetStepResult(ResultPart):
    """A change of the offset inside the segment."""

    time_s: Number
    before_deg: Number
    after_deg: Number
    happened: list[str] = Field(default_factory=list)


class CamResult(ResultPart):
    cam: str
    segment: str | None
    reference: str
    offset_deg: Number | None = None
    offset_u95_deg: Number | None = None
    total_u95_deg: Number | None = None
    offset_from_tdc_deg: Number | None = None
    offset_from_tdc_u95_deg: Number | None = None
    cycle_spread_deg: Number | None = None
    trend_deg_per_s: Number | None = None
    cycles: int = 0
    pitches: Number | None = None
    pitch_stage: int | None = None
    ambiguous_modulo_deg: Number | None = None
    state: CamState | None = None
    missing_edges: int = 0
    extra_edges: int = 0
    edges: list[CamEdgeResult] = Field(default_factory=list)
    per_cycle: list[CycleOffset] = Field(default_factory=list)
    step: OffsetStepResult | None = None


class IrregularityResult(ResultPart):
    """Lost or added pulses at one moment, or a silent stretch; ``signal`` is ``crank``, a cam's or a wheel's id."""

    signal: str
    channel: str
    kind: Literal["missing", "extra", "silent"]
    count: int
    time_s: Number
    to_s: Number
    cycle: int | None
    angle_deg: Number | None


class HealthSpan(ResultPart):
    from_s: Number
    to_s: Number
    state: Literal["good", "irregular", "silent", "standing", "unread"]


class FilterResult(ResultPart):
    """What a channel's low-pass does to its edges. ``harmful``: it moves them by more than the offsets' ``u95``."""

    channel: str
    filter_hz: Number
    moved_usual_deg: Number
    moved_most_deg: Number
    lost_edges: int
    added_edges: int
    harmful: bool


class SignalHealth(ResultPart):
    """One signal over the whole capture, as stretches of one state each."""

    signal: str
    channel: str
    spans: list[HealthSpan]


class LearntCamResult(ResultPart):
    """A cam's pattern as seen: edges in degrees after tooth 1, and after which angle it repeats."""

    cam: str
    edges_per_cycle: int
    repeats_deg: Number
    edges: list[CamEdge]


class LearntResult(ResultPart):
    """What the signals themselves taught where the profile says nothing, and what no signal can tell."""

    wheel: str | None
    signatures_per_turn: int | None
    cams: list[LearntCamResult]
    unknown: list[str]


class CountResult(ResultPart):
    signal: str
    per_cycle: Number | None
    expected: int | None
    bad_windows: int
    windows: int
