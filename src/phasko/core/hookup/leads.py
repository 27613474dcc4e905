"""The leads of an instrument: what each is clipped to, through which probe, in which range."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from phasko.core import numbers
from phasko.core.documents.capture import Role
from phasko.core.documents.engine import Cam, EngineProfile, SensorKind
from phasko.core.words import cam_name, lower_first

__all__ = [
    "EngineState",
    "Lead",
    "Place",
    "cam_lead",
    "cams_with_phaser",
    "clamp_lead",
    "coil_lead",
    "crank_lead",
    "other_leads",
]

Place = Literal["sensor", "control_unit"]
EngineState = Literal["cranking", "idle", "running", "bench"]


@dataclass(frozen=True, slots=True)
class Lead:
    """One channel of the plan. ``key`` names the signal and the place, for the wires that a workshop types in.

    ``attenuator``: 1, or how much the probe divides by; ``range_v``: half range behind it, at the wire itself; ``unit``
    and ``scale``: what one volt at the instrument means. ``zeroed``: it has to be zeroed first; ``has_battery``;
    ``switches``: between two levels, as a powered sensor does.
    """

    key: str
    role: Role
    name: str
    clip: str
    probe: str
    range_v: float
    at: Place = "sensor"
    cam: str | None = None
    wheel: str | None = None
    cylinder: int | None = None
    signal: Literal["drive", "primary"] | None = None
    coupling: Literal["dc", "ac"] = "dc"
    attenuator: float = 1.0
    unit: str = "V"
    scale: float = 1.0
    note: str = ""
    has_battery: bool = False
    switches: bool = False
    zeroed: bool = False


def _sensor(kind: SensorKind, turns: EngineState) -> tuple[str, float, float, str]:
    """Probe, range (V), attenuator and note of a pick-up."""
    if kind == "vr":
        running = turns in ("idle", "running")
        note = (
            "Two wires: a sine on one, mirrored on the other. Flat on one may only mean that it is the return: try the "
            "other."
        )
        if running:
            return "10:1 probe", numbers.VR_RUNNING_V.value, 10.0, note
        return "plain lead", numbers.VR_CRANKING_V.value, 1.0, note
    if kind == "unknown":
        most = max(numbers.SENSOR_RANGE_V.value, numbers.VR_CRANKING_V.value)
        note = (
            "Count its wires first: three are supply, ground and signal of a Hall sensor; two are an inductive one, a "
            "sine on one and mirrored on the other, higher the faster it turns."
        )
        return "plain lead", most, 1.0, note
    return (
        "plain lead",
        numbers.SENSOR_RANGE_V.value,
        1.0,
        "Three wires: supply, ground, signal; the high level is 5 V or the battery's, or lies below the supply.",
    )


def crank_lead(profile: EngineProfile, turns: EngineState, at: Place = "sensor") -> Lead:
    """The crank sensor's signal wire."""
    probe, range_v, attenuator, note = _sensor(profile.crank.sensor, turns)
    return Lead(
        key=f"crank@{at}",
        role="crank",
        name="Crank sensor",
        clip=_clip("the crank sensor", at),
        probe=probe,
        range_v=range_v,
        at=at,
        attenuator=attenuator,
        scale=attenuator,
        note=note,
        switches=profile.crank.sensor != "vr",
    )


def cam_lead(cam: Cam, profile: EngineProfile, turns: EngineState, at: Place = "sensor") -> Lead:
    """A cam sensor's signal wire."""
    probe, range_v, attenuator, note = _sensor(cam.sensor, turns)
    name = cam_name(cam, profile)
    return Lead(
        key=f"cam:{cam.id}@{at}",
        role="cam",
        cam=cam.id,
        name=f"{name} sensor",
        clip=_clip(f"the {lower_first(name)} sensor", at),
        probe=probe,
        range_v=range_v,
        at=at,
        attenuator=attenuator,
        scale=attenuator,
        note=note,
        switches=cam.sensor != "vr",
    )


def _clip(sensor: str, at: Place) -> str:
    where = "at the sensor's plug" if at == "sensor" else "at the control unit's plug"
    return f"Signal wire of {sensor}, {where}; ground on bare metal of the engine"


def clamp_lead() -> Lead:
    """The clamp for the starter's current."""
    per_a = numbers.CLAMP_V_PER_A.value
    return Lead(
        key="starter_current",
        role="starter_current",
        name="Starter current",
        clip="Clamp round either battery cable, all its wires through it, arrow with the current",
        probe=f"Current clamp, {1000 * per_a:g} mV/A",
        range_v=1.0,
        unit="A",
        scale=1.0 / per_a,
        note="Zero it beside the cable. Turned round, the humps point down. The inrush may leave the range: no defect.",
        has_battery=True,
        zeroed=True,
    )


def coil_lead(profile: EngineProfile, cylinder: int) -> Lead:
    """A coil of the named cylinder. Where it may be a primary it never goes without an attenuator."""
    kind = profile.ignition.type if profile.ignition is not None else None
    if kind == "coil_on_plug":
        return Lead(
            key=f"coil:{cylinder}",
            role="coil",
            cylinder=cylinder,
            name=f"Coil {cylinder}, its drive wire",
            clip=f"Drive wire of the coil that sits on cylinder {cylinder} (count the cylinders once more)",
            probe="10:1 attenuator until it is known for a drive wire",
            range_v=numbers.COIL_PRIMARY_V.value,
            signal="drive",
            attenuator=10.0,
            scale=10.0,
            note="Two wires at the coil: it is a primary with hundreds of volts. Three or more: one is a drive wire of "
            "5 V; look at it through the attenuator first.",
        )
    wasted = " It fires every turn: it cannot tell the two turns apart." if kind == "wasted_spark" else ""
    return Lead(
        key=f"coil:{cylinder}",
        role="coil",
        cylinder=cylinder,
        name=f"Coil of cylinder {cylinder}, primary",
        clip="Switched wire of the coil's primary",
        probe="10:1 attenuator",
        range_v=numbers.COIL_PRIMARY_V.value,
        signal="primary",
        attenuator=10.0,
        scale=10.0,
        note=f"Hundreds of volts at the spark: never without the attenuator.{wasted}",
    )


def cams_with_phaser(profile: EngineProfile) -> list[Cam]:
    """The cams that a phaser moves."""
    return [cam for cam in profile.cams if cam.phaser is not None]


def other_leads(profile: EngineProfile, cylinder: int) -> dict[str, Lead]:
    """The leads that only some questions need, by their key."""
    leads = [
        Lead(
            key="battery_voltage",
            role="battery_voltage",
            name="Battery voltage",
            clip="On the battery's posts, not on the clamps of the cables",
            probe="plain lead",
            range_v=20.0,
            note="Instead of the clamp: it dips where the current has its humps.",
        ),
        Lead(
            key=f"pressure:{cylinder}",
            role="cylinder_pressure",
            cylinder=cylinder,
            name=f"Pressure, cylinder {cylinder}",
            clip=f"Transducer in place of the plug of cylinder {cylinder}; a tester's hose without its check valve",
            probe="Pressure transducer, 34.5 bar",
            range_v=10.0,
            unit="bar",
            scale=numbers.TRANSDUCER_BAR_PER_V.value,
            note="Zero it at atmosphere. Its body stays under 90 °C.",
            has_battery=True,
            zeroed=True,
        ),
        Lead(
            key=f"injector:{cylinder}",
            role="injector",
            cylinder=cylinder,
            name=f"Injector {cylinder}",
            clip=f"Switched wire of the injector of cylinder {cylinder}",
            probe="10:1 attenuator",
            range_v=numbers.INJECTOR_V.value,
            attenuator=10.0,
            scale=10.0,
            note="It kicks to sixty volts and more when it closes.",
        ),
        Lead(
            key="oil_pressure",
            role="other",
            name="Oil pressure",
            clip="Transducer in place of the oil pressure switch",
            probe="Pressure transducer, 34.5 bar",
            range_v=10.0,
            unit="bar",
            scale=numbers.TRANSDUCER_BAR_PER_V.value,
            note="Hot oil: fit it with the engine standing. Fuel pressure likewise, by the maker's procedure.",
            has_battery=True,
            zeroed=True,
        ),
        Lead(
            key="intake_pulse",
            role="intake_pulse",
            name="Pulses in the manifold",
            clip="Pulse sensor on a port that all cylinders share, the largest there is",
            probe="Pulse sensor",
            range_v=0.5,
            coupling="ac",
        ),
        Lead(
            key="exhaust_pulse",
            role="exhaust_pulse",
            name="Pulses in the tailpipe",
            clip="Pulse sensor in the tailpipe, sealed with a wet rag",
            probe="Pulse sensor",
            range_v=0.5,
            coupling="ac",
            note="Fuel off: the mixture would light there.",
        ),
    ]
    leads += [
        Lead(
            key=f"phaser:{cam.id}",
            role="phaser_command",
            cam=cam.id,
            name=f"Solenoid of the {lower_first(cam_name(cam, profile))}",
            clip="The solenoid's switched wire (low while it is driven, on most)",
            probe="plain lead",
            range_v=numbers.SENSOR_RANGE_V.value,
        )
        for cam in cams_with_phaser(profile)
    ]
    leads += [
        Lead(
            key=f"aux:{aux.id}",
            role="aux",
            wheel=aux.id,
            name=f"Second pick-up {aux.id}",
            clip=f"Signal wire of the pick-up {aux.id}",
            probe="plain lead",
            range_v=numbers.SENSOR_RANGE_V.value,
        )
        for aux in profile.aux_wheels
    ]
    return {lead.key: lead for lead in leads}
