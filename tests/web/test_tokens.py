"""Programs with tokens: their roles, their end, what they never may, and how much they may ask."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

import pytest
from fastapi import FastAPI
from sqlalchemy import update

from phasko.core.errors import ConflictError, DocumentError, NotFoundError
from phasko.keeping.log import log_as_csv
from phasko.keeping.people import Account
from phasko.keeping.tokens import add_token, list_tokens, remove_token, token_keys
from phasko.store import Database
from phasko.store.models import AccessToken
from phasko.web.app import create_app
from phasko.web.door import Door
from phasko.web.pace import TOKEN, Pace, Paces
from tests.web.caller import Caller
from tests.web.conftest import PASSPHRASES, QUICK


class Clock:
    """A clock that stands until it is set."""

    now = 1000.0

    def __call__(self) -> float:
        return self.now


@pytest.fixture
def door(database: Database) -> Door:
    lead = Account("lead", "lead", QUICK.hash(PASSPHRASES["lead"]))
    return Door(lambda: (lead,), loopback_only=True, clock=Clock(), tokens=lambda: token_keys(database))


@pytest.fixture
def app(database: Database, door: Door) -> FastAPI:
    return create_app(database, door)


def told(token: str) -> dict[str, dict[str, str]]:
    return {"headers": {"authorization": f"Bearer {token}"}}


@pytest.mark.parametrize(("role", "opens", "log"), [("reader", 403, 403), ("technician", 422, 403), ("lead", 422, 200)])
def test_each_role_reaches_as_far_as_a_persons(
    app: FastAPI, database: Database, role: str, opens: int, log: int
) -> None:
    token = add_token(database, "yard", role).token
    call = Caller(app)
    assert call("GET", "/api/logbook", **told(token)).status_code == 200
    assert call("POST", "/api/jobs", json={}, **told(token)).status_code == opens
    assert call("GET", "/api/log", **told(token)).status_code == log


@pytest.mark.parametrize(("method", "path"), [("GET", "/api/people"), ("POST", "/api/tokens"), ("GET", "/api/session")])
def test_no_token_says_who_may_come_in(app: FastAPI, database: Database, method: str, path: str) -> None:
    token = add_token(database, "yard", "lead").token
    refused = Caller(app)(method, path, json={"name": "x", "role": "lead"}, **told(token))
    assert refused.status_code == 403
    assert "signed in" in refused.json()["what"]
    assert [row.name for row in list_tokens(database)] == ["yard"]


@pytest.mark.parametrize("token", ["", "guessed", "phasko_" + "A" * 43])
def test_a_wrong_token_lets_nobody_in_not_even_beside_a_session(app: FastAPI, database: Database, token: str) -> None:
    add_token(database, "yard", "lead")
    call = Caller(app)
    assert call("POST", "/api/session", json={"passphrase": PASSPHRASES["lead"]}).status_code == 200
    assert call("GET", "/api/logbook").status_code == 200
    refused = call("GET", "/api/logbook", **told(token))
    assert (refused.status_code, refused.json()["what"]) == (401, "That token lets nobody in")


def test_a_token_that_was_taken_out_or_has_ended_lets_nobody_in(app: FastAPI, database: Database, door: Door) -> None:
    lead = Caller(app)
    lead("POST", "/api/session", json={"passphrase": PASSPHRASES["lead"]})
    made = [lead("POST", "/api/tokens", json={"name": name, "role": "reader", "days": 2}).json() for name in "ab"]
    call = Caller(app)
    assert [call("GET", "/api/logbook", **told(one["token"])).status_code for one in made] == [200, 200]
    assert [row["name"] for row in lead("DELETE", "/api/tokens/a").json()] == ["b"]
    assert call("GET", "/api/logbook", **told(made[0]["token"])).status_code == 401
    with database.transaction() as session:
        gone = (datetime.now(UTC) - timedelta(minutes=1)).isoformat(timespec="seconds")
        session.execute(update(AccessToken).values(ends_at=gone))
    door.look_again()
    assert call("GET", "/api/logbook", **told(made[1]["token"])).status_code == 401


def test_a_token_is_told_once_and_kept_as_a_hash(app: FastAPI, database: Database) -> None:
    lead = Caller(app)
    lead("POST", "/api/session", json={"passphrase": PASSPHRASES["lead"]})
    token = lead("POST", "/api/tokens", json={"name": "yard", "role": "reader"}).json()["token"]
    assert token not in lead("GET", "/api/tokens").text
    assert token.encode() not in database.path.read_bytes()
    Caller(app)("GET", "/api/logbook", **told(token))
    assert "added,token yard as reader" in log_as_csv(database)


def test_what_a_token_changes_is_put_down_to_it(app: FastAPI, database: Database) -> None:
    token = add_token(database, "yard office", "lead").token
    named = {"name": "Harbour shed"}
    assert Caller(app)("PUT", "/api/workshop-name", json=named, **told(token)).status_code == 200
    assert "token yard office,set" in log_as_csv(database)


def test_a_token_is_slowed_and_told_how_long_and_nobody_else(app: FastAPI, database: Database) -> None:
    one, other = (add_token(database, name, "reader").token for name in ("one", "other"))
    call = Caller(app)
    answers = [call("GET", "/api/engines", **told(one)) for _ in range(int(TOKEN.at_once) + 30)]
    slowed = [answer for answer in answers if answer.status_code == 429]
    assert slowed
    assert 1 <= int(slowed[0].headers["retry-after"]) <= 2
    assert slowed[0].json()["kept"] == "Nothing was changed"
    assert call("GET", "/api/engines", **told(other)).status_code == 200


def test_names_roles_and_days_that_cannot_be(database: Database) -> None:
    add_token(database, "yard", "reader")
    with pytest.raises(ConflictError):
        add_token(database, "Yard", "reader")
    for name, role, days in (("", "reader", None), ("x", "boss", None), ("x", "reader", 0), ("x", "reader", 99_999)):
        with pytest.raises(DocumentError):
            add_token(database, name, role, days)
    remove_token(database, "YARD")
    with pytest.raises(NotFoundError):
        remove_token(database, "yard")


def test_a_bucket_fills_again_at_its_rate() -> None:
    clock = Clock()
    paces, pace = Paces(clock), Pace(at_once=3.0, a_second=2.0)
    assert [paces.wait_s("a", pace) for _ in range(4)] == [0.0, 0.0, 0.0, 0.5]
    assert paces.wait_s("b", pace) == 0.0
    clock.now += 0.25
    assert paces.wait_s("a", pace) == pytest.approx(0.25)
    clock.now += 0.25
    assert paces.wait_s("a", pace) == 0.0
    clock.now += 100.0
    assert [paces.wait_s("a", pace) > 0.0 for _ in range(4)] == [False, False, False, True]
