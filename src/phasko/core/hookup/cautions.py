"""The cautions of a hook-up: each has to be ticked before one records. Local rules, the maker's procedure and licensed
practice come first."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from phasko.core.documents.engine import EngineProfile
from phasko.core.hookup.leads import Lead
from phasko.core.hookup.questions import HookUpQuestion

__all__ = ["Caution", "cautions_of"]


@dataclass(frozen=True, slots=True)
class Caution:
    """One line to tick, and what it guards against."""

    id: str
    text: str
    why: str


@dataclass(frozen=True, slots=True)
class _Case:
    question: HookUpQuestion
    leads: Sequence[Lead]
    profile: EngineProfile

    @property
    def turns(self) -> bool:
        return self.question.turns != "bench"

    @property
    def runs(self) -> bool:
        return self.question.turns in ("idle", "running")

    def has(self, *roles: str) -> bool:
        return any(lead.role in roles for lead in self.leads)


def _diesel(profile: EngineProfile) -> bool:
    return profile.ignition is not None and profile.ignition.type == "none"


_RULES: tuple[tuple[Caution, Callable[[_Case], bool]], ...] = (
    (
        Caution(
            "chocked", "Chock the wheels, set the brake, put it in neutral or park", "The starter moves a car in gear."
        ),
        lambda case: case.turns and case.question.id != "symptom",
    ),
    (
        Caution(
            "clear",
            "Keep hands, leads and sleeves clear of belt and fan",
            "A fan may start by itself, hours later too.",
        ),
        lambda case: case.turns,
    ),
    (
        Caution(
            "high_voltage_car",
            "Hybrid or electric: have qualified people make it safe first, by the maker's isolation procedure",
            "Its engine may start by itself; its battery kills.",
        ),
        lambda case: case.turns,
    ),
    (
        Caution(
            "fuel_off",
            "Turn the fuel off: pump's fuse or relay, injectors' plug, or the pedal where that was proved here",
            "It would start; ignition alone off washes the bores. Keep an extinguisher at hand.",
        ),
        lambda case: case.question.turns == "cranking" and case.question.id != "injector",
    ),
    (
        Caution(
            "pump_off",
            "Turn the fuel pump off; keep sparks away from the spray",
            "The injectors stay connected and may open.",
        ),
        lambda case: case.question.id == "injector",
    ),
    (
        Caution("burst", "Crank ten seconds at most, then let it rest as long", "The starter and its cable get hot."),
        lambda case: case.question.turns == "cranking",
    ),
    (
        Caution(
            "battery",
            "Keep sparks and flames away from the battery; it may give off hydrogen",
            "Clips on its posts spark.",
        ),
        lambda case: case.has("starter_current", "battery_voltage"),
    ),
    (
        Caution(
            "zeroed", "Zero clamp and transducer, and check their batteries", "A flat battery reads like a weak engine."
        ),
        lambda case: any(lead.zeroed for lead in case.leads),
    ),
    (
        Caution(
            "attenuator",
            "Probe every coil through its attenuator; keep bare probes off the ignition",
            "A primary has hundreds of volts, the secondary tens of kilovolts.",
        ),
        lambda case: case.has("coil"),
    ),
    (
        Caution(
            "injector_attenuator", "Probe the injector through its attenuator", "It kicks to sixty volts and more."
        ),
        lambda case: case.has("injector"),
    ),
    (
        Caution(
            "plug_out",
            "Unplug that cylinder's injector and put its coil on an earthed gap",
            "Spray and spark meet at the open hole; an open coil burns through.",
        ),
        lambda case: case.has("cylinder_pressure") and not _diesel(case.profile),
    ),
    (
        Caution(
            "diesel_hole",
            "Close off that cylinder's injector by the maker's procedure; use a transducer made for a diesel",
            "A diesel makes three times the pressure, and fires without a spark.",
        ),
        lambda case: case.has("cylinder_pressure") and _diesel(case.profile),
    ),
    (
        Caution(
            "adapter",
            "Tighten the adapter; let its pressure off before taking it out",
            "A loose adapter is shot out; its body stays under 90 °C.",
        ),
        lambda case: case.has("cylinder_pressure"),
    ),
    (
        Caution("exhaust", "Lead the exhaust gas outdoors", "It kills in minutes, without a smell."),
        lambda case: case.runs,
    ),
    (
        Caution(
            "solenoid_fuse",
            "Drive the solenoid through a fuse, or by the scan tool",
            "A short melts the loom; some solenoids must not stay on for long.",
        ),
        lambda case: case.question.id == "sweep",
    ),
    (
        Caution(
            "hot", "Wear gloves: exhaust, hot-air gun and warmed sensor burn", "Everything fails when it is overheated."
        ),
        lambda case: case.question.id == "sensor",
    ),
    (
        Caution(
            "supply_limited",
            "Feed the sensor with its own voltage and a limited current",
            "Twelve volts on a five volt sensor ends it.",
        ),
        lambda case: case.question.id == "sensor",
    ),
    (
        Caution(
            "second_person",
            "Drive only where it is legal and safe; have somebody else watch the screen",
            "Nobody drives and reads.",
        ),
        lambda case: case.question.id == "symptom",
    ),
    (
        Caution(
            "insulation",
            "Close probed insulation again afterwards",
            "Water creeps in and the wire is gone in a year.",
        ),
        lambda case: any(lead.role in ("crank", "cam", "aux", "coil", "injector") for lead in case.leads),
    ),
)


def cautions_of(question: HookUpQuestion, leads: Sequence[Lead], profile: EngineProfile) -> tuple[Caution, ...]:
    """Every caution of this question with these leads, in the order in which they are done."""
    case = _Case(question, leads, profile)
    return tuple(caution for caution, applies in _RULES if applies(case))
