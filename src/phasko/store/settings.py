"""Settings of the whole workshop, each a JSON document under its name."""

from __future__ import annotations

from sqlalchemy.orm import Session

from phasko.store.models import WorkshopSetting

__all__ = ["get_setting", "put_setting"]


def get_setting(session: Session, name: str) -> str | None:
    """The stored document; ``None`` where nothing was set."""
    found = session.get(WorkshopSetting, name)
    return found.document if found is not None else None


def put_setting(session: Session, name: str, document: str) -> None:
    """Sets it, in place of what was set before."""
    found = session.get(WorkshopSetting, name)
    if found is None:
        session.add(WorkshopSetting(name=name, document=document))
    else:
        found.document = document
