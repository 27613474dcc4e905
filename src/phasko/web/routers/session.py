"""Signing in and out, and what the front end must know before anything else."""

from __future__ import annotations

from fastapi import APIRouter, Request, Response
from pydantic import BaseModel, ConfigDict, Field

from phasko import __version__
from phasko.web.guard import COOKIE, SESSION_S
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
    signed_in = door.admits(request.cookies.get(COOKIE))
    return SessionState(passphrase_needed=door.closed, signed_in=signed_in, version=__version__)


@router.post("")
def sign_in(body: SignIn, request: Request, response: Response, door: DoorOf) -> SessionState:
    if door.closed:
        response.set_cookie(
            COOKIE,
            door.sign_in(body.passphrase),
            max_age=int(SESSION_S),
            httponly=True,
            samesite="strict",
            secure=request.url.scheme == "https",
        )
    return SessionState(passphrase_needed=door.closed, signed_in=True, version=__version__)


@router.delete("")
def sign_out(request: Request, response: Response, door: DoorOf) -> SessionState:
    door.sign_out(request.cookies.get(COOKIE))
    response.delete_cookie(COOKIE)
    return SessionState(passphrase_needed=door.closed, signed_in=not door.closed, version=__version__)
