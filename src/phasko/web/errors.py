"""Every error of ours as an HTTP status with a body a person can read. The only place where that is decided."""

from __future__ import annotations

from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel, ConfigDict
from starlette.exceptions import HTTPException
from starlette.types import Scope

from phasko.core.errors import (
    ConflictError,
    DataError,
    DeviceError,
    DiskFullError,
    DocumentError,
    NotFoundError,
    OutdatedError,
    PhaskoError,
    RefusedError,
    StorageError,
)
from phasko.web.logs import LOG, request_number

__all__ = ["OUTDATED", "STATUS_OF", "ErrorBody", "OutdatedBody", "answer_errors", "error_response", "unforeseen"]

STATUS_OF: dict[type[PhaskoError], int] = {
    DocumentError: 422,
    DataError: 422,
    NotFoundError: 404,
    ConflictError: 409,
    OutdatedError: 412,
    RefusedError: 403,
    DeviceError: 502,
    StorageError: 503,
    DiskFullError: 507,
}


class ErrorBody(BaseModel):
    """What happened, where, what was kept, what to do; empty where there is nothing to say."""

    model_config = ConfigDict(frozen=True)
    what: str
    place: str = ""
    kept: str = ""
    remedy: str = ""


class OutdatedBody(ErrorBody):
    """The same where somebody has changed it meanwhile: which entries differ, and the version that is stored now."""

    changed: list[str]
    version: int


OUTDATED: dict[int | str, dict[str, Any]] = {412: {"model": OutdatedBody}}
"""What a route that takes If-Match may also answer."""


def error_response(status: int, body: ErrorBody) -> JSONResponse:
    return JSONResponse(body.model_dump(), status_code=status)


def unforeseen(scope: Scope, error: Exception) -> JSONResponse:
    """A fault of ours: logged with its trace, told with the number under which it stands in the log."""
    number = request_number(scope)
    LOG.error("unforeseen id=%s %s", number, type(error).__name__, exc_info=error)
    body = ErrorBody(
        what="Something went wrong in the server",
        place=f"request {number}",
        kept="What was stored before is whole",
        remedy="Try again; if it stays, the log (--log FILE) says more.",
    )
    return error_response(500, body)


def answer_errors(app: FastAPI) -> None:
    """Installs the translation of our errors and of requests that do not fit their route."""

    @app.exception_handler(PhaskoError)
    def _ours(request: Request, error: PhaskoError) -> JSONResponse:  # noqa: ARG001
        body = ErrorBody(what=error.what, place=error.place, kept=error.kept, remedy=error.remedy)
        if isinstance(error, OutdatedError):
            body = OutdatedBody(**body.model_dump(), changed=list(error.changed), version=error.version)
        if isinstance(error, StorageError):
            LOG.error("storage %s", error.what)
        return error_response(STATUS_OF[type(error)], body)

    @app.exception_handler(HTTPException)
    def _refused(request: Request, error: HTTPException) -> JSONResponse:  # noqa: ARG001
        if isinstance(error.detail, dict):
            return error_response(error.status_code, ErrorBody.model_validate(error.detail))
        return error_response(error.status_code, ErrorBody(what=str(error.detail), kept="Nothing was changed"))

    @app.exception_handler(RequestValidationError)
    def _malformed(request: Request, error: RequestValidationError) -> JSONResponse:  # noqa: ARG001
        first = error.errors()[0]
        place = ".".join(str(part) for part in first["loc"][1:])
        return error_response(422, ErrorBody(what=str(first["msg"]), place=place, kept="Nothing was changed"))
