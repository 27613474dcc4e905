"""Who may call: passphrase and sessions, foreign pages, and requests that are too large."""

from __future__ import annotations

import secrets
import threading
import time
from dataclasses import dataclass, field
from ipaddress import ip_address
from urllib.parse import urlsplit

from argon2 import PasswordHasher
from argon2.exceptions import VerifyMismatchError
from starlette.requests import HTTPConnection
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from phasko.core.errors import RefusedError
from phasko.web.errors import ErrorBody, error_response

__all__ = ["COOKIE", "Door", "GuardMiddleware", "is_loopback"]

COOKIE = "phasko_session"
SESSION_S = 12 * 3600.0
TRIES = 5
TRIES_WINDOW_S = 60.0
UPLOAD_LIMIT_BYTES = 1 << 30
OPEN_PATHS = ("/api/session",)


def is_loopback(host: str) -> bool:
    """Whether a host name or address can only be reached from this machine.

    ``localhost`` or an address of the loopback network, read as an address: the name ``127.0.0.1.elsewhere.example``
    is anybody's.
    """
    if host == "localhost":
        return True
    try:
        return ip_address(host).is_loopback
    except ValueError:
        return False


@dataclass
class Door:
    """The passphrase and the sessions behind it; without a hash everybody on this machine is in."""

    passphrase_hash: str | None
    loopback_only: bool
    _sessions: dict[str, float] = field(default_factory=dict)
    _failures: list[float] = field(default_factory=list)
    _lock: threading.Lock = field(default_factory=threading.Lock)

    @property
    def closed(self) -> bool:
        return self.passphrase_hash is not None

    def sign_in(self, passphrase: str) -> str:
        """A new session's token. Raises RefusedError for a wrong passphrase or too many tries."""
        assert self.passphrase_hash is not None
        with self._lock:
            now = time.monotonic()
            self._failures = [t for t in self._failures if now - t < TRIES_WINDOW_S]
            if len(self._failures) >= TRIES:
                raise RefusedError("Too many wrong passphrases", remedy="Wait a minute, then try again.")
            try:
                PasswordHasher().verify(self.passphrase_hash, passphrase)
            except VerifyMismatchError as error:
                self._failures.append(now)
                raise RefusedError("That is not the passphrase", remedy="Try again.") from error
            token = secrets.token_urlsafe(32)
            self._sessions[token] = now + SESSION_S
            return token

    def sign_out(self, token: str | None) -> None:
        with self._lock:
            self._sessions.pop(token or "", None)

    def admits(self, token: str | None) -> bool:
        """Whether a request with that session may pass."""
        if not self.closed:
            return True
        with self._lock:
            until = self._sessions.get(token or "")
            return until is not None and until > time.monotonic()


class GuardMiddleware:
    """Checks host, origin, session and size of every request before a route sees it."""

    def __init__(self, app: ASGIApp, door: Door, upload_limit_bytes: int = UPLOAD_LIMIT_BYTES) -> None:
        self.app = app
        self.door = door
        self.upload_limit_bytes = upload_limit_bytes

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        connection = HTTPConnection(scope)
        refusal = self._refusal(scope["method"], connection)
        if refusal is not None:
            await error_response(*refusal)(scope, receive, send)
            return
        await self.app(scope, _counted(receive, self.upload_limit_bytes), send)

    def _refusal(self, method: str, connection: HTTPConnection) -> tuple[int, ErrorBody] | None:
        host = connection.headers.get("host", "")
        if self.door.loopback_only and not is_loopback(urlsplit(f"//{host}").hostname or ""):
            return 421, ErrorBody(what="This workshop answers only on its own machine", place=host)
        origin = connection.headers.get("origin")
        if method not in ("GET", "HEAD", "OPTIONS") and origin is not None and urlsplit(origin).netloc != host:
            return 403, ErrorBody(what="Refused: the request came from another site's page", place=origin)
        path = connection.url.path
        closed = path.startswith("/api/") and path not in OPEN_PATHS
        if closed and not self.door.admits(connection.cookies.get(COOKIE)):
            return 401, ErrorBody(what="Signed out", kept="Nothing was changed", remedy="Sign in again.")
        length = connection.headers.get("content-length", "0")
        if length.isdigit() and int(length) > self.upload_limit_bytes:
            return 413, too_large(self.upload_limit_bytes)
        return None


def too_large(limit_bytes: int) -> ErrorBody:
    return ErrorBody(
        what=f"Too large: at most {limit_bytes / 2**20:.0f} MiB at once",
        kept="The job is as it was",
        remedy="Cut the capture to the part that cranks, or record fewer samples per second.",
    )


def _counted(receive: Receive, limit_bytes: int) -> Receive:
    """Stops a body that is sent without its length once it is over the limit."""
    seen = 0

    async def counted() -> Message:
        nonlocal seen
        message = await receive()
        seen += len(message.get("body", b""))
        if seen > limit_bytes:
            body = too_large(limit_bytes)
            raise RefusedError(body.what, kept=body.kept, remedy=body.remedy)
        return message

    return counted
