"""Who may sign in."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session

from phasko.core.errors import ConflictError, NotFoundError
from phasko.store.models import Person, utc_now

__all__ = ["add_person", "change_person", "everybody", "get_person", "remove_person"]


def everybody(session: Session) -> Sequence[Person]:
    """By name."""
    return session.scalars(select(Person).order_by(Person.name)).all()


def get_person(session: Session, name: str) -> Person:
    """By name, in capitals or not. Raises NotFoundError."""
    found = session.scalar(select(Person).where(Person.name == name))
    if found is None:
        raise NotFoundError(f"There is nobody called {name[:60]!r} here")
    return found


def add_person(session: Session, name: str, role: str, passphrase_hash: str) -> Person:
    """Raises ConflictError where that name is taken."""
    if session.scalar(select(Person.id).where(Person.name == name)) is not None:
        raise ConflictError(f"There is a {name!r} already", remedy="Give another name, or reset that passphrase.")
    made = Person(name=name, role=role, passphrase_hash=passphrase_hash)
    session.add(made)
    session.flush()
    return made


def change_person(person: Person, *, role: str | None = None, passphrase_hash: str | None = None) -> None:
    """Another role, another passphrase."""
    person.role = role or person.role
    person.passphrase_hash = passphrase_hash or person.passphrase_hash
    person.changed_at = utc_now()


def remove_person(session: Session, person: Person) -> None:
    session.delete(person)
