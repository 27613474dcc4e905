"""The result document, ``phasko.analysis/1``: what was measured, how sure it is, and the call."""

from __future__ import annotations

from typing import Literal

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
from phasko.core.documents.repair_results import BeforeRepair
from phasko.core.documents.result_part import Number, ResultPart
from phasko.core.documents.standards_results import (
    ChainResult,
    ConditionsResult,
    ElongationResult,
    SlackResult,
    StandardResult,
    TogetherResult,
)
from phasko.core.documents.verdict_results import (
    Amount,
    CostResult,
    EvidenceWeight,
    FaultName,
    FaultResult,
    MarkResult,
    NextTest,
    NotCountedResult,
    OpeningResult,
    OutcomeResult,
    PillarResult,
    SchoolResult,
    Verdict,
    Where,
    WithoutKind,
)

__all__ = [
    "Amount",
    "Analysis",
    "CamEdgeResult",
    "CamResult",
    "CaptureResult",
    "CompressionResult",
    "CompressionSourceResult",
    "CornerU95",
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
    "SweepBeside",
    "Verdict",
    "Where",
    "WithoutKind",
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


class SweepBeside(ResultPart):
    """Mean of another channel before the phaser was driven, and while it was, in its own unit."""

    channel: str
    unit: str
    at_rest: Number
    driven: Number


class PhaserResult(ResultPart):
    """How a cam followed when its phaser was driven. Places are offsets like ``offset_deg``; ``rate_deg_per_s`` is the
    mean over all travels, ``hysteresis_deg`` where it came back to less where it started. ``short_deg``: what is
    missing of the profile's ``range_deg``, on ``short_side`` where that is more than phasers differ by. ``stop_seen``:
    the cam stood still while it was driven. ``text`` and ``advice``: the same in words."""

    cam: str
    swept_deg: Number | None
    stop_low_deg: Number | None
    stop_high_deg: Number | None
    returned_to_deg: Number | None
    state: Literal["stuck", "slow", "returns_off_park", "moves"] | None
    stop_u95_deg: Number | None = None
    dead_time_s: Number | None = None
    dead_time_u95_s: Number | None = None
    rate_deg_per_s: Number | None = None
    hysteresis_deg: Number | None = None
    range_deg: Number | None = None
    short_deg: Number | None = None
    short_side: Literal["park", "far"] | None = None
    stop_seen: bool = True
    commanded_by: Literal["channel", "scan_tool", "movement"] | None = None
    beside: list[SweepBeside] = Field(default_factory=list)
    text: str = ""
    advice: str | None = None


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
    injection: list[InjectionResult] = Field(default_factory=list)
    cylinder_pressure: list[CylinderPressureResult] = Field(default_factory=list)
    pulses: list[PulseResult] = Field(default_factory=list)
    manifolds: list[ManifoldResult] = Field(default_factory=list)
    phasers: list[PhaserResult] = Field(default_factory=list)
    counts: list[CountResult] = Field(default_factory=list)
    irregularities: list[IrregularityResult] = Field(default_factory=list)
    health: list[SignalHealth] = Field(default_factory=list)
    learnt: LearntResult | None = None
    filters: list[FilterResult] = Field(default_factory=list)
    standards: list[StandardResult] = Field(default_factory=list)
    standards_said: list[str] = Field(default_factory=list)
    chain: list[ChainResult] = Field(default_factory=list)
    slack: list[SlackResult] = Field(default_factory=list)
    together: TogetherResult | None = None


class ProvenanceCapture(ResultPart):
    file: str
    sha256: str


class Provenance(ResultPart):
    """What a result was made by and from. ``code``: hash of the modules that decide a result; absent in results of
    versions before 0.3."""

    software: str
    numbers: str
    code: str | None = None
    captures: list[ProvenanceCapture]
    engine_sha256: str

    @property
    def label(self) -> str:
        """Version and the first digits of the code's hash, as ``phasko 0.3.0+3f2a1b9c4d5e``."""
        return f"{self.software}+{self.code[:12]}" if self.code else self.software


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
    felt: str | None = None
    """What lists say about the cylinders whose pressure was recorded, of the one that is furthest out."""
    elongation: ElongationResult | None = None
    conditions: ConditionsResult | None = None
    before_repair: BeforeRepair | None = None
    """The call on what was known before the repair, once anything is known from after it."""

    model_config = ConfigDict(frozen=True, extra="forbid", populate_by_name=True)
