"""The capture description, ``phasko.capture/1``: what the columns of a data file are and how they were taken."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import AwareDatetime, BaseModel, ConfigDict, Field, model_validator

__all__ = [
    "CaptureDescription",
    "ChannelDescription",
    "Command",
    "Hertz",
    "HowGood",
    "Interval",
    "KnownGoodOf",
    "Mark",
    "Role",
    "ScanRow",
    "Seconds",
]

Role = Literal[
    "crank",
    "aux",
    "cam",
    "coil",
    "injector",
    "starter_current",
    "battery_voltage",
    "cylinder_pressure",
    "intake_pulse",
    "exhaust_pulse",
    "crankcase_pulse",
    "phaser_command",
    "other",
]
Condition = Literal["cranking", "idle", "running", "snap", "bench", "mixed"]
HowGood = Literal["marks_seen", "set_up", "runs_well", "said"]
"""How an engine is known to be good: its marks were seen true, it was just set up by the maker's procedure, it runs
well without codes, or somebody says so."""
Phasers = Literal["parked", "unplugged", "active", "sweep", "unknown"]
Seconds = Annotated[float, Field(ge=-1e7, le=1e7, allow_inf_nan=False)]
"""A moment of a recording: none lasts a hundred days."""
Interval = Annotated[float, Field(ge=1e-10, le=100.0, allow_inf_nan=False)]
"""Between two samples, s."""
Hertz = Annotated[float, Field(ge=1e-3, le=1e9, allow_inf_nan=False)]
Factor = Annotated[float, Field(ge=-1e12, le=1e12, allow_inf_nan=False)]


_LEAST_SCALE = 1e-12


class DescriptionPart(BaseModel):
    """Frozen; unknown keys are kept, so that they can be named instead of being lost."""

    model_config = ConfigDict(frozen=True, extra="allow")

    def unknown_keys(self) -> tuple[str, ...]:
        """Keys that this version does not know, sorted."""
        return tuple(sorted(self.model_extra or {}))


class Mark(DescriptionPart):
    t_s: Seconds
    text: str = ""


class Command(DescriptionPart):
    """A phaser driven by the scan tool, off its park position from ``from_s`` to ``to_s``, with this ``share`` of full
    drive. ``u95_s``: how well these moments are known on the capture's clock."""

    cam: str = Field(min_length=1)
    from_s: Seconds
    to_s: Seconds
    share: Annotated[float, Field(ge=0.0, le=1.0, allow_inf_nan=False)] = 1.0
    u95_s: Annotated[float, Field(ge=0.0, le=10.0, allow_inf_nan=False)] | None = None

    @model_validator(mode="after")
    def _ends_later(self) -> Self:
        if self.to_s <= self.from_s:
            raise ValueError(f"a command of {self.cam} ends before it begins")
        return self


class ScanRow(DescriptionPart):
    """What the scan tool showed at one moment of a recording, on its clock."""

    t_s: Seconds
    rpm: Annotated[float, Field(ge=0, le=20_000, allow_inf_nan=False)] | None = None
    coolant_c: Annotated[float, Field(ge=-60, le=200, allow_inf_nan=False)] | None = None
    manifold_bar: Annotated[float, Field(ge=0, le=10, allow_inf_nan=False)] | None = None
    battery_v: Annotated[float, Field(ge=0, le=60, allow_inf_nan=False)] | None = None
    synchronised: bool | None = None


class KnownGoodOf(DescriptionPart):
    """How the engine of a known good capture is known to be good, and in whose words."""

    how: HowGood
    note: Annotated[str, Field(max_length=300)] = ""


class ChannelDescription(DescriptionPart):
    column: str = Field(min_length=1)
    role: Role
    unit: str = "V"
    scale: Factor = 1.0
    offset: Factor = 0.0
    scaled_unit: str | None = None
    cam: str | None = None
    wheel: str | None = None
    cylinder: int | None = Field(default=None, ge=1)
    signal: Literal["drive", "primary"] | None = None
    coupling: Literal["dc", "ac"] = "dc"
    reference: Literal["gauge", "absolute"] | None = None
    filter_hz: Hertz | None = None
    adapter: Literal["direct", "hose"] | None = None
    driven: Literal["low", "high"] | None = None
    hose_volume_cm3: Annotated[float, Field(ge=0, le=1000.0, allow_inf_nan=False)] | None = None

    @model_validator(mode="after")
    def _named(self) -> Self:
        if self.role == "cam" and not self.cam:
            raise ValueError(f"column {self.column} is a cam but does not say which (cam)")
        if self.role == "aux" and not self.wheel:
            raise ValueError(f"column {self.column} is an aux wheel but does not say which (wheel)")
        if self.role == "cylinder_pressure" and self.cylinder is None:
            raise ValueError(f"column {self.column} is a cylinder pressure but does not name the cylinder")
        if abs(self.scale) < _LEAST_SCALE:
            raise ValueError(f"column {self.column} has scale {self.scale:g}, which would erase the signal")
        return self


Valve = Literal["intake", "exhaust"]
ValveEnd = Literal["opens", "closes"]


class HandCorner(DescriptionPart):
    """Where a person sees a valve open or close in one cylinder's pressure, after its own firing TDC."""

    cylinder: int = Field(ge=1)
    segment: Literal["cranking", "running"] = "cranking"
    valve: Valve
    end: ValveEnd
    angle_deg: Annotated[float, Field(ge=0.0, lt=720.0, allow_inf_nan=False)]

    def same_place(self, other: HandCorner) -> bool:
        """Whether both mark the same corner."""
        own, its = (m.model_dump(exclude={"angle_deg"}) for m in (self, other))
        return own == its


class CaptureDescription(DescriptionPart):
    """Describes one recording: state of the engine, marks a person set, and the role of every column.

    ``seal_from_s`` and ``seal_to_s``: the stretch to judge sealing from, where a person chose it. ``taken_out``: the
    cylinder whose compression was taken out on purpose (its plug, say), to learn its place in the firing order.
    ``hand_corners``: valve corners that a person set instead of those that were found. ``commands``: phasers driven
    by a scan tool meanwhile; ``scan_log``: what that showed. ``known_good``: how its engine is known to be sound, where
    others are compared with it. ``title``: the name that a person gave it.
    """

    schema_: Literal["phasko.capture/1"] = Field(alias="schema")
    data: str = Field(min_length=1)
    condition: Condition | None = None
    phasers: Phasers = "unknown"
    temperature: Literal["cold", "hot", "unknown"] = "unknown"
    throttle: Literal["open", "closed", "unknown"] = "unknown"
    symptom: Literal["present", "absent", "unknown"] = "unknown"
    interval_s: Interval | None = None
    ambient_bar: Annotated[float, Field(gt=0.3, lt=1.5)] | None = None
    recorded_at: AwareDatetime | None = None
    title: Annotated[str, Field(max_length=120)] = ""
    repair: Literal["before", "after"] | None = None
    seal_from_s: Seconds | None = None
    seal_to_s: Seconds | None = None
    taken_out: int | None = Field(default=None, ge=1)
    marks: list[Mark] = Field(default_factory=list)
    commands: Annotated[list[Command], Field(max_length=200)] = Field(default_factory=list)
    scan_log: Annotated[list[ScanRow], Field(max_length=20_000)] = Field(default_factory=list)
    known_good: KnownGoodOf | None = None
    hand_corners: list[HandCorner] = Field(default_factory=list)
    channels: list[ChannelDescription] = Field(min_length=1)

    model_config = ConfigDict(frozen=True, extra="allow", populate_by_name=True)

    @model_validator(mode="after")
    def _columns_once(self) -> Self:
        columns = [channel.column for channel in self.channels]
        if len(set(columns)) != len(columns):
            raise ValueError("channels name a column twice")
        if self.seal_from_s is not None and self.seal_to_s is not None and self.seal_to_s <= self.seal_from_s:
            raise ValueError("seal_to_s must lie after seal_from_s")
        return self
