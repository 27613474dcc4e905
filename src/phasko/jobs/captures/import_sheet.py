"""What each channel of a capture is: proposed, judged, confirmed or changed by a person."""

from __future__ import annotations

import hashlib
import json
from dataclasses import asdict
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from phasko.core.channels import RoleProposal
from phasko.core.channels.quality import ChannelQuality, judge_quality
from phasko.core.documents import CaptureDescription, EngineProfile, parse_document
from phasko.core.documents.capture import ChannelDescription, Mark, Role
from phasko.core.documents.engine import Cam
from phasko.core.errors import NotFoundError
from phasko.core.signals.scaling import PRESETS, Line, line_through, preset
from phasko.core.words import cam_name
from phasko.jobs.captures.importing import PROPOSED, Proposed
from phasko.jobs.captures.listed import ImportedCapture, summary_of_capture
from phasko.jobs.measured import measured_from
from phasko.jobs.remembered import Remembered
from phasko.store import Database, captures, jobs
from phasko.store.audit import check_version
from phasko.store.models import Capture

__all__ = ["CaptureSetup", "ImportSheet", "ScalePreset", "confirm_setup", "import_sheet", "scale_presets", "set_marks"]

Number = Annotated[float, Field(ge=-1e12, le=1e12, allow_inf_nan=False)]
_judged: Remembered[tuple[ChannelQuality, ...]] = Remembered(16)


class Part(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class PresetScale(Part):
    """A usual clamp or transducer."""

    kind: Literal["preset"]
    id: str


class LineScale(Part):
    """value = raw * scale + offset."""

    kind: Literal["line"]
    scale: Number
    offset: Number
    unit: Annotated[str, Field(max_length=20)]


class TwoPointScale(Part):
    """Two readings whose value somebody knows."""

    kind: Literal["two_points"]
    raw_1: Number
    value_1: Number
    raw_2: Number
    value_2: Number
    unit: Annotated[str, Field(max_length=20)]


Scale = Annotated[PresetScale | LineScale | TwoPointScale, Field(discriminator="kind")]


class ChannelSetup(Part):
    """One channel as a person says it is. ``zero`` is what it reads at rest (raw), ``turned`` a clamp put on the other
    way round."""

    column: str
    role: Role
    cam: str | None = None
    wheel: str | None = None
    cylinder: Annotated[int, Field(ge=1, le=16)] | None = None
    signal: Literal["drive", "primary"] | None = None
    coupling: Literal["dc", "ac"] = "dc"
    reference: Literal["gauge", "absolute"] | None = None
    driven: Literal["low", "high"] | None = None
    scale: Scale | None = None
    zero: Number = 0.0
    turned: bool = False


class CaptureSetup(Part):
    """The whole sheet: state of the engine once, and every channel."""

    condition: Literal["cranking", "idle", "running", "snap", "bench", "mixed"] | None = None
    phasers: Literal["parked", "unplugged", "active", "sweep", "unknown"] = "unknown"
    temperature: Literal["cold", "hot", "unknown"] = "unknown"
    throttle: Literal["open", "closed", "unknown"] = "unknown"
    symptom: Literal["present", "absent", "unknown"] = "unknown"
    repair: Literal["before", "after"] = "before"
    channels: Annotated[list[ChannelSetup], Field(min_length=1, max_length=256)]


class RemarkOut(BaseModel):
    """One thing about a channel and what to do; ``factor`` would make its values plausible, ``zero`` taken off before
    scaling makes it read nothing at rest, and ``then`` says what it would read."""

    model_config = ConfigDict(frozen=True)
    code: str
    text: str
    remedy: str
    hurts: bool
    factor: float | None
    zero: float | None
    then: str


class CamChoice(BaseModel):
    """One cam that a channel can be of: the name it has in the documents, and what a person calls it."""

    model_config = ConfigDict(frozen=True)
    id: str
    name: str


class ChannelSheet(BaseModel):
    """One channel of the sheet: what is said about it, what was proposed and why, how good it is. ``asks_cylinder``:
    a pressure whose cylinder neither a signal nor a person has told."""

    model_config = ConfigDict(frozen=True)
    description: ChannelDescription
    proposal: str | None
    certain: bool
    asks_cylinder: bool
    remarks: list[RemarkOut]


class ImportSheet(BaseModel):
    model_config = ConfigDict(frozen=True)
    capture: ImportedCapture
    channels: list[ChannelSheet]
    notes: list[str]
    marks: list[Mark]
    cams: list[CamChoice]
    wheels: list[str]
    cylinders: int


class ScalePreset(BaseModel):
    """A usual clamp, attenuator or transducer."""

    model_config = ConfigDict(frozen=True)
    id: str
    name: str
    role: Role
    scale: float
    offset: float
    unit: str


def scale_presets() -> list[ScalePreset]:
    """All presets, in the order in which a list shows them."""
    return [
        ScalePreset(id=p.id, name=p.name, role=p.role, scale=p.line.scale, offset=p.line.offset, unit=p.line.unit)
        for p in PRESETS
    ]


def import_sheet(database: Database, capture_id: int) -> ImportSheet:
    """Everything that is known of a capture's channels. Raises NotFoundError."""
    with database.reading() as session:
        capture = captures.get_capture(session, capture_id)
        version = jobs.get_job(session, capture.job_id).engine_version
        summary, described = summary_of_capture(capture), _description(capture)
        proposed = PROPOSED.validate_json(capture.proposals) if capture.proposals else Proposed(roles=[], notes=[])
        said = measured_from(capture.description)
        key = hashlib.sha256(f"{capture.sha256}:{said}:{version.sha256}".encode()).hexdigest()
    profile = parse_document(version.document, EngineProfile, version.name)

    def judge() -> tuple[ChannelQuality, ...]:
        with database.reading() as session:
            recording = captures.load_recording(session, captures.get_capture(session, capture_id))
        return judge_quality(recording, profile)

    quality = {one.column: one for one in _judged.get(key, judge)}
    roles = {one.column: one for one in proposed.roles}
    asked = not summary.confirmed and profile.cylinders > 1
    channels = [
        ChannelSheet(
            description=channel,
            proposal=roles[channel.column].reason if channel.column in roles else None,
            certain=roles[channel.column].certain if channel.column in roles else True,
            asks_cylinder=asked and _untold(channel, roles.get(channel.column)),
            remarks=[RemarkOut.model_validate(asdict(remark)) for remark in quality[channel.column].remarks],
        )
        for channel in described.channels
    ]
    return ImportSheet(
        capture=summary,
        channels=channels,
        notes=proposed.notes,
        marks=described.marks,
        cams=_cam_choices(profile),
        wheels=[wheel.id for wheel in profile.aux_wheels],
        cylinders=profile.cylinders,
    )


def _untold(channel: ChannelDescription, proposal: RoleProposal | None) -> bool:
    return channel.role == "cylinder_pressure" and (proposal is None or proposal.cylinder is None)


def _cam_choices(profile: EngineProfile) -> list[CamChoice]:
    """The cams of the profile; where it lists none, those that an engine with so many banks can have, since who hooks
    the scope up sees which cam the sensor sits at."""
    if profile.cams:
        return [CamChoice(id=cam.id, name=_own_name(cam, profile)) for cam in profile.cams]
    banks = range(1, 1 + (len(profile.banks) if profile.banks else 2 if profile.layout in ("vee", "flat") else 1))
    usual = [Cam(id=f"B{bank}{shaft[0].upper()}", bank=bank, shaft=shaft) for bank in banks for shaft in _SHAFTS]
    unlisted = profile.model_copy(update={"cams": usual})
    return [
        *(CamChoice(id=cam.id, name=cam_name(cam, unlisted)) for cam in usual),
        CamChoice(id="CAM", name="The only cam"),
    ]


_SHAFTS: tuple[Literal["intake", "exhaust"], ...] = ("intake", "exhaust")


def _own_name(cam: Cam, profile: EngineProfile) -> str:
    name = cam_name(cam, profile)
    return name if cam.id in name else f"{name} {cam.id}"


def confirm_setup(
    database: Database, capture_id: int, setup: CaptureSetup, made_from: int | None = None
) -> ImportedCapture:
    """Says what the channels are, which confirms the capture; its samples stay as they came. Raises NotFoundError,
    DocumentError where a channel's role lacks what completes it, and OutdatedError where somebody has said something
    else since."""
    with database.transaction() as session:
        capture = captures.get_capture(session, capture_id)
        check_version(session, capture, made_from, CaptureSetup.model_fields.keys())
        before = _description(capture)
        known = {channel.column: channel for channel in before.channels}
        missing = [one.column for one in setup.channels if one.column not in known]
        if missing:
            raise NotFoundError(f"The capture has no column {missing[0]}")
        said = {one.column: _channel(known[one.column], one) for one in setup.channels}
        document: dict[str, Any] = before.model_dump(mode="json", by_alias=True, exclude_none=True)
        document |= setup.model_dump(include={"condition", "phasers", "temperature", "throttle", "symptom"})
        document["repair"] = "after" if setup.repair == "after" else None
        document["channels"] = [
            said.get(column) or channel.model_dump(mode="json", exclude_none=True) for column, channel in known.items()
        ]
        document = {key: value for key, value in document.items() if value is not None}
        changed = parse_document(json.dumps(document), CaptureDescription, capture.name)
        captures.confirm(captures.set_description(session, capture_id, changed))
        return summary_of_capture(capture)


def set_marks(
    database: Database, capture_id: int, marks: list[Mark], made_from: int | None = None
) -> tuple[list[Mark], int]:
    """Replaces the marks that a person set; they come back in order of time, with the capture's version. Raises
    NotFoundError, and OutdatedError where somebody has set others since."""
    ordered = sorted(marks, key=lambda mark: mark.t_s)
    with database.transaction() as session:
        capture = captures.get_capture(session, capture_id)
        check_version(session, capture, made_from, {"marks"})
        changed = _description(capture).model_copy(update={"marks": ordered})
        captures.set_description(session, capture_id, changed)
        session.flush()
        return ordered, capture.version


def _description(capture: Capture) -> CaptureDescription:
    return parse_document(capture.description, CaptureDescription, capture.name)


def _channel(before: ChannelDescription, setup: ChannelSetup) -> dict[str, Any]:
    line = _line(before, setup)
    sign = -1.0 if setup.turned else 1.0
    scale, offset = sign * line.scale, line.offset - sign * line.scale * setup.zero
    made: dict[str, Any] = {
        "column": before.column,
        "role": setup.role,
        "unit": before.unit,
        "scale": scale,
        "offset": offset if offset != 0.0 else 0.0,
        "scaled_unit": line.unit if line.unit != before.unit else None,
        "cam": setup.cam if setup.role in ("cam", "phaser_command") else None,
        "wheel": setup.wheel if setup.role == "aux" else None,
        "cylinder": setup.cylinder,
        "signal": setup.signal if setup.role == "coil" else None,
        "coupling": setup.coupling,
        "reference": setup.reference if setup.role == "cylinder_pressure" else None,
        "driven": setup.driven if setup.role == "phaser_command" else None,
        "filter_hz": before.filter_hz,
        # What the sheet does not ask for stays as the description had it.
        "adapter": before.adapter if setup.role == "cylinder_pressure" else None,
        "hose_volume_cm3": before.hose_volume_cm3 if setup.role == "cylinder_pressure" else None,
    }
    return {key: value for key, value in made.items() if value is not None}


def _line(before: ChannelDescription, setup: ChannelSetup) -> Line:
    """The scale that was asked for; a channel in millivolts is taken as volts first."""
    milli = 1e-3 if before.unit == "mV" else 1.0
    match setup.scale:
        case PresetScale(id=chosen):
            line = preset(chosen).line
            return Line(line.scale * milli, line.offset, line.unit)
        case LineScale():
            return Line(setup.scale.scale, setup.scale.offset, setup.scale.unit)
        case TwoPointScale():
            points = setup.scale
            return line_through(points.raw_1, points.value_1, points.raw_2, points.value_2, points.unit)
    return Line(1.0, 0.0, before.unit)
