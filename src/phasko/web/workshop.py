"""What every route may ask for: the database and the door of the running server."""

from __future__ import annotations

from typing import Annotated

from fastapi import Depends, Request

from phasko.store import Database
from phasko.web.door import Door

__all__ = ["DatabaseOf", "DoorOf"]


def _database(request: Request) -> Database:
    database: Database = request.app.state.database
    return database


def _door(request: Request) -> Door:
    door: Door = request.app.state.door
    return door


DatabaseOf = Annotated[Database, Depends(_database)]
DoorOf = Annotated[Door, Depends(_door)]
