"""Who is in: people and their sessions, and how wrong guesses are slowed."""

from __future__ import annotations

import secrets
import threading
import time
from collections import OrderedDict
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from datetime import UTC, datetime
from functools import cache
from ipaddress import ip_address

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError

from phasko.core.errors import RefusedError
from phasko.keeping.people import LEAD, Account
from phasko.keeping.tokens import TokenKey, token_hash
from phasko.store.audit import NOBODY

__all__ = ["ALONE", "SESSION_S", "Door", "is_loopback"]

SESSION_S = 12 * 3600.0
TRIES = 5
TRIES_WINDOW_S = 60.0
_MOST_ADDRESSES = 10_000
_CHECKED_AT_ONCE = 2
"""A passphrase costs much memory to check on purpose; more at once would cost the others theirs."""
_KNOWN_FOR_S = 1.0
"""So long it may take until somebody who was removed elsewhere is out."""

ALONE = Account(NOBODY, "lead", "")
"""Whoever sits at this machine, where nobody needs to sign in."""


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


@dataclass(frozen=True, slots=True)
class _Session:
    """Ends at ``until_s``, and with the passphrase it was opened with."""

    name: str
    hashed: str
    until_s: float


@dataclass
class Door:
    """People and their sessions; on the loopback, without any people, everybody on this machine is in. ``accounts``
    reads who may come in, ``tokens`` which programs may; ``names``: by which the server may be called off the loopback,
    beside its plain addresses, which no foreign name can stand for."""

    accounts: Callable[[], Sequence[Account]]
    loopback_only: bool
    names: frozenset[str] = frozenset()
    clock: Callable[[], float] = time.monotonic
    tokens: Callable[[], Sequence[TokenKey]] = tuple
    _known: tuple[float, dict[str, Account]] | None = None
    _keys: tuple[float, dict[str, TokenKey]] | None = None
    _sessions: dict[str, _Session] = field(default_factory=dict)
    _failures: OrderedDict[str, list[float]] = field(default_factory=OrderedDict)
    _lock: threading.RLock = field(default_factory=threading.RLock)
    _checking: threading.Semaphore = field(default_factory=lambda: threading.Semaphore(_CHECKED_AT_ONCE))

    @property
    def closed(self) -> bool:
        """Whether somebody has to sign in."""
        return not self.loopback_only or bool(self._people())

    def answers_to(self, host: str) -> bool:
        """Whether that is a name of this server. A page of another site that had its own name point here is not
        answered."""
        if self.loopback_only:
            return is_loopback(host)
        return _is_address(host) or host == "localhost" or host.lower() in self.names

    def sign_in(self, passphrase: str, name: str = "", address: str = "", token: str | None = None) -> str:
        """A new session's token. Without a name it is the lead, or the only person there is. Wrong guesses slow the
        address they come from, and nobody else; who is signed in already is never slowed. Raises RefusedError for a
        wrong passphrase or too many tries; it does not tell whether the name is known."""
        if self.who(token) is None:
            self._slow(address)
        account = self._named(name)
        with self._checking:
            right = _right(account.hashed if account else _nobodys_hash(), passphrase) and account is not None
        with self._lock:
            now = self.clock()
            if not right or account is None:
                self._failures.setdefault(address, []).append(now)
                self._failures.move_to_end(address)
                while len(self._failures) > _MOST_ADDRESSES:
                    self._failures.popitem(last=False)
                raise RefusedError("That is not the name and the passphrase", remedy="Try again.")
            self._failures.pop(address, None)
            self._sessions = {one: held for one, held in self._sessions.items() if held.until_s > now}
            made = secrets.token_urlsafe(32)
            self._sessions[made] = _Session(account.name, account.hashed, now + SESSION_S)
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

    def is_right(self, account: Account, passphrase: str) -> bool:
        """Whether that is the person's passphrase."""
        with self._checking:
            return _right(account.hashed, passphrase)

    def sign_out(self, token: str | None) -> None:
        with self._lock:
            self._sessions.pop(token or "", None)

    def who(self, token: str | None) -> Account | None:
        """Whose session that is; ``None`` for nobody's. It ends after its time, when its person is removed, and when
        the passphrase is changed."""
        if not self.closed:
            return ALONE
        with self._lock:
            held = self._sessions.get(token or "")
            if held is None or held.until_s <= self.clock():
                return None
            account = self._people().get(held.name.casefold())
            return account if account is not None and account.hashed == held.hashed else None

    def of_token(self, token: str) -> Account | None:
        """Which program has that token; ``None`` for one that nobody was given, or that has ended."""
        with self._lock:
            now = self.clock()
            if self._keys is None or now - self._keys[0] > _KNOWN_FOR_S:
                self._keys = now, {one.sha256: one for one in self.tokens()}
            # Found by its hash: how long that takes tells nothing of any token.
            key = self._keys[1].get(token_hash(token))
        if key is None or (key.ends_at is not None and key.ends_at <= datetime.now(UTC)):
            return None
        return key.account

    def admits(self, token: str | None) -> bool:
        """Whether a request with that session may pass."""
        return self.who(token) is not None

    def look_again(self) -> None:
        """People were changed here: the next request sees it."""
        with self._lock:
            self._known = self._keys = None

    def _people(self) -> dict[str, Account]:
        with self._lock:
            now = self.clock()
            if self._known is None or now - self._known[0] > _KNOWN_FOR_S:
                self._known = now, {one.name.casefold(): one for one in self.accounts()}
            return self._known[1]

    def _named(self, name: str) -> Account | None:
        known = self._people()
        if name.strip():
            return known.get(" ".join(name.split()).casefold())
        return known.get(LEAD) or (next(iter(known.values())) if len(known) == 1 else None)


@cache
def _nobodys_hash() -> str:
    """A hash to try where nobody has that name: it takes as long to refuse as a wrong passphrase."""
    return PasswordHasher().hash(secrets.token_urlsafe(16))


def _right(hashed: str, passphrase: str) -> bool:
    try:
        return PasswordHasher().verify(hashed, passphrase)
    except (VerificationError, InvalidHashError):
        return False
