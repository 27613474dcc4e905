"""What every scope is to the workshop: channels with a range and a coupling, a rate, a stream of blocks, stop."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Annotated, Literal, Protocol

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

__all__ = ["Block", "Scope", "ScopeAbout", "ScopeChannel", "ScopeSetup"]


class _Part(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class ScopeChannel(_Part):
    """One input: its number from 1, half range (V, at the instrument), coupling. ``signal`` says what it is clipped to,
    for instruments that can know it, such as a simulated one; a real one ignores it."""

    number: Annotated[int, Field(ge=1, le=16)]
    range_v: Annotated[float, Field(gt=0, le=1000, allow_inf_nan=False)]
    coupling: Literal["dc", "ac"] = "dc"
    signal: Annotated[str, Field(max_length=60)] = ""


class ScopeSetup(_Part):
    """What is recorded: the channels, samples a second, and for how long at most (s)."""

    channels: Annotated[list[ScopeChannel], Field(min_length=1, max_length=16)]
    rate_hz: Annotated[float, Field(ge=100, le=1e8, allow_inf_nan=False)]
    most_s: Annotated[float, Field(gt=0, le=36_000, allow_inf_nan=False)] = 10.0


class ScopeAbout(_Part):
    """What an instrument is and can do."""

    name: Annotated[str, Field(max_length=120)]
    channels: Annotated[int, Field(ge=1, le=16)]
    rates_hz: list[float]
    ranges_v: list[float]
    bits: Annotated[int, Field(ge=1, le=32)]


@dataclass(frozen=True, slots=True, eq=False)
class Block:
    """Samples as they came: ``first`` is the number of the first since the start, so that a hole between two blocks
    shows. ``volts`` of shape (channels, samples), float32, V at the instrument."""

    first: int
    volts: NDArray[np.float32]

    @property
    def count(self) -> int:
        """Samples of each channel."""
        return int(self.volts.shape[1])


class Scope(Protocol):
    """An instrument that streams. All of it raises DeviceError, which says what to do."""

    def about(self) -> ScopeAbout:
        """What it is and can do."""
        ...

    def arm(self, setup: ScopeSetup) -> float:
        """Sets it up; the rate in samples a second at which it really samples."""
        ...

    def blocks(self) -> Iterator[Block]:
        """Starts it, and gives blocks as they come until it was stopped or has recorded as long as it may."""
        ...

    def stop(self) -> None:
        """Ends the stream; blocks on their way still come. May be called from another thread."""
        ...

    def close(self) -> None:
        """Lets go of the instrument."""
        ...
