"""The call in the result document: explanations with their reasons, the gate, the next test, opening and costs."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import ConfigDict, Field

from phasko.core.documents.fault_name import FaultName
from phasko.core.documents.result_part import Number, ResultPart

__all__ = [
    "Amount",
    "CostResult",
    "EvidenceWeight",
    "FaultName",
    "FaultResult",
    "MarkResult",
    "NextTest",
    "NotCountedResult",
    "OpeningResult",
    "OutcomeResult",
    "PillarResult",
    "SchoolResult",
    "Verdict",
    "Where",
    "WithoutKind",
]


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
