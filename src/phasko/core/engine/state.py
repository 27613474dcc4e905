"""One physical state of the engine: everything that a fault can change. Explanations list states, evidence predicts
from them, and nothing else is compared."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from types import MappingProxyType
from typing import Literal

from phasko.core import numbers

__all__ = ["ALWAYS", "Condition", "EngineState", "SignalState", "StillValve", "When", "both"]

SignalState = Literal["lost", "erratic", "extra"]
StillValve = Literal["intake", "exhaust"]
When = Literal["always", "cold", "hot", "cranking", "running", "connected", "swept"]
"""In which condition something that comes and goes is there; ``connected``: unless the phasers are unplugged;
``swept``: only after it was driven."""

_NO_SHIFTS: Mapping[str, float] = MappingProxyType({})
_NO_CYLINDERS: Mapping[int, float] = MappingProxyType({})
_NO_VALVES: Mapping[int, StillValve] = MappingProxyType({})
_NO_SIGNALS: Mapping[str, SignalState] = MappingProxyType({})


@dataclass(frozen=True, slots=True)
class Condition:
    """The condition in which something was observed."""

    turning: Literal["cranking", "running"] = "cranking"
    temperature: Literal["cold", "hot", "unknown"] = "unknown"
    phasers: str = "unknown"
    symptom: Literal["present", "absent", "unknown"] = "unknown"


ALWAYS = Condition()


@dataclass(frozen=True, slots=True)
class EngineState:
    """Displacements in crank degrees, late positive; what is not named is as the profile says.

    ``valves_deg``: a cam and its valves on the timing drive. ``sprocket_deg``: the sprocket on the crank, and with it
    all cams; ``hub_deg``: sprocket and signal wheel together. ``cam_signals_deg``: a cam's signal against its own cam;
    ``crank_wheel_deg``: the crank's signal wheel or sensor. ``spark_deg``: the spark against the crank's signal.
    ``cams_turn``: the drive turns the cams at all. ``readings_deg``: every cam reading, for a reason that is not in
    the engine. ``phaser_deg``: where a phaser rests from its park position, in the condition ``phaser_when``.
    ``poor_phasers``: cams whose phasers rest where they should and follow no command, or slowly, or not all the way.
    ``slack_deg``: how late a slack tensioner leaves cams, in the condition ``slack_when``. ``elongation_percent`` of
    the chain; its lateness stands in ``valves_deg`` too. ``worn``: a drive that has jumped or was put together wrong.

    ``seal``: share of its healthy compression that a cylinder's own seal leaves; ``seal_of_all`` of every one.
    ``still``: a valve that does not open; ``worn_lobes``: one that opens late and closes early. ``exhaust_blocked``,
    ``intake_blocked``: share of the way. ``signals``: the health of a sensor's signal by ``crank`` or cam.
    ``only_with_symptom``: what comes and goes is not there while the car behaves. ``outside``: something that none of
    these fields holds, such as fuel.

    What a state leaves open, as standard deviations: ``unknown_common_sd_deg`` all cam readings together,
    ``unknown_index_sd_deg`` the wheel's index with all edges counted from it, ``unknown_cam_sd_deg`` each cam,
    ``unknown_valves_sd_deg`` some cams with their valves, ``unknown_spacing_sd_deg`` the spacing of edges,
    ``unknown_size_sd`` the compression of all cylinders together, ``unknown_seal_sd`` of each.
    """

    valves_deg: Mapping[str, float] = field(default_factory=lambda: _NO_SHIFTS)
    cam_signals_deg: Mapping[str, float] = field(default_factory=lambda: _NO_SHIFTS)
    sprocket_deg: float = 0.0
    hub_deg: float = 0.0
    crank_wheel_deg: float = 0.0
    spark_deg: float = 0.0
    cams_turn: bool = True
    readings_deg: float = 0.0
    phaser_deg: Mapping[str, float] = field(default_factory=lambda: _NO_SHIFTS)
    phaser_when: When = "always"
    poor_phasers: frozenset[str] = frozenset()
    slack_deg: Mapping[str, float] = field(default_factory=lambda: _NO_SHIFTS)
    slack_when: When = "always"
    elongation_percent: float = 0.0
    worn: bool = False
    seal: Mapping[int, float] = field(default_factory=lambda: _NO_CYLINDERS)
    seal_of_all: float = 1.0
    still: Mapping[int, StillValve] = field(default_factory=lambda: _NO_VALVES)
    worn_lobes: Mapping[int, StillValve] = field(default_factory=lambda: _NO_VALVES)
    exhaust_blocked: float = 0.0
    intake_blocked: float = 0.0
    signals: Mapping[str, SignalState] = field(default_factory=lambda: _NO_SIGNALS)
    only_with_symptom: bool = False
    outside: bool = False
    unknown_common_sd_deg: float = 0.0
    unknown_index_sd_deg: float = 0.0
    unknown_cam_sd_deg: float = 0.0
    unknown_valves_sd_deg: Mapping[str, float] = field(default_factory=lambda: _NO_SHIFTS)
    unknown_spacing_sd_deg: float = 0.0
    unknown_size_sd: float = 0.0
    unknown_seal_sd: float = 0.0

    def valves_of(self, cam: str, condition: Condition = ALWAYS) -> float:
        """How late that cam's valves are against the pistons in that condition (deg)."""
        held = self.valves_deg.get(cam, 0.0) + self.sprocket_deg + self.hub_deg
        if not self.phaser_deg and not self.slack_deg:
            return held
        return held + self.coming_and_going_deg(cam, condition)[0]

    def coming_and_going_deg(self, cam: str, condition: Condition) -> tuple[float, float]:
        """(mean, standard deviation) of what a phaser or a slack tensioner adds to that cam (deg). Where nobody noted
        the condition it may or may not be there."""
        if self.only_with_symptom and condition.symptom == "absent":
            return 0.0, 0.0
        parts = (
            (self.phaser_deg.get(cam, 0.0), _share(self.phaser_when, condition)),
            (self.slack_deg.get(cam, 0.0), _share(self.slack_when, condition)),
        )
        mean = sum(size * share for size, share in parts)
        variance = sum(size * size * share * (1.0 - share) for size, share in parts)
        return mean, variance**0.5

    def reading_of(self, cam: str, condition: Condition = ALWAYS) -> float:
        """How late that cam's signal reads against the crank's signal in that condition (deg)."""
        return (
            self.valves_of(cam, condition)
            + self.cam_signals_deg.get(cam, 0.0)
            - self.hub_deg
            - self.crank_wheel_deg
            + self.readings_deg
        )

    def signal_of(self, signal: str, condition: Condition) -> SignalState | None:
        """What is wrong with that signal in that condition; ``None``: nothing."""
        if self.only_with_symptom and condition.symptom == "absent":
            return None
        return self.signals.get(signal)

    def out_of_step(self, cams: tuple[str, ...], condition: Condition = ALWAYS, whole: tuple[str, ...] = ()) -> bool:
        """Whether crank and cam signals are so far apart, or so poor, that a control unit may withhold spark. Signals
        that were measured ``whole`` are not poor."""
        least = numbers.OUT_OF_STEP_DEG.value
        return (
            not self.cams_turn
            or any(signal not in whole for signal in self.signals)
            or any(abs(self.reading_of(cam, condition)) >= least for cam in cams)
        )


def _share(when: When, condition: Condition) -> float:
    """How surely something that is there ``when`` is there in a condition."""
    if when == "always":
        return 1.0
    if when == "connected":
        return 0.0 if condition.phasers in ("unplugged", "parked") else 1.0
    if when == "swept":
        return float(condition.phasers == "swept")
    if when in ("cold", "hot"):
        return 0.5 if condition.temperature == "unknown" else float(condition.temperature == when)
    return float(condition.turning == when)


def both(first: EngineState, second: EngineState) -> EngineState:
    """An engine with both faults: shifts add, seals multiply, what either leaves open stays open."""
    one = first if first.phaser_deg or first.slack_deg else second
    return EngineState(
        valves_deg=_summed(first.valves_deg, second.valves_deg),
        cam_signals_deg=_summed(first.cam_signals_deg, second.cam_signals_deg),
        sprocket_deg=first.sprocket_deg + second.sprocket_deg,
        hub_deg=first.hub_deg + second.hub_deg,
        crank_wheel_deg=first.crank_wheel_deg + second.crank_wheel_deg,
        spark_deg=first.spark_deg + second.spark_deg,
        cams_turn=first.cams_turn and second.cams_turn,
        readings_deg=first.readings_deg + second.readings_deg,
        phaser_deg=_summed(first.phaser_deg, second.phaser_deg),
        phaser_when=one.phaser_when,
        poor_phasers=first.poor_phasers | second.poor_phasers,
        slack_deg=_summed(first.slack_deg, second.slack_deg),
        slack_when=one.slack_when,
        elongation_percent=first.elongation_percent + second.elongation_percent,
        worn=first.worn or second.worn,
        seal={**first.seal, **{c: s * first.seal.get(c, 1.0) for c, s in second.seal.items()}},
        seal_of_all=first.seal_of_all * second.seal_of_all,
        still={**first.still, **second.still},
        worn_lobes={**first.worn_lobes, **second.worn_lobes},
        exhaust_blocked=max(first.exhaust_blocked, second.exhaust_blocked),
        intake_blocked=max(first.intake_blocked, second.intake_blocked),
        signals={**first.signals, **second.signals},
        only_with_symptom=first.only_with_symptom or second.only_with_symptom,
        outside=first.outside or second.outside,
        unknown_common_sd_deg=max(first.unknown_common_sd_deg, second.unknown_common_sd_deg),
        unknown_index_sd_deg=max(first.unknown_index_sd_deg, second.unknown_index_sd_deg),
        unknown_cam_sd_deg=max(first.unknown_cam_sd_deg, second.unknown_cam_sd_deg),
        unknown_valves_sd_deg={**first.unknown_valves_sd_deg, **second.unknown_valves_sd_deg},
        unknown_spacing_sd_deg=max(first.unknown_spacing_sd_deg, second.unknown_spacing_sd_deg),
        unknown_size_sd=max(first.unknown_size_sd, second.unknown_size_sd),
        unknown_seal_sd=max(first.unknown_seal_sd, second.unknown_seal_sd),
    )


def _summed(first: Mapping[str, float], second: Mapping[str, float]) -> Mapping[str, float]:
    if not first or not second:
        return first or second
    return {cam: first.get(cam, 0.0) + second.get(cam, 0.0) for cam in {**first, **second}}
