"""The log of who did what, as lists and files show it."""

from __future__ import annotations

import csv
import io

from pydantic import BaseModel, ConfigDict

from phasko.store import Database
from phasko.store.audit import log_entries
from phasko.store.models import LogEntry

__all__ = ["LogLine", "LogPage", "log_as_csv", "log_page"]

_PAGE = 100


class LogLine(BaseModel):
    """One line: when, who, did what, and which entries that changed."""

    model_config = ConfigDict(frozen=True)
    id: int
    at: str
    who: str
    did: str
    what: str
    job_id: int | None
    capture_id: int | None
    fields: list[str]
    version: int | None


class LogPage(BaseModel):
    """Some lines, newest first; ``older``: the number before which the next ones stand, ``None`` at the beginning."""

    model_config = ConfigDict(frozen=True)
    lines: list[LogLine]
    older: int | None


def log_page(database: Database, before_id: int | None = None) -> LogPage:
    """The newest lines, or those before the one of that number."""
    with database.reading() as session:
        rows = [_line(row) for row in log_entries(session, before_id=before_id, most=_PAGE + 1)]
    more = len(rows) > _PAGE
    return LogPage(lines=rows[:_PAGE], older=rows[_PAGE - 1].id if more else None)


def log_as_csv(database: Database) -> str:
    """The whole log, oldest first, as CSV (RFC 4180). A cell that a spreadsheet would run begins with an apostrophe."""
    target = io.StringIO()
    writer = csv.writer(target)
    writer.writerow(["number", "at", "who", "did", "what", "job", "capture", "fields", "version"])
    with database.reading() as session:
        for row in reversed(log_entries(session)):
            line = _line(row)
            cells = [line.id, line.at, line.who, line.did, line.what, line.job_id, line.capture_id]
            writer.writerow([_harmless(cell) for cell in (*cells, ", ".join(line.fields), line.version)])
    return target.getvalue()


def _line(row: LogEntry) -> LogLine:
    return LogLine(
        id=row.id,
        at=row.at,
        who=row.who,
        did=row.did,
        what=row.what,
        job_id=row.job_id,
        capture_id=row.capture_id,
        fields=[entry for entry in row.fields.split("\n") if entry],
        version=row.version,
    )


def _harmless(cell: object) -> object:
    """See OWASP, CSV injection."""
    if cell is None:
        return ""
    return f"'{cell}" if isinstance(cell, str) and cell[:1] in ("=", "+", "-", "@", "\t", "\r") else cell
