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
from phasko.core.documents.cam_results import (
    CamEdgeResult,
    CamResult,
    CountResult,
    CrankResult,
    CycleOffset,
    FilterResult,
    HealthSpan,
    IrregularityResult,
    LearntCamResult,
    LearntResult,
    OffsetStepResult,
    Problem,
    SegmentResult,
    SignalHealth,
)
from phasko.core.documents.compression_results import (
    CompressionResult,
    CompressionSourceResult,
    CylinderRelative,
    OverallCompressionResult,
)
from phasko.core.documents.cylinder_results import (
    CornerU95,
    CylinderPressureResult,
    IgnitionResult,
    InjectionResult,
)
from phasko.core.documents.phaser_results import PhaserResult, SweepBeside
from phasko.core.documents.repair_results import BeforeRepair
from phasko.core.documents.result_part import ResultPart
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
