"""One thing that was looked at, listened to or read off a gauge."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from phasko.core.documents.engine import EngineProfile
from phasko.core.errors import DocumentError
from phasko.core.looks.questions import question

__all__ = ["Observation", "check_observation"]


class Observation(BaseModel):
    """``answer`` is one of the question's; a reading (``value``, in the question's unit) belongs to a ``cylinder``."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    question: str
    answer: str | None = None
    cylinder: Annotated[int | None, Field(ge=1, le=24)] = None
    value: Annotated[float | None, Field(ge=0, le=1000, allow_inf_nan=False)] = None
    note: Annotated[str, Field(max_length=500)] = ""


def check_observation(observation: Observation, profile: EngineProfile) -> None:
    """Raises DocumentError, naming the place, for an answer, a cylinder or a reading that does not belong there."""
    asked = question(observation.question)
    if asked is None:
        raise DocumentError("is not among the things to look at", place=f"question {observation.question}")
    where = asked.title
    if asked.per_cylinder and observation.cylinder is None:
        raise DocumentError("needs the cylinder it belongs to", place=where)
    if observation.cylinder is not None and observation.cylinder not in profile.firing_tdc_deg:
        raise DocumentError(f"this engine has no cylinder {observation.cylinder}", place=where)
    if asked.unit is not None:
        if observation.value is None:
            raise DocumentError(f"needs a reading in {asked.unit}", place=where)
        if asked.most is not None and observation.value > asked.most:
            raise DocumentError(f"{observation.value:g} {asked.unit} is beyond what can be read", place=where)
        return
    if observation.answer not in {answer.id for answer in asked.answers}:
        raise DocumentError(f"has no answer {observation.answer!r}", place=where)
