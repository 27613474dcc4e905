"""What every route may ask for: the database, the door of the running server, and who asks."""

from __future__ import annotations

import threading
from functools import cached_property
from pathlib import Path
from typing import Annotated

from fastapi import Depends, Header, Request, Response

from phasko.core.errors import DocumentError, RefusedError
from phasko.jobs.recording import Recordings
from phasko.keeping.people import Account
from phasko.store import Database
from phasko.web.door import Door

__all__ = [
    "DatabaseOf",
    "DoorOf",
    "LeadOf",
    "MadeFrom",
    "PersonOf",
    "PracticeOf",
    "Practising",
    "Workshop",
    "tag",
    "workshop_of",
]


class Workshop:
    """A workshop's file that is open, with the recordings made into it."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def database(self) -> Database:
        return self._database

    @cached_property
    def recordings(self) -> Recordings:
        return Recordings(self.database())

    def close(self) -> None:
        """Ends what records into it."""
        # Nobody's recordings are begun only to be ended.
        if "recordings" in self.__dict__:
            self.recordings.close()


class Practising(Workshop):
    """The practice file beside the workshop's, opened when somebody practises: most servers never need it."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self._lock = threading.Lock()
        self._opened: Database | None = None

    def database(self) -> Database:
        """Opens it, or makes it. Raises StorageError."""
        with self._lock:
            if self._opened is None:
                self._opened = Database(self._folder)
            return self._opened

    def close(self) -> None:
        super().close()
        if self._opened is not None:
            self._opened.close()


def workshop_of(request: Request) -> Workshop:
    """The workshop's file, or the practice file where that was asked."""
    workshop: Workshop = request.app.state.workshop
    return workshop


def _door(request: Request) -> Door:
    door: Door = request.app.state.door
    return door


def _person(request: Request) -> Account:
    """Whom the guard let in."""
    account: Account = request.state.account
    return account


def _database(request: Request) -> Database:
    """The workshop's file, with what is changed put down to whoever asks."""
    return workshop_of(request).database().by(_person(request).name)


def _practice(request: Request) -> Database:
    """The practice file, opened when it is first asked for; never the workshop's."""
    practising: Practising = request.app.state.practising
    return practising.database().by(_person(request).name)


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


PracticeOf = Annotated[Database, Depends(_practice)]
DatabaseOf = Annotated[Database, Depends(_database)]
DoorOf = Annotated[Door, Depends(_door)]
PersonOf = Annotated[Account, Depends(_person)]
LeadOf = Annotated[Account, Depends(_lead)]
MadeFrom = Annotated[int | None, Depends(_made_from)]
