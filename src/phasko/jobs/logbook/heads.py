"""The head of a result: what lists show of it, stored beside it so that no list reads whole results."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict, ValidationError

from phasko.core.documents import Analysis

__all__ = ["ResultHead", "head_of", "read_head"]


class ResultHead(BaseModel):
    """The measurement and the call in a few words; of a job after its repair, ``called_before`` is what was called
    before it."""

    model_config = ConfigDict(frozen=True)
    finding: str | None = None
    emphasis: str | None = None
    leader: str | None = None
    leader_probability: float | None = None
    undecided: bool = False
    teardown: Literal["go", "confirm_first", "no"] | None = None
    stop_cranking: bool = False
    called_before: str | None = None


def head_of(analysis: Analysis) -> ResultHead:
    """The head of a result."""
    finding, verdict = analysis.finding, analysis.verdict
    leader = verdict.faults[0] if verdict.measured and verdict.faults else None
    before = analysis.before_repair
    first = before.verdict.faults[0] if before is not None and before.verdict.faults else None
    return ResultHead(
        finding=finding.text if finding else None,
        emphasis=finding.emphasis if finding else None,
        leader=leader.title if leader else None,
        leader_probability=leader.probability if leader else None,
        undecided=verdict.undecided,
        teardown=verdict.teardown,
        stop_cranking="stop_cranking" in verdict.cautions,
        called_before=first.title if first is not None else None,
    )


def read_head(stored: str) -> ResultHead | None:
    """A stored head; ``None`` for one that this version cannot read."""
    if not stored:
        return None
    try:
        return ResultHead.model_validate_json(stored)
    except ValidationError:
        return None
