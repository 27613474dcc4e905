"""Every kind of evidence the call rests on; a new one is one file and one line here."""

from phasko.core.evidence.breathing_words import ManifoldPressure, Pulses
from phasko.core.evidence.cam_phase import CamPhase
from phasko.core.evidence.changes import Changes
from phasko.core.evidence.codes import Codes
from phasko.core.evidence.compression_size import CompressionSize
from phasko.core.evidence.corners import Corners
from phasko.core.evidence.cylinder_compression import CylinderCompressionKind, HumpCount
from phasko.core.evidence.edge_spacing import EdgeSpacing
from phasko.core.evidence.history import History
from phasko.core.evidence.index_offset import IndexOffsetKind
from phasko.core.evidence.levels import Levels
from phasko.core.evidence.observable import (
    EvidenceKind,
    JobEvidence,
    NotCounted,
    NumberKind,
    Observable,
    Observed,
    Predictions,
    Word,
    WordKind,
)
from phasko.core.evidence.phaser_sweep import PhaserSweepKind
from phasko.core.evidence.road_test import RoadTest
from phasko.core.evidence.seen import Gauge, LeakDown, Marks, Seen
from phasko.core.evidence.signal_health import SignalHealthKind
from phasko.core.evidence.spark_timing import SparkTiming, SparkWithheld

__all__ = [
    "EVERY_KIND",
    "NUMBER_KINDS",
    "WORD_KINDS",
    "EvidenceKind",
    "JobEvidence",
    "NotCounted",
    "NumberKind",
    "Observable",
    "Observed",
    "Predictions",
    "Word",
    "WordKind",
    "observe_all",
]

NUMBER_KINDS: tuple[NumberKind, ...] = (
    CamPhase(),
    EdgeSpacing(),
    CylinderCompressionKind(),
    CompressionSize(),
    SparkTiming(),
    IndexOffsetKind(),
    Corners(),
    Levels(),
    Gauge(),
)

WORD_KINDS: tuple[WordKind, ...] = (
    HumpCount(),
    SparkWithheld(),
    SignalHealthKind(),
    Changes(),
    PhaserSweepKind(),
    ManifoldPressure(),
    Pulses(),
    Marks(),
    LeakDown(),
    Seen(),
    RoadTest(),
    Codes(),
    History(),
)


EVERY_KIND: tuple[EvidenceKind, ...] = (*NUMBER_KINDS, *WORD_KINDS)


def observe_all(job: JobEvidence) -> Observed:
    """What every kind of evidence has to say about a job."""
    every = [kind.observe(job) for kind in EVERY_KIND]
    return Observed(
        tuple(o for one in every for o in one.numbers),
        tuple(w for one in every for w in one.words),
        tuple(n for one in every for n in one.not_counted),
    )
