"""People with a name, a role and a passphrase, once a workshop is shared."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal, get_args

from argon2 import PasswordHasher
from pydantic import BaseModel, ConfigDict
from sqlalchemy.orm import Session

from phasko.core.errors import DocumentError, RefusedError
from phasko.keeping.passphrases import check_passphrase
from phasko.store import Database, people
from phasko.store.models import Person

__all__ = [
    "LEAD",
    "Account",
    "PersonRow",
    "Role",
    "accounts",
    "add_person",
    "change_role",
    "checked_name",
    "checked_role",
    "hashed",
    "list_people",
    "remove_person",
    "reset_passphrase",
    "set_lead",
]

Role = Literal["lead", "technician", "reader"]
"""A reader sees, a technician also changes, a lead also erases and says who may come in."""

LEAD = "lead"
"""The name that somebody has who signs in with a passphrase alone."""

_LONGEST_NAME = 60


@dataclass(frozen=True, slots=True)
class Account:
    """Somebody who may sign in, with the hash of the passphrase; or, ``by_token``, a program."""

    name: str
    role: Role
    hashed: str
    by_token: bool = False


class PersonRow(BaseModel):
    """A person as lists show one."""

    model_config = ConfigDict(frozen=True)
    name: str
    role: Role
    created_at: str
    changed_at: str


def accounts(database: Database) -> tuple[Account, ...]:
    """Everybody who may sign in."""
    with database.reading() as session:
        return tuple(Account(p.name, checked_role(p.role), p.passphrase_hash) for p in people.everybody(session))


def list_people(database: Database) -> list[PersonRow]:
    """By name."""
    with database.reading() as session:
        return [_row(person) for person in people.everybody(session)]


def add_person(database: Database, name: str, role: str, passphrase: str) -> PersonRow:
    """Raises DocumentError for a name or role that cannot be, RefusedError for a weak passphrase, ConflictError where
    the name is taken."""
    known = checked_role(role)
    named = checked_name(name)
    new = hashed(passphrase)
    with database.transaction() as session:
        return _row(people.add_person(session, named, known, new))


def remove_person(database: Database, name: str) -> None:
    """Nobody of that name gets in any more, from now on. Raises NotFoundError, and RefusedError for the last lead while
    others are left."""
    with database.transaction() as session:
        person = people.get_person(session, name)
        _keep_a_lead(session, person)
        people.remove_person(session, person)


def change_role(database: Database, name: str, role: str) -> PersonRow:
    """Raises NotFoundError, DocumentError for no such role, RefusedError for the last lead."""
    known = checked_role(role)
    with database.transaction() as session:
        person = people.get_person(session, name)
        if known != "lead":
            _keep_a_lead(session, person)
        people.change_person(person, role=known)
        return _row(person)


def reset_passphrase(database: Database, name: str, passphrase: str) -> PersonRow:
    """A new passphrase; whoever is signed in with the old one is out. Raises NotFoundError, RefusedError for a weak
    one."""
    new = hashed(passphrase)
    with database.transaction() as session:
        person = people.get_person(session, name)
        people.change_person(person, passphrase_hash=new)
        return _row(person)


def set_lead(database: Database, passphrase: str) -> None:
    """The passphrase of the lead who signs in with it alone, who is added where there is none. Raises RefusedError for
    a weak one."""
    if any(account.name.casefold() == LEAD for account in accounts(database)):
        reset_passphrase(database, LEAD, passphrase)
    else:
        add_person(database, LEAD, "lead", passphrase)


def hashed(passphrase: str) -> str:
    """The argon2 hash of a passphrase that is good enough. Raises RefusedError for one that is not."""
    check_passphrase(passphrase)
    return PasswordHasher().hash(passphrase)


def _keep_a_lead(session: Session, person: Person) -> None:
    others = [one for one in people.everybody(session) if one.id != person.id]
    if person.role == "lead" and others and not _leads(others):
        raise RefusedError(
            f"{person.name} is the last lead", kept="Nothing was changed", remedy="Make somebody else a lead first."
        )


def _leads(persons: Sequence[Person]) -> bool:
    return any(one.role == "lead" for one in persons)


def checked_name(name: str) -> str:
    """A name as it is kept. Raises DocumentError for one that cannot be."""
    named = " ".join(name.split())
    if not named or len(named) > _LONGEST_NAME or not named.isprintable():
        raise DocumentError(
            f"A name has between 1 and {_LONGEST_NAME} letters", place="name", kept="Nothing was changed"
        )
    return named


def checked_role(role: str) -> Role:
    """Raises DocumentError for no such role."""
    for known in get_args(Role):
        if role == known:
            return known  # type: ignore[no-any-return]
    raise DocumentError("A role is lead, technician or reader", place="role", kept="Nothing was changed")


def _row(person: Person) -> PersonRow:
    return PersonRow(
        name=person.name, role=checked_role(person.role), created_at=person.created_at, changed_at=person.changed_at
    )
