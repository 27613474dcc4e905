"""One closed job as the learning sees it: what was stated, how sure, and what was found."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

from phasko.core.documents.fault_name import FaultName
from phasko.core.documents.repair import Cause, Closing, Repair

__all__ = ["COVERS_OFF", "ClosedCall", "closed_call"]

COVERS_OFF: frozenset[str] = frozenset(
    {
        "chain_jumped",
        "chain_stretched",
        "cam_slipped",
        "crank_sprocket_slipped",
        "crank_hub_slipped",
        "drive_broken",
        "weak_cylinder",
        "valve_train",
    }
)
"""Faults that lie behind the timing covers or under the head."""


@dataclass(frozen=True, slots=True)
class ClosedCall:
    """``stated``: the chance of every explanation that excludes the others. ``found``: the faults that were found;
    empty where nobody could say. ``opened``: whether covers came off; ``None``: not said."""

    job_id: int
    stated: dict[FaultName, float]
    teardown: Literal["go", "confirm_first", "no"]
    undecided: bool
    cause: Cause
    found: frozenset[FaultName] = field(default=frozenset())
    opened: bool | None = None
    minutes: float | None = None
    hours: float | None = None

    @property
    def leader(self) -> FaultName | None:
        """What was called; ``None`` where nothing was stated."""
        ranked = sorted(self.stated.items(), key=lambda one: -one[1])
        return ranked[0][0] if ranked else None

    @property
    def chance(self) -> float:
        """The chance that was stated for what was called."""
        return max(self.stated.values(), default=0.0)

    @property
    def right(self) -> bool | None:
        """Whether what was called is what was found; ``None`` where nobody could say."""
        if self.leader is None or self.cause == "unknown":
            return None
        return self.leader in self.found if self.found else self.cause == "confirmed"

    @property
    def truth(self) -> FaultName | None:
        """The fault that was found, where it is one; a confirmed call whose finding was only written in words stands
        for what was called."""
        if len(self.found) == 1:
            return next(iter(self.found))
        return self.leader if self.cause == "confirmed" and not self.found else None

    @property
    def needless(self) -> bool:
        """A wrong teardown: the call said open, and what was found did not lie there."""
        if self.teardown != "go" or self.cause == "unknown":
            return False
        return not (self.found & COVERS_OFF) if self.found else self.cause == "refuted"

    @property
    def missed(self) -> bool:
        """A fault waved away: the call said that the covers stay on, and what was found lay behind them."""
        return self.teardown == "no" and self.cause != "unknown" and bool(self.found & COVERS_OFF)


def closed_call(job_id: int, repair: Repair | None, closing: Closing) -> ClosedCall | None:
    """``None`` for one that was closed without a call."""
    called = closing.called
    if called is None or not called.faults:
        return None
    stated: dict[FaultName, float] = {}
    # The same fault may stand at several banks or cylinders; what is found names the fault alone.
    for one in called.faults:
        if not one.besides:
            stated[one.fault] = stated.get(one.fault, 0.0) + one.probability
    repair = repair or Repair()
    return ClosedCall(
        job_id=job_id,
        stated=stated,
        teardown=called.teardown,
        undecided=called.undecided,
        cause=closing.cause,
        found=frozenset(one.fault for one in repair.found if one.fault is not None),
        opened=repair.opened,
        minutes=called.minutes,
        hours=repair.hours,
    )
