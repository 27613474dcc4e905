"""Whether every word of a job document is known: looks, their answers, and the tests that have minutes."""

from __future__ import annotations

from phasko.core.call.technician_tests import TESTS
from phasko.core.documents.engine import EngineProfile
from phasko.core.documents.job import JobDocument
from phasko.core.errors import DocumentError
from phasko.core.looks import check_look

__all__ = ["check_told"]


def check_told(document: JobDocument, profile: EngineProfile, place: str) -> None:
    """Raises DocumentError, heading it with ``place``, that names a look, an answer or a test that is not known, or a
    cylinder or cam that this engine does not have."""
    for look in document.looks:
        try:
            check_look(look, profile)
        except DocumentError as error:
            raise DocumentError(str(error), place=place) from error
    unknown = sorted(set(document.minutes) - {test.test for test in TESTS})
    if unknown:
        raise DocumentError(f"minutes names {unknown[0]!r}, which is no test", place=place)
