"""The result document, ``phasko.analysis/1``: what was measured, how sure it is, and the call."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

__all__ = [
    "Amount",
    "Analysis",
    "CamEdgeResult",
    "CamResult",
    "CaptureResult",
    "CompressionResult",
    "CountResult",
    "CrankResult",
    "CylinderPressureResult",
    "CylinderRelative",
    "FaultName",
    "FaultResult",
    "Finding",
    "IgnitionResult",
    "NextTest",
    "PhaserResult",
    "Problem",
    "Provenance",
    "ProvenanceCapture",
    "PulseResult",
    "SegmentResult",
    "Verdict",
    "Where",
]

Number = Annotated[float, Field(allow_inf_nan=False)]
CamState = Literal["no_signal", "unsteady", "late", "early", "in"]
FaultName = Literal[
    "none",
    "chain_jumped",
    "chain_stretched",
    "cam_slipped",
    "phaser_off_park",
    "cam_signal_shifted",
    "crank_signal_shifted",
    "crank_hub_slipped",
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


class ResultPart(BaseModel):
    """Frozen, closed, and without infinities: a result goes to disk and to other programs as it stands."""

    model_config = ConfigDict(frozen=True, extra="forbid")


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
    index_offset_source: Literal["cylinder_pressure", "speed", "current"] | None = None


class CamEdgeResult(ResultPart):
    edge: int
    kind: Literal["rising", "falling"]
    measured_deg: Number
    reference_deg: Number | None
    delta_deg: Number | None
    teeth_from_gap: Number | None


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


class CylinderRelative(ResultPart):
    cylinder: int
    relative: Number | None
    u95: Number | None = None
    state: Literal["good", "weak", "dead", "unknown"]


class CompressionResult(ResultPart):
    source: Literal["starter_current", "battery_voltage", "crank_speed"]
    events_per_cycle: int | None
    expected_events: int
    identified_by: str | None
    cylinders: list[CylinderRelative]


class IgnitionResult(ResultPart):
    cylinder: int
    spark_deg: Number | None
    spark_u95_deg: Number | None
    state: str


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


class PulseResult(ResultPart):
    role: str
    cylinders: list[CylinderRelative]


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
    """The measurement in a plain sentence: ``text`` contains ``emphasis``; ``detail`` stands under it."""

    text: str
    emphasis: str | None
    detail: str


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
    phasers: list[PhaserResult] = Field(default_factory=list)
    counts: list[CountResult] = Field(default_factory=list)


class Where(ResultPart):
    bank: int | None = None
    cams: list[str] = Field(default_factory=list)
    cylinders: list[int] = Field(default_factory=list)


class Amount(ResultPart):
    crank_deg: Number | None = None
    pitches: Number | None = None


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

    model_config = ConfigDict(frozen=True, extra="forbid", populate_by_name=True)


class NextTest(ResultPart):
    test: str
    title: str
    how: str
    minutes: Number
    cranks: bool
    why: str


class Verdict(ResultPart):
    undecided: bool
    undecided_because: str | None
    faults: list[FaultResult]
    teardown: Literal["go", "confirm_first", "no"]
    teardown_because: str
    next_test: NextTest | None
    cautions: list[str]


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

    model_config = ConfigDict(frozen=True, extra="forbid", populate_by_name=True)
