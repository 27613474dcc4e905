"""The result document, ``phasko.analysis/1``: what was measured, how sure it is, and the call."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import ConfigDict, Field

from phasko.core.documents.breathing_results import (
    LookResult,
    ManifoldResult,
    PulseOddResult,
    PulseResult,
    PulseSuspect,
    RoadLimit,
    RoadTestResult,
)
from phasko.core.documents.compression_results import (
    CompressionResult,
    CompressionSourceResult,
    CylinderRelative,
    OverallCompressionResult,
)
from phasko.core.documents.engine import CamEdge
from phasko.core.documents.result_part import Number, ResultPart

__all__ = [
    "Amount",
    "Analysis",
    "CamEdgeResult",
    "CamResult",
    "CaptureResult",
    "CompressionResult",
    "CompressionSourceResult",
    "CostResult",
    "CountResult",
    "CrankResult",
    "CycleOffset",
    "CylinderPressureResult",
    "CylinderRelative",
    "EvidenceWeight",
    "FaultName",
    "FaultResult",
    "FilterResult",
    "Finding",
    "HealthSpan",
    "IgnitionResult",
    "IrregularityResult",
    "LearntCamResult",
    "LearntResult",
    "LookResult",
    "ManifoldResult",
    "MarkResult",
    "NextTest",
    "NotCountedResult",
    "OffsetStepResult",
    "OpeningResult",
    "OutcomeResult",
    "OverallCompressionResult",
    "PhaserResult",
    "PillarResult",
    "Problem",
    "Provenance",
    "ProvenanceCapture",
    "PulseOddResult",
    "PulseResult",
    "PulseSuspect",
    "RoadLimit",
    "RoadTestResult",
    "SchoolResult",
    "SegmentResult",
    "SignalHealth",
    "Verdict",
    "Where",
    "WithoutKind",
]

CamState = Literal["no_signal", "unsteady", "late", "early", "in"]
FaultName = Literal[
    "none",
    "chain_jumped",
    "chain_stretched",
    "cam_slipped",
    "phaser_off_park",
    "cam_signal_shifted",
    "crank_signal_shifted",
    "crank_sprocket_slipped",
    "crank_hub_slipped",
    "drive_broken",
    "tensioner_slack",
    "sync_misadjusted",
    "cam_sensor_fault",
    "crank_sensor_fault",
    "induced_pulses",
    "weak_cylinder",
    "valve_train",
    "exhaust_restricted",
    "intake_restricted",
    "ignition_mistimed",
    "reference_wrong",
    "something_else",
]


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


class CamResult(ResultPart):
    cam: str
    segment: str | None
    reference: str
    offset_deg: Number | None = None
    offset_u95_deg: Number | None = None
    total_u95_deg: Number | None = None
    offset_from_tdc_deg: Number | None = None
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


class CylinderPressureResult(ResultPart):
    cylinder: int
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


class PhaserResult(ResultPart):
    cam: str
    swept_deg: Number | None
    stop_low_deg: Number | None
    stop_high_deg: Number | None
    returned_to_deg: Number | None
    state: Literal["stuck", "slow", "returns_off_park", "moves"] | None


class CountResult(ResultPart):
    signal: str
    per_cycle: Number | None
    expected: int | None
    bad_windows: int
    windows: int


class Finding(ResultPart):
    """The measurement in a plain sentence: ``text`` contains ``emphasis``; ``detail`` stands under it; ``short`` is for
    lists, and says what is missing where there is nothing to compare with."""

    text: str
    emphasis: str | None
    detail: str
    short: str = ""


class CaptureResult(ResultPart):
    file: str
    usable: bool
    finding: Finding | None = None
    problems: list[Problem] = Field(default_factory=list)
    segments: list[SegmentResult] = Field(default_factory=list)
    crank: CrankResult | None = None
    cams: list[CamResult] = Field(default_factory=list)
    compression: CompressionResult | None = None
    ignition: list[IgnitionResult] = Field(default_factory=list)
    cylinder_pressure: list[CylinderPressureResult] = Field(default_factory=list)
    pulses: list[PulseResult] = Field(default_factory=list)
    manifolds: list[ManifoldResult] = Field(default_factory=list)
    phasers: list[PhaserResult] = Field(default_factory=list)
    counts: list[CountResult] = Field(default_factory=list)
    irregularities: list[IrregularityResult] = Field(default_factory=list)
    health: list[SignalHealth] = Field(default_factory=list)
    learnt: LearntResult | None = None
    filters: list[FilterResult] = Field(default_factory=list)


class Where(ResultPart):
    bank: int | None = None
    cams: list[str] = Field(default_factory=list)
    cylinders: list[int] = Field(default_factory=list)


class Amount(ResultPart):
    crank_deg: Number | None = None
    pitches: Number | None = None


class EvidenceWeight(ResultPart):
    """What one kind of evidence alone says of an explanation against all others: ``bits`` above 0 for it, below
    against, with the observation that tells most."""

    kind: str
    title: str
    bits: Number
    text: str


class WithoutKind(ResultPart):
    """The call with one kind of evidence left out."""

    kind: str
    title: str
    fault: FaultName
    words: str
    probability: Annotated[float, Field(ge=0, le=1)]
    teardown: Literal["go", "confirm_first", "no"]


class NotCountedResult(ResultPart):
    """What was seen and does not count in the score, and why."""

    text: str
    reason: str


class PillarResult(ResultPart):
    """One of what an engine needs: whether that is proven, suspect or not looked at, and by what."""

    pillar: Literal["seals", "breathes", "sparks", "fuel"]
    state: Literal["proven", "suspect", "not_looked_at"]
    text: str


class MarkResult(ResultPart):
    """Where a cam's mark should be found on opening: how far off (crank degrees, late positive) with the crank on its
    own mark, and in teeth of the drive where its sprocket is known."""

    cam: str
    name: str
    off_deg: Number
    teeth: Number | None


class OpeningResult(ResultPart):
    """What opening would show, what would prove the explanation false, and what goes with it."""

    see: str
    false_if: str
    hazards: list[str]
    together: list[str]
    inspect: list[str]
    hours: Number
    marks: list[MarkResult] = Field(default_factory=list)


class SchoolResult(ResultPart):
    """What one school of limits says about the cam that stands furthest off."""

    school: Literal["mark", "maker", "codes"]
    words: str
    beyond: bool | None
    used: bool


class CostResult(ResultPart):
    """Opening for nothing against driving on: hours of labour, and money where an hour's price is known."""

    opening_hours: Number
    in_vain_hours: Number
    driving_on_hours: Number
    labour_per_hour: Number | None
    currency: str
    text: str


class FaultResult(ResultPart):
    fault: FaultName
    probability: Annotated[float, Field(ge=0, le=1)]
    where: Where
    amount: Amount
    title: str = ""
    for_: list[str] = Field(default_factory=list, alias="for")
    against: list[str] = Field(default_factory=list)
    hint: str | None = None
    besides: bool | None = None
    evidence: list[EvidenceWeight] = Field(default_factory=list)
    telling: str = ""

    model_config = ConfigDict(frozen=True, extra="forbid", populate_by_name=True)


class OutcomeResult(ResultPart):
    """What a test may show: how likely that is, which explanation would then lead, and how surely."""

    outcome: str
    chance: Annotated[float, Field(ge=0, le=1)]
    fault: FaultName
    words: str
    probability: Annotated[float, Field(ge=0, le=1)]


class NextTest(ResultPart):
    test: str
    title: str
    how: str
    minutes: Number
    cranks: bool
    why: str
    parts: list[FaultName] = Field(default_factory=list)
    outcomes: list[OutcomeResult] = Field(default_factory=list)


class Verdict(ResultPart):
    undecided: bool
    undecided_because: str | None
    faults: list[FaultResult]
    teardown: Literal["go", "confirm_first", "no"]
    teardown_because: str
    next_test: NextTest | None
    cautions: list[str]
    not_counted: list[NotCountedResult] = Field(default_factory=list)
    measured: bool = True
    """Whether anything was measured or looked at: else the chances are those before measuring."""
    without: list[WithoutKind] = Field(default_factory=list)
    pillars: list[PillarResult] = Field(default_factory=list)
    opening: OpeningResult | None = None
    schools: list[SchoolResult] = Field(default_factory=list)
    costs: CostResult | None = None


class ProvenanceCapture(ResultPart):
    file: str
    sha256: str


class Provenance(ResultPart):
    software: str
    numbers: str
    captures: list[ProvenanceCapture]
    engine_sha256: str


class Analysis(ResultPart):
    """The whole result of one job."""

    schema_: Literal["phasko.analysis/1"] = Field(default="phasko.analysis/1", alias="schema")
    captures: list[CaptureResult]
    verdict: Verdict
    provenance: Provenance
    road_tests: list[RoadTestResult] = Field(default_factory=list)
    looks: list[LookResult] = Field(default_factory=list)
    finding: Finding | None = None
    """The measurement that the call rests on; ``None`` without captures."""
    sealing: str | None = None
    """What lists say about sealing, of the capture in which a cylinder compresses least."""

    model_config = ConfigDict(frozen=True, extra="forbid", populate_by_name=True)
