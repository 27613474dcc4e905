"""The hand-over document: everything that a workshop which never saw the car needs, ready to be set as pages."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import ConfigDict, Field

from phasko.core.documents.repair_results import RepairPair
from phasko.core.documents.result_part import Number, ResultPart
from phasko.core.documents.verdict_results import MarkResult

__all__ = [
    "CaptureLine",
    "Chance",
    "CycleRow",
    "EvidenceRow",
    "Excluded",
    "HandOver",
    "Head",
    "Line",
    "MarkSketch",
    "MeasuredRow",
    "OwnerPage",
    "PhotoLine",
    "Probed",
    "Proof",
    "SeeOnOpening",
]

Result = Literal["over", "within", "in place", "low", "sound", "noted", ""]


class Head(ResultPart):
    """Whose, of what, by whom and when."""

    workshop: str
    address: str
    number: int
    made_at: str
    measured_by: str
    vehicle: str
    make_model: str
    engine: str
    distance_km: Number | None
    complaint: str
    codes: list[str]
    history: list[str]


class Line(ResultPart):
    """One line of the first word: what it is, and the words."""

    title: str
    text: str


class MeasuredRow(ResultPart):
    """One reading with its half width, what it is compared with, and its limit."""

    what: str
    reading: str
    half_width: str
    against: str
    limit: str
    result: Result


class Excluded(ResultPart):
    """An explanation that it is not, by which measurement; ``short``: its name alone; ``open``: at least 1 in 200, so
    not excluded."""

    title: str
    short: str
    by: str
    open: bool
    chance: str


class EvidenceRow(ResultPart):
    """What one kind of evidence alone says of the call: ``bits`` above 0 for it."""

    kind: str
    bits: Number
    text: str
    without: str


class Chance(ResultPart):
    title: str
    probability: Annotated[float, Field(ge=0, le=1)]
    words: str
    besides: bool


class MarkSketch(MarkResult):
    """A mark as it is drawn, and in words."""

    words: str


class SeeOnOpening(ResultPart):
    see: str
    false_if: str
    together: list[str]
    inspect: list[str]
    hazards: list[str]
    hours: Number
    marks: list[MarkSketch]


class Probed(ResultPart):
    signal: str
    at: str
    pin: str
    colour: str


class PhotoLine(ResultPart):
    id: int
    station: str
    caption: str
    width: int
    height: int


class CaptureLine(ResultPart):
    """One capture: in which state, how fast, how many cycles, what was left out, and the hash of its files."""

    title: str
    file: str
    state: str
    recorded_at: str
    rpm: Number | None
    cycles: int | None
    repair: Literal["before", "after"]
    left_out: list[str]
    said: list[str]
    sha256: str


class CycleRow(ResultPart):
    """The readings of one cam, cycle by cycle (deg, late positive)."""

    capture: str
    cam: str
    offsets_deg: list[Number]


class Proof(ResultPart):
    """The repair: what was found, done, and proved after it."""

    found: list[str]
    as_expected: bool | None
    done: list[str]
    hours: Number | None
    done_at: str
    codes: str
    driven_km: Number | None
    symptom: str
    pairs: list[RepairPair]
    now: str
    """The call on the engine as it is after the repair."""
    cause: Literal["confirmed", "refuted", "unknown"] | None
    closed: str
    wrong: list[str]
    """What was wrong about the call, where it was, and why."""


class OwnerPage(ResultPart):
    """The page for the owner, in plain words: paragraphs under plain questions."""

    headline: str
    parts: list[Line]


class HandOver(ResultPart):
    """The whole document; pictures are drawn beside it."""

    schema_: Literal["phasko.handover/1"] = Field(default="phasko.handover/1", alias="schema")
    head: Head
    headline: str
    stop: str
    """What must not be done before anything else is; empty where nothing is forbidden."""
    five: list[Line]
    finding: str
    finding_detail: str
    measured: list[MeasuredRow]
    speaks_for: list[str]
    speaks_against: list[str]
    excluded: list[Excluded]
    assumed: list[str]
    not_counted: list[str]
    evidence: list[EvidenceRow]
    chances: list[Chance]
    opening: SeeOnOpening | None
    costs: list[str]
    limits: list[str]
    not_needed: list[str]
    side_findings: list[str]
    probed: list[Probed]
    insulation: str
    cautions: list[str]
    captures: list[CaptureLine]
    cycles: list[CycleRow]
    drives: list[str]
    looks: list[str]
    seen_marks: list[MarkSketch]
    """Marks as somebody saw them, to be drawn where no photo shows them."""
    photos: list[PhotoLine]
    notes: list[str]
    proof: Proof | None
    owner: OwnerPage
    software: str
    numbers: str
    engine_sha256: str

    model_config = ConfigDict(frozen=True, extra="forbid", populate_by_name=True)
