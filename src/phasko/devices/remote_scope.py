"""A scope that lives in another process and speaks the wire format."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np
from pydantic import ValidationError

from phasko.core.errors import DeviceError
from phasko.devices.scope import Block, ScopeAbout, ScopeSetup
from phasko.devices.wire import Link

__all__ = ["RemoteScope"]

SILENT_S = 3.0
"""A scope that streams sends a block many times a second; after so long without one it is gone."""
_STARTS_WITHIN_S = 120.0


class RemoteScope:
    """See Scope."""

    def __init__(self, link: Link) -> None:
        self._link = link
        self._channels = 0

    def about(self) -> ScopeAbout:
        """What it is and can do. Raises DeviceError."""
        return _read(ScopeAbout, self._link.ask({"do": "about"}).get("about"))

    def arm(self, setup: ScopeSetup) -> float:
        """Sets it up; the rate at which it really samples. Raises DeviceError."""
        answer = self._link.ask({"do": "arm", "setup": setup.model_dump(mode="json")}, _STARTS_WITHIN_S)
        self._channels = len(setup.channels)
        return float(answer.get("rate_hz", setup.rate_hz))

    def blocks(self) -> Iterator[Block]:
        """Starts it, and gives blocks until it ends. Raises DeviceError where it falls silent or is unplugged."""
        self._link.send({"do": "start"})
        patience = _STARTS_WITHIN_S
        while True:
            head, body = self._link.receive(patience)
            patience = SILENT_S
            if "error" in head:
                raise DeviceError(str(head["error"]), kept="What came before was kept")
            if "end" in head:
                return
            if "block" in head:
                yield self._block(head["block"], body)

    def _block(self, told: Any, body: bytes) -> Block:
        try:
            first, count = int(told["first"]), int(told["count"])
            volts = np.frombuffer(body, dtype="<f4").reshape(self._channels, count)
        except (KeyError, TypeError, ValueError) as error:
            raise DeviceError(
                "The instrument sends a block that is not whole", kept="What came before was kept"
            ) from error
        return Block(first, volts)

    def put_on(self, car: dict[str, Any]) -> None:
        """Tells a simulated instrument which car it is on; a real one has it before it. Raises DeviceError."""
        self._link.ask({"do": "car", "car": car}, _STARTS_WITHIN_S)

    def turn(self, **changed: float) -> None:
        """Changes what a hand changes on a simulated car while it is recorded. Raises DeviceError."""
        self._link.send({"do": "turn", "changed": changed})

    def stop(self) -> None:
        """Ends the stream. Raises DeviceError where it is gone."""
        self._link.send({"do": "stop"})

    def close(self) -> None:
        """Lets go of the instrument."""
        self._link.close()


def _read(model: type[ScopeAbout], told: object) -> ScopeAbout:
    try:
        return model.model_validate(told)
    except ValidationError as error:
        raise DeviceError("The instrument does not say what it is", kept="Nothing was recorded") from error
