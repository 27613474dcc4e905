"""What it is not, and which measurement excludes it; what is still open, with its chance."""

from __future__ import annotations

from phasko.core import numbers
from phasko.core.documents.analysis import FaultResult, Verdict
from phasko.core.handover.document import Excluded
from phasko.core.handover.fault_words import FAULT_SHORT
from phasko.core.words import chance_words

__all__ = ["exclusions"]

_MOST = 10


def exclusions(verdict: Verdict) -> list[Excluded]:
    """Every other explanation that this engine can have, by the observation that tells most against it; those still
    open last."""
    if not verdict.measured or not verdict.faults:
        return []
    leader, *others = [one for one in verdict.faults if not one.besides]
    rest = [_excluded(one) for one in others if one.fault not in ("something_else", leader.fault)]
    elsewhere = [one for one in others if one.fault == leader.fault and one.title != leader.title]
    rest += [_excluded(one) for one in elsewhere]
    rest += [_excluded(one) for one in others if one.fault == "something_else"]
    closed = [one for one in rest if not one.open]
    # What is still open is never cut: leaving it out would read as excluded.
    return [*closed[:_MOST], *(one for one in rest if one.open)]


def _excluded(one: FaultResult) -> Excluded:
    against = min((e for e in one.evidence if e.bits < 0), key=lambda e: e.bits, default=None)
    if against is not None:
        by = against.text
    elif one.telling.startswith("- "):
        by = one.telling[2:]
    else:
        by = "what was measured fits other explanations better"
    is_open = one.probability >= numbers.STILL_OPEN.value
    return Excluded(
        title=one.title, short=FAULT_SHORT[one.fault], by=by, open=is_open, chance=chance_words(one.probability)
    )
