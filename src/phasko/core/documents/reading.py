"""Turns JSON text into a document, or into one clear sentence about what is wrong with it."""

from __future__ import annotations

import codecs
import json
from typing import TypeVar

from pydantic import BaseModel, ConfigDict, JsonValue, ValidationError
from pydantic_core import ErrorDetails

from phasko.core.errors import DocumentError

__all__ = ["DocumentFault", "document_text", "parse_document"]

Document = TypeVar("Document", bound=BaseModel)
_MOST_BYTES = 8 << 20


def parse_document(text: str | bytes, kind: type[Document], place: str) -> Document:
    """The document in ``text``; ``place`` (a file name) heads the message when it cannot be one.

    Raises DocumentError naming line and column of broken JSON, or the first field that breaks the contract.
    """
    raw = _parsed(text, place)
    try:
        return kind.model_validate(raw)
    except ValidationError as error:
        raise DocumentError(_first_fault(error), place=place) from error


def _parsed(text: str | bytes, place: str) -> JsonValue:
    """The JSON as it stands. Raises DocumentError for broken or huge text, a key that stands twice, and what no
    document of ours could hold."""
    if len(text) > _MOST_BYTES:
        raise DocumentError(f"is too long for a document: {len(text) / 2**20:.0f} MiB", place=place)
    try:
        raw: JsonValue = json.loads(document_text(text, place), object_pairs_hook=_once)
    except json.JSONDecodeError as error:
        raise DocumentError(
            f"is not JSON: {error.msg}", place=f"{place}, line {error.lineno}, column {error.colno}"
        ) from error
    except RecursionError as error:
        raise DocumentError("is nested too deeply for a document", place=place) from error
    except ValueError as error:
        what = str(error) if isinstance(error, _TwiceError) else "holds a number of thousands of digits"
        raise DocumentError(what, place=place) from error
    return raw


class _TwiceError(ValueError):
    """A key stands twice in one object, so that one of the two would be lost."""


def _once(pairs: list[tuple[str, JsonValue]]) -> dict[str, JsonValue]:
    made = dict(pairs)
    if len(made) != len(pairs):
        keys = [key for key, _ in pairs]
        twice = next(key for key in keys if keys.count(key) > 1)
        raise _TwiceError(f"names {twice[:60]} twice")
    return made


def document_text(document: str | bytes, place: str) -> str:
    """The document as text without the byte order mark that some editors put before it: this is what is stored, so
    that it can be read again. UTF-16 is understood by its mark. Raises DocumentError for what is no Unicode text."""
    if isinstance(document, bytes):
        utf_16 = document.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE))
        try:
            document = document.decode("utf-16" if utf_16 else "utf-8")
        except UnicodeDecodeError as error:
            raise DocumentError("is not text in UTF-8", place=place) from error
    return document.removeprefix("\ufeff")


class DocumentFault(BaseModel):
    """One fault of a document: the field it concerns, dotted (empty: the whole), and what is wrong in words."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    field: str
    text: str


def _fault(detail: ErrorDetails) -> DocumentFault:
    field = ".".join(str(part) for part in detail["loc"])
    if detail["type"] == "extra_forbidden":
        return DocumentFault(field=field, text=f"unknown key {field}; check the spelling or remove it")
    if detail["type"] == "missing":
        return DocumentFault(field=field, text=f"{field} is required but absent")
    text = f"{field or 'document'}: {detail['msg'].removeprefix('Value error, ')}"
    if detail["type"] != "value_error" and not isinstance(detail["input"], dict | list):
        text += f", got {detail['input']!r}"
    return DocumentFault(field=field, text=text)


def _first_fault(error: ValidationError) -> str:
    """The first fault in words, with its field path and how many more there are."""
    faults = error.errors(include_url=False)
    more = len(faults) - 1
    return _fault(faults[0]).text + (f" (and {more} more)" if more else "")
