"""Whether something that was noted fits its question and the engine."""

from __future__ import annotations

from phasko.core.documents.engine import EngineProfile
from phasko.core.documents.job import Look
from phasko.core.errors import DocumentError
from phasko.core.looks.questions import question

__all__ = ["Look", "check_look"]


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
    if look.cam is not None and profile.cam(look.cam) is None:
        raise DocumentError(f"this engine has no cam {look.cam}", place=where)
    if asked.unit is not None:
        if look.value is None:
            raise DocumentError(f"needs a reading in {asked.unit}", place=where)
        if asked.most is not None and look.value > asked.most:
            raise DocumentError(f"{look.value:g} {asked.unit} is beyond what can be read", place=where)
        return
    if look.answer not in {answer.id for answer in asked.answers}:
        raise DocumentError(f"has no answer {look.answer!r}", place=where)
