"""Every error of ours has a status; the API's description and the pages made from code are current."""

from pathlib import Path

from fastapi import FastAPI
from scripts import write_generated

from phasko.core import errors
from phasko.core.errors import PhaskoError
from phasko.web.errors import STATUS_OF

ROOT = Path(__file__).parents[2]


def test_every_error_has_a_status() -> None:
    family = {getattr(errors, name) for name in errors.__all__} - {PhaskoError}
    assert set(STATUS_OF) == family
    for error, status in STATUS_OF.items():
        assert status // 100 == (5 if issubclass(error, (errors.StorageError, errors.DeviceError)) else 4)


def test_operations_have_names_of_their_own(app: FastAPI) -> None:
    names = [op["operationId"] for path in app.openapi()["paths"].values() for op in path.values()]
    assert len(names) == len(set(names))
    assert "add_capture" in names


def test_generated_pages_are_current() -> None:
    assert (ROOT / "docs/openapi.json").read_text(encoding="utf-8") == write_generated.openapi_text()
    assert (ROOT / "docs/numbers.md").read_text(encoding="utf-8") == write_generated.numbers_text()
