"""The application over an empty workshop, called without a network."""

import pytest
from argon2 import PasswordHasher
from fastapi import FastAPI

from phasko.store import Database
from phasko.web.app import create_app
from phasko.web.door import Door
from tests.web.caller import Caller


@pytest.fixture
def app(database: Database) -> FastAPI:
    return create_app(database, Door(None, loopback_only=True), upload_limit_bytes=40 << 20)


@pytest.fixture
def call(app: FastAPI) -> Caller:
    return Caller(app)


@pytest.fixture
def guarded(database: Database) -> Caller:
    quick = PasswordHasher(time_cost=1, memory_cost=8, parallelism=1)
    return Caller(
        create_app(database, Door(quick.hash("tide and rope"), loopback_only=False, names=frozenset({"bench.island"})))
    )
