"""Keeping the workshop: who may come in, who did what, what was taken out and is erased for good."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Response
from pydantic import BaseModel, ConfigDict, Field

from phasko.core.errors import RefusedError
from phasko.jobs.measured import forget_measured
from phasko.keeping import erasing, people, tokens
from phasko.keeping.erasing import TakenOut
from phasko.keeping.log import LogPage, log_as_csv, log_page
from phasko.keeping.people import PersonRow, Role
from phasko.keeping.tokens import NewToken, TokenRow
from phasko.web.workshop import DatabaseOf, DoorOf, LeadOf

router = APIRouter(prefix="/api", tags=["keeping"])

Named = Annotated[str, Field(min_length=1, max_length=200)]
Secret = Annotated[str, Field(max_length=1000)]


class NewPerson(BaseModel):
    model_config = ConfigDict(extra="forbid")
    name: Named
    role: Role
    passphrase: Secret


class WantedToken(BaseModel):
    """For a program of that name; good for so many days, or, without, until it is taken out."""

    model_config = ConfigDict(extra="forbid")
    name: Named
    role: Role
    days: Annotated[int | None, Field(ge=1, le=3650)] = None


class OtherRole(BaseModel):
    model_config = ConfigDict(extra="forbid")
    role: Role


class OtherPassphrase(BaseModel):
    model_config = ConfigDict(extra="forbid")
    passphrase: Secret


@router.get("/people")
def get_people(database: DatabaseOf, lead: LeadOf) -> list[PersonRow]:  # noqa: ARG001
    return people.list_people(database)


@router.post("/people", status_code=201)
def add_person(body: NewPerson, database: DatabaseOf, door: DoorOf, lead: LeadOf) -> list[PersonRow]:  # noqa: ARG001
    """Somebody who may sign in from now on. The first one is a lead: once there is anybody, everybody signs in."""
    if not people.list_people(database) and not door.closed and body.role != "lead":
        raise RefusedError("The first one must be a lead", kept="Nothing was changed", remedy="Add a lead first.")
    people.add_person(database, body.name, body.role, body.passphrase)
    return _now(database, door)


@router.delete("/people/{name}")
def remove_person(name: str, database: DatabaseOf, door: DoorOf, lead: LeadOf) -> list[PersonRow]:  # noqa: ARG001
    people.remove_person(database, name)
    return _now(database, door)


@router.put("/people/{name}/role")
def put_role(
    name: str,
    body: OtherRole,
    database: DatabaseOf,
    door: DoorOf,
    lead: LeadOf,  # noqa: ARG001
) -> list[PersonRow]:
    people.change_role(database, name, body.role)
    return _now(database, door)


@router.put("/people/{name}/passphrase")
def put_passphrase(
    name: str,
    body: OtherPassphrase,
    database: DatabaseOf,
    door: DoorOf,
    lead: LeadOf,  # noqa: ARG001
) -> list[PersonRow]:
    """A new passphrase for somebody who forgot it; whoever is signed in with the old one is out."""
    people.reset_passphrase(database, name, body.passphrase)
    return _now(database, door)


def _now(database: DatabaseOf, door: DoorOf) -> list[PersonRow]:
    """Everybody, after a change that the very next request must see."""
    door.look_again()
    return people.list_people(database)


@router.get("/tokens")
def get_tokens(database: DatabaseOf, lead: LeadOf) -> list[TokenRow]:  # noqa: ARG001
    """With which programs come in."""
    return tokens.list_tokens(database)


@router.post("/tokens", status_code=201)
def add_token(body: WantedToken, database: DatabaseOf, door: DoorOf, lead: LeadOf) -> NewToken:  # noqa: ARG001
    """A new one; it is told in this answer and never again."""
    made = tokens.add_token(database, body.name, body.role, body.days)
    door.look_again()
    return made


@router.delete("/tokens/{name}")
def remove_token(name: str, database: DatabaseOf, door: DoorOf, lead: LeadOf) -> list[TokenRow]:  # noqa: ARG001
    tokens.remove_token(database, name)
    door.look_again()
    return tokens.list_tokens(database)


@router.get("/log")
def get_log(
    database: DatabaseOf,
    lead: LeadOf,  # noqa: ARG001
    before: Annotated[int | None, Query(ge=1, le=2**62)] = None,
) -> LogPage:
    """Who did what, newest first."""
    return log_page(database, before)


@router.get("/log/file", response_class=Response)
def get_log_file(database: DatabaseOf, lead: LeadOf) -> Response:  # noqa: ARG001
    """The whole log as CSV."""
    disposition = 'attachment; filename="phasko-log.csv"'
    return Response(log_as_csv(database), media_type="text/csv", headers={"content-disposition": disposition})


@router.get("/taken-out")
def get_taken_out(database: DatabaseOf) -> TakenOut:
    """Jobs and captures that were taken out; they can be brought back, or erased by a lead."""
    return erasing.taken_out(database)


@router.post("/captures/{capture_id}/erasure")
def erase_capture(capture_id: int, database: DatabaseOf, lead: LeadOf) -> TakenOut:  # noqa: ARG001
    """Erases it for good, with its bytes and the results that rest on it."""
    left = erasing.erase_capture(database, capture_id)
    forget_measured()
    return left


@router.post("/jobs/{job_id}/erasure")
def erase_job(job_id: int, database: DatabaseOf, lead: LeadOf) -> TakenOut:  # noqa: ARG001
    """Erases a whole job with its vehicle for good."""
    left = erasing.erase_job(database, job_id)
    forget_measured()
    return left
