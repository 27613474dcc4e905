"""Signing in and out, and what the front end must know before anything else."""

from __future__ import annotations

from fastapi import APIRouter, Request, Response
from pydantic import BaseModel, ConfigDict, Field

from phasko import __version__
from phasko.web.door import SESSION_S
from phasko.web.guard import cookie_name
from phasko.web.workshop import DoorOf

router = APIRouter(prefix="/api/session", tags=["session"])


class SessionState(BaseModel):
    """Whether this server asks for a passphrase, and whether this browser has given it."""

    model_config = ConfigDict(frozen=True)
    passphrase_needed: bool
    signed_in: bool
    version: str


class SignIn(BaseModel):
    passphrase: str = Field(max_length=1000)


@router.get("")
def get_session(request: Request, door: DoorOf) -> SessionState:
    signed_in = door.admits(_token(request))
    return SessionState(passphrase_needed=door.closed, signed_in=signed_in, version=__version__)


@router.post("")
def sign_in(body: SignIn, request: Request, response: Response, door: DoorOf) -> SessionState:
    if door.closed:
        address = request.client.host if request.client else ""
        response.set_cookie(
            cookie_name(request.url.scheme),
            door.sign_in(body.passphrase, address, _token(request)),
            max_age=int(SESSION_S),
            httponly=True,
            samesite="strict",
            secure=request.url.scheme == "https",
        )
    return SessionState(passphrase_needed=door.closed, signed_in=True, version=__version__)


@router.delete("")
def sign_out(request: Request, response: Response, door: DoorOf) -> SessionState:
    door.sign_out(_token(request))
    secure = request.url.scheme == "https"
    response.delete_cookie(cookie_name(request.url.scheme), secure=secure, httponly=True, samesite="strict")
    return SessionState(passphrase_needed=door.closed, signed_in=not door.closed, version=__version__)


def _token(request: Request) -> str | None:
    return request.cookies.get(cookie_name(request.url.scheme))
