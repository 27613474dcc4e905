"""The workshop's name as it stands on the head of every page."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, ValidationError
from sqlalchemy.orm import Session

from phasko.store import Database
from phasko.store.settings import get_setting, put_setting

__all__ = ["WorkshopName", "name_workshop", "named_workshop", "workshop_name"]

_NAME = "name"


class WorkshopName(BaseModel):
    """Name and address; empty: no head is printed."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    name: Annotated[str, Field(max_length=120)] = ""
    address: Annotated[str, Field(max_length=200)] = ""


def workshop_name(session: Session) -> WorkshopName:
    """As it is set; empty where it is not."""
    try:
        return WorkshopName.model_validate_json(get_setting(session, _NAME) or "{}")
    except ValidationError:
        return WorkshopName()


def named_workshop(database: Database) -> WorkshopName:
    """The same from the file."""
    with database.reading() as session:
        return workshop_name(session)


def name_workshop(database: Database, name: WorkshopName) -> WorkshopName:
    """Sets it for every page from now on."""
    with database.transaction() as session:
        put_setting(session, _NAME, name.model_dump_json())
    return name
