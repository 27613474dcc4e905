"""The channel plan: what goes on which channel for a question, and in which rounds where channels are few."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from phasko.core.documents.engine import Cam, EngineProfile
from phasko.core.documents.job import JobDocument
from phasko.core.hookup.cautions import Caution, cautions_of
from phasko.core.hookup.leads import (
    Lead,
    cam_lead,
    cams_with_phaser,
    clamp_lead,
    coil_lead,
    crank_lead,
    other_leads,
)
from phasko.core.hookup.questions import HookUpQuestion
from phasko.core.hookup.settings import Recording, recording_settings

__all__ = ["HookUpPlan", "Round", "hook_up_plan"]


@dataclass(frozen=True, slots=True)
class Round:
    """One recording of the plan: its leads, in the order of the channels."""

    leads: tuple[Lead, ...]


@dataclass(frozen=True, slots=True)
class HookUpPlan:
    """A hook-up for one question: rounds of leads, how to record, the engine's state in words, and the cautions.

    ``dropped``: what would help and has no channel, with why it can wait. ``cylinder``: the one whose coil, plug or
    injector is used.
    """

    question: HookUpQuestion
    channels: int
    cylinder: int
    rounds: tuple[Round, ...]
    dropped: tuple[str, ...]
    recording: Recording
    states: tuple[str, ...]
    cautions: tuple[Caution, ...]

    @property
    def leads(self) -> tuple[Lead, ...]:
        """Every lead of all rounds, each once."""
        return tuple({lead.key: lead for round_ in self.rounds for lead in round_.leads}.values())


def hook_up_plan(
    profile: EngineProfile, question: HookUpQuestion, channels: int, told: JobDocument, cylinder: int | None = None
) -> HookUpPlan:
    """The plan for ``channels`` channels (2 or more). ``cylinder``: the one to name at the coil or to feel; the first
    in firing order where it is not said.

    The common leads (the crank, nearly always) are in every round, so that all rounds share one clock; the others take
    turns where they do not fit.
    """
    named = cylinder if cylinder in profile.firing_tdc_deg else profile.firing_order[0]
    common, wanted, nice = _wanted(profile, question, named, told, channels)
    if question.id == "seal" and channels < 3:
        # Beside the clamp there is room for one: a coil names its cylinder alone, crank and cam only together.
        spark = profile.ignition is None or profile.ignition.type != "none"
        wanted = [coil_lead(profile, named)] if spark else wanted
    # A sweep keeps each cam with its solenoid: an odd channel stays free.
    fitting = channels if question.id != "sweep" or channels < 3 else 1 + 2 * ((channels - 1) // 2)
    rounds, left = _rounds(common, wanted, nice, fitting)
    every = tuple({lead.key: lead for round_ in rounds for lead in round_.leads}.values())
    return HookUpPlan(
        question=question,
        channels=channels,
        cylinder=named,
        rounds=rounds,
        dropped=tuple(f"{lead.name}: no channel left, the answer does not rest on it" for lead in left),
        recording=recording_settings(question, every, profile),
        states=_states(question, profile, told),
        cautions=cautions_of(question, every, profile),
    )


def _wanted(
    profile: EngineProfile, question: HookUpQuestion, cylinder: int, told: JobDocument, channels: int
) -> tuple[list[Lead], list[Lead], list[Lead]]:
    """Leads that every round needs, that the question needs, and that are nice to have."""
    turns = question.turns
    crank = crank_lead(profile, turns)
    cams = [cam_lead(cam, profile, turns) for cam in _cams_first(profile, told)]
    others = other_leads(profile, cylinder)
    aux = [lead for key, lead in others.items() if key.startswith("aux:")]
    with_spark = profile.ignition is None or profile.ignition.type != "none"
    coil = [coil_lead(profile, cylinder)] if with_spark else []
    by_question = {
        "timing": ([crank], [*cams, *aux], [clamp_lead(), *coil]),
        # The cam with the crank names the cylinders, else a coil.
        "seal": (
            [clamp_lead()],
            [crank, *cams[:1]] if cams else [crank, *coil],
            [others["battery_voltage"], *cams[1:]],
        ),
        "running": ([crank], [*cams, *aux], [*coil, others["oil_pressure"]]),
        "pressure": ([crank, others[f"pressure:{cylinder}"]], cams, [clamp_lead()]),
        "spark": ([crank], [*coil, *cams[:1]], [clamp_lead(), *cams[1:]]),
        "injector": ([crank], [others[f"injector:{cylinder}"], *cams[:1]], coil),
        "breathing": ([crank], [others["exhaust_pulse"], others["intake_pulse"], *cams[:1]], [clamp_lead(), *coil]),
        "sensor": ([], [crank, *cams[:1]], []),
        "sync": ([crank], [*cams[:1], *aux], coil),
        "symptom": ([crank], [*cams, *aux], []),
    }
    if question.id == "sweep":
        # One phaser after the other, each cam beside its own solenoid; on two channels the scan tool tells the command.
        pairs = [(cam_lead(cam, profile, turns), others[f"phaser:{cam.id}"]) for cam in cams_with_phaser(profile)]
        driven = pairs if channels > 2 else [(cam,) for cam, _ in pairs]
        return [crank], [lead for pair in driven for lead in pair], [others["oil_pressure"]]
    if question.id == "harness":
        far = [crank_lead(profile, turns, "control_unit")]
        far += [cam_lead(cam, profile, turns, "control_unit") for cam in _cams_first(profile, told)]
        return [], [lead for both in zip([crank, *cams], far, strict=True) for lead in both], list(aux)
    return by_question[question.id]


def _cams_first(profile: EngineProfile, told: JobDocument) -> list[Cam]:
    """The cams that the codes name come first, then one of every bank, so that few channels see the likeliest."""
    from_codes = {code.code[:5].upper() for code in told.codes}
    named = {cam.id for cam in profile.cams if _named_by(cam, from_codes)}
    seen: set[int] = set()
    order = []
    for cam in profile.cams:
        order.append((cam.id not in named, cam.bank in seen, cam))
        seen.add(cam.bank)
    return [cam for *_, cam in sorted(order, key=lambda one: one[:2])]


def _named_by(cam: Cam, codes: set[str]) -> bool:
    exhaust = cam.shaft == "exhaust"
    sensors = {(1, False): range(340, 345), (2, False): range(345, 350), (1, True): range(365, 370)}
    own = {f"P0{n}" for n in sensors.get((cam.bank, exhaust), range(390, 395))}
    own.add(f"P00{16 + 2 * (cam.bank - 1) + exhaust}")
    return bool(own & codes)


def _rounds(
    common: Sequence[Lead], wanted: Sequence[Lead], nice: Sequence[Lead], channels: int
) -> tuple[tuple[Round, ...], list[Lead]]:
    free = channels - len(common)
    if free <= 0:
        return (Round(tuple(common[:channels])),), [*wanted, *nice]
    parts = [list(wanted[i : i + free]) for i in range(0, len(wanted), free)] or [[]]
    left = list(nice)
    for part in parts:
        while left and len(common) + len(part) < channels:
            part.append(left.pop(0))
    return tuple(Round((*common, *part)[:channels]) for part in parts), left


def _states(question: HookUpQuestion, profile: EngineProfile, told: JobDocument) -> tuple[str, ...]:
    """In which state the engine has to be, in words."""
    when = set(told.complaint.when) if told.complaint is not None else set()
    said = []
    if question.turns != "bench":
        if {"cold", "hot"} <= when or not when & {"cold", "hot"}:
            said.append("Cold or hot as it is; note which. A reference is of the same state.")
        else:
            said.append(f"{'Hot' if 'hot' in when else 'Cold'}, since the symptom comes then.")
    if any(cam.phaser is not None for cam in profile.cams):
        said.append(
            "Phasers driven one by one."
            if question.id == "sweep"
            else "Phasers unplugged (it sets a code), so that every cam is at its park."
        )
    if question.turns == "cranking":
        said.append("Throttle open, the pedal held down: humps are of full size. Note it.")
        if question.id != "injector":
            said.append(_fuel(told))
        if question.id in ("spark", "seal") or question.id == "timing":
            said.append("Ignition stays connected, or its sparks go to earthed gaps: a coil may be the synchroniser.")
    if question.id == "symptom":
        said.append("The symptom has to be there: a quiet recording clears nothing.")
    if question.id == "harness":
        said.append("The same signal at the sensor and at the control unit: what differs lies between.")
    if question.id == "sensor":
        said.append("A magnet or a turning wheel moves before the sensor; its temperature is measured.")
    return tuple(said)


def _fuel(told: JobDocument) -> str:
    clear_flood = told.hook_up.clear_flood if told.hook_up is not None else "unknown"
    if clear_flood == "proved":
        return "Fuel off: the pedal held down cuts it on this car, proved."
    if clear_flood == "not_there":
        return "Fuel off: the pump's fuse or relay, or the injectors unplugged. The pedal does not cut it on this car."
    return (
        "Fuel off: the pump's fuse or relay, or the injectors unplugged. The pedal held down cuts it on many cars; not "
        "proved on this one, it may start."
    )
