"""Look and listen: what a technician notes beside the captures, with its weight."""

from __future__ import annotations

from dataclasses import asdict
from typing import Literal

from pydantic import BaseModel, ConfigDict

from phasko.core.documents import EngineProfile, parse_document
from phasko.core.documents.analysis import LookResult
from phasko.core.looks import QUESTIONS, Look, asked_of, check_look, look_results
from phasko.core.words import cam_name
from phasko.jobs.told import job_told, readable_looks
from phasko.store import Database, jobs, looks
from phasko.store.models import Look as LookRow

__all__ = [
    "AnswerOut",
    "Looking",
    "NotedLook",
    "forget_look",
    "look_and_listen",
    "looks_of_job",
    "note_look",
    "noted_as",
    "restore_look",
]


class AnswerOut(BaseModel):
    model_config = ConfigDict(frozen=True)
    id: str
    title: str


class CamOut(BaseModel):
    model_config = ConfigDict(frozen=True)
    id: str
    name: str


class QuestionOut(BaseModel):
    """One thing to look at or listen to."""

    model_config = ConfigDict(frozen=True)
    id: str
    title: str
    how: str
    group: str
    answers: list[AnswerOut]
    per_cylinder: bool
    per_cam: bool
    unit: str | None
    most: float | None
    caution: str


class NotedLook(LookResult):
    """One that was noted, with its number; ``answer_id`` is ``None`` for readings."""

    id: int
    answer_id: str | None
    value: float | None
    cam: str | None
    amount_deg: float | None
    crank_at: Literal["mark", "tdc"]


class Looking(BaseModel):
    """The whole list, and what was noted so far; ``unreadable``: how many notes of an older version cannot be
    read and do not count."""

    model_config = ConfigDict(frozen=True)
    questions: list[QuestionOut]
    cylinders: list[int]
    cams: list[CamOut]
    noted: list[NotedLook]
    unreadable: int = 0


def look_and_listen(database: Database, job_id: int) -> Looking:
    """Raises NotFoundError."""
    with database.reading() as session:
        version = jobs.get_job(session, job_id).engine_version
        rows = [(row.id, row.document) for row in looks.looks_of(session, job_id)]
    standing = readable_looks(rows)
    profile = parse_document(version.document, EngineProfile, version.name)
    return Looking(
        questions=[_question(asdict(one)) for one in QUESTIONS if asked_of(one, profile)],
        cams=[CamOut(id=cam.id, name=cam_name(cam, profile)) for cam in profile.cams],
        cylinders=sorted(profile.firing_tdc_deg),
        noted=_noted(standing, profile),
        unreadable=len(rows) - len(standing),
    )


def _question(fields: dict[str, object]) -> QuestionOut:
    return QuestionOut.model_validate({name: fields[name] for name in QuestionOut.model_fields})


def _noted(standing: list[tuple[int, Look]], profile: EngineProfile) -> list[NotedLook]:
    results = look_results([one for _, one in standing], profile)
    return [
        NotedLook(
            **result.model_dump(),
            id=number,
            answer_id=one.answer,
            value=one.value,
            cam=one.cam,
            amount_deg=one.amount_deg,
            crank_at=one.crank_at,
        )
        for (number, one), result in zip(standing, results, strict=True)
    ]


def looks_of_job(database: Database, job_id: int) -> tuple[Look, ...]:
    """Those that stand, for the call."""
    with database.reading() as session:
        return tuple(look for _, look in readable_looks((r.id, r.document) for r in looks.looks_of(session, job_id)))


def note_look(database: Database, job_id: int, look: Look) -> Looking:
    """Notes it; one about the same thing (and cylinder) noted before is taken out. Once a repair is noted it is of the
    engine after it, unless it says otherwise. Raises NotFoundError, and DocumentError for what does not fit the
    question or the engine."""
    with database.transaction() as session:
        job = jobs.get_job(session, job_id)
        version = job.engine_version
        if look.repair is None and job_told(job).repair is not None:
            look = look.model_copy(update={"repair": "after"})
        check_look(look, parse_document(version.document, EngineProfile, version.name))
        for number, before in readable_looks((r.id, r.document) for r in looks.looks_of(session, job_id)):
            if _about(before) == _about(look):
                looks.removed(session, LookRow, number)
        looks.add_look(session, job_id, look.model_dump_json())
    return look_and_listen(database, job_id)


def _about(look: Look) -> tuple[object, ...]:
    """What a look is about; of before and after a repair both stand."""
    return (look.question, look.cylinder, look.cam, look.repair or "before")


def noted_as(looking: Looking, look: Look) -> tuple[int | None, str]:
    """(Number, words) under which a look stands in the list; (None, "") where it does not."""
    found = [
        one
        for one in looking.noted
        if (one.question, one.cylinder, one.cam) == (look.question, look.cylinder, look.cam)
    ]
    return (found[-1].id, found[-1].answer) if found else (None, "")


def forget_look(database: Database, look_id: int) -> Looking:
    """Takes it out; ``restore_look`` brings it back. Raises NotFoundError."""
    with database.transaction() as session:
        job_id = looks.removed(session, LookRow, look_id).job_id
    return look_and_listen(database, job_id)


def restore_look(database: Database, look_id: int) -> Looking:
    """Undoes ``forget_look``. Raises NotFoundError."""
    with database.transaction() as session:
        job_id = looks.restored(session, LookRow, look_id).job_id
    return look_and_listen(database, job_id)
