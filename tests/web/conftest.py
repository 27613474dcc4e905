"""The application over an empty workshop, called without a network."""

import pytest
from argon2 import PasswordHasher
from fastapi import FastAPI

from phasko.keeping.people import Account, Role, accounts
from phasko.store import Database
from phasko.web.app import create_app
from phasko.web.door import Door
from tests.web.caller import Caller


@pytest.fixture
def app(database: Database) -> FastAPI:
    return create_app(database, Door(tuple, loopback_only=True), upload_limit_bytes=40 << 20)


@pytest.fixture
def call(app: FastAPI) -> Caller:
    return Caller(app)


@pytest.fixture
def guarded(database: Database) -> Caller:
    return Caller(shared(database))


QUICK = PasswordHasher(time_cost=1, memory_cost=8, parallelism=1)
PASSPHRASES = {"lead": "tide and rope", "Mira": "moss-kettle-vane", "Odo": "twelve geese on ice"}
ROLES: dict[str, Role] = {"lead": "lead", "Mira": "technician", "Odo": "reader"}


def shared(database: Database) -> FastAPI:
    """A server off the loopback: a lead, a technician, and a reader, besides whom the file itself names."""
    known = tuple(Account(name, ROLES[name], QUICK.hash(passphrase)) for name, passphrase in PASSPHRASES.items())
    return create_app(
        database,
        Door(lambda: (*known, *accounts(database)), loopback_only=False, names=frozenset({"bench.island"})),
    )


def signed_in(app: FastAPI, name: str) -> Caller:
    caller = Caller(app)
    assert caller("POST", "/api/session", json={"name": name, "passphrase": PASSPHRASES[name]}).status_code == 200
    return caller
