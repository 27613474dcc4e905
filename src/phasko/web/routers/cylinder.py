"""The felt cylinders of a capture."""

from __future__ import annotations

from fastapi import APIRouter

from phasko.core.capture.cylinder_view import CylinderPicture
from phasko.jobs.analysing import cylinder_station
from phasko.web.workshop import DatabaseOf

router = APIRouter(prefix="/api", tags=["cylinder"])


@router.get("/captures/{capture_id}/cylinder")
def get_cylinder(capture_id: int, database: DatabaseOf) -> CylinderPicture | None:
    """Pressure, valve corners and TDC as a picture; null where no pressure was recorded, or none could be read."""
    return cylinder_station(database, capture_id)
