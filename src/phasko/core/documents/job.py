"""The job document, ``phasko.job/1``: what a person knows beside the captures."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import BaseModel, ConfigDict, Field, model_validator

__all__ = [
    "Code",
    "Compare",
    "Complaint",
    "Costs",
    "Figure",
    "JobDocument",
    "Limit",
    "Look",
    "Part",
    "Replaced",
    "Symptom",
    "When",
]

Amount = Annotated[float, Field(ge=0, le=1_000_000, allow_inf_nan=False)]
Symptom = Literal[
    "no_start",
    "hard_start",
    "stalls",
    "misfire",
    "lack_of_power",
    "rattle",
    "rough_idle",
    "overheated",
    "none",
]
When = Literal["cold", "hot", "after_standing", "idle", "load", "intermittent", "after_repair"]
Part = Literal[
    "crank_sensor",
    "cam_sensor",
    "coil",
    "injector",
    "fuel_pump",
    "drive",
    "phaser",
    "solenoid",
    "cam",
    "crank_pulley",
    "distributor",
    "control_unit",
    "head",
    "wiring",
    "other",
]


class JobPart(BaseModel):
    """Frozen, and an unknown word is an error that names it."""

    model_config = ConfigDict(frozen=True, extra="forbid")


class Complaint(JobPart):
    text: Annotated[str, Field(max_length=2000)] = ""
    symptoms: list[Symptom] = Field(default_factory=list)
    when: list[When] = Field(default_factory=list)
    distance_km: Amount | None = None


class Code(JobPart):
    """A trouble code. ``returned``: it came back after clearing; ``None``: not tried."""

    code: Annotated[str, Field(min_length=1, max_length=12)]
    status: Literal["current", "pending", "stored", "history"] = "stored"
    returned: bool | None = None


class Replaced(JobPart):
    """A part that was replaced, whether before the symptom began or after, and what that did."""

    part: Part
    when: Literal["before_symptom", "after_symptom", "unknown"] = "unknown"
    effect: Literal["none", "changed", "cured"] = "none"


class Look(JobPart):
    """Something looked at, listened to or read off a gauge. ``answer`` is one of the question's; a reading (``value``,
    in the question's unit) may belong to a ``cylinder``. Of marks: the ``cam``, how far it is out (``amount_deg``,
    crank degrees, late positive), and where the crank stood: on the maker's ``mark``, or with a piston proved at
    ``tdc``."""

    question: str
    answer: str | None = None
    cylinder: Annotated[int | None, Field(ge=1, le=24)] = None
    cam: str | None = None
    valve: Literal["intake", "exhaust"] | None = None
    amount_deg: Annotated[float | None, Field(ge=-360, le=360, allow_inf_nan=False)] = None
    crank_at: Literal["mark", "tdc"] = "mark"
    value: Annotated[float | None, Field(ge=0, le=1000, allow_inf_nan=False)] = None
    note: Annotated[str, Field(max_length=500)] = ""


class Limit(JobPart):
    """The limit that is judged by: its ``school`` (a mark, the maker's figure, codes), and its size if it has one."""

    school: Literal["mark", "maker", "codes"] = "maker"
    cam_deg: Annotated[float, Field(gt=0, le=90)] | None = None


class Costs(JobPart):
    """What an hour costs, and what opening and a ruined engine would."""

    labour_per_hour: Amount | None = None
    currency: Annotated[str, Field(max_length=8)] = ""
    opening_hours: Amount | None = None
    engine: Amount | None = None


class Compare(JobPart):
    """Which known good captures (by file) a person leaves out, and which are compared with although they were recorded
    in another state."""

    left_out: Annotated[list[str], Field(max_length=200)] = Field(default_factory=list)
    allowed: Annotated[list[str], Field(max_length=200)] = Field(default_factory=list)


class Figure(JobPart):
    """Where one edge of a cam should be, from elsewhere: a workshop figure, or read off a picture.

    ``edge`` counts as in the profile, from 0. ``form``: ``teeth`` from tooth 1, the first after the gap, on the
    ``after`` or ``before`` side of it (1.0 is one tooth further), missing teeth ``counted`` or not; ``degrees`` after
    tooth 1; ``tdc_degrees`` after cylinder 1's firing TDC; ``between`` two pulses, tooth number and part (0.5:
    middle); ``picture``: places along a ruler in any unit, of two gaps one ``turns`` apart (``from_mark``, ``to_mark``)
    and of the edge (``value``), each read to within ``reading``. ``u95`` is the half width, in the figure's own unit;
    without it half of the last place that was given. ``source``: where it is from, in words.
    """

    cam: Annotated[str, Field(min_length=1, max_length=40)]
    edge: Annotated[int, Field(ge=0, le=63)] = 0
    form: Literal["teeth", "degrees", "tdc_degrees", "between", "picture"]
    value: Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)]
    side: Literal["after", "before"] = "after"
    counted: bool = True
    from_mark: Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)] | None = None
    to_mark: Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)] | None = None
    turns: Annotated[int, Field(ge=1, le=20)] = 1
    reading: Annotated[float, Field(gt=0, le=1e6, allow_inf_nan=False)] | None = None
    u95: Annotated[float, Field(gt=0, le=360, allow_inf_nan=False)] | None = None
    source: Annotated[str, Field(max_length=200)] = ""

    @model_validator(mode="after")
    def _picture_has_its_gaps(self) -> Self:
        if self.form == "picture" and (self.from_mark is None or self.to_mark is None or self.reading is None):
            raise ValueError("a figure off a picture needs both gaps (from_mark, to_mark) and how well it was read")
        if self.form == "picture" and self.from_mark == self.to_mark:
            raise ValueError("both gaps of the picture stand at the same place")
        return self


class JobDocument(JobPart):
    """All of it optional; an empty document changes nothing."""

    schema_: Literal["phasko.job/1"] = Field(alias="schema")
    complaint: Complaint | None = None
    codes: list[Code] = Field(default_factory=list)
    replaced: list[Replaced] = Field(default_factory=list)
    looks: list[Look] = Field(default_factory=list)
    road_tests: list[str] = Field(default_factory=list)
    limit: Limit | None = None
    minutes: dict[str, Annotated[float, Field(gt=0, le=10_000)]] = Field(default_factory=dict)
    costs: Costs | None = None
    compare: Compare | None = None
    figures: Annotated[list[Figure], Field(max_length=100)] = Field(default_factory=list)

    model_config = ConfigDict(frozen=True, extra="forbid", populate_by_name=True)
