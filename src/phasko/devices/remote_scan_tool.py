"""A scan tool that lives in another process and speaks the wire format."""

from __future__ import annotations

from typing import Any

from pydantic import TypeAdapter, ValidationError

from phasko.core.errors import DeviceError
from phasko.devices.scan_tool import LiveValues, ReadCode
from phasko.devices.wire import Link

__all__ = ["RemoteScanTool"]

_CODES = TypeAdapter(list[ReadCode])
_PATIENCE_S = 120.0


class RemoteScanTool:
    """See ScanTool."""

    def __init__(self, link: Link) -> None:
        self._link = link

    def put_on(self, car: dict[str, Any]) -> None:
        """Tells a simulated tool which car it is on. Raises DeviceError."""
        self._link.ask({"do": "car", "car": car}, _PATIENCE_S)

    def codes(self) -> list[ReadCode]:
        """The codes with status and freeze frame. Raises DeviceError."""
        try:
            return _CODES.validate_python(self._link.ask({"do": "codes"}, _PATIENCE_S).get("codes"))
        except ValidationError as error:
            raise _unread(error) from error

    def clear(self) -> None:
        """Clears them. Raises DeviceError."""
        self._link.ask({"do": "clear"})

    def live(self) -> LiveValues:
        """The live data at this moment. Raises DeviceError."""
        try:
            return LiveValues.model_validate(self._link.ask({"do": "live"}, _PATIENCE_S).get("live"))
        except ValidationError as error:
            raise _unread(error) from error

    def drive(self, cam: str, share: float) -> None:
        """Drives a phaser by a share of its range. Raises DeviceError."""
        self._link.ask({"do": "drive", "cam": cam, "share": share})

    def close(self) -> None:
        """Lets go of the tool."""
        self._link.close()


def _unread(error: ValidationError) -> DeviceError:
    place = ".".join(str(part) for part in error.errors()[0]["loc"])
    return DeviceError("The scan tool's answer cannot be read", place=place, kept="Nothing was taken over")
