"""Photos at the stations of a job: resized, turned upright, and without anything the camera wrote beside the picture,
the place where it was taken included."""

from __future__ import annotations

import hashlib
import io
import warnings
from dataclasses import dataclass
from typing import Literal

from PIL import Image, ImageOps, UnidentifiedImageError
from pydantic import BaseModel, ConfigDict

from phasko.core.errors import DataError, DocumentError
from phasko.formats import FileBytes
from phasko.store import Database, jobs, photos
from phasko.store.models import Photo
from phasko.store.photos import NewPhoto

__all__ = [
    "STATIONS",
    "PhotoRow",
    "Station",
    "add_photo",
    "caption_photo",
    "list_photos",
    "photo_bytes",
    "photo_file",
    "remove_photo",
    "restore_photo",
]

Station = Literal["complaint", "look", "hook-up", "captures", "seal", "phase", "cylinder", "call", "hand-over"]
STATIONS: tuple[Station, ...] = (
    "complaint",
    "look",
    "hook-up",
    "captures",
    "seal",
    "phase",
    "cylinder",
    "call",
    "hand-over",
)
# Three photos beside each other on A4 need no more; a mark on a sprocket is still to be read when it fills the page.
_MOST_SIDE_PX = 1600
# Above what telephones take, below what fills the memory of a small server when it is unpacked.
_MOST_PIXELS = 64_000_000
_MOST_BYTES = 40 << 20
_MOST_PHOTOS = 60
_QUALITY = 86


class PhotoRow(BaseModel):
    """A photo as a list shows it."""

    model_config = ConfigDict(frozen=True)
    id: int
    station: str
    caption: str
    name: str
    width: int
    height: int
    created_at: str


@dataclass(frozen=True, slots=True, eq=False)
class TakenPhoto:
    """A picture as it is stored, as JPEG."""

    data: bytes
    width: int
    height: int


def add_photo(database: Database, job_id: int, station: Station, caption: str, name: str, data: FileBytes) -> PhotoRow:
    """Stores a photo at a station. Raises DataError for what is no JPEG, PNG or WebP, NotFoundError, ConflictError for
    one that is there already."""
    taken = photo_bytes(data, name)
    with database.transaction() as session:
        jobs.get_job(session, job_id)
        if len(photos.photos_of(session, job_id)) >= _MOST_PHOTOS:
            raise DataError(
                f"would be photo number {_MOST_PHOTOS + 1} of this job", place=name, remedy="Take others out first."
            )
        new = NewPhoto(
            station=station,
            caption=_caption(caption),
            name=name[:200],
            sha256=hashlib.sha256(taken.data).hexdigest(),
            width=taken.width,
            height=taken.height,
            data=taken.data,
        )
        return _row(photos.add_photo(session, job_id, new))


def photo_bytes(data: FileBytes, name: str, *, again: bool = False) -> TakenPhoto:
    """The picture as JPEG of at most 1600 pixels a side, upright, with nothing beside it; one that was stored so before
    (``again``) keeps its bytes. Raises DataError."""
    if len(data) > _MOST_BYTES:
        raise DataError(f"is larger than {_MOST_BYTES >> 20} MiB", place=name, kept="Nothing was stored")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Image.DecompressionBombWarning)
            with Image.open(io.BytesIO(bytes(data)), formats=("JPEG", "PNG", "WEBP")) as opened:
                if opened.width * opened.height > _MOST_PIXELS:
                    raise DataError(
                        f"has {opened.width} by {opened.height} pixels",
                        place=name,
                        kept="Nothing was stored",
                        remedy="Send a smaller one.",
                    )
                plain = opened.format == "JPEG" and max(opened.size) <= _MOST_SIDE_PX and not opened.info.get("exif")
                if again and plain:
                    opened.load()
                    return TakenPhoto(bytes(data), *opened.size)
                opened.draft("RGB", (2 * _MOST_SIDE_PX, 2 * _MOST_SIDE_PX))
                upright = ImageOps.exif_transpose(opened)
                return _as_jpeg(upright)
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError) as error:
        raise DataError(
            "is no photo that can be read",
            place=name,
            kept="Nothing was stored",
            remedy="JPEG, PNG and WebP are read.",
        ) from error
    except Image.DecompressionBombWarning as error:
        raise DataError("has too many pixels", place=name, kept="Nothing was stored") from error


def _as_jpeg(picture: Image.Image) -> TakenPhoto:
    """On white where it is see-through. A new picture: of the old one nothing but its pixels is taken."""
    picture.thumbnail((_MOST_SIDE_PX, _MOST_SIDE_PX), Image.Resampling.LANCZOS)
    solid = picture.convert("RGBA")
    bare = Image.new("RGB", solid.size, "white")
    bare.paste(solid, mask=solid.getchannel("A"))
    sink = io.BytesIO()
    bare.save(sink, format="JPEG", quality=_QUALITY, optimize=True)
    return TakenPhoto(sink.getvalue(), *bare.size)


def list_photos(database: Database, job_id: int) -> list[PhotoRow]:
    """Every photo of a job, oldest first. Raises NotFoundError."""
    with database.reading() as session:
        jobs.get_job(session, job_id)
        return [_row(one) for one in photos.photos_of(session, job_id)]


def photo_file(database: Database, photo_id: int) -> bytes:
    """The JPEG. Raises NotFoundError."""
    with database.reading() as session:
        return photos.get_photo(session, photo_id).data


def caption_photo(database: Database, photo_id: int, caption: str) -> PhotoRow:
    """Another caption. Raises NotFoundError."""
    with database.transaction() as session:
        photo = photos.get_photo(session, photo_id)
        photo.caption = _caption(caption)
        return _row(photo)


def remove_photo(database: Database, photo_id: int) -> None:
    """Takes it out; it can come back. Raises NotFoundError."""
    with database.transaction() as session:
        photos.remove_photo(session, photo_id)


def restore_photo(database: Database, photo_id: int) -> PhotoRow:
    """Undoes ``remove_photo``."""
    with database.transaction() as session:
        return _row(photos.restore_photo(session, photo_id))


def _caption(text: str) -> str:
    if len(text) > 300:
        raise DocumentError("is longer than 300 letters", place="caption", kept="Nothing was stored")
    return text.strip()


def _row(photo: Photo) -> PhotoRow:
    return PhotoRow(
        id=photo.id,
        station=photo.station,
        caption=photo.caption,
        name=photo.name,
        width=photo.width,
        height=photo.height,
        created_at=photo.created_at,
    )
