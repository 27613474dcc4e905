"""Hand-over: document, pages, first word, photos, and the repair with its proof."""

from __future__ import annotations

from typing import Annotated
from urllib.parse import quote

from fastapi import APIRouter, File, Form, Query, Response, UploadFile
from pydantic import BaseModel, ConfigDict, Field

from phasko.core.documents.job import JobDocument
from phasko.core.documents.repair import Cause, Repair
from phasko.core.handover import FAULT_WORDS, PART_WORDS, HandOver, first_text
from phasko.jobs.handing_over import hand_over_document, hand_over_page, made_hand_over, photos
from phasko.jobs.handing_over.documents import Form as PageForm
from phasko.jobs.handing_over.photos import PhotoRow, Station
from phasko.jobs.logbook import closing
from phasko.keeping.people import Account
from phasko.report.setting import Page, Paper
from phasko.store.audit import NOBODY
from phasko.web.errors import OUTDATED
from phasko.web.workshop import DatabaseOf, MadeFrom, PersonOf, tag

router = APIRouter(prefix="/api", tags=["hand-over"])


def _name(person: Account) -> str:
    """Whom a page names; nobody where nobody needs to sign in."""
    return "" if person.name == NOBODY else person.name


class HandOverWords(BaseModel):
    """By the word that the documents use."""

    faults: dict[str, str]
    parts: dict[str, str]


@router.get("/hand-over-words")
def get_hand_over_words() -> HandOverWords:
    """The words for what may be found on opening, and for parts."""
    return HandOverWords(faults=dict(FAULT_WORDS), parts=dict(PART_WORDS))


@router.get("/jobs/{job_id}/hand-over", response_model_exclude_none=False)
def get_hand_over(job_id: int, database: DatabaseOf, person: PersonOf) -> HandOver:
    """The whole hand-over as one document."""
    return hand_over_document(database, job_id, _name(person))


class FirstWord(BaseModel):
    """Headline and five lines as plain text, to be sent at once."""

    text: str


@router.get("/jobs/{job_id}/first-word")
def get_first_word(job_id: int, database: DatabaseOf, person: PersonOf) -> FirstWord:
    found = hand_over_document(database, job_id, _name(person))
    return FirstWord(text=first_text(found.head.vehicle, found.headline, found.five))


class ShownPage(BaseModel):
    """A page as HTML, to be shown inside another."""

    html: str


@router.get("/jobs/{job_id}/hand-over/shown")
def get_shown_page(
    job_id: int, database: DatabaseOf, person: PersonOf, page: Page = "full", paper: Paper = "A4"
) -> ShownPage:
    return ShownPage(html=hand_over_page(database, job_id, page, paper, _name(person)))


class Wanted(BaseModel):
    """In which form, which page, on which paper."""

    model_config = ConfigDict(extra="forbid")
    form: PageForm
    page: Page = "full"
    paper: Paper = "A4"


_MEDIA = {"html": "text/html", "pdf": "application/pdf", "png": "image/png", "json": "application/json"}


@router.get("/jobs/{job_id}/hand-over/file", response_class=Response)
def get_hand_over_file(
    job_id: int, database: DatabaseOf, person: PersonOf, wanted: Annotated[Wanted, Query()]
) -> Response:
    """The hand-over, the owner's page or the first word as a file."""
    name, content = made_hand_over(database, job_id, wanted.form, wanted.page, paper=wanted.paper, by=_name(person))
    disposition = f"attachment; filename*=UTF-8''{quote(name)}"
    return Response(content, media_type=_MEDIA[wanted.form], headers={"content-disposition": disposition})


@router.get("/jobs/{job_id}/photos")
def get_photos(job_id: int, database: DatabaseOf) -> list[PhotoRow]:
    return photos.list_photos(database, job_id)


@router.post("/jobs/{job_id}/photos", status_code=201)
def add_photo(
    job_id: int,
    database: DatabaseOf,
    photo: Annotated[UploadFile, File()],
    station: Annotated[Station, Form()],
    caption: Annotated[str, Form(max_length=300)] = "",
) -> PhotoRow:
    """A photo at a station: resized, and without anything the camera wrote beside it."""
    return photos.add_photo(database, job_id, station, caption, photo.filename or "photo", photo.file.read())


@router.get("/photos/{photo_id}", response_class=Response, responses={200: {"content": {"image/jpeg": {"schema": {}}}}})
def get_photo(photo_id: int, database: DatabaseOf) -> Response:
    return Response(photos.photo_file(database, photo_id), media_type="image/jpeg")


class Caption(BaseModel):
    model_config = ConfigDict(extra="forbid")
    caption: Annotated[str, Field(max_length=300)]


@router.put("/photos/{photo_id}/caption")
def put_caption(photo_id: int, body: Caption, database: DatabaseOf) -> PhotoRow:
    return photos.caption_photo(database, photo_id, body.caption)


@router.delete("/photos/{photo_id}", status_code=204)
def remove_photo(photo_id: int, database: DatabaseOf) -> None:
    """Takes it out; it can be brought back."""
    photos.remove_photo(database, photo_id)


@router.post("/photos/{photo_id}/restoration")
def restore_photo(photo_id: int, database: DatabaseOf) -> PhotoRow:
    return photos.restore_photo(database, photo_id)


@router.put("/jobs/{job_id}/repair", responses=OUTDATED, response_model_exclude_none=True)
def put_repair(job_id: int, body: Repair, database: DatabaseOf, made_from: MadeFrom, response: Response) -> JobDocument:
    """What was found on opening, replaced and done since."""
    told = closing.note_repair(database, job_id, body, made_from)
    tag(response, told.version)
    return told.document


class HowClosed(BaseModel):
    """The cause confirmed, refuted or unknown; why a wrong call was wrong."""

    model_config = ConfigDict(extra="forbid")
    cause: Cause
    why: Annotated[str, Field(max_length=2000)] = ""


@router.post("/jobs/{job_id}/closing", responses=OUTDATED, response_model_exclude_none=True)
def close_job(
    job_id: int, body: HowClosed, database: DatabaseOf, person: PersonOf, made_from: MadeFrom, response: Response
) -> JobDocument:
    """Closes the job; the call as it stood before the repair is kept beside it."""
    told = closing.close_job(database, job_id, body.cause, body.why, _name(person), made_from)
    tag(response, told.version)
    return told.document


@router.delete("/jobs/{job_id}/closing", responses=OUTDATED, response_model_exclude_none=True)
def reopen_job(job_id: int, database: DatabaseOf, made_from: MadeFrom, response: Response) -> JobDocument:
    """Opens it again; how it was closed stays as a note."""
    told = closing.reopen_job(database, job_id, made_from)
    tag(response, told.version)
    return told.document
