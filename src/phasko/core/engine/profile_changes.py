"""What differs between two versions of an engine profile, field by field."""

from __future__ import annotations

from collections.abc import Iterator

from pydantic import BaseModel, ConfigDict, JsonValue

from phasko.core.documents.engine import EngineProfile
from phasko.core.documents.engine_words import field_title, value_words

__all__ = ["ProfileChange", "profile_changes"]


class ProfileChange(BaseModel):
    """One field that differs: its place in the document, its ``title``, and both values in words (``None``: absent)."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    field: str
    title: str
    before: str | None
    after: str | None


def profile_changes(before: EngineProfile, after: EngineProfile) -> list[ProfileChange]:
    """Every field that differs, in the order of the newer document. Cams and wheels are compared by their id, so that
    one put in between does not make all after it look changed."""
    old, new = dict(_fields(before)), dict(_fields(after))
    order = [*new, *(field for field in old if field not in new)]
    return [
        ProfileChange(field=field, title=field_title(field), before=old.get(field), after=new.get(field))
        for field in order
        if old.get(field) != new.get(field)
    ]


def _fields(profile: EngineProfile) -> Iterator[tuple[str, str]]:
    return _leaves(profile.model_dump(mode="json", by_alias=True, exclude_none=True), "")


def _leaves(value: JsonValue, place: str) -> Iterator[tuple[str, str]]:
    if isinstance(value, dict):
        for name, inner in value.items():
            yield from _leaves(inner, f"{place}.{name}" if place else name)
    elif isinstance(value, list) and value and all(isinstance(item, dict) and "id" in item for item in value):
        for item in value:
            assert isinstance(item, dict)
            yield from _leaves({k: v for k, v in item.items() if k != "id"}, f"{place}[{item['id']}]")
    else:
        yield place, value_words(place, value)
