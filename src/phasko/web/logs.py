"""What the server notes for whoever keeps it: one line an event, without anything that a customer or colleague told."""

from __future__ import annotations

import logging
import os
import secrets
import time
from logging.handlers import WatchedFileHandler
from pathlib import Path

from starlette.types import ASGIApp, Message, Receive, Scope, Send

from phasko.core.errors import StorageError

__all__ = ["LOG", "LogMiddleware", "log_to", "request_number"]

LOG = logging.getLogger("phasko")


class _OneLine(logging.Formatter):
    """Time in UTC, level, text; a trace is joined to its line."""

    converter = staticmethod(time.gmtime)
    default_msec_format = "%s.%03dZ"
    default_time_format = "%Y-%m-%dT%H:%M:%S"

    def format(self, record: logging.LogRecord) -> str:
        return super().format(record).replace("\r", " ").replace("\n", " | ")


def log_to(path: Path | None) -> None:
    """Where to: warnings and worse to the terminal, or every event to that file. Raises StorageError where it cannot be
    written."""
    handler: logging.Handler = logging.StreamHandler()
    if path is not None:
        try:
            os.close(os.open(path, os.O_WRONLY | os.O_CREAT | os.O_APPEND, 0o600))
            handler = WatchedFileHandler(path, encoding="utf-8")
        except OSError as error:
            raise StorageError(
                f"cannot be written: {error.strerror}", place=str(path), remedy="Give another file with --log."
            ) from error
    handler.setFormatter(_OneLine("%(asctime)s %(levelname)s %(name)s %(message)s"))
    level = logging.INFO if path is not None else logging.WARNING
    for name in ("phasko", "uvicorn", "py.warnings"):
        logger = logging.getLogger(name)
        for before in logger.handlers:
            before.close()
        logger.handlers[:] = [handler]
        logger.setLevel(level)
        logger.propagate = False
    # The server's own start and stop need no line each.
    logging.getLogger("uvicorn").setLevel(logging.WARNING)


def request_number(scope: Scope) -> str:
    """The number of the request that is answered, by which its lines are found."""
    return str(scope.get("state", {}).get("number", "-"))


class LogMiddleware:
    """Numbers every request, tells the number in ``x-request-id``, and notes route, status and time."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        number = secrets.token_hex(6)
        scope.setdefault("state", {})["number"] = number
        begun = time.perf_counter()
        status = 0

        async def numbered(message: Message) -> None:
            nonlocal status
            if message["type"] == "http.response.start":
                status = int(message["status"])
                message = {**message, "headers": [*message.get("headers", []), (b"x-request-id", number.encode())]}
            await send(message)

        try:
            await self.app(scope, receive, numbered)
        finally:
            # The route and not the address: that may hold what somebody typed.
            route = getattr(scope.get("route"), "path", "-")
            took_ms = 1e3 * (time.perf_counter() - begun)
            LOG.info(
                "request id=%s method=%s route=%s status=%d ms=%.0f", number, scope["method"], route, status, took_ms
            )
