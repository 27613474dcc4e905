"""Every endpoint with what its schema allows and what it does not, over a workshop of which parts cannot be read:
never a fault of the server, and every refusal in the same form."""

from __future__ import annotations

import itertools
import json
import os
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

import pytest
import schemathesis
from fastapi import FastAPI
from hypothesis import HealthCheck, Phase, given, settings
from schemathesis.specs.openapi.schemas import OpenApiSchema

from phasko.store import Database
from phasko.web.app import create_app
from phasko.web.door import Door
from tests.levels import examples
from tests.web.broken_workshop import KNOWN, broken_workshop

EXAMPLES = int(os.environ.get("PHASKO_EXAMPLES", examples(3, 30)))
"""So many of each; a longer run can be asked for."""


@pytest.fixture(scope="module")
def app(tmp_path_factory: pytest.TempPathFactory) -> Iterator[FastAPI]:
    folder: Path = tmp_path_factory.mktemp("broken")
    broken_workshop(folder)
    with closing(Database(folder)) as database:
        made = create_app(database, Door(tuple, loopback_only=True), upload_limit_bytes=4 << 20)
        # A stream of changes ends when the server does; here nobody could wait for it.
        made.state.live.close()
        # The work of a fleet is a process of its own, with tests of its own; here it would only run beside the others.
        made.state.fleet.start = lambda: None
        with closing(made.state.fleet), closing(made.state.rejudging):
            yield made


@pytest.fixture(scope="module")
def described(app: FastAPI) -> OpenApiSchema:
    return schemathesis.openapi.from_asgi("/api/openapi.json", app, headers=HOST)


HOST = {"host": "127.0.0.1:8765"}
PATHS = json.loads((Path(__file__).parents[2] / "docs" / "openapi.json").read_text())["paths"]
OPERATIONS = [(path, method) for path, methods in PATHS.items() for method in methods]


@pytest.mark.parametrize(("path", "method"), OPERATIONS, ids=[f"{method} {path}" for path, method in OPERATIONS])
def test_no_endpoint_fails_and_every_refusal_has_our_form(described: OpenApiSchema, path: str, method: str) -> None:
    turns = itertools.count()

    @given(case=described[path][method].as_strategy())
    @settings(
        max_examples=EXAMPLES,
        deadline=None,
        derandomize=True,
        database=None,
        phases=[Phase.explicit, Phase.generate],
        suppress_health_check=list(HealthCheck),
    )
    def check(case: schemathesis.Case) -> None:
        turn = next(turns)
        for name, known in KNOWN.items():
            # Made-up numbers hardly ever meet what is stored.
            if name in (case.path_parameters or {}) and turn % 4 != 3:
                case.path_parameters[name] = known[turn % len(known)]
        # What an answer takes says how busy the machine is: ten seconds are the tool's own limit.
        answer = case.call(headers=HOST, timeout=300)
        assert answer.status_code < 500, answer.text
        if answer.status_code >= 400:
            assert set(answer.json()) >= {"what", "place", "kept", "remedy"}

    check()
