"""Named people with three roles: what each may do, and how long a session lives."""

import pytest
from fastapi import FastAPI

from phasko import __version__
from phasko.code_hash import SHORT, code_hash
from phasko.core.errors import DocumentError, RefusedError
from phasko.keeping import people
from phasko.store import Database
from phasko.web.app import create_app
from phasko.web.door import Door
from tests.web.caller import Caller
from tests.web.conftest import PASSPHRASES, shared, signed_in


@pytest.fixture
def app(database: Database) -> FastAPI:
    return shared(database)


WRITES = [
    ("POST", "/api/jobs"),
    ("PUT", "/api/jobs/1/document"),
    ("PUT", "/api/jobs/1/engine"),
    ("DELETE", "/api/jobs/1"),
    ("POST", "/api/jobs/1/restoration"),
    ("POST", "/api/jobs/1/captures"),
    ("POST", "/api/jobs/1/inbox"),
    ("POST", "/api/jobs/1/looks"),
    ("DELETE", "/api/captures/1"),
    ("PUT", "/api/captures/1/sheet"),
    ("POST", "/api/engines"),
    ("POST", "/api/bundles"),
    ("POST", "/api/captures/1/erasure"),
    ("POST", "/api/people"),
    ("POST", "/api/jobs/1/photos"),
    ("DELETE", "/api/photos/1"),
    ("PUT", "/api/photos/1/caption"),
    ("PUT", "/api/jobs/1/repair"),
    ("POST", "/api/jobs/1/closing"),
    ("DELETE", "/api/jobs/1/closing"),
    ("POST", "/api/jobs/1/notes"),
    ("PUT", "/api/jobs/1/desk"),
    ("POST", "/api/jobs/1/copies"),
    ("PUT", "/api/captures/1/title"),
    ("POST", "/api/workshop/import"),
    ("PUT", "/api/learning/odds"),
]
LEADS = [
    ("GET", "/api/people"),
    ("POST", "/api/people"),
    ("DELETE", "/api/people/Mira"),
    ("PUT", "/api/people/Mira/role"),
    ("PUT", "/api/people/Mira/passphrase"),
    ("GET", "/api/log"),
    ("GET", "/api/log/file"),
    ("POST", "/api/captures/1/erasure"),
    ("POST", "/api/jobs/1/erasure"),
    ("GET", "/api/workshop/export"),
    ("PUT", "/api/learning/odds"),
    ("PUT", "/api/workshop-name"),
]


@pytest.mark.parametrize(("method", "path"), WRITES)
def test_a_reader_changes_nothing(app: FastAPI, method: str, path: str) -> None:
    refused = signed_in(app, "Odo")(method, path, json={})
    assert refused.status_code == 403
    assert refused.json()["what"] == "A reader changes nothing"


def test_a_reader_sees_and_judges_drafts(app: FastAPI) -> None:
    reader = signed_in(app, "Odo")
    assert reader("GET", "/api/jobs").status_code == 200
    assert reader("POST", "/api/engines/draft", json={}).status_code == 200
    assert reader("GET", "/api/session").json()["role"] == "reader"
    assert reader("DELETE", "/api/session").json()["signed_in"] is False


@pytest.mark.parametrize("name", ["Mira", "Odo"])
@pytest.mark.parametrize(("method", "path"), LEADS)
def test_what_only_a_lead_may(app: FastAPI, name: str, method: str, path: str) -> None:
    bodies = {"/api/people/Mira/role": {"role": "lead"}, "/api/people/Mira/passphrase": {"passphrase": "x" * 12}}
    body = bodies.get(path, {"name": "Ida", "role": "lead", "passphrase": "four good long words"})
    assert signed_in(app, name)(method, path, json=body).status_code == 403


def test_a_lead_adds_somebody_who_then_signs_in(app: FastAPI) -> None:
    lead = signed_in(app, "lead")
    body = {"name": " Ida  Brask ", "role": "technician", "passphrase": "four good long words"}
    assert [p["name"] for p in lead("POST", "/api/people", json=body).json()] == ["Ida Brask"]
    assert lead("POST", "/api/people", json={**body, "name": "IDA brask"}).status_code == 409
    assert lead("POST", "/api/people", json={**body, "name": "Tor", "passphrase": "password1234"}).status_code == 403
    ida = Caller(app)
    assert ida("POST", "/api/session", json={"name": "ida brask", "passphrase": "four good long words"}).json() == {
        "passphrase_needed": True,
        "signed_in": True,
        "version": __version__,
        "code": code_hash()[:SHORT],
        "name": "Ida Brask",
        "role": "technician",
        "entry": 1,
    }
    lead("PUT", "/api/people/Ida Brask/role", json={"role": "reader"})
    assert ida("POST", "/api/jobs", json={}).status_code == 403
    lead("DELETE", "/api/people/Ida Brask")
    assert ida("GET", "/api/jobs").status_code == 401


def test_a_changed_passphrase_ends_all_other_sessions(app: FastAPI) -> None:
    lead = signed_in(app, "lead")
    lead("POST", "/api/people", json={"name": "Ida", "role": "technician", "passphrase": "four good long words"})
    here, there = Caller(app), Caller(app)
    for caller in (here, there):
        caller("POST", "/api/session", json={"name": "Ida", "passphrase": "four good long words"})
    wrong = here("PUT", "/api/session/passphrase", json={"old": "guess", "new": "five very good long words"})
    assert wrong.status_code == 403
    weak = here("PUT", "/api/session/passphrase", json={"old": "four good long words", "new": "short"})
    assert weak.status_code == 403
    assert "at least 12" in weak.json()["what"]
    right = here(
        "PUT", "/api/session/passphrase", json={"old": "four good long words", "new": "five very good long words"}
    )
    assert right.status_code == 200
    assert here("GET", "/api/jobs").status_code == 200
    assert there("GET", "/api/jobs").status_code == 401


def test_an_unknown_name_sounds_like_a_wrong_passphrase(app: FastAPI) -> None:
    said = [
        Caller(app)("POST", "/api/session", json={"name": name, "passphrase": "guess"}).json()
        for name in ("Mira", "Nobody")
    ]
    assert said[0] == said[1]


def test_one_persons_passphrase_is_not_anothers(app: FastAPI) -> None:
    crossed = Caller(app)("POST", "/api/session", json={"name": "Mira", "passphrase": PASSPHRASES["lead"]})
    assert crossed.status_code == 403


def test_alone_on_the_loopback_the_first_person_is_a_lead(database: Database) -> None:
    """And from then on everybody signs in, there too."""
    call = Caller(create_app(database, Door(lambda: people.accounts(database), loopback_only=True)))
    body = {"name": "Ida", "role": "reader", "passphrase": "four good long words"}
    assert call("POST", "/api/people", json=body).json()["what"] == "The first one must be a lead"
    assert call("GET", "/api/jobs").status_code == 200
    assert call("POST", "/api/people", json={**body, "role": "lead"}).status_code == 201
    assert call("GET", "/api/jobs").status_code == 401
    assert call("POST", "/api/session", json={"passphrase": "four good long words"}).json()["name"] == "Ida"


def test_there_is_always_a_lead(database: Database) -> None:
    people.add_person(database, "Ida", "lead", "four good long words")
    people.add_person(database, "Tor", "technician", "five very good long words")
    with pytest.raises(RefusedError, match="last lead"):
        people.remove_person(database, "Ida")
    with pytest.raises(RefusedError, match="last lead"):
        people.change_role(database, "Ida", "reader")
    people.change_role(database, "Tor", "lead")
    people.remove_person(database, "ida")
    people.remove_person(database, "Tor")
    assert people.list_people(database) == []


@pytest.mark.parametrize("name", ["", "  ", "x" * 61, "a\x00b"])
def test_names_that_are_none(database: Database, name: str) -> None:
    with pytest.raises(DocumentError, match="letters"):
        people.add_person(database, name, "lead", "four good long words")
