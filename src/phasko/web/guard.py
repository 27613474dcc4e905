"""What every request passes: host, origin, session, size and pace; and what every answer tells the browser."""

from __future__ import annotations

import asyncio
import math
from urllib.parse import urlsplit

from fastapi import HTTPException
from starlette.datastructures import MutableHeaders
from starlette.requests import HTTPConnection
from starlette.responses import Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from phasko.keeping.people import Account
from phasko.web.door import ALONE, Door
from phasko.web.errors import ErrorBody, error_response, unforeseen
from phasko.web.pace import PERSON, TOKEN, Paces

__all__ = ["UPLOAD_LIMIT_BYTES", "GuardMiddleware", "account_of", "cookie_name"]

UPLOAD_LIMIT_BYTES = 1 << 30
OPEN_PATHS = ("/api/session",)
_SMALL_BYTES = 4096
"""More is not read of anybody who is not signed in."""
_DOCUMENT_BYTES = 8 << 20
"""More is not read of anything that is no upload."""
_READERS_MAY = {
    ("POST", "/api/session"),
    ("DELETE", "/api/session"),
    ("PUT", "/api/session/passphrase"),
    ("POST", "/api/engines/draft"),
}
"""What is sent and changes nothing that others see."""
_PRACTICE = ("/practice/api/", "/api/practice/")
"""Practice has a file of its own: whoever may look may learn."""
_FOR_PEOPLE = ("/api/people", "/api/tokens", "/api/session")
"""Who may come in is said by people: a token that got lost must not make others."""
_PAUSE_S = 30.0
"""A body that pauses longer is given up."""

_POLICY = "; ".join(
    (
        "default-src 'none'",
        "script-src 'self'",
        "style-src 'self' 'unsafe-inline'",  # the component library writes its styles while it runs
        "img-src 'self' data: blob:",
        "font-src 'self'",
        "connect-src 'self'",
        "manifest-src 'self'",
        "base-uri 'none'",
        "form-action 'self'",
        "frame-ancestors 'none'",
    )
)
_HEADERS = {
    "content-security-policy": _POLICY,
    "x-content-type-options": "nosniff",
    "x-frame-options": "DENY",
    "referrer-policy": "no-referrer",
    "cross-origin-opener-policy": "same-origin",
    "cross-origin-resource-policy": "same-origin",
    "permissions-policy": "camera=(), microphone=(), geolocation=()",
}


def cookie_name(scheme: str) -> str:
    """The session's cookie; over TLS one that only this host may set, and only securely."""
    return "__Host-phasko_session" if scheme == "https" else "phasko_session"


def account_of(door: Door, connection: HTTPConnection) -> Account | None:
    """Who asks: the program that a token was given to, or whose session it is; ``None`` for nobody who may. A request
    with a token counts by it alone."""
    kind, _, token = connection.headers.get("authorization", "").partition(" ")
    if kind.lower() == "bearer":
        return door.of_token(token.strip())
    return door.who(connection.cookies.get(cookie_name(connection.url.scheme)))


class GuardMiddleware:
    """Checks host, origin, session and size of every request before a route sees it."""

    def __init__(self, app: ASGIApp, door: Door, upload_limit_bytes: int = UPLOAD_LIMIT_BYTES) -> None:
        self.app = app
        self.door = door
        self.upload_limit_bytes = upload_limit_bytes
        self._paces = Paces()

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        connection = HTTPConnection(scope)
        answer = _with_headers(send, scope, connection.url.path)
        account = account_of(self.door, connection)
        scope.setdefault("state", {})["account"] = account
        limit = self._limit(connection, account)
        refusal = self._refusal(scope["method"], connection, account, limit)
        if refusal is not None:
            await error_response(*refusal)(scope, receive, answer)
            return
        wait_s = self._wait_s(connection, account)
        if wait_s > 0.0:
            await _too_many(wait_s)(scope, receive, answer)
            return
        try:
            await self.app(scope, _counted(receive, limit), answer)
        except Exception as error:
            if scope["state"].get("answered"):
                raise
            await unforeseen(scope, error)(scope, receive, answer)

    def _wait_s(self, connection: HTTPConnection, account: Account | None) -> float:
        """How long whoever asks has to wait first. Files of the front end cost nothing, and whoever sits alone at this
        machine waits for nobody."""
        if account is None or account == ALONE or not _is_api(connection.url.path):
            return 0.0
        return self._paces.wait_s(account.name, TOKEN if account.by_token else PERSON)

    def _limit(self, connection: HTTPConnection, account: Account | None) -> int:
        """So many bytes are read of that body."""
        if account is None:
            return _SMALL_BYTES
        if connection.headers.get("content-type", "").startswith("multipart/form-data"):
            return self.upload_limit_bytes
        return min(_DOCUMENT_BYTES, self.upload_limit_bytes)

    def _refusal(
        self, method: str, connection: HTTPConnection, account: Account | None, limit: int
    ) -> tuple[int, ErrorBody] | None:
        host = connection.headers.get("host", "")
        if not self.door.answers_to(_name_of(host)):
            return 421, ErrorBody(
                what="This workshop does not answer to that name",
                place=host[:100],
                remedy="Call it by its address, or start it with --name and this one.",
            )
        origin = connection.headers.get("origin")
        changes = method not in ("GET", "HEAD", "OPTIONS")
        if changes and origin is not None and not _same_host(origin, host):
            return 403, ErrorBody(what="Refused: the request came from another site's page", place=origin[:100])
        path = connection.url.path
        closed = _is_api(path) and path not in OPEN_PATHS
        if account is None and "authorization" in connection.headers:
            return 401, ErrorBody(
                what="That token lets nobody in", kept="Nothing was changed", remedy="Ask a lead for another one."
            )
        if closed and account is None:
            return 401, ErrorBody(what="Signed out", kept="Nothing was changed", remedy="Sign in again.")
        if account is not None and account.by_token and path.startswith(_FOR_PEOPLE):
            return 403, ErrorBody(
                what="That is for people who signed in, whatever role a token has", kept="Nothing was changed"
            )
        allowed = (method, path) in _READERS_MAY or path.startswith(_PRACTICE)
        if changes and account is not None and account.role == "reader" and not allowed:
            return 403, ErrorBody(what="A reader changes nothing", kept="Nothing was changed", remedy="Ask a lead.")
        length = connection.headers.get("content-length", "0")
        if length.isascii() and length.isdigit() and (len(length) > 18 or int(length) > limit):
            return 413, too_large(limit)
        return None


def _is_api(path: str) -> bool:
    return path.startswith(("/api/", "/practice/api/"))


def _name_of(host: str) -> str:
    try:
        return urlsplit(f"//{host}").hostname or ""
    except ValueError:
        return ""


def _same_host(origin: str, host: str) -> bool:
    try:
        return urlsplit(origin).netloc == host
    except ValueError:
        return False


def _with_headers(send: Send, scope: Scope, path: str) -> Send:
    """What browsers are told with every answer."""

    async def sending(message: Message) -> None:
        if message["type"] == "http.response.start":
            scope["state"]["answered"] = True
            headers = MutableHeaders(scope=message)
            for name, value in _HEADERS.items():
                headers[name] = value
            if _is_api(path):
                headers["cache-control"] = "no-store"
            if scope["scheme"] == "https":
                headers["strict-transport-security"] = "max-age=31536000"
        await send(message)

    return sending


def _too_many(wait_s: float) -> Response:
    answer = error_response(
        429,
        ErrorBody(
            what="Too many requests",
            kept="Nothing was changed",
            remedy=f"Wait {math.ceil(wait_s)} s, as Retry-After says, then go on.",
        ),
    )
    answer.headers["retry-after"] = str(math.ceil(wait_s))
    return answer


def too_large(limit_bytes: int) -> ErrorBody:
    if limit_bytes < 1 << 20:
        return ErrorBody(what="Too large", kept="Nothing was changed", remedy="Sign in first.")
    return ErrorBody(
        what=f"Too large: at most {limit_bytes / 2**20:.0f} MiB at once",
        kept="The job is as it was",
        remedy="Cut the capture to the part that cranks, or record fewer samples per second.",
    )


def _counted(receive: Receive, limit_bytes: int) -> Receive:
    """Stops a body that is sent without its length once it is over the limit, and one that stands still."""
    seen = 0
    whole = False

    async def counted() -> Message:
        nonlocal seen, whole
        if whole:
            return await receive()  # waits for the browser to go away
        try:
            message = await asyncio.wait_for(receive(), _PAUSE_S)
        except TimeoutError as error:
            body = ErrorBody(what="The upload stood still", kept="The job is as it was", remedy="Send it again.")
            raise HTTPException(408, body.model_dump()) from error
        seen += len(message.get("body", b""))
        whole = not message.get("more_body", False)
        if seen > limit_bytes:
            raise HTTPException(413, too_large(limit_bytes).model_dump())
        return message

    return counted
