"""What an explanation is: a prior, states of the engine, and everything that is said about it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, Protocol

from phasko.core.documents.analysis import FaultName
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import EngineState

__all__ = ["Area", "Branch", "Explanation", "NothingOpened", "Opened", "Place"]

Area = Literal["health", "timing", "signal", "cylinder", "breathing", "spark", "reference", "open"]
"""What a fault is a fault of. Two faults of one area do not stand together as independent ones."""


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
    ``covers_off``: what this state asks for lies behind the timing covers or under the head.
    """

    share: float
    state: EngineState
    place: Place
    amount_deg: float | None = None
    amount_sd: float = 0.0
    pitches: float | None = None
    nudged: EngineState | None = None
    covers_off: bool = False


@dataclass(frozen=True, slots=True)
class Opened:
    """What is found on opening if the explanation is true, and what proves it false."""

    see: str
    false_if: str
    together: tuple[str, ...] = ()


class Explanation(Protocol):
    """One explanation: a file in this folder, listed once in its ``__init__``.

    ``area``: faults of different areas can hold together. ``beside``: whether it can be the further one of two.
    """

    @property
    def fault(self) -> FaultName: ...
    @property
    def area(self) -> Area: ...
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

    def opened(
        self, profile: EngineProfile, place: Place, amount_deg: float | None, pitches: float | None
    ) -> Opened | None:
        """What opening would show; ``None`` where nothing is opened for it."""
        ...


class NothingOpened:
    """For explanations that ask for no teardown."""

    def opened(
        self,
        profile: EngineProfile,  # noqa: ARG002
        place: Place,  # noqa: ARG002
        amount_deg: float | None,  # noqa: ARG002
        pitches: float | None,  # noqa: ARG002
    ) -> Opened | None:
        """Nothing."""
        return None
