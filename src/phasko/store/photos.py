"""Stored photos of a job; what is taken out stays and can come back."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session, undefer

from phasko.core.errors import ConflictError, NotFoundError
from phasko.store.models import Photo, utc_now

__all__ = ["NewPhoto", "add_photo", "get_photo", "photos_of", "remove_photo", "restore_photo"]


@dataclass(frozen=True, slots=True, eq=False)
class NewPhoto:
    """A picture as it is stored: JPEG bytes, and what a person says of it."""

    station: str
    caption: str
    name: str
    sha256: str
    width: int
    height: int
    data: bytes


def photos_of(session: Session, job_id: int) -> Sequence[Photo]:
    """Those that stand, without their bytes, oldest first."""
    standing = select(Photo).where(Photo.job_id == job_id, Photo.removed_at.is_(None))
    return session.scalars(standing.order_by(Photo.id)).all()


def add_photo(session: Session, job_id: int, new: NewPhoto) -> Photo:
    """Raises ConflictError for one that the job has already; one that was taken out comes back."""
    same = session.scalar(select(Photo).where(Photo.job_id == job_id, Photo.sha256 == new.sha256))
    if same is not None and same.removed_at is None:
        raise ConflictError("This photo is already in the job", place=new.name, kept="Nothing was stored twice")
    if same is not None:
        same.removed_at = None
        return same
    made = Photo(
        job_id=job_id,
        station=new.station,
        caption=new.caption,
        name=new.name,
        sha256=new.sha256,
        width=new.width,
        height=new.height,
        data=new.data,
    )
    session.add(made)
    session.flush()
    return made


def get_photo(session: Session, photo_id: int) -> Photo:
    """With its bytes. Raises NotFoundError."""
    found = session.get(Photo, photo_id, options=[undefer(Photo.data)])
    if found is None:
        raise NotFoundError(f"There is no photo number {photo_id}")
    return found


def remove_photo(session: Session, photo_id: int) -> None:
    """Takes it out; it can come back. Raises NotFoundError."""
    get_photo(session, photo_id).removed_at = utc_now()


def restore_photo(session: Session, photo_id: int) -> Photo:
    """Raises NotFoundError."""
    found = get_photo(session, photo_id)
    found.removed_at = None
    return found
