"""Practice cars that were made by hand for a class, as they are stored."""

from __future__ import annotations

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from phasko.store.models import Attempt, MadeCar

__all__ = ["class_key", "made_car_of", "next_number"]


def class_key(class_name: str) -> str:
    """The name under which a class is known, however somebody types its capitals."""
    return class_name.strip().casefold()


def made_car_of(session: Session, class_name: str, number: int) -> MadeCar | None:
    """The car that somebody made for that number; None where the class draws it."""
    asked = select(MadeCar).where(MadeCar.class_key == class_key(class_name), MadeCar.number == number)
    return session.scalar(asked)


def next_number(session: Session, class_name: str) -> int:
    """The first number of that class that nobody has begun at, and for which no car was made."""
    key = class_key(class_name)
    made = session.scalar(select(func.max(MadeCar.number)).where(MadeCar.class_key == key)) or 0
    # SQLite folds the capitals of ASCII letters alone, so names are compared here.
    rows = session.execute(select(Attempt.class_name, func.max(Attempt.number)).group_by(Attempt.class_name))
    begun = max((number for name, number in rows if class_key(name) == key), default=0)
    return max(made, begun) + 1
