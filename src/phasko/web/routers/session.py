"""Signing in and out, and what the front end must know before anything else."""

from __future__ import annotations

from fastapi import APIRouter, Request, Response
from pydantic import BaseModel, ConfigDict, Field

from phasko import __version__
from phasko.code_hash import SHORT, code_hash
from phasko.core.errors import RefusedError
from phasko.keeping.people import Account, Role, reset_passphrase
from phasko.web.door import SESSION_S, Door
from phasko.web.guard import cookie_name
from phasko.web.live import Live
from phasko.web.workshop import DatabaseOf, DoorOf

router = APIRouter(prefix="/api/session", tags=["session"])


class SessionState(BaseModel):
    """Whether this server asks who is there, whether this browser has told, and then who it is. ``code``: first digits
    of the hash of the code that makes results, for whoever is in. ``entry``: the last line of the log, since which
    changes are to be listened for."""

    model_config = ConfigDict(frozen=True)
    passphrase_needed: bool
    signed_in: bool
    version: str
    code: str = ""
    name: str = ""
    role: Role | None = None
    entry: int | None = None


class SignIn(BaseModel):
    """``name`` may stay empty for the lead, and where there is only one person."""

    model_config = ConfigDict(extra="forbid")
    name: str = Field(default="", max_length=200)
    passphrase: str = Field(max_length=1000)


class NewPassphrase(BaseModel):
    model_config = ConfigDict(extra="forbid")
    old: str = Field(max_length=1000)
    new: str = Field(max_length=1000)


@router.get("")
def get_session(request: Request, door: DoorOf) -> SessionState:
    return _state(request, door, door.who(_token(request)))


@router.post("")
def sign_in(body: SignIn, request: Request, response: Response, door: DoorOf) -> SessionState:
    if not door.closed:
        return _state(request, door, door.who(None))
    address = request.client.host if request.client else ""
    token = door.sign_in(body.passphrase, body.name, address, _token(request))
    _remember(request, response, token)
    return _state(request, door, door.who(token))


@router.delete("")
def sign_out(request: Request, response: Response, door: DoorOf) -> SessionState:
    door.sign_out(_token(request))
    secure = request.url.scheme == "https"
    response.delete_cookie(cookie_name(request.url.scheme), secure=secure, httponly=True, samesite="strict")
    return _state(request, door, door.who(None))


@router.put("/passphrase")
def change_passphrase(
    body: NewPassphrase, request: Request, response: Response, database: DatabaseOf, door: DoorOf
) -> SessionState:
    """One's own passphrase. All other sessions of this person end."""
    person = door.who(_token(request))
    if not door.closed or person is None:
        raise RefusedError("Nobody signs in here", kept="Nothing was changed", remedy="Add people with 'phasko user'.")
    address = request.client.host if request.client else ""
    # An open screen that somebody else found must not become theirs for good; guesses are slowed like any other.
    door.sign_in(body.old, person.name, address)
    reset_passphrase(database, person.name, body.new)
    door.look_again()
    token = door.sign_in(body.new, person.name, address)
    _remember(request, response, token)
    return _state(request, door, door.who(token))


def _state(request: Request, door: Door, account: Account | None) -> SessionState:
    live: Live = request.app.state.live
    named = account is not None and door.closed
    return SessionState(
        passphrase_needed=door.closed,
        signed_in=account is not None,
        version=__version__,
        code=code_hash()[:SHORT] if account is not None else "",
        name=account.name if account is not None and named else "",
        role=account.role if account is not None else None,
        entry=live.newest() if account is not None else None,
    )


def _remember(request: Request, response: Response, token: str) -> None:
    response.set_cookie(
        cookie_name(request.url.scheme),
        token,
        max_age=int(SESSION_S),
        httponly=True,
        samesite="strict",
        secure=request.url.scheme == "https",
    )


def _token(request: Request) -> str | None:
    return request.cookies.get(cookie_name(request.url.scheme))
