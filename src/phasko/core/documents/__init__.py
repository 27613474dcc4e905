"""The three public documents, as Pydantic models, and how their faults are worded."""

from phasko.core.documents.analysis import Analysis
from phasko.core.documents.capture import CaptureDescription
from phasko.core.documents.engine import EngineProfile
from phasko.core.documents.reading import DocumentFault, document_text, parse_document
from phasko.core.documents.schema import json_schema

__all__ = [
    "Analysis",
    "CaptureDescription",
    "DocumentFault",
    "EngineProfile",
    "document_text",
    "json_schema",
    "parse_document",
]
