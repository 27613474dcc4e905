"""The JSON Schemas of the public documents, generated from their models."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel

from phasko.core.documents.analysis import Analysis
from phasko.core.documents.capture import CaptureDescription
from phasko.core.documents.engine import EngineProfile
from phasko.core.documents.job import JobDocument

__all__ = ["DocumentName", "json_schema"]

DocumentName = Literal["engine", "capture", "analysis", "job"]

_MODELS: dict[DocumentName, type[BaseModel]] = {
    "engine": EngineProfile,
    "capture": CaptureDescription,
    "analysis": Analysis,
    "job": JobDocument,
}


def json_schema(name: DocumentName) -> dict[str, Any]:
    """JSON Schema (draft 2020-12) of that document."""
    mode: Literal["validation", "serialization"] = "serialization" if name == "analysis" else "validation"
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        **_MODELS[name].model_json_schema(by_alias=True, mode=mode),
    }
