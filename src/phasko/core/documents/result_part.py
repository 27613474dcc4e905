"""What every part of a result document is made of."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

__all__ = ["Number", "ResultPart"]

Number = Annotated[float, Field(allow_inf_nan=False)]


class ResultPart(BaseModel):
    """Frozen, closed, and without infinities: a result goes to disk and to other programs as it stands."""

    model_config = ConfigDict(frozen=True, extra="forbid")
