"""What an explanation says about the engine: a physical state, and how much of its prior each state gets."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from types import MappingProxyType
from typing import Protocol

from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import EngineProfile

__all__ = ["Branch", "EngineState", "Explanation", "Place"]

_NOTHING: Mapping[str, float] = MappingProxyType({})


@dataclass(frozen=True, slots=True)
class EngineState:
    """Displacements in crank degrees, late positive; what is not named is as the profile says.

    ``valves_deg``: cam and its valves against the pistons. ``cam_signals_deg``: a cam's signal against its own cam.
    ``crank_wheel_deg``: the crank's signal against the pistons. ``readings_deg``: every cam reading, for a reason
    that is not in the engine. ``unknown_common_sd_deg``, ``unknown_cam_sd_deg``, ``unknown_spacing_sd_deg``: widths
    of what this state leaves open for all cams together, for each cam, for the spacing of its edges;
    ``unknown_size_sd`` for the compression of all cylinders together, as a share.
    """

    valves_deg: Mapping[str, float] = field(default_factory=lambda: _NOTHING)
    cam_signals_deg: Mapping[str, float] = field(default_factory=lambda: _NOTHING)
    crank_wheel_deg: float = 0.0
    readings_deg: float = 0.0
    unknown_common_sd_deg: float = 0.0
    unknown_cam_sd_deg: float = 0.0
    unknown_spacing_sd_deg: float = 0.0
    unknown_size_sd: float = 0.0


@dataclass(frozen=True, slots=True)
class Place:
    """Where a fault sits and how it is called there; two branches with one place are one entry of the call."""

    title: str
    bank: int | None = None
    cams: tuple[str, ...] = ()
    cylinders: tuple[int, ...] = ()


@dataclass(frozen=True, slots=True)
class Branch:
    """One value of an explanation's parameters, with its share of the explanation's prior.

    ``nudged`` is the state with the parameter one standard deviation further: between the values of the grid the
    parameter is spread normally by ``amount_sd``, which makes the grid a proper, smooth prior. ``None``: exact.
    """

    share: float
    state: EngineState
    place: Place
    amount_deg: float | None = None
    amount_sd: float = 0.0
    pitches: float | None = None
    nudged: EngineState | None = None


class Explanation(Protocol):
    """One explanation: a file in this folder, listed once in its ``__init__``."""

    @property
    def fault(self) -> FaultName: ...
    @property
    def needs_covers_off(self) -> bool: ...
    @property
    def hint(self) -> str: ...
    def prior(self, profile: EngineProfile) -> float:
        """Chance before any capture, before all are brought to sum 1."""
        ...

    def branches(self, profile: EngineProfile) -> tuple[Branch, ...]:
        """The grid of states; shares sum to 1. Empty when this engine cannot have the fault."""
        ...

    def title(self, place: Place, amount_deg: float | None, pitches: float | None) -> str:
        """The fault in words with its size."""
        ...
