"""Who did what: every change of a stored row becomes a line of the log and a new version, in the same transaction."""

from __future__ import annotations

import json
from collections.abc import Collection, Iterator, Sequence
from typing import Any

from sqlalchemy import event, func, insert, inspect, select
from sqlalchemy.orm import Session, sessionmaker

from phasko.core.errors import OutdatedError
from phasko.store.models import (
    AccessToken,
    Base,
    Capture,
    EngineVersion,
    Job,
    LogEntry,
    Look,
    Person,
    Photo,
    RoadTest,
    Vehicle,
    WorkshopSetting,
    utc_now,
)

__all__ = ["NOBODY", "check_version", "keep_log", "log_after", "log_entries", "newest_entry", "note"]

NOBODY = "this machine"
"""Who acts where nobody needs to sign in, and on the command line."""

_ALIKE = {
    "engine_version_id": "engine profile",
    "engine_version": "engine profile",
    "passphrase_hash": "passphrase",
}
_SILENT = {"version", "changed_at", "removed_at", "vehicle", "vehicle_id", "indexed"}
_JSON = {"told", "description"}
"""Columns that hold a document: its entries are named instead."""


def keep_log(sessions: sessionmaker[Session]) -> sessionmaker[Session]:
    """The same maker of sessions, of which every change is logged."""
    event.listen(sessions, "before_flush", _count_versions)
    event.listen(sessions, "after_flush", _write_lines)
    return sessions


def note(session: Session, did: str, what: str, *, job_id: int | None = None, capture_id: int | None = None) -> None:
    """A line about something that is no change of single rows: an arrival, a copy, an erasing."""
    _insert(session, [_line(session, did, what, job_id=job_id, capture_id=capture_id)])


def log_entries(session: Session, *, before_id: int | None = None, most: int | None = None) -> Sequence[LogEntry]:
    """The log, newest first: at most so many lines older than the one of that number."""
    asked = select(LogEntry).order_by(LogEntry.id.desc())
    if before_id is not None:
        asked = asked.where(LogEntry.id < before_id)
    return session.scalars(asked if most is None else asked.limit(most)).all()


def log_after(session: Session, entry_id: int, most: int) -> Sequence[LogEntry]:
    """The lines that were written since that one, oldest first, at most so many."""
    asked = select(LogEntry).where(LogEntry.id > entry_id).order_by(LogEntry.id).limit(most)
    return session.scalars(asked).all()


def newest_entry(session: Session) -> int:
    """The number of the last line; 0 before the first."""
    return session.scalar(select(func.max(LogEntry.id))) or 0


def check_version(
    session: Session, row: Job | Capture, made_from: int | None, concerning: Collection[str] = ()
) -> None:
    """Raises OutdatedError, with what changed and by whom, for a change that was made from an older version than the
    one that is stored; where it is ``concerning`` some entries alone, only if those were changed. ``None``: whoever
    sends it does not say from which."""
    if made_from is None or made_from == row.version:
        return
    own = LogEntry.job_id if isinstance(row, Job) else LogEntry.capture_id
    lines = session.scalars(
        select(LogEntry).where(own == row.id, LogEntry.version > made_from).order_by(LogEntry.id)
    ).all()
    changed = dict.fromkeys(entry for line in lines for entry in line.fields.split("\n") if entry)
    if concerning and not changed.keys() & set(concerning):
        return
    names = " and ".join(dict.fromkeys(line.who for line in lines)) or "Somebody"
    raise OutdatedError(
        f"{_capital(names)} changed this meanwhile" + (f": {', '.join(changed)}" if changed else ""),
        changed=tuple(changed),
        version=row.version,
    )


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]


def _count_versions(session: Session, context: object, instances: object) -> None:  # noqa: ARG001
    for row in session.dirty:
        if isinstance(row, Job | Capture) and session.is_modified(row) and _changed(row):
            row.version += 1


def _write_lines(session: Session, context: object) -> None:  # noqa: ARG001
    lines = [line for row in session.new for line in _added(session, row)]
    lines += [line for row in session.dirty if session.is_modified(row) for line in _altered(session, row)]
    lines += [line for row in session.deleted for line in _gone(session, row)]
    if lines:
        _insert(session, lines)


def _insert(session: Session, lines: list[dict[str, Any]]) -> None:
    session.connection().execute(insert(LogEntry), lines)


def _added(session: Session, row: object) -> Iterator[dict[str, Any]]:
    match row:
        case Job():
            yield _line(session, "opened", f"job {row.id}", job_id=row.id, version=row.version)
        case EngineVersion():
            yield _line(session, "stored", f"engine profile {row.name}, version {row.version}")
        case Look():
            yield _line(session, "noted", "a look", job_id=row.job_id, fields=_keys(row.document, ("question",)))
        case RoadTest():
            yield _line(session, "added", "a road test", job_id=row.job_id)
        case Photo():
            yield _line(session, "added", "a photo", job_id=row.job_id)
        case WorkshopSetting():
            yield _line(session, "set", f"{row.name.replace('_', ' ')} of the workshop")
        case Person():
            yield _line(session, "added", f"person {row.name} as {row.role}")
        case AccessToken():
            yield _line(session, "added", f"token {row.name} as {row.role}")
        case _:
            return


def _altered(session: Session, row: object) -> Iterator[dict[str, Any]]:
    fields = _changed(row)
    if not fields and not _history(row, "removed_at"):
        return
    match row:
        case Job():
            yield _line(session, _did(row), f"job {row.id}", job_id=row.id, fields=fields, version=row.version)
        case Capture():
            yield _line(
                session,
                _did(row),
                f"capture {row.id}",
                job_id=row.job_id,
                capture_id=row.id,
                fields=fields,
                version=row.version,
            )
        case WorkshopSetting():
            yield _line(session, "set", f"{row.name.replace('_', ' ')} of the workshop")
        case Look() | RoadTest() | Photo():
            kind = "a look" if isinstance(row, Look) else "a photo" if isinstance(row, Photo) else "a road test"
            yield _line(session, _did(row), kind, job_id=row.job_id)
        case Person():
            yield _line(session, "changed", f"person {row.name}", fields=fields)
        case Vehicle():
            yield _line(session, "changed", f"vehicle {row.id}", fields=fields)
        case _:
            return


def _gone(session: Session, row: object) -> Iterator[dict[str, Any]]:
    if isinstance(row, Person):
        yield _line(session, "removed", f"person {row.name}")
    if isinstance(row, AccessToken):
        yield _line(session, "removed", f"token {row.name}")
    if isinstance(row, EngineVersion):
        yield _line(session, "removed", f"engine profile {row.name}, version {row.version}")


def _line(
    session: Session,
    did: str,
    what: str,
    *,
    job_id: int | None = None,
    capture_id: int | None = None,
    fields: Sequence[str] = (),
    version: int | None = None,
) -> dict[str, Any]:
    return {
        "at": utc_now(),
        "who": session.info.get("who", NOBODY),
        "did": did,
        "what": what[:200],
        "job_id": job_id,
        "capture_id": capture_id,
        "fields": "\n".join(fields),
        "version": version,
    }


def _did(row: Job | Capture | Look | RoadTest | Photo) -> str:
    if not _history(row, "removed_at"):
        return "changed"
    return "took out" if row.removed_at is not None else "brought back"


def _history(row: object, name: str) -> bool:
    state = inspect(row)
    return name in state.attrs and bool(state.attrs[name].history.has_changes())


def _changed(row: object) -> list[str]:
    """Names of what was changed in a row; of a column that holds a document, its entries."""
    if not isinstance(row, Base):
        return []
    found: dict[str, None] = {}
    for attribute in inspect(row).attrs:
        history = attribute.history
        if attribute.key in _SILENT or not history.has_changes():
            continue
        if attribute.key in _JSON:
            before = str(history.deleted[0]) if history.deleted else ""
            found |= dict.fromkeys(_differing(before, str(attribute.value)))
        else:
            found[_ALIKE.get(attribute.key, attribute.key.removesuffix("_at").replace("_", " "))] = None
    return list(found)


def _differing(before: str, after: str) -> list[str]:
    one, other = _entries(before), _entries(after)
    names = {**one, **other}.keys() - {"schema"}
    # An empty list that is written out says no more than one that is left out.
    return [n.replace("_", " ") for n in sorted(names) if (one.get(n) or None) != (other.get(n) or None)]


def _entries(document: str) -> dict[str, object]:
    try:
        found = json.loads(document) if document else {}
    except ValueError:
        return {}
    return found if isinstance(found, dict) else {}


def _keys(document: str, names: Sequence[str]) -> list[str]:
    held = _entries(document)
    return [str(held[name]) for name in names if name in held]
