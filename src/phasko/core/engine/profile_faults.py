"""What keeps a profile that is being written from being one, at its field and in the trade's words."""

from __future__ import annotations

import re

from pydantic import JsonValue, ValidationError
from pydantic_core import ErrorDetails

from phasko.core.documents.engine import EngineProfile
from phasko.core.documents.engine_words import field_title, limit_words
from phasko.core.documents.reading import DocumentFault

__all__ = ["profile_faults"]


def profile_faults(raw: JsonValue) -> list[DocumentFault]:
    """Every fault of a draft; none where it is a profile. Fields are named as the screen names them, never as the file
    does."""
    try:
        EngineProfile.model_validate(raw)
    except ValidationError as error:
        return [_fault(detail, raw) for detail in error.errors(include_url=False)]
    return []


def _fault(detail: ErrorDetails, raw: JsonValue) -> DocumentFault:
    loc = [str(part) for part in detail["loc"]]
    field = ".".join(loc)
    title = field_title(_with_ids(loc, raw))
    kind = detail["type"]
    if kind == "missing":
        return DocumentFault(field=field, text=f"{title}: needed")
    if kind == "value_error":
        told = detail["msg"].removeprefix("Value error, ")
        named = re.search(r"\b[a-z]+(?:_[a-z0-9]+)+\b", told)
        # A rule about the whole engine stands at the field that it names.
        return DocumentFault(field=field or (named[0] if named else ""), text=_readable(told))
    limit = limit_words(field)
    if limit is not None:
        return DocumentFault(field=field, text=f"{title}: {limit}")
    if kind == "extra_forbidden":
        return DocumentFault(field=field, text=f"{title}: nothing of this name belongs to an engine")
    if "parsing" in kind or kind.endswith("_type"):
        return DocumentFault(
            field=field, text=f"{title}: write a number" if "str" not in kind else f"{title}: write words"
        )
    return DocumentFault(field=field, text=f"{title}: {detail['input']!r} does not belong here")


def _with_ids(loc: list[str], raw: JsonValue) -> str:
    """The place with cams and wheels by their id, as titles name them."""
    if len(loc) > 1 and loc[0] in ("cams", "aux_wheels") and isinstance(raw, dict):
        listed, number = raw.get(loc[0]), int(loc[1]) if loc[1].isdigit() else 0
        item = listed[number] if isinstance(listed, list) and number < len(listed) else None
        name = item.get("id") if isinstance(item, dict) else None
        rest = [part for part in loc[2:] if not part.isdigit()]
        rest = rest[:1] if rest[:1] == ["edges"] else rest
        return f"{loc[0]}[{name or number + 1}]" + "".join(f".{part}" for part in rest)
    return ".".join(part for part in loc if not part.isdigit())


def _readable(text: str) -> str:
    """A rule's own words, with names of fields as titles."""
    told = re.sub(r"\b[a-z]+(?:_[a-z0-9]+)+\b", lambda found: field_title(found[0]).lower(), text)
    return told[:1].upper() + told[1:]
