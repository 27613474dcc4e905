"""One thing that was looked at, listened to or read off a gauge."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from phasko.core.documents.engine import EngineProfile
from phasko.core.errors import DocumentError
from phasko.core.looks.questions import question

__all__ = ["Look", "check_look"]


class Look(BaseModel):
    """``answer`` is one of the question's; a reading (``value``, in the question's unit) belongs to a ``cylinder``."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    question: str
    answer: str | None = None
    cylinder: Annotated[int | None, Field(ge=1, le=24)] = None
    value: Annotated[float | None, Field(ge=0, le=1000, allow_inf_nan=False)] = None
    note: Annotated[str, Field(max_length=500)] = ""


def check_look(look: Look, profile: EngineProfile) -> None:
    """Raises DocumentError, naming the place, for an answer, a cylinder or a reading that does not belong there."""
    asked = question(look.question)
    if asked is None:
        raise DocumentError("is not among the things to look at", place=f"question {look.question}")
    where = asked.title
    if asked.per_cylinder and look.cylinder is None:
        raise DocumentError("needs the cylinder it belongs to", place=where)
    if look.cylinder is not None and look.cylinder not in profile.firing_tdc_deg:
        raise DocumentError(f"this engine has no cylinder {look.cylinder}", place=where)
    if asked.unit is not None:
        if look.value is None:
            raise DocumentError(f"needs a reading in {asked.unit}", place=where)
        if asked.most is not None and look.value > asked.most:
            raise DocumentError(f"{look.value:g} {asked.unit} is beyond what can be read", place=where)
        return
    if look.answer not in {answer.id for answer in asked.answers}:
        raise DocumentError(f"has no answer {look.answer!r}", place=where)
