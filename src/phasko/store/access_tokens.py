"""Programs that may come in: a name, a role and the hash of a token."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session

from phasko.core.errors import ConflictError, NotFoundError
from phasko.store.models import AccessToken

__all__ = ["add_token", "every_token", "remove_token"]


def every_token(session: Session) -> Sequence[AccessToken]:
    """By name."""
    return session.scalars(select(AccessToken).order_by(AccessToken.name)).all()


def add_token(session: Session, name: str, role: str, token_sha256: str, ends_at: str | None) -> AccessToken:
    """Raises ConflictError where that name is taken."""
    if session.scalar(select(AccessToken.id).where(AccessToken.name == name)) is not None:
        raise ConflictError(f"There is a token {name!r} already", remedy="Give another name, or take that one out.")
    made = AccessToken(name=name, role=role, token_sha256=token_sha256, ends_at=ends_at)
    session.add(made)
    session.flush()
    return made


def remove_token(session: Session, name: str) -> None:
    """Raises NotFoundError."""
    found = session.scalar(select(AccessToken).where(AccessToken.name == name))
    if found is None:
        raise NotFoundError(f"There is no token {name[:60]!r} here")
    session.delete(found)
