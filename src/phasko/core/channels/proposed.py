"""One proposal: what a column seems to be, why, and how sure that is."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from phasko.core.documents.capture import Role

__all__ = ["RoleProposal"]


@dataclass(frozen=True, slots=True)
class RoleProposal:
    """``certain``: nothing else that is known looks like it; else a person should look. ``reason`` says it in words.

    ``cam``, ``wheel``, ``cylinder`` and ``signal`` complete the role where the signals tell them.
    """

    column: str
    role: Role
    certain: bool
    reason: str
    cam: str | None = None
    wheel: str | None = None
    cylinder: int | None = None
    signal: Literal["drive", "primary"] | None = None
