"""Before and after a repair in the result document."""

from __future__ import annotations

from phasko.core.documents.result_part import Number, ResultPart
from phasko.core.documents.verdict_results import Verdict

__all__ = ["BeforeRepair", "ChangeResult", "RepairPair"]


class ChangeResult(ResultPart):
    """One figure before and after, in words; ``by`` the change with its half width in the figure's ``unit`` (``None``:
    no number, as where a signal came or went); ``real``: more than the half width."""

    what: str
    before: str
    after: str
    by: Number | None
    u95: Number | None
    unit: str
    real: bool


class RepairPair(ResultPart):
    """One capture of after the repair beside the one of before that was recorded most alike, and what changed."""

    before: str
    after: str
    alike: bool
    """Whether both were recorded in one state: condition, temperature, phasers, throttle."""
    changes: list[ChangeResult]


class BeforeRepair(ResultPart):
    """The call as it stands on what was known before the repair, and every capture that was taken again."""

    verdict: Verdict
    finding: str | None
    pairs: list[RepairPair]
