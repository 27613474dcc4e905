"""Who is in: the passphrase, the sessions behind it, and how wrong guesses are slowed."""

from __future__ import annotations

import secrets
import threading
import time
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, field
from ipaddress import ip_address

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError

from phasko.core.errors import RefusedError

__all__ = ["SESSION_S", "Door", "is_loopback"]

SESSION_S = 12 * 3600.0
TRIES = 5
TRIES_WINDOW_S = 60.0
_MOST_ADDRESSES = 10_000
_CHECKED_AT_ONCE = 2
"""A passphrase costs much memory to check on purpose; more at once would cost the others theirs."""


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


def _is_address(host: str) -> bool:
    try:
        ip_address(host)
    except ValueError:
        return False
    return True


@dataclass
class Door:
    """The passphrase and the sessions behind it; without a hash everybody on this machine is in. ``names``: by which
    the server may be called off the loopback, beside its plain addresses, which no foreign name can stand for."""

    passphrase_hash: str | None
    loopback_only: bool
    names: frozenset[str] = frozenset()
    clock: Callable[[], float] = time.monotonic
    _sessions: dict[str, float] = field(default_factory=dict)
    _failures: OrderedDict[str, list[float]] = field(default_factory=OrderedDict)
    _lock: threading.Lock = field(default_factory=threading.Lock)
    _checking: threading.Semaphore = field(default_factory=lambda: threading.Semaphore(_CHECKED_AT_ONCE))

    @property
    def closed(self) -> bool:
        return self.passphrase_hash is not None

    def answers_to(self, host: str) -> bool:
        """Whether that is a name of this server. A page of another site that had its own name point here is not
        answered."""
        if self.loopback_only:
            return is_loopback(host)
        return _is_address(host) or host == "localhost" or host.lower() in self.names

    def sign_in(self, passphrase: str, address: str = "", token: str | None = None) -> str:
        """A new session's token. Wrong guesses slow the address they come from, and nobody else; who is signed in
        already is never slowed. Raises RefusedError for a wrong passphrase or too many tries."""
        assert self.passphrase_hash is not None
        if not self.admits(token):
            self._slow(address)
        with self._checking:
            right = _right(self.passphrase_hash, passphrase)
        with self._lock:
            now = self.clock()
            if not right:
                self._failures.setdefault(address, []).append(now)
                self._failures.move_to_end(address)
                while len(self._failures) > _MOST_ADDRESSES:
                    self._failures.popitem(last=False)
                raise RefusedError("That is not the passphrase", remedy="Try again.")
            self._failures.pop(address, None)
            self._sessions = {one: until for one, until in self._sessions.items() if until > now}
            made = secrets.token_urlsafe(32)
            self._sessions[made] = now + SESSION_S
            return made

    def _slow(self, address: str) -> None:
        with self._lock:
            now = self.clock()
            lately = [t for t in self._failures.get(address, []) if now - t < TRIES_WINDOW_S]
            if lately:
                self._failures[address] = lately
            else:
                self._failures.pop(address, None)
            if len(lately) >= TRIES:
                raise RefusedError("Too many wrong passphrases", remedy="Wait a minute, then try again.")

    def sign_out(self, token: str | None) -> None:
        with self._lock:
            self._sessions.pop(token or "", None)

    def admits(self, token: str | None) -> bool:
        """Whether a request with that session may pass."""
        if not self.closed:
            return True
        with self._lock:
            until = self._sessions.get(token or "")
            return until is not None and until > self.clock()


def _right(hashed: str, passphrase: str) -> bool:
    try:
        return PasswordHasher().verify(hashed, passphrase)
    except (VerificationError, InvalidHashError):
        return False
