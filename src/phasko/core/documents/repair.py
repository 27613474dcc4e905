"""What was found on opening, what was done about it, and how the job was closed: parts of the job document."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AwareDatetime, Field

from phasko.core.documents.fault_name import FaultName
from phasko.core.documents.job_part import JobPart

__all__ = [
    "Called",
    "CalledFault",
    "Cause",
    "Closing",
    "Note",
    "Part",
    "Repair",
    "RepairPart",
    "Seen",
    "ShopAmount",
]

ShopAmount = Annotated[float, Field(ge=0, le=1_000_000, allow_inf_nan=False)]
"""Of hours, kilometres or money."""
Cause = Literal["confirmed", "refuted", "unknown"]
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


class Seen(JobPart):
    """One thing found on opening: a fault by its word, with the cams or cylinders it sits at, or in free words."""

    fault: FaultName | None = None
    cams: Annotated[list[Annotated[str, Field(max_length=40)]], Field(max_length=16)] = Field(default_factory=list)
    cylinders: Annotated[list[Annotated[int, Field(ge=1, le=24)]], Field(max_length=24)] = Field(default_factory=list)
    text: Annotated[str, Field(max_length=1000)] = ""


class RepairPart(JobPart):
    """A part that this repair replaced, in the trade's word and in the workshop's own."""

    part: Part
    text: Annotated[str, Field(max_length=200)] = ""


class Repair(JobPart):
    """The repair. ``opened``: whether the covers came off. ``as_expected``: whether what was found is what the call
    said would be seen. ``codes_cleared_at`` when, ``driven_km`` how far since, ``returned`` which codes came back.
    ``road_tests``: drives after it, by the names of their logs."""

    opened: bool | None = None
    as_expected: bool | None = None
    found: Annotated[list[Seen], Field(max_length=20)] = Field(default_factory=list)
    replaced: Annotated[list[RepairPart], Field(max_length=50)] = Field(default_factory=list)
    hours: ShopAmount | None = None
    parts_cost: ShopAmount | None = None
    done_at: AwareDatetime | None = None
    codes_cleared_at: AwareDatetime | None = None
    driven_km: ShopAmount | None = None
    returned: Annotated[list[Annotated[str, Field(min_length=1, max_length=12)]], Field(max_length=50)] = Field(
        default_factory=list
    )
    symptom: Literal["gone", "there", "unknown"] = "unknown"
    road_tests: Annotated[list[Annotated[str, Field(max_length=255)]], Field(max_length=50)] = Field(
        default_factory=list
    )
    text: Annotated[str, Field(max_length=2000)] = ""


class CalledFault(JobPart):
    """One explanation as the call gave it; ``besides``: held besides the first."""

    fault: FaultName
    title: Annotated[str, Field(max_length=300)] = ""
    probability: Annotated[float, Field(ge=0, le=1)]
    besides: bool = False


class Called(JobPart):
    """The call as it stood before the repair, kept when the job is closed: what was found later is held against it,
    whatever a later version would say. ``minutes``: of the tests that were done for it, by the plan's figures."""

    faults: Annotated[list[CalledFault], Field(max_length=60)] = Field(default_factory=list)
    teardown: Literal["go", "confirm_first", "no"]
    undecided: bool
    software: Annotated[str, Field(max_length=60)]
    numbers: Annotated[str, Field(max_length=60)]
    minutes: ShopAmount | None = None


class Closing(JobPart):
    """How the job ended: the call's cause confirmed, refuted or unknown; ``why`` a wrong call was wrong, in words."""

    cause: Cause
    at: AwareDatetime
    by: Annotated[str, Field(max_length=60)] = ""
    why: Annotated[str, Field(max_length=2000)] = ""
    called: Called | None = None


class Note(JobPart):
    """A note of somebody, at some time."""

    text: Annotated[str, Field(min_length=1, max_length=4000)]
    at: AwareDatetime | None = None
    by: Annotated[str, Field(max_length=60)] = ""
