"""Wires routers, guard and front end to one application."""

from __future__ import annotations

from functools import partial
from mimetypes import guess_type
from pathlib import Path

from fastapi import Depends, FastAPI
from fastapi.responses import FileResponse, JSONResponse, Response
from fastapi.routing import APIRoute
from fastapi.staticfiles import StaticFiles
from starlette.datastructures import Headers
from starlette.types import Scope

from phasko import __version__
from phasko.fleet.desk import FleetDesk
from phasko.jobs.analysing import analyse_stored_job
from phasko.jobs.inbox import Watching
from phasko.jobs.rejudging import Rejudging
from phasko.store import Database
from phasko.web.door import Door
from phasko.web.errors import ErrorBody, answer_errors, error_response
from phasko.web.guard import UPLOAD_LIMIT_BYTES, GuardMiddleware
from phasko.web.live import Live
from phasko.web.logs import LogMiddleware
from phasko.web.routers import (
    blinded,
    captures,
    cylinder,
    engines,
    glossary,
    handing_over,
    jobs,
    keeping,
    listening,
    logbook,
    looking,
    practising,
    preparing,
    recording,
    rejudging,
    schemas,
    seal,
    session,
    standards,
)
from phasko.web.routers import (
    fleet as fleets,
)
from phasko.web.workshop import Practising, Workshop

__all__ = ["STATIC", "create_app"]

STATIC = Path(__file__).parent / "static"


def create_app(
    database: Database,
    door: Door,
    upload_limit_bytes: int = UPLOAD_LIMIT_BYTES,
    watching: Watching | None = None,
    fleet: FleetDesk | None = None,
) -> FastAPI:
    """The application over an open workshop file; ``watching`` fills its inbox, ``fleet`` analyses it as a whole."""
    app = FastAPI(
        title="Phasko",
        version=__version__,
        openapi_url="/api/openapi.json",
        docs_url=None,
        redoc_url=None,
        generate_unique_id_function=_operation_id,
        responses={"4XX": {"model": ErrorBody}, "5XX": {"model": ErrorBody}},
    )
    app.state.door = door
    app.state.workshop = Workshop(database)
    app.state.fleet = fleet or FleetDesk(database.path.parent.resolve())
    app.state.watching = watching or Watching(database, ())
    app.state.live = Live(database, partial(analyse_stored_job, database))
    app.state.rejudging = Rejudging(database)
    app.state.practising = Practising(database.path.parent / "practice")
    app.add_middleware(GuardMiddleware, door=door, upload_limit_bytes=upload_limit_bytes)
    app.add_middleware(LogMiddleware)
    answer_errors(app)
    for noun in (session, *_OF_JOBS, keeping, listening, rejudging, fleets, schemas, practising):
        app.include_router(noun.router)
    app.mount("/practice", _practice_app(app), name="practice")
    app.mount("/assets", BuiltFiles(directory=STATIC / "assets", check_dir=False), name="assets")
    _serve_screens(app)
    return app


_OF_JOBS = (
    jobs,
    captures,
    seal,
    standards,
    cylinder,
    looking,
    preparing,
    recording,
    handing_over,
    logbook,
    engines,
    glossary,
)


def _practice_app(workshop: FastAPI) -> FastAPI:
    """The same stations over the practice file, so that nothing of it ever mixes with the workshop's jobs."""
    app = FastAPI(openapi_url=None, docs_url=None, redoc_url=None)
    app.state.door = workshop.state.door
    app.state.watching = Watching(workshop.state.workshop.database(), ())
    app.state.workshop = app.state.practising = workshop.state.practising
    answer_errors(app)
    app.include_router(blinded.router)
    for noun in _OF_JOBS:
        app.include_router(noun.router, dependencies=[Depends(blinded.blinded)])
    _serve_screens(app)
    return app


class BuiltFiles(StaticFiles):
    """The built files: their names hold their hashes, so a browser keeps them for good; packed ones lie beside them."""

    async def get_response(self, path: str, scope: Scope) -> Response:
        accepted = Headers(scope=scope).get("accept-encoding", "")
        packed = "gzip" in accepted and not path.endswith(".gz") and (STATIC / "assets" / f"{path}.gz").is_file()
        response = await super().get_response(f"{path}.gz" if packed else path, scope)
        if response.status_code in (200, 304):
            response.headers["cache-control"] = "public, max-age=31536000, immutable"
            response.headers["vary"] = "accept-encoding"
            if packed:
                response.headers["content-encoding"] = "gzip"
                response.headers["content-type"] = guess_type(path)[0] or "application/octet-stream"
        return response


def _operation_id(route: APIRoute) -> str:
    return route.name


def _serve_screens(app: FastAPI) -> None:
    """Every address that is neither a built file nor the API's is a screen, which the front end draws itself."""

    @app.get("/api/{rest:path}", include_in_schema=False)
    def unknown(rest: str) -> JSONResponse:
        return error_response(404, ErrorBody(what="There is no such address", place=f"/api/{rest}"))

    @app.get("/{screen:path}", include_in_schema=False)
    def page(screen: str) -> Response:  # noqa: ARG001
        index = STATIC / "index.html"
        if not index.is_file():
            return error_response(
                503, ErrorBody(what="The front end is not built", remedy="Build it: npm ci && npm run build in web/")
            )
        return FileResponse(index, headers={"cache-control": "no-cache"})
