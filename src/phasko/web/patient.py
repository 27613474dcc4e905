"""Connections that send nothing: how long they are waited for, and how many anybody may hold."""

from __future__ import annotations

import asyncio
import asyncio.constants
import resource
from collections import Counter
from typing import Any

from uvicorn.protocols.http.h11_impl import H11Protocol

__all__ = ["PatientProtocol", "be_patient"]

_HEADER_S = 10.0
_MOST_OPEN = 400
_MOST_OF_ONE = 100

_MOST_FILES = 4096

_open: Counter[str] = Counter()


def be_patient() -> None:
    """Makes room for so many connections, and lets a TLS handshake take no longer than a request's head: a connection
    counts only once it is through."""
    asyncio.constants.SSL_HANDSHAKE_TIMEOUT = _HEADER_S
    soft, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
    wanted = _MOST_FILES if hard == resource.RLIM_INFINITY else min(_MOST_FILES, hard)
    if soft != resource.RLIM_INFINITY and soft < wanted:
        resource.setrlimit(resource.RLIMIT_NOFILE, (wanted, hard))


class PatientProtocol(H11Protocol):
    """Closes a connection whose request is not there within ``_HEADER_S`` s, and one more than an address, or all
    together, may hold open. An attacker who opens hundreds of them and says nothing stops nobody."""

    _address = ""
    _counted = False
    _waiting: asyncio.TimerHandle | None = None

    def connection_made(self, transport: Any) -> None:
        peer = transport.get_extra_info("peername")
        self._address = str(peer[0]) if peer else ""
        if _open.total() >= _MOST_OPEN or _open[self._address] >= _MOST_OF_ONE:
            transport.abort()
            return
        _open[self._address] += 1
        self._counted = True
        super().connection_made(transport)
        self._wait_for_request()

    def connection_lost(self, exc: Exception | None) -> None:
        if not self._counted:
            return
        _open[self._address] -= 1
        if _open[self._address] <= 0:
            del _open[self._address]
        self._counted = False
        self._waited()
        super().connection_lost(exc)

    def data_received(self, data: bytes) -> None:
        before = self.cycle
        super().data_received(data)
        if self.cycle is not before:
            self._waited()

    def on_response_complete(self) -> None:
        super().on_response_complete()
        self._wait_for_request()

    def _wait_for_request(self) -> None:
        self._waited()
        self._waiting = asyncio.get_running_loop().call_later(_HEADER_S, self._give_up)

    def _waited(self) -> None:
        if self._waiting is not None:
            self._waiting.cancel()
            self._waiting = None

    def _give_up(self) -> None:
        if self.cycle is None or self.cycle.response_complete:
            self.transport.abort()
