"""What a measurement is compared with, and what the timing drive says: parts of the result document."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from phasko.core.documents.result_part import Number, ResultPart

__all__ = [
    "ChainResult",
    "ConditionRow",
    "ConditionsResult",
    "ElongationResult",
    "MarginResult",
    "PitchResult",
    "SlackResult",
    "StandardKind",
    "StandardResult",
    "TogetherResult",
]

StandardKind = Literal["known_good", "profile", "figure", "picture", "other_bank", "other_shaft", "earlier", "stretch"]


class StandardResult(ResultPart):
    """One cam against one standard: how late it is (``offset_deg``), the half width of the measurement, and with what
    is not known about the standard. ``assumes``: what must hold for that. ``used``: the headline rests on it.
    ``disagrees``: it says something else than the one that is used."""

    cam: str
    segment: str
    kind: StandardKind
    name: str
    offset_deg: Number
    u95_deg: Number
    total_u95_deg: Number
    assumes: str
    used: bool = False
    disagrees: bool = False


class PitchResult(ResultPart):
    """An offset in pitches of one stage (from 0); ``whole``: it is a whole number of them within its half width, and
    no other whole number is."""

    stage: int
    pitch_deg: Number
    pitches: Number
    u95: Number
    whole: int | None


class MarginResult(ResultPart):
    """How far a cam stands from a limit, in crank degrees and in millimetres of chain; negative: beyond it."""

    school: Literal["mark", "maker", "pitch"]
    limit_deg: Number
    margin_deg: Number
    margin_u95_deg: Number
    margin_mm: Number | None


class ChainResult(ResultPart):
    """One cam's chain arithmetic. ``chain_mm``: its offset as a length of chain at the crank sprocket; ``slack_mm``: by
    how much the strand before it goes to and fro from cycle to cycle, 95 of 100 cycles."""

    cam: str
    segment: str
    pitches: list[PitchResult] = Field(default_factory=list)
    chain_mm: Number | None = None
    slack_mm: Number | None = None
    margins: list[MarginResult] = Field(default_factory=list)
    words: str = ""


class SlackResult(ResultPart):
    """One chain's slack over the cycles of a segment, 95 of 100: by how many millimetres all its cams swing together
    (the loaded strand from the crank), and each one by itself (``own_mm``, by cam: the strands beside it)."""

    cams: list[str]
    segment: str
    cycles: int
    together_mm: Number
    own_mm: dict[str, Number]
    words: str


class ElongationResult(ResultPart):
    """Elongation from the pattern of lateness along the free strands: ``percent`` of the chain, ``mm`` on the longest
    free strand, and how late that makes the furthest cam. ``fits``: the cams stand as one elongation would have them.
    ``stays``: it was seen in more than one condition and is the same; ``None``: seen in one only."""

    percent: Number
    u95_percent: Number
    mm: Number | None
    u95_mm: Number | None
    furthest_cam: str
    furthest_deg: Number
    furthest_u95_deg: Number
    fits: bool
    stays: bool | None = None
    words: str = ""


class ConditionRow(ResultPart):
    """One cam in one condition of one capture."""

    cam: str
    file: str
    segment: str
    temperature: str
    phasers: str
    symptom: str
    repair: str
    offset_deg: Number
    u95_deg: Number
    total_u95_deg: Number


class ConditionsResult(ResultPart):
    """The same cams in every condition, and what changes between them, in sentences."""

    rows: list[ConditionRow]
    said: list[str] = Field(default_factory=list)


class TogetherResult(ResultPart):
    """What moved together: ``cams`` that stand off alike by ``offset_deg``, the loops of the drive (their sprockets, as
    the drawing names them) at which that points, and one sentence."""

    cams: list[str]
    offset_deg: Number | None
    points_to: list[list[str]] = Field(default_factory=list)
    text: str
