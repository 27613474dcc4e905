"""The job document, ``phasko.job/1``: what a person knows beside the captures."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import ConfigDict, Field, model_validator

from phasko.core.documents.fault_name import FaultName
from phasko.core.documents.job_part import JobPart
from phasko.core.documents.repair import Closing, Note, Part, Repair, RepairPart

__all__ = [
    "Background",
    "Code",
    "CodeStatus",
    "Compare",
    "Complaint",
    "Costs",
    "Figure",
    "FreezeFrame",
    "Guided",
    "HookUp",
    "JobDocument",
    "Lamp",
    "Limit",
    "Look",
    "Part",
    "RepairSide",
    "Replaced",
    "Sorted",
    "Symptom",
    "When",
    "Wire",
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
RepairSide = Literal["before", "after"]
CodeStatus = Literal["current", "pending", "stored", "history"]
Lamp = Literal["on", "flashing", "off"]
Sorted = Literal["cause", "consequence", "unrelated"]
"""What a code is beside the others; unrelated ones are kept for the owner."""


class Complaint(JobPart):
    """What the driver says, and what the car itself says of its age: ``distance_km``, the year it was built."""

    text: Annotated[str, Field(max_length=2000)] = ""
    symptoms: list[Symptom] = Field(default_factory=list)
    when: list[When] = Field(default_factory=list)
    distance_km: Amount | None = None
    built_year: Annotated[int | None, Field(ge=1900, le=2100)] = None
    since: Annotated[str, Field(max_length=200)] = ""
    lamp: Lamp | None = None


class FreezeFrame(JobPart):
    """What the control unit kept of the moment when it set a code."""

    rpm: Annotated[float | None, Field(ge=0, le=20_000, allow_inf_nan=False)] = None
    speed_kmh: Annotated[float | None, Field(ge=0, le=500, allow_inf_nan=False)] = None
    coolant_c: Annotated[float | None, Field(ge=-60, le=200, allow_inf_nan=False)] = None
    load_percent: Annotated[float | None, Field(ge=0, le=255, allow_inf_nan=False)] = None
    battery_v: Annotated[float | None, Field(ge=0, le=60, allow_inf_nan=False)] = None
    distance_km: Amount | None = None
    text: Annotated[str, Field(max_length=500)] = ""


class Code(JobPart):
    """A trouble code. ``returned``: it came back after clearing; ``None``: not tried. ``sort``: what a person says it
    is beside the others; ``None``: as it is usual."""

    code: Annotated[str, Field(min_length=1, max_length=12)]
    status: CodeStatus = "stored"
    returned: bool | None = None
    freeze_frame: FreezeFrame | None = None
    sort: Sorted | None = None


class Replaced(JobPart):
    """A part that was replaced, whether before the symptom began or after, and what that did. ``by`` whom, of which
    ``make``, and ``at`` which date or distance, in words."""

    part: Part
    when: Literal["before_symptom", "after_symptom", "unknown"] = "unknown"
    effect: Literal["none", "changed", "cured"] = "none"
    by: Annotated[str, Field(max_length=120)] = ""
    make: Annotated[str, Field(max_length=120)] = ""
    at: Annotated[str, Field(max_length=120)] = ""


class Background(JobPart):
    """What else is known of the car: an event, a notice of the maker, or a failure that is typical of its type.
    ``fault``: what a notice or a typical failure is about; it moves the odds a little, never the decision."""

    what: Literal["accident", "fire", "wiring_work", "water", "bulletin", "reprogramming", "typical_failure", "other"]
    when: Literal["before_symptom", "after_symptom", "unknown"] = "unknown"
    fault: FaultName | None = None
    text: Annotated[str, Field(max_length=500)] = ""


class Look(JobPart):
    """Something looked at, listened to or read off a gauge. ``answer`` is one of the question's; a reading (``value``,
    in the question's unit) may belong to a ``cylinder``. Of marks: the ``cam``, how far it is out (``amount_deg``,
    crank degrees, late positive), and where the crank stood: on the maker's ``mark``, or with a piston proved at
    ``tdc``. ``repair``: whether it was seen before or after a repair on this job; absent: before."""

    question: str
    answer: str | None = None
    cylinder: Annotated[int | None, Field(ge=1, le=24)] = None
    cam: str | None = None
    valve: Literal["intake", "exhaust"] | None = None
    amount_deg: Annotated[float | None, Field(ge=-360, le=360, allow_inf_nan=False)] = None
    crank_at: Literal["mark", "tdc"] = "mark"
    repair: RepairSide | None = None
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


class Wire(JobPart):
    """One wire as the workshop knows it: of which ``signal`` (as the plan names it), found ``at`` the sensor or at the
    control unit, on which pin and of which colour."""

    signal: Annotated[str, Field(min_length=1, max_length=60)]
    at: Literal["sensor", "control_unit"] = "sensor"
    pin: Annotated[str, Field(max_length=40)] = ""
    colour: Annotated[str, Field(max_length=60)] = ""


class HookUp(JobPart):
    """How the instrument is hooked up for which ``question``: on how many ``channels``, which cautions are ``ticked``,
    the wires, how fuel is kept off, and whether the pedal held down cuts it on this car (``clear_flood``).
    ``insulation``: whether wires that were pierced were closed again. ``ranges_v`` (half ranges at the wire, by signal)
    and ``rate_hz`` as they were set by hand; absent: as planned."""

    question: Annotated[str, Field(max_length=40)] = ""
    channels: Literal[2, 4, 8] = 4
    cylinder: Annotated[int | None, Field(ge=1, le=24)] = None
    ticked: Annotated[list[str], Field(max_length=60)] = Field(default_factory=list)
    wires: Annotated[list[Wire], Field(max_length=60)] = Field(default_factory=list)
    fuel_off: Annotated[str, Field(max_length=200)] = ""
    clear_flood: Literal["proved", "not_there", "unknown"] = "unknown"
    insulation: Literal["closed", "not_pierced", "open", "unknown"] = "unknown"
    ranges_v: Annotated[
        dict[str, Annotated[float, Field(gt=0, le=100_000, allow_inf_nan=False)]], Field(max_length=60)
    ] = Field(default_factory=dict)
    rate_hz: Annotated[float | None, Field(ge=1000, le=1_000_000, allow_inf_nan=False)] = None


class Guided(JobPart):
    """Readings taken by a guide (a sensor's three wires, a solenoid's resistance ...) ``about`` a sensor or part: each
    by the name that the guide gives it, in the guide's unit; answers that are words beside them."""

    guide: Annotated[str, Field(min_length=1, max_length=40)]
    about: Annotated[str, Field(max_length=60)] = ""
    readings: dict[str, Annotated[float, Field(ge=-1e6, le=1e9, allow_inf_nan=False)]] = Field(default_factory=dict)
    answers: dict[str, Annotated[str, Field(max_length=40)]] = Field(default_factory=dict)
    note: Annotated[str, Field(max_length=500)] = ""


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
    background: Annotated[list[Background], Field(max_length=50)] = Field(default_factory=list)
    looks: list[Look] = Field(default_factory=list)
    hook_up: HookUp | None = None
    guided: Annotated[list[Guided], Field(max_length=100)] = Field(default_factory=list)
    road_tests: list[str] = Field(default_factory=list)
    limit: Limit | None = None
    minutes: dict[str, Annotated[float, Field(gt=0, le=10_000)]] = Field(default_factory=dict)
    costs: Costs | None = None
    compare: Compare | None = None
    figures: Annotated[list[Figure], Field(max_length=100)] = Field(default_factory=list)
    repair: Repair | None = None
    closing: Closing | None = None
    notes: Annotated[list[Note], Field(max_length=500)] = Field(default_factory=list)
    holder: Annotated[str, Field(max_length=60)] = ""
    """Who has the job."""
    waiting_for: Annotated[str, Field(max_length=200)] = ""
    ordered: Annotated[list[RepairPart], Field(max_length=50)] = Field(default_factory=list)
    """Parts on order."""
    for_owner: Annotated[str, Field(max_length=2000)] = ""
    """What the owner should know besides."""

    model_config = ConfigDict(frozen=True, extra="forbid", populate_by_name=True)
