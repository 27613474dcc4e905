"""The public documents' JSON Schemas, for programs that write or read them."""

from __future__ import annotations

from typing import Any, Literal

from fastapi import APIRouter

from phasko.core.documents import json_schema

router = APIRouter(prefix="/api/schemas", tags=["schemas"])


@router.get("/{document}")
def get_schema(document: Literal["engine", "capture", "analysis", "job"]) -> dict[str, Any]:
    return json_schema(document)
