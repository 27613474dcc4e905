"""Tokens with which programs come in: each with a role, shown once, kept as a hash, and ended by a date or by hand."""

from __future__ import annotations

import hashlib
import secrets
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from pydantic import BaseModel, ConfigDict

from phasko.core.errors import DocumentError
from phasko.keeping.people import Account, Role, checked_name, checked_role
from phasko.store import Database, access_tokens
from phasko.store.models import AccessToken

__all__ = ["NewToken", "TokenKey", "TokenRow", "add_token", "list_tokens", "remove_token", "token_hash", "token_keys"]

_BEGINS = "phasko_"
"""Whoever finds one in a file or a log sees what it is."""
_LONGEST_DAYS = 3650


class TokenRow(BaseModel):
    """A token as lists show one; never the token itself."""

    model_config = ConfigDict(frozen=True)
    name: str
    role: Role
    created_at: str
    ends_at: str | None


class NewToken(BaseModel):
    """A token that was just made. ``token`` is told here and never again."""

    model_config = ConfigDict(frozen=True)
    row: TokenRow
    token: str


@dataclass(frozen=True, slots=True)
class TokenKey:
    """Whom a token's hash lets in, and until when."""

    account: Account
    sha256: str
    ends_at: datetime | None


def token_hash(token: str) -> str:
    """By which a token is known again. It is 256 random bits long, so nothing slower is needed than for a passphrase
    that somebody thought of."""
    return hashlib.sha256(token.encode()).hexdigest()


def add_token(database: Database, name: str, role: str, days: int | None = None) -> NewToken:
    """A new token, good for so many days, or until it is taken out. Raises DocumentError for a name, a role or a time
    that cannot be, ConflictError where the name is taken."""
    named, known = checked_name(name), checked_role(role)
    if days is not None and not 1 <= days <= _LONGEST_DAYS:
        raise DocumentError(f"A token is good for 1 to {_LONGEST_DAYS} days", place="days", kept="Nothing was changed")
    ends = None if days is None else (datetime.now(UTC) + timedelta(days=days)).isoformat(timespec="seconds")
    token = _BEGINS + secrets.token_urlsafe(32)
    with database.transaction() as session:
        return NewToken(row=_row(access_tokens.add_token(session, named, known, token_hash(token), ends)), token=token)


def remove_token(database: Database, name: str) -> None:
    """Nobody gets in with it from now on. Raises NotFoundError."""
    with database.transaction() as session:
        access_tokens.remove_token(session, name)


def list_tokens(database: Database) -> list[TokenRow]:
    """By name."""
    with database.reading() as session:
        return [_row(one) for one in access_tokens.every_token(session)]


def token_keys(database: Database) -> tuple[TokenKey, ...]:
    """All of them, as the door needs them."""
    with database.reading() as session:
        return tuple(
            TokenKey(
                Account(f"token {one.name}", checked_role(one.role), "", by_token=True),
                one.token_sha256,
                None if one.ends_at is None else datetime.fromisoformat(one.ends_at),
            )
            for one in access_tokens.every_token(session)
        )


def _row(one: AccessToken) -> TokenRow:
    return TokenRow(name=one.name, role=checked_role(one.role), created_at=one.created_at, ends_at=one.ends_at)
