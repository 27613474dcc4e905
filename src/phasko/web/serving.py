"""Starts the server: address, passphrase, certificate, sample data."""

from __future__ import annotations

import os
import socket
import ssl
import threading
from collections.abc import Sequence
from contextlib import ExitStack, closing
from dataclasses import dataclass
from functools import partial
from ipaddress import ip_address
from pathlib import Path
from types import FrameType

import scipy
import uvicorn

from phasko.core.errors import RefusedError
from phasko.fleet.desk import FleetDesk
from phasko.jobs.board import board
from phasko.jobs.inbox import Watching, check_watched
from phasko.jobs.logbook.words import index_jobs
from phasko.keeping.people import LEAD, Account, accounts, hashed, set_lead
from phasko.keeping.tokens import token_keys
from phasko.store import Database
from phasko.store.arriving import forget_halves, keep_cut_recordings
from phasko.store.one_server import folder_taken
from phasko.web.app import create_app
from phasko.web.door import Door, is_loopback
from phasko.web.live import Live
from phasko.web.logs import log_to
from phasko.web.patient import PatientProtocol, be_patient

__all__ = ["PASSPHRASE_VARIABLE", "Serving", "open_door", "reachable", "serve", "store_passphrase"]

PASSPHRASE_VARIABLE = "PHASKO_PASSPHRASE"
PASSPHRASE_FILE = "passphrase.argon2"
_LOAD_AHEAD_AFTER_S = 0.5
"""The first page comes before."""


def store_passphrase(data: Path, passphrase: str) -> None:
    """Makes it the passphrase of the lead, who can sign in with it alone. Raises RefusedError for a weak one."""
    with closing(Database(data)) as database:
        set_lead(database, passphrase)
    (data / PASSPHRASE_FILE).unlink(missing_ok=True)


def open_door(host: str, data: Path, database: Database, names: Sequence[str] = ()) -> Door:
    """The door for that address; ``names`` are further ones by which other machines may call it. Raises RefusedError
    off the loopback address without anybody who could sign in."""
    lead = _lead_beside(data)

    def everybody() -> tuple[Account, ...]:
        stored = accounts(database)
        if lead is None:
            return stored
        return (lead, *(one for one in stored if one.name.casefold() != LEAD))

    if not is_loopback(host) and not any(one.role == "lead" for one in everybody()):
        raise RefusedError(
            f"{host} can be reached from other machines, and no passphrase is set",
            remedy=f"Add a lead with 'phasko user add NAME --role lead', set a passphrase with 'phasko passphrase' "
            f"or in {PASSPHRASE_VARIABLE}, or stay on 127.0.0.1",
        )
    known = frozenset(name.lower().rstrip(".") for name in (host, *names))
    return Door(everybody, loopback_only=is_loopback(host), names=known, tokens=partial(token_keys, database))


def _lead_beside(data: Path) -> Account | None:
    """The lead whose passphrase stands in the environment, or in the file in which older versions kept it."""
    given = os.environ.get(PASSPHRASE_VARIABLE)
    if given:
        return Account(LEAD, "lead", hashed(given))
    stored = data / PASSPHRASE_FILE
    return Account(LEAD, "lead", stored.read_text(encoding="ascii").strip()) if stored.is_file() else None


@dataclass(frozen=True, slots=True, kw_only=True)
class Serving:
    """How the server is started: address and port, folder, sample data, certificate with its key, further names,
    folders that are watched for captures, those that belong to the fleet beside this workshop, and the file that is
    logged to."""

    host: str
    port: int
    data: Path
    demo: bool = False
    certificate: Path | None = None
    key: Path | None = None
    names: tuple[str, ...] = ()
    watched: tuple[Path, ...] = ()
    fleet: tuple[Path, ...] = ()
    log: Path | None = None


def serve(how: Serving) -> None:
    """Runs until it is stopped; prints the address first. Raises RefusedError, ConflictError while another serves
    the folder, StorageError."""
    _check_certificate(how.certificate, how.key)
    if not 0 <= how.port <= 65535:
        raise RefusedError(f"There is no port {how.port}", remedy="Give one between 1024 and 65535 with --port.")
    check_watched(how.watched, how.data)
    with folder_taken(how.data, f"serves it at port {how.port}"), closing(Database(how.data)) as database:
        _serve(open_door(how.host, how.data, database, how.names), database, how)


def _serve(door: Door, database: Database, how: Serving) -> None:
    log_to(how.log)
    be_patient()
    keep_cut_recordings(database)
    forget_halves(database)
    index_jobs(database)
    if how.demo and not board(database):
        # The bench and its compiler are loaded only when there is something to record.
        from phasko.jobs.demo import fill_demo

        fill_demo(database, lambda text: print(text, flush=True))
    sockets = _listening(how.host, how.port)
    port = int(sockets[0].getsockname()[1])
    scheme = "http" if how.certificate is None else "https"
    for address in reachable(how.host):
        shown = f"[{address}]" if ":" in address else address
        print(f"Phasko is at {scheme}://{shown}:{port}/", flush=True)
    if not is_loopback(how.host) and how.certificate is None:
        print("Without a certificate the passphrase crosses the network readable: see --tls-certificate.", flush=True)
    watching = Watching(database, how.watched)
    fleet = FleetDesk(how.data.resolve(), tuple(one.resolve() for one in how.fleet))
    app = create_app(database, door, watching=watching, fleet=fleet)
    config = uvicorn.Config(
        app,
        http=PatientProtocol,
        log_config=None,
        log_level="warning",
        access_log=False,
        server_header=False,
        ssl_certfile=how.certificate,
        ssl_keyfile=how.key,
    )
    watching.start()
    ahead = threading.Timer(_LOAD_AHEAD_AFTER_S, _load_ahead)
    ahead.daemon = True
    ahead.start()
    with ExitStack() as open_until_then:
        for part in (watching, fleet, app.state.rejudging, app.state.workshop, app.state.practising):
            open_until_then.enter_context(closing(part))
        _Server(config, app.state.live).run(sockets=sockets)


def _load_ahead() -> None:
    """Load what measuring the first job needs, while nobody waits for it: SciPy loads its parts when they are used."""
    for part in ("interpolate", "linalg", "ndimage", "optimize", "signal", "special"):
        getattr(scipy, part)


class _Server(uvicorn.Server):
    """Ends the streams of changes first: a server that is stopped waits for whatever is still sent."""

    def __init__(self, config: uvicorn.Config, live: Live) -> None:
        super().__init__(config)
        self._live = live

    def handle_exit(self, sig: int, frame: FrameType | None) -> None:
        self._live.close()
        super().handle_exit(sig, frame)


def _check_certificate(certificate: Path | None, key: Path | None) -> None:
    """Raises RefusedError where one lacks the other, or they cannot be used."""
    if (certificate is None) != (key is None):
        raise RefusedError("A certificate needs its key, and a key its certificate")
    if certificate is None:
        return
    try:
        ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER).load_cert_chain(certificate, key)
    except (OSError, ssl.SSLError) as error:
        said = error.strerror or str(error)
        raise RefusedError(
            f"Certificate and key cannot be used: {said}",
            place=str(certificate),
            remedy="Both are PEM files; the key must be the certificate's own and have no passphrase.",
        ) from error


def _listening(host: str, port: int) -> list[socket.socket]:
    """Sockets on every address of that name. Raises RefusedError where there is none, or where it is taken."""
    place = f"{host}:{port}"
    try:
        found = socket.getaddrinfo(host, port, type=socket.SOCK_STREAM, flags=socket.AI_PASSIVE)
    except (OSError, UnicodeError) as error:
        raise RefusedError("There is no address of that name", place=host, remedy="Give another --host.") from error
    made: list[socket.socket] = []
    for family, address in dict.fromkeys((family, address) for family, _, _, _, address in found):
        try:
            made.append(socket.create_server(address[:2], family=family, backlog=2048))
            # Accepted connections take it over. Without it the second part of an answer waits 40 ms for the first to be
            # acknowledged: asyncio sets it for sockets alone that say TCP by number, which these do not.
            made[-1].setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)
        except OSError as error:
            for one in made:
                one.close()
            said, remedy = os.strerror(error.errno or 0), "Give another --port or --host."
            raise RefusedError(f"cannot listen there: {said}", place=place, remedy=remedy) from error
    return made


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
