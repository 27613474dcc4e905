"""Starts the server: address, passphrase, certificate, sample data."""

from __future__ import annotations

import os
import socket
from collections.abc import Sequence
from dataclasses import dataclass
from ipaddress import ip_address
from pathlib import Path

import uvicorn
from argon2 import PasswordHasher

from phasko.core.errors import RefusedError
from phasko.jobs.board import board
from phasko.store import Database
from phasko.store.arriving import forget_halves
from phasko.store.one_server import folder_taken
from phasko.web.app import create_app
from phasko.web.door import Door, is_loopback
from phasko.web.passphrases import check_passphrase
from phasko.web.patient import PatientProtocol

__all__ = ["PASSPHRASE_VARIABLE", "Serving", "open_door", "reachable", "serve", "store_passphrase"]

PASSPHRASE_VARIABLE = "PHASKO_PASSPHRASE"
PASSPHRASE_FILE = "passphrase.argon2"


def store_passphrase(data: Path, passphrase: str) -> None:
    """Keeps the passphrase's argon2 hash beside the workshop's file. Raises RefusedError for a short one."""
    hashed = _hashed(passphrase)
    data.mkdir(parents=True, exist_ok=True)
    path = data / PASSPHRASE_FILE
    path.write_text(hashed + "\n", encoding="ascii")
    path.chmod(0o600)


def open_door(host: str, data: Path, names: Sequence[str] = ()) -> Door:
    """The door for that address; ``names`` are further ones by which other machines may call it. Raises RefusedError
    off the loopback address without a passphrase."""
    given = os.environ.get(PASSPHRASE_VARIABLE)
    stored = data / PASSPHRASE_FILE
    hashed = _hashed(given) if given else stored.read_text(encoding="ascii").strip() if stored.is_file() else None
    if hashed is None and not is_loopback(host):
        raise RefusedError(
            f"{host} can be reached from other machines, and no passphrase is set",
            remedy=f"Set one with 'phasko passphrase' or in {PASSPHRASE_VARIABLE}, or stay on 127.0.0.1",
        )
    known = frozenset(name.lower().rstrip(".") for name in (host, *names))
    return Door(hashed, loopback_only=is_loopback(host), names=known)


@dataclass(frozen=True, slots=True, kw_only=True)
class Serving:
    """How the server is started: address and port, folder, sample data, certificate with its key, further names."""

    host: str
    port: int
    data: Path
    demo: bool = False
    certificate: Path | None = None
    key: Path | None = None
    names: tuple[str, ...] = ()


def serve(how: Serving) -> None:
    """Runs until it is stopped; prints the address first. Raises RefusedError, ConflictError while another serves
    the folder, StorageError."""
    door = open_door(how.host, how.data, how.names)
    if (how.certificate is None) != (how.key is None):
        raise RefusedError("A certificate needs its key, and a key its certificate")
    with folder_taken(how.data, f"serves it at port {how.port}"):
        _serve(door, how)


def _serve(door: Door, how: Serving) -> None:
    database = Database(how.data)
    forget_halves(database)
    if how.demo and not board(database):
        # The bench and its compiler are loaded only when there is something to record.
        from phasko.jobs.demo import fill_demo

        fill_demo(database, lambda text: print(text, flush=True))
    scheme = "http" if how.certificate is None else "https"
    for address in reachable(how.host):
        shown = f"[{address}]" if ":" in address else address
        print(f"Phasko is at {scheme}://{shown}:{how.port}/", flush=True)
    if not is_loopback(how.host) and how.certificate is None:
        print("Without a certificate the passphrase crosses the network readable: see --tls-certificate.", flush=True)
    uvicorn.run(
        create_app(database, door),
        host=how.host,
        port=how.port,
        http=PatientProtocol,
        log_level="warning",
        server_header=False,
        ssl_certfile=how.certificate,
        ssl_keyfile=how.key,
    )


def reachable(host: str) -> list[str]:
    """The addresses to type into a browser: the one that was given; for "all addresses of this machine" (0.0.0.0, ::),
    which no browser can open, the loopback one and those by which other machines find this one."""
    try:
        every = ip_address(host).is_unspecified
    except ValueError:
        every = False
    if not every:
        return [host]
    found = ["127.0.0.1"]
    # A connected datagram socket has the address that would be used; nothing is sent.
    for family, far in ((socket.AF_INET, "192.0.2.1"), (socket.AF_INET6, "2001:db8::1")):
        try:
            with socket.socket(family, socket.SOCK_DGRAM) as asked:
                asked.connect((far, 9))
                found.append(str(asked.getsockname()[0]))
        except OSError:
            continue
    return list(dict.fromkeys(found))


def _hashed(passphrase: str) -> str:
    check_passphrase(passphrase)
    return PasswordHasher().hash(passphrase)
