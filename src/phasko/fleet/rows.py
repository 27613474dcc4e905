"""Results as rows: one a capture, one a cam of a capture, one a cylinder of a capture."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import pyarrow as pa

from phasko.code_hash import software_label
from phasko.core import numbers
from phasko.core.documents import Analysis, CaptureDescription, EngineProfile
from phasko.core.documents.analysis import CaptureResult
from phasko.core.documents.fault_name import FaultName
from phasko.core.documents.job import Complaint
from phasko.fleet.units import Unit

__all__ = ["MOVES", "SCHEMAS", "VERSION", "Judged", "Rows", "rows_of"]

VERSION = "phasko.fleet/1"
"""Raised whenever a column changes its meaning or goes."""

_COMMON = [
    pa.field("unit", pa.string(), nullable=False, metadata={"about": "key of what one call is made of"}),
    pa.field("capture", pa.string(), nullable=False, metadata={"about": "name of the capture's file"}),
    pa.field("engine", pa.string(), nullable=False, metadata={"about": "name of the engine profile"}),
    pa.field("engine_sha256", pa.string(), nullable=False, metadata={"about": "which version of it"}),
]


def _field(name: str, kind: Any, about: str) -> Any:
    return pa.field(name, kind, metadata={"about": about})


SCHEMAS: dict[str, Any] = {
    "captures": pa.schema(
        [
            *_COMMON,
            _field("name", pa.string(), "where it was found"),
            _field("workshop", pa.string(), "folder of the workshop that it is stored in; none for files"),
            _field("job_id", pa.int64(), "number of its job there"),
            _field("vehicle", pa.string(), "the vehicle, as it is told"),
            _field("sha256", pa.string(), "hash of the capture's files"),
            _field("recorded_at", pa.string(), "when it was recorded (ISO 8601), where that is known"),
            _field("distance_km", pa.float64(), "distance of the vehicle, where it is told"),
            _field("age_years", pa.float64(), "age of the vehicle when it was recorded, to half a year"),
            _field("condition", pa.string(), "cranking, idle, running ..."),
            _field("temperature", pa.string(), "cold, hot, unknown"),
            _field("phasers", pa.string(), "parked, unplugged, active ..."),
            _field("repair", pa.string(), "before or after a repair"),
            _field("mean_rpm", pa.float64(), "mean speed of the crank, 1/min"),
            _field("cycles", pa.int64(), "cycles that were read"),
            _field("index_offset_deg", pa.float64(), "how late the crank's index passes, degrees of the crank"),
            _field("index_offset_u95_deg", pa.float64(), "half width of its 95 % interval"),
            _field("gate", pa.string(), "go, confirm_first, no: of the whole job"),
            _field("fault", pa.string(), "the likeliest explanation of the whole job"),
            _field("probability", pa.float64(), "how likely it is, 0 to 1"),
            _field("probability_none", pa.float64(), "how likely nothing is wrong, 0 to 1"),
            _field(
                "probability_moved", pa.float64(), "how likely a cam or a wheel stands elsewhere, wear aside, 0 to 1"
            ),
            _field("problems", pa.list_(pa.string()), "codes of what is to be minded in this capture"),
            _field("known_good", pa.bool_(), "whether somebody keeps it as known good"),
            _field("software", pa.string(), "version of the software and hash of its code"),
            _field("numbers", pa.string(), "version of its table of numbers"),
            _field("seconds", pa.float64(), "how long measuring and judging took, s"),
        ]
    ),
    "cams": pa.schema(
        [
            *_COMMON,
            _field("cam", pa.string(), "the cam's name in the profile"),
            _field("bank", pa.int64(), "its bank"),
            _field("shaft", pa.string(), "intake, exhaust or single"),
            _field("reference", pa.string(), "what the offset is measured against"),
            _field("offset_deg", pa.float64(), "offset, degrees of the crank, late positive"),
            _field("offset_u95_deg", pa.float64(), "half width of the 95 % interval of the measurement"),
            _field("total_u95_deg", pa.float64(), "the same with what is not known of the reference"),
            _field("pitches", pa.float64(), "offset in pitches of the drive"),
            _field("state", pa.string(), "what is said of it"),
            _field("cycles", pa.int64(), "cycles that were used"),
        ]
    ),
    "cylinders": pa.schema(
        [
            *_COMMON,
            _field("cylinder", pa.int64(), "the cylinder's number"),
            _field("relative", pa.float64(), "compression over that of the others, 1 is alike"),
            _field("relative_u95", pa.float64(), "half width of its 95 % interval"),
            _field("state", pa.string(), "good, weak, dead, unknown"),
            _field("peak_bar", pa.float64(), "peak pressure of a transducer in it, bar"),
            _field("peak_u95_bar", pa.float64(), "half width of its 95 % interval"),
        ]
    ),
}
"""The tables by name. Every column says what it is in its metadata."""


MOVES: frozenset[FaultName] = frozenset(
    {
        "cam_signal_shifted",
        "cam_slipped",
        "chain_jumped",
        "crank_hub_slipped",
        "crank_signal_shifted",
        "crank_sprocket_slipped",
        "drive_broken",
        "phaser_off_park",
        "reference_wrong",
        "sync_misadjusted",
    }
)
"""With these a cam or a wheel reads elsewhere than the kind does; a chain that wears is part of the kind."""


@dataclass(frozen=True, slots=True)
class Rows:
    """The rows of one unit, by table, and the engine profile (JSON) that it was read with.

    All of it plain values, so that it travels between processes."""

    unit: str
    tables: dict[str, list[dict[str, Any]]]
    engine: str = ""
    engine_sha256: str = ""


@dataclass(frozen=True, slots=True, eq=False)
class Judged:
    """A unit's result with what is known beside it: its profile, what each capture says of itself, the vehicle, what is
    complained of, whether each capture is kept as known good, and what it took (s)."""

    analysis: Analysis
    profile: EngineProfile
    descriptions: tuple[CaptureDescription, ...]
    vehicle: str = ""
    complaint: Complaint | None = None
    known_good: tuple[bool, ...] = ()
    seconds: float = 0.0


def rows_of(unit: Unit, judged: Judged) -> Rows:
    """The rows of a unit's result."""
    captures, cams, cylinders = [], [], []
    analysis, profile = judged.analysis, judged.profile
    verdict = analysis.verdict
    leader = verdict.faults[0] if verdict.faults else None
    nothing = sum(one.probability for one in verdict.faults if one.fault == "none")
    for number, capture in enumerate(analysis.captures):
        common = {
            "unit": unit.key,
            "capture": capture.file,
            "engine": profile.name,
            "engine_sha256": analysis.provenance.engine_sha256,
        }
        captures.append(
            common
            | _measured(capture)
            | _described(judged.descriptions[number])
            | {
                "name": unit.name,
                "workshop": unit.workshop or None,
                "job_id": unit.job_id or None,
                "vehicle": judged.vehicle,
                "sha256": analysis.provenance.captures[number].sha256,
                "distance_km": judged.complaint.distance_km if judged.complaint is not None else None,
                "age_years": _age_years(judged, judged.descriptions[number]),
                "gate": verdict.teardown,
                "fault": leader.fault if leader is not None else None,
                "probability": leader.probability if leader is not None else None,
                "probability_none": nothing,
                "probability_moved": sum(one.probability for one in verdict.faults if one.fault in MOVES),
                "known_good": judged.known_good[number] if number < len(judged.known_good) else False,
                "software": software_label(),
                "numbers": numbers.NUMBERS_VERSION,
                "seconds": judged.seconds,
            }
        )
        cams += [common | row for row in _cam_rows(capture, profile)]
        cylinders += [common | row for row in _cylinder_rows(capture)]
    return Rows(
        unit=unit.key,
        tables={"captures": captures, "cams": cams, "cylinders": cylinders},
        engine=profile.model_dump_json(by_alias=True, exclude_none=True),
        engine_sha256=analysis.provenance.engine_sha256,
    )


def _age_years(judged: Judged, description: CaptureDescription) -> float | None:
    """From the middle of the year that the vehicle was built in to the recording."""
    recorded, complaint = description.recorded_at, judged.complaint
    if recorded is None or complaint is None or complaint.built_year is None:
        return None
    return max(0.0, recorded.year + recorded.timetuple().tm_yday / 365.25 - complaint.built_year - 0.5)


def _described(description: CaptureDescription) -> dict[str, Any]:
    recorded = description.recorded_at
    return {
        "recorded_at": None if recorded is None else str(recorded),
        "condition": description.condition,
        "temperature": description.temperature,
        "phasers": description.phasers,
        "repair": description.repair,
    }


def _measured(capture: CaptureResult) -> dict[str, Any]:
    crank = capture.crank
    return {
        "mean_rpm": crank.mean_rpm if crank is not None else None,
        "cycles": crank.cycles if crank is not None else None,
        "index_offset_deg": crank.index_offset_deg if crank is not None else None,
        "index_offset_u95_deg": crank.index_offset_u95_deg if crank is not None else None,
        "problems": sorted({problem.code for problem in capture.problems}),
    }


def _cam_rows(capture: CaptureResult, profile: EngineProfile) -> Sequence[dict[str, Any]]:
    made = []
    for one in capture.cams:
        cam = profile.cam(one.cam)
        made.append(
            {
                "cam": one.cam,
                "bank": cam.bank if cam is not None else None,
                "shaft": cam.shaft if cam is not None else None,
                "reference": one.reference,
                "offset_deg": one.offset_deg,
                "offset_u95_deg": one.offset_u95_deg,
                "total_u95_deg": one.total_u95_deg,
                "pitches": one.pitches,
                "state": one.state,
                "cycles": one.cycles,
            }
        )
    return made


def _cylinder_rows(capture: CaptureResult) -> Sequence[dict[str, Any]]:
    """One row a cylinder, whether its compression was compared, its pressure felt, or both."""
    rows: dict[int, dict[str, Any]] = {}
    if capture.compression is not None:
        for one in capture.compression.cylinders:
            rows[one.cylinder] = {"relative": one.relative, "relative_u95": one.u95, "state": one.state}
    for felt in capture.cylinder_pressure:
        rows.setdefault(felt.cylinder, {}).update(peak_bar=felt.peak_bar, peak_u95_bar=felt.peak_u95_bar)
    return [{"cylinder": cylinder, **row} for cylinder, row in sorted(rows.items())]
