"""The fleet: started from here, shown as pictures and tables, and what it teaches accepted by a person."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Depends, Request, Response
from pydantic import BaseModel, ConfigDict, Field

from phasko.fleet.accepting import accept_from_fleet
from phasko.fleet.desk import FleetDesk, FleetState
from phasko.fleet.view import FleetView, fleet_sheet, kept_view
from phasko.jobs.engine_profiles import EngineSummary
from phasko.web.workshop import DatabaseOf, LeadOf

router = APIRouter(prefix="/api/fleet", tags=["fleet"])


class FromFleet(BaseModel):
    """Of which cams the edges and half widths are taken over, and ``index`` where that is, too."""

    model_config = ConfigDict(extra="forbid")
    keep: Annotated[list[str], Field(max_length=100)]


def _desk(request: Request) -> FleetDesk:
    desk: FleetDesk = request.app.state.fleet
    return desk


DeskOf = Annotated[FleetDesk, Depends(_desk)]


@router.get("")
def get_fleet(desk: DeskOf) -> FleetState:
    """Whether a fleet is being analysed, and how far it is."""
    return desk.state()


@router.post("", status_code=202)
def start_fleet(desk: DeskOf, lead: LeadOf) -> FleetState:  # noqa: ARG001
    """Analyses every job of the workshop, and the folders that the server was started with; goes on where it was."""
    desk.start()
    return desk.state()


@router.delete("")
def stop_fleet(desk: DeskOf, lead: LeadOf) -> FleetState:  # noqa: ARG001
    """Stops it; what was done is kept."""
    desk.stop()
    return desk.state()


@router.get("/kinds", response_model=FleetView)
def get_fleet_kinds(desk: DeskOf) -> Response:
    """Every kind of engine in the fleet, as it was when the work ended."""
    return Response(kept_view(desk.out), media_type="application/json")


@router.get("/table", response_class=Response)
def get_fleet_table(desk: DeskOf) -> Response:
    """Every car and cam as CSV."""
    disposition = 'attachment; filename="phasko-fleet.csv"'
    sheet = fleet_sheet(desk.out)
    return Response(sheet, media_type="text/csv", headers={"content-disposition": disposition})


@router.post("/kinds/{engine_sha256}/proposal", status_code=201)
def accept_fleet_proposal(engine_sha256: str, body: FromFleet, desk: DeskOf, database: DatabaseOf) -> EngineSummary:
    """The profile with what the fleet teaches becomes its next version."""
    return accept_from_fleet(database, desk.out, engine_sha256, body.keep)
