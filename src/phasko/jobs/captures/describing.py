"""Changing what is said about a capture."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping

from phasko.core.documents import CaptureDescription, parse_document
from phasko.core.errors import NotFoundError
from phasko.jobs.captures.listed import ImportedCapture, summary_of_capture
from phasko.store import Database, captures
from phasko.store.audit import check_version

__all__ = ["change_description", "rewrite_description", "set_filter"]


def set_filter(
    database: Database, capture_id: int, column: str, filter_hz: float | None, made_from: int | None = None
) -> ImportedCapture:
    """Switches a channel's low-pass on or off (``None``); the capture is then measured anew. Raises NotFoundError,
    DocumentError for a corner that is not above zero, and OutdatedError where the channels were changed since."""

    def with_filter(described: CaptureDescription) -> Mapping[str, object]:
        if column not in {channel.column for channel in described.channels}:
            raise NotFoundError(f"The capture has no column {column}")
        channels = [channel.model_dump(mode="json", exclude_none=True) for channel in described.channels]
        for channel in channels:
            if channel["column"] == column:
                channel["filter_hz"] = filter_hz
        return {"channels": channels}

    return rewrite_description(database, capture_id, with_filter, made_from)


def change_description(
    database: Database, capture_id: int, said: Mapping[str, object], made_from: int | None = None
) -> ImportedCapture:
    """Changes single entries of what is said about a capture (``None`` takes one out), which is then measured anew.
    Raises NotFoundError, DocumentError for what does not fit, and OutdatedError where they were changed since."""
    return rewrite_description(database, capture_id, lambda described: said, made_from)  # noqa: ARG005


def rewrite_description(
    database: Database,
    capture_id: int,
    said: Callable[[CaptureDescription], Mapping[str, object]],
    made_from: int | None = None,
) -> ImportedCapture:
    """The same where the new entries follow from what is said now; nobody changes it between. Raises OutdatedError too,
    where the entries were made from an older version and have been changed since."""
    with database.transaction() as session:
        capture = captures.get_capture(session, capture_id)
        described = parse_document(capture.description, CaptureDescription, capture.name)
        entries = said(described)
        check_version(session, capture, made_from, {name.replace("_", " ") for name in entries})
        document = described.model_dump(mode="json", by_alias=True, exclude_none=True) | dict(entries)
        kept = {name: value for name, value in document.items() if value is not None}
        changed = parse_document(json.dumps(kept), CaptureDescription, capture.name)
        return summary_of_capture(captures.set_description(session, capture_id, changed))
