"""What a kind of evidence hands to the judgement: values and words, their errors, and what a state predicts."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Protocol

from phasko.core.arrays import Floats
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.documents.analysis import RoadTestResult
from phasko.core.documents.engine import EngineProfile, TypicalFailure
from phasko.core.documents.job import JobDocument, Look
from phasko.core.engine.state import ALWAYS, Condition, EngineState
from phasko.core.engine.state_table import StateTable
from phasko.core.looks import Speaks

__all__ = [
    "EvidenceKind",
    "JobEvidence",
    "NotCounted",
    "NumberKind",
    "Observable",
    "Observed",
    "Predictions",
    "Word",
    "WordKind",
    "condition_of",
]


@dataclass(frozen=True, slots=True, eq=False)
class JobEvidence:
    """Everything that is known of one job: measured captures, what was seen, driven, and told. ``workshop``: what the
    workshop found more or less often than others, which moves the odds as what is typical of a type does."""

    profile: EngineProfile
    captures: Sequence[CaptureMeasurement] = ()
    looks: Sequence[Look] = ()
    roads: Sequence[RoadTestResult] = ()
    told: JobDocument | None = None
    workshop: Sequence[TypicalFailure] = ()


@dataclass(frozen=True, slots=True)
class Observable:
    """One measured value. ``own_sd`` is its own error; ``factors`` are errors it shares with others by name, each
    with how far one standard deviation of that error moves this value. ``words`` say what was measured; ``against`` is
    the cam of the other bank from which the value was taken, where there is no other reference; ``cams`` all whose
    valves a value about the whole engine rests on. ``modulo_deg``: the value is known only up to whole multiples of
    it, the same multiple for all values of that modulo."""

    kind: str
    key: str
    value: float
    own_sd: float
    factors: Mapping[str, float]
    words: str
    cam: str | None = None
    against: str | None = None
    cams: tuple[str, ...] = ()
    cylinder: int | None = None
    condition: Condition = ALWAYS
    modulo_deg: float | None = None


@dataclass(frozen=True, slots=True)
class Word:
    """One thing that was observed as a word: ``answer`` about ``subject`` (a signal, a question), in a sentence.
    ``second_kind``: it has seen marks, valves, pistons or wheels themselves. ``speaks`` about something, where the word
    itself says so: (what, chance where that holds, chance otherwise). ``whole_signals`` of this job were measured
    whole; a spark that is withheld accuses none of them."""

    kind: str
    key: str
    subject: str
    answer: str
    words: str
    cylinder: int | None = None
    cam: str | None = None
    value: float | None = None
    condition: Condition = ALWAYS
    second_kind: bool = False
    about: Look | None = None
    speaks: tuple[Speaks, float, float] | None = None
    whole_signals: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class NotCounted:
    """What was seen and does not count, and why."""

    text: str
    reason: str


@dataclass(frozen=True, slots=True, eq=False)
class Predictions:
    """What states (rows) predict for the values of one kind (columns), in the unit of each value: ``means``; and what
    they leave open, as standard deviations: ``open_sd`` in each value by itself, ``shared`` by name in several
    together, with its sign. All of shape (states, values)."""

    means: Floats
    open_sd: Floats
    shared: Mapping[str, Floats] = field(default_factory=dict)


@dataclass(frozen=True, slots=True, eq=False)
class Observed:
    """Everything that one kind of evidence, or all of them, have to say about a job."""

    numbers: tuple[Observable, ...] = ()
    words: tuple[Word, ...] = ()
    not_counted: tuple[NotCounted, ...] = field(default=())

    def __bool__(self) -> bool:
        return bool(self.numbers or self.words)


class EvidenceKind(Protocol):
    """A kind of evidence: a file in this folder, listed once in its ``__init__``. It says what it observed and what any
    state predicts for it; nothing else speaks in the call.

    ``second_kind``: it feels valves or pistons, or sees marks and wheels themselves. Signal wheels and their reference,
    and compression, which never proves a jump, are no second kind.
    """

    @property
    def name(self) -> str: ...
    @property
    def title(self) -> str: ...
    @property
    def second_kind(self) -> bool: ...
    def observe(self, job: JobEvidence) -> Observed:
        """What all captures, looks and papers of the job say of this kind, and what of it does not count."""
        ...


class NumberKind(EvidenceKind, Protocol):
    """A kind that measures numbers."""

    def predict(self, observables: Sequence[Observable], states: StateTable) -> Predictions:
        """What those values (all of this kind) would be in every one of those states."""
        ...


class WordKind(EvidenceKind, Protocol):
    """A kind that is told in words."""

    def chance(self, word: Word, state: EngineState, profile: EngineProfile) -> float:
        """Chance of that word if the engine were in that state; comparable between states, above 0."""
        ...


def condition_of(capture: CaptureMeasurement, running: bool) -> Condition:
    """The condition in which a part of a capture was recorded."""
    about = capture.recording.description
    return Condition(
        turning="running" if running else "cranking",
        temperature=about.temperature or "unknown",
        phasers=about.phasers or "unknown",
        symptom=about.symptom or "unknown",
    )
