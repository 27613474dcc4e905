"""The workshop's own odds, as they were accepted: what it finds more or less often than the table says."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict, Field, ValidationError
from sqlalchemy.orm import Session

from phasko.core.documents.engine import TypicalFailure
from phasko.core.documents.fault_name import FaultName
from phasko.store.settings import get_setting

__all__ = ["ODDS", "OwnOdds", "own_odds", "typical_here"]

ODDS = "own_odds"
_TEXT = "this workshop's own findings"


class OwnOdds(BaseModel):
    """The factors that were accepted, by whom and when, and from how many jobs; empty: nothing is moved."""

    model_config = ConfigDict(frozen=True)
    factors: dict[FaultName, float] = Field(default_factory=dict)
    at: str = ""
    by: str = ""
    jobs: int = 0


def own_odds(session: Session) -> OwnOdds:
    """What was accepted; nothing where nothing was, or it cannot be read."""
    try:
        return OwnOdds.model_validate_json(get_setting(session, ODDS) or "{}")
    except ValidationError:
        return OwnOdds()


def typical_here(session: Session) -> tuple[TypicalFailure, ...]:
    """The accepted factors as the call takes them."""
    return tuple(
        TypicalFailure(fault=fault, factor=min(5.0, max(0.2, factor)), text=_TEXT)
        for fault, factor in own_odds(session).factors.items()
    )
