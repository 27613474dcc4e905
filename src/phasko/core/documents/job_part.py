"""What every part of the job document is."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

__all__ = ["JobPart"]


class JobPart(BaseModel):
    """Frozen, and an unknown word is an error that names it."""

    model_config = ConfigDict(frozen=True, extra="forbid")
