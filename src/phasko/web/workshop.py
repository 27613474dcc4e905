"""What every route may ask for: the database, the door of the running server, and who asks."""

from __future__ import annotations

from typing import Annotated

from fastapi import Depends, Header, Request, Response

from phasko.core.errors import DocumentError, RefusedError
from phasko.keeping.people import Account
from phasko.store import Database
from phasko.web.door import Door

__all__ = ["DatabaseOf", "DoorOf", "LeadOf", "MadeFrom", "PersonOf", "tag"]


def _door(request: Request) -> Door:
    door: Door = request.app.state.door
    return door


def _person(request: Request) -> Account:
    """Whom the guard let in."""
    account: Account = request.state.account
    return account


def _database(request: Request) -> Database:
    """The workshop's file, with what is changed put down to whoever asks."""
    database: Database = request.app.state.database
    return database.by(_person(request).name)


def _lead(request: Request) -> Account:
    account = _person(request)
    if account.role != "lead":
        raise RefusedError("Only a lead may do that", kept="Nothing was changed", remedy="Ask a lead.")
    return account


def _made_from(
    if_match: Annotated[
        str | None,
        Header(max_length=40, description="The version that a change was made from, as its ETag told it"),
    ] = None,
) -> int | None:
    if if_match is None or if_match.strip() == "*":
        return None
    number = if_match.strip().removeprefix("W/").strip('"')
    if not (number.isascii() and number.isdigit() and len(number) < 16):
        raise DocumentError("is no version", place="If-Match", kept="Nothing was changed", remedy="Send the ETag back.")
    return int(number)


def tag(response: Response, version: int) -> None:
    """Tells which version an answer shows, for the change that may follow."""
    response.headers["etag"] = f'"{version}"'


DatabaseOf = Annotated[Database, Depends(_database)]
DoorOf = Annotated[Door, Depends(_door)]
PersonOf = Annotated[Account, Depends(_person)]
LeadOf = Annotated[Account, Depends(_lead)]
MadeFrom = Annotated[int | None, Depends(_made_from)]
