"""Turns JSON text into a document, or into one clear sentence about what is wrong with it."""

from __future__ import annotations

import json
from typing import TypeVar

from pydantic import BaseModel, ValidationError

from phasko.core.errors import DocumentError

__all__ = ["parse_document"]

Document = TypeVar("Document", bound=BaseModel)


def parse_document(text: str | bytes, kind: type[Document], place: str) -> Document:
    """The document in ``text``; ``place`` (a file name) heads the message when it cannot be one.

    Raises DocumentError naming line and column of broken JSON, or the first field that breaks the contract.
    """
    try:
        raw = json.loads(text)
    except UnicodeDecodeError as error:
        raise DocumentError("is not text in UTF-8", place=place) from error
    except json.JSONDecodeError as error:
        raise DocumentError(
            f"is not JSON: {error.msg}", place=f"{place}, line {error.lineno}, column {error.colno}"
        ) from error
    try:
        return kind.model_validate(raw)
    except ValidationError as error:
        raise DocumentError(_first_fault(error), place=place) from error


def _first_fault(error: ValidationError) -> str:
    """The first fault in words, with its field path and how many more there are."""
    faults = error.errors(include_url=False)
    first = faults[0]
    field = ".".join(str(part) for part in first["loc"]) or "document"
    if first["type"] == "extra_forbidden":
        words = f"unknown key {field}; check the spelling or remove it"
    elif first["type"] == "missing":
        words = f"{field} is required but absent"
    else:
        words = f"{field}: {first['msg'].removeprefix('Value error, ')}"
        if first["type"] != "value_error" and not isinstance(first["input"], dict | list):
            words += f", got {first['input']!r}"
    more = len(faults) - 1
    return words + (f" (and {more} more)" if more else "")
