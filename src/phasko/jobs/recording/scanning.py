"""What a scan tool on the car shows: codes with freeze frames, live data."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from phasko.core.documents.job import Code, FreezeFrame
from phasko.devices import LiveValues, ScanTool

__all__ = ["Scan", "read_codes"]


class Scan(BaseModel):
    """Codes as a job keeps them, and the live data of this moment."""

    model_config = ConfigDict(frozen=True)
    codes: list[Code]
    live: LiveValues


def read_codes(tool: ScanTool) -> Scan:
    """Raises DeviceError."""
    codes = []
    for one in tool.codes():
        frame = one.freeze_frame
        kept = None if frame is None else FreezeFrame.model_validate(frame.model_dump(exclude_none=True))
        codes.append(Code(code=one.code, status=one.status, freeze_frame=kept))
    return Scan(codes=codes, live=tool.live())
