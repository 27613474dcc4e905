"""What every scan tool is to the workshop: codes with their freeze frames, live values, commands."""

from __future__ import annotations

from typing import Annotated, Literal, Protocol

from pydantic import BaseModel, ConfigDict, Field

__all__ = ["LiveValues", "ReadCode", "ScanTool", "StoredFrame"]


class _Part(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class StoredFrame(_Part):
    """What the control unit kept of the moment when it set a code."""

    rpm: float | None = None
    coolant_c: float | None = None
    load_percent: float | None = None
    battery_v: float | None = None
    speed_kmh: float | None = None


class ReadCode(_Part):
    code: Annotated[str, Field(min_length=1, max_length=12)]
    status: Literal["current", "pending", "stored", "history"]
    freeze_frame: StoredFrame | None = None


class LiveValues(_Part):
    """One reading of the live data."""

    rpm: float
    coolant_c: float | None = None
    manifold_bar: float | None = None
    battery_v: float | None = None
    synchronised: bool | None = None
    cam_deg: dict[str, float] = Field(default_factory=dict)


class ScanTool(Protocol):
    """A scan tool on the car. All of it raises DeviceError, which says what to do."""

    def codes(self) -> list[ReadCode]:
        """The codes that the control unit holds, with status and freeze frame."""
        ...

    def clear(self) -> None:
        """Clears them."""
        ...

    def live(self) -> LiveValues:
        """The live data at this moment."""
        ...

    def drive(self, cam: str, share: float) -> None:
        """Drives a phaser by a share of its range, 0 to let it go."""
        ...

    def close(self) -> None:
        """Lets go of the tool."""
        ...
