"""Everything measured in one capture: what the steps give, and what the call and the pictures read."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from phasko.core import numbers
from phasko.core.breathing import Manifold, PulseMeasurement
from phasko.core.compression import Compression
from phasko.core.crank.clock import CrankClock
from phasko.core.crank.segments import Segment
from phasko.core.cycle.cycle_half import PieceTurn
from phasko.core.cycle.cycles import Cycle, Exclusion
from phasko.core.cylinder import FeltCylinder, IndexOffset, SpeedTdc
from phasko.core.documents.analysis import FilterResult, Problem
from phasko.core.documents.engine import EngineProfile
from phasko.core.ignition import CoilFiring
from phasko.core.injection import Injection
from phasko.core.phase.irregularities import SignalEvent
from phasko.core.phase.learning import Learnt
from phasko.core.phase.pulse_counts import SignalCount
from phasko.core.phase.reading import CamReading
from phasko.core.phasers import PhaserSweep
from phasko.core.signals.recording import Recording
from phasko.core.signals.switching import EdgeTrain

__all__ = ["CaptureMeasurement"]


@dataclass(frozen=True, slots=True, eq=False)
class CaptureMeasurement:
    """Everything measured in one capture, and everything that could not be, with the reason.

    ``engine`` is the profile it was read with: the given one, with what had to be learnt from the signals themselves.
    ``edges`` are those of every crank, cam and further wheel's channel, by channel, as they were read.
    ``compression_whole`` is judged from all settled cycles where a person chose a stretch for ``compression``: what was
    left out by hand still speaks in the call. ``index``: where the crank wheel stands against the pistons;
    ``speed_tdc`` what the crank's own speed alone says of it.
    ``felt``: the cylinders whose pressure was recorded. ``sweeps``: the phasers that were driven.
    """

    recording: Recording
    engine: EngineProfile
    problems: tuple[Problem, ...]
    edges: Mapping[str, EdgeTrain] = field(default_factory=dict)
    wheel: str | None = None
    matches_profile: bool | None = None
    clock: CrankClock | None = None
    pieces: tuple[PieceTurn, ...] = ()
    segments: tuple[Segment, ...] = ()
    cycles: tuple[Cycle, ...] = ()
    left_out: tuple[Exclusion, ...] = ()
    cams: tuple[CamReading, ...] = ()
    silent_cams: tuple[str, ...] = ()
    events: tuple[SignalEvent, ...] = ()
    counts: tuple[SignalCount, ...] = ()
    learnt: Learnt | None = None
    filters: tuple[FilterResult, ...] = ()
    compression: Compression | None = None
    compression_whole: Compression | None = None
    firings: tuple[CoilFiring, ...] = ()
    injections: tuple[Injection, ...] = ()
    pulses: tuple[PulseMeasurement, ...] = ()
    manifolds: tuple[Manifold, ...] = ()
    index: IndexOffset | None = None
    speed_tdc: SpeedTdc | None = None
    felt: tuple[FeltCylinder, ...] = ()
    sweeps: tuple[PhaserSweep, ...] = ()

    @property
    def turned(self) -> bool:
        """Whether the crank's angle is known anywhere."""
        return self.clock is not None and bool(self.clock.pieces)

    @property
    def in_one_state(self) -> list[CamReading]:
        """The cams compared while cranking, or while running where nothing was cranked; states are not mixed."""
        for kind in ("cranking", "running"):
            found = [r for r in self.cams if r.segment == kind and r.offset is not None]
            if found:
                return found
        return []

    @property
    def rocks(self) -> bool:
        """Whether it turns so slowly that the crank rocks at its compressions, as with an empty battery."""
        rpm = self.clock.mean_rpm if self.clock is not None else None
        return rpm is not None and rpm < numbers.ROCKING_RPM.value

    def doubtful(self, reading: CamReading) -> bool:
        """Whether a cam's edges disagree with each other on a crank that turns so slowly that its teeth may have been
        miscounted at a compression: such a reading is no offset of the engine."""
        rpm = self.clock.mean_rpm if self.clock is not None else None
        slow = rpm is not None and rpm < numbers.SLOW_RPM.value
        return slow and reading.offset is not None and reading.offset.misfit_deg > numbers.SLOW_MISFIT_DEG.value

    @property
    def usable(self) -> bool:
        """Whether anything at all could be measured; without a crank signal that was hooked up, nothing was."""
        return self.turned or (self.compression is not None and not self.recording.with_role("crank"))
