"""What a kind of evidence hands to the judgement: values with what makes them uncertain, and what a state predicts."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Protocol

from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import EngineState

__all__ = ["EvidenceKind", "Observable", "Prediction"]


@dataclass(frozen=True, slots=True)
class Observable:
    """One measured value. ``own_sd`` is its own error; ``factors`` are errors it shares with others by name, each
    with how far one standard deviation of that error moves this value. ``words`` say what was measured; ``against`` is
    the cam of the other bank from which the value was taken, where there is no other reference; ``cams`` all whose
    valves a value about the whole engine rests on."""

    kind: str
    key: str
    value: float
    own_sd: float
    factors: Mapping[str, float]
    words: str
    cam: str | None = None
    against: str | None = None
    cams: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Prediction:
    """What a state predicts for one observable, and what it leaves open, as further named errors."""

    mean: float
    open_factors: Mapping[str, float]


class EvidenceKind(Protocol):
    """One kind of evidence: a file in this folder, listed once in its ``__init__``.

    ``opens_covers`` is false for everything that only knows the signal wheels and their reference, and for
    compression, which never proves a jump: such a kind can never be the second kind that opens the covers.
    """

    @property
    def name(self) -> str: ...
    @property
    def opens_covers(self) -> bool: ...
    def observe(self, captures: Sequence[CaptureMeasurement], profile: EngineProfile) -> tuple[Observable, ...]:
        """The values of all captures of the job."""
        ...

    def predict(self, observable: Observable, state: EngineState) -> Prediction:
        """What that value would be if the engine were in that state."""
        ...
