"""With what every new job begins: the limit that this workshop judges by, and what its hour costs."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict, ValidationError
from sqlalchemy.orm import Session

from phasko.core.documents.job import Costs, JobDocument, Limit
from phasko.store import Database
from phasko.store.settings import get_setting, put_setting

__all__ = ["JobDefaults", "begun_document", "job_defaults", "set_job_defaults"]

_NAME = "job_defaults"


class JobDefaults(BaseModel):
    """Limit and costs of a job that has not been told otherwise; jobs that are open already keep theirs."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    limit: Limit | None = None
    costs: Costs | None = None


def job_defaults(database: Database) -> JobDefaults:
    """As they are set; empty where nobody has set any."""
    with database.reading() as session:
        return _stored(session)


def set_job_defaults(database: Database, defaults: JobDefaults) -> JobDefaults:
    """Sets them for every job that is opened from now on."""
    with database.transaction() as session:
        put_setting(session, _NAME, defaults.model_dump_json(exclude_none=True))
    return defaults


def begun_document(session: Session) -> JobDocument | None:
    """What a new job is told before anybody tells it anything; ``None`` where nothing is set."""
    defaults = _stored(session)
    if defaults.limit is None and defaults.costs is None:
        return None
    said = defaults.model_dump(mode="json", exclude_none=True)
    return JobDocument.model_validate({"schema": "phasko.job/1"} | said)


def _stored(session: Session) -> JobDefaults:
    try:
        return JobDefaults.model_validate_json(get_setting(session, _NAME) or "{}")
    except ValidationError:
        return JobDefaults()
