"""The felt cylinders of a capture."""

from __future__ import annotations

from fastapi import APIRouter

from phasko.core.capture.cylinder_view import CylinderPicture
from phasko.core.documents.capture import HandCorner
from phasko.jobs.analysing import cylinder_station, mark_corner, unmark_corner
from phasko.jobs.captures import ImportedCapture
from phasko.web.workshop import DatabaseOf

router = APIRouter(prefix="/api", tags=["cylinder"])


@router.get("/captures/{capture_id}/cylinder")
def get_cylinder(capture_id: int, database: DatabaseOf) -> CylinderPicture | None:
    """Pressure, valve corners and TDC as a picture; null where no pressure was recorded, or none could be read."""
    return cylinder_station(database, capture_id)


@router.put("/captures/{capture_id}/hand-corner")
def put_hand_corner(capture_id: int, body: HandCorner, database: DatabaseOf) -> ImportedCapture:
    """A valve corner as a person sees it, instead of the one that was found."""
    return mark_corner(database, capture_id, body)


@router.put("/captures/{capture_id}/found-corner")
def put_found_corner(capture_id: int, body: HandCorner, database: DatabaseOf) -> ImportedCapture:
    """The corner that was found counts again; the angle in the body does not matter."""
    return unmark_corner(database, capture_id, body)
