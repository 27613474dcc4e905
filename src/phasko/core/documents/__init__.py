"""The three public documents, as Pydantic models, and how their faults are worded."""

from phasko.core.documents.analysis import Analysis
from phasko.core.documents.capture import CaptureDescription
from phasko.core.documents.engine import EngineProfile
from phasko.core.documents.reading import parse_document

__all__ = ["Analysis", "CaptureDescription", "EngineProfile", "parse_document"]
