"""The list of things to look at and listen to, in the order in which they are done, with the weight of every answer.

A weight is two chances: that an engine with what the answer speaks about shows it, and that any other engine does. All
are common practice without a published source, set by what the trade says of them: a hand pushed back at the throttle
is strong, an even rhythm proves nothing, slack felt by hand weighs nothing.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

from phasko.core import numbers
from phasko.core.documents.engine import EngineProfile

__all__ = ["QUESTIONS", "Answer", "Group", "Question", "Speaks", "asked_of", "chances", "question"]

Group = Literal["look", "listen", "hand", "gauge", "cover"]

Speaks = Literal[
    "valves out of time",
    "valves far out of time",
    "a worn timing drive",
    "a long chain",
    "a sensor or its wiring",
    "signals that do not agree",
    "one weak cylinder",
    "a leak in that cylinder",
    "a valve fault in that cylinder",
    "a cylinder that does not burn",
    "valves that met pistons",
    "a blocked exhaust",
    "a blocked intake",
    "a phaser driven wrong",
    "a moved crank wheel",
    "a moved cam target",
    "a fault outside this list, such as fuel",
    "a fault outside this list, such as a coil",
    "a part fitted wrong",
    "a drive put together wrong",
    "nothing",
]
"""What an answer speaks about; the evidence says of which states of the engine that is true."""


@dataclass(frozen=True, slots=True)
class Answer:
    """One answer: the chance that an engine with what it ``speaks`` about shows it, and that another one does."""

    id: str
    title: str
    speaks: Speaks
    chance: float
    otherwise: float


@dataclass(frozen=True, slots=True)
class Question:
    """``unit``: a reading instead of an answer. ``second_kind``: it has seen marks, valves or wheels themselves, so
    that it can be the second kind of evidence that opens the covers. ``per_cam``: it may name the cam. ``cranks``: the
    starter turns the engine for it, or it runs. ``with_spark``: not asked of an engine without ignition."""

    id: str
    title: str
    how: str
    group: Group
    answers: tuple[Answer, ...] = field(default=())
    per_cylinder: bool = False
    per_cam: bool = False
    unit: str | None = None
    most: float | None = None
    second_kind: bool = False
    cranks: bool = False
    with_spark: bool = False
    caution: str = ""


def chances(answer: str) -> tuple[float, float]:
    """(chance where what it speaks about holds, chance otherwise) from the table of numbers."""
    shown, otherwise = numbers.LOOK_CHANCES[answer]
    return shown.value, otherwise.value


def _answers(question_id: str, speaks: Speaks, *given: tuple[str, str]) -> tuple[Answer, ...]:
    """Answers (id, title) that all speak about the same thing."""
    return tuple(Answer(id_, title, speaks, *chances(f"{question_id}.{id_}")) for id_, title in given)


def _replaced() -> tuple[Answer, ...]:
    return (
        *_answers("replaced", "a part fitted wrong", ("nothing", "Nothing"), ("sensor_before", "Sensor, just before")),
        *_answers("replaced", "a drive put together wrong", ("drive_before", "Chain, belt or cam, just before")),
        *_answers("replaced", "a sensor or its wiring", ("sensor_in_vain", "Sensor, in vain")),
    )


QUESTIONS: tuple[Question, ...] = (
    Question(
        "wiring",
        "Wiring and plugs",
        "Melted or chafed loom, loose connectors, cracked coils. Repair what is damaged, then test again.",
        "look",
        (
            *_answers("wiring", "a sensor or its wiring", ("good", "Good"), ("damaged", "Damaged")),
            *_answers("wiring", "nothing", ("repaired", "Repaired now")),
        ),
    ),
    Question(
        "oil",
        "Oil",
        "Level and state on the dipstick and in the filler.",
        "look",
        _answers("oil", "a worn timing drive", ("good", "Good"), ("low", "Low"), ("sludged", "Sludged")),
    ),
    Question(
        "replaced",
        "What was replaced",
        "Look for new parts yourself. Fitted just before the symptom: the first suspect. Fitted in vain: a later one.",
        "look",
        _replaced(),
    ),
    Question(
        "plug",
        "Plug's face",
        "Each plug laid out in order. A crushed electrode has met a piston or a valve.",
        "look",
        (
            *_answers("plug", "nothing", ("usual", "Usual")),
            *_answers("plug", "valves that met pistons", ("crushed", "Crushed")),
            *_answers("plug", "a cylinder that does not burn", ("wet", "Wet")),
            *_answers("plug", "a leak in that cylinder", ("oiled", "Oiled")),
        ),
        per_cylinder=True,
        with_spark=True,
        caution="Engine cool; let nothing fall into the hole.",
    ),
    Question(
        "rhythm",
        "Rhythm while cranking",
        "Listen with the pedal down. An even rhythm proves nothing: every second cylinder dead sounds even.",
        "listen",
        _answers("rhythm", "one weak cylinder", ("even", "Even"), ("uneven", "Uneven")),
        cranks=True,
        caution="Clear-flood cranking: prove it on this car, the engine may start. Bursts of ten seconds or less.",
    ),
    Question(
        "rattle",
        "Rattle",
        "Chain or phaser at the start, within the first seconds.",
        "listen",
        _answers("rattle", "a worn timing drive", ("none", "None"), ("at_start", "At the start"), ("always", "Always")),
        cranks=True,
    ),
    Question(
        "throttle_hand",
        "Hand over the throttle",
        "While somebody cranks. A healthy engine pulls; one that pushes back has its valves far out of time, or a "
        "blocked exhaust, or an intake valve that leaks.",
        "hand",
        _answers(
            "throttle_hand",
            "valves far out of time",
            ("pulls", "Pulls"),
            ("pushes_back", "Pushes back"),
            ("neither", "Neither"),
        ),
        cranks=True,
        caution="Keep hands, leads and sleeves clear of belts and fans; the engine may start and may spit back.",
    ),
    Question(
        "spark",
        "Spark",
        "With an earthed spark tester, through the whole crank. None may be an answer of the control unit.",
        "hand",
        (
            *_answers("spark", "signals that do not agree", ("present", "All the time")),
            *_answers("spark", "a fault outside this list, such as a coil", ("weak", "Weak")),
            *_answers("spark", "signals that do not agree", ("stops", "Stops"), ("absent", "None")),
        ),
        cranks=True,
        with_spark=True,
        caution="The secondary has tens of kilovolts: earth the tester, use no bare probe, keep fuel away.",
    ),
    Question(
        "injector",
        "Injector pulse",
        "Test light or clamp at one injector. None may be an answer of the control unit.",
        "hand",
        _answers("injector", "signals that do not agree", ("present", "Present"), ("absent", "None")),
        cranks=True,
    ),
    Question(
        "fuel_by_hand",
        "Fuel given by hand",
        "A little into the manifold, behind the air meter. No reaction at all: not a fuel fault.",
        "hand",
        _answers(
            "fuel_by_hand",
            "a fault outside this list, such as fuel",
            ("reacts", "It catches"),
            ("nothing", "No reaction"),
        ),
        cranks=True,
        with_spark=True,
        caution="Very little, away from sparks and hot parts; extinguisher at hand. Never with glow plugs.",
    ),
    Question(
        "exhaust_opened",
        "Exhaust opened",
        "Take a sensor out before the catalyst and try again.",
        "hand",
        _answers("exhaust_opened", "a blocked exhaust", ("same", "The same"), ("better", "Better")),
        cranks=True,
        caution="Hot exhaust; extraction indoors.",
    ),
    Question(
        "intake_opened",
        "Intake opened",
        "Air filter out, duct off, and try again.",
        "hand",
        _answers("intake_opened", "a blocked intake", ("same", "The same"), ("better", "Better")),
        cranks=True,
    ),
    Question(
        "solenoid_swapped",
        "Solenoids swapped",
        "Change the solenoids of two cams over, and see whether the fault moves with it.",
        "hand",
        _answers("solenoid_swapped", "a phaser driven wrong", ("stayed", "Stayed"), ("moved", "Moved")),
        cranks=True,
    ),
    Question(
        "coil_swapped",
        "Coils swapped",
        "Change two coils over, and see whether the misfire moves with it.",
        "hand",
        _answers("coil_swapped", "a fault outside this list, such as a coil", ("stayed", "Stayed"), ("moved", "Moved")),
        cranks=True,
        with_spark=True,
        caution="Ignition off while leads are changed.",
    ),
    Question(
        "cold_strategy",
        "Cold strategy forced",
        "The coolant sensor unplugged, and started again: the control unit starts as if it were ice cold.",
        "hand",
        _answers("cold_strategy", "signals that do not agree", ("same", "The same"), ("starts", "It starts now")),
        cranks=True,
        caution="It sets a code; clear it afterwards. The engine may start.",
    ),
    Question(
        "sensor_unplugged",
        "Cam sensor unplugged",
        "Started again without the cam's signal: some engines start without one, and not with a wrong one.",
        "hand",
        _answers("sensor_unplugged", "signals that do not agree", ("same", "The same"), ("better", "Better")),
        cranks=True,
        caution="It sets a code; clear it afterwards. The engine may start.",
    ),
    Question(
        "turns_by_hand",
        "Crank turned by hand",
        "Two full turns with a bar on the crank bolt, plugs out, in the running direction. Stop where it locks.",
        "hand",
        _answers("turns_by_hand", "valves that met pistons", ("turns", "Turns"), ("locks", "Locks")),
        caution="Never force it: what locks may be a valve on a piston. Battery off.",
    ),
    Question(
        "slack",
        "Slack felt by hand",
        "It changes with the place of the crank and proves nothing; noted without weight.",
        "hand",
        _answers("slack", "nothing", ("none", "None"), ("felt", "Felt")),
    ),
    Question(
        "fuel_pressure",
        "Fuel pressure",
        "Against the maker's figure.",
        "gauge",
        _answers("fuel_pressure", "a fault outside this list, such as fuel", ("right", "Right"), ("low", "Low")),
        caution="Let the pressure off before opening a line; spray kept from sparks, extinguisher at hand.",
    ),
    Question(
        "sensor_wires",
        "Meter at the sensor's wires",
        "Key on: supply against the maker's figure; key off and the networks asleep: ground by continuity.",
        "gauge",
        _answers(
            "sensor_wires",
            "a sensor or its wiring",
            ("right", "Right"),
            ("supply_missing", "No supply"),
            ("ground_missing", "No ground"),
        ),
    ),
    Question(
        "solenoid_resistance",
        "Solenoid's resistance",
        "Unplugged, against the maker's figure or its neighbour.",
        "gauge",
        _answers("solenoid_resistance", "a phaser driven wrong", ("right", "Right"), ("off", "Off")),
    ),
    Question(
        "gauge",
        "Compression gauge",
        "All plugs out, throttle open, fuel and ignition off; every cylinder alike.",
        "gauge",
        per_cylinder=True,
        unit="bar",
        most=80.0,
        cranks=True,
        caution="Turn the fuel off. Keep hands clear of plug holes.",
    ),
    Question(
        "leak_down",
        "Leak-down",
        "Put the cylinder on its own TDC; listen at intake, exhaust, filler and radiator.",
        "gauge",
        per_cylinder=True,
        unit="%",
        most=100.0,
        caution="Air may turn the engine: take the gear out, leave no tool on the crank.",
    ),
    Question(
        "manifold",
        "Manifold pressure while cranking",
        "Absolute, at a port that all cylinders share. In time it lies below the outside; above it, it pushes.",
        "gauge",
        unit="bar",
        most=3.0,
        cranks=True,
        caution="The engine may start and may spit back.",
    ),
    Question(
        "valve_moves",
        "Valve seen moving",
        "Through the filler, a cover or a borescope, while the crank is turned by hand. Only by the starter with hands "
        "clear.",
        "cover",
        _answers("valve_moves", "a valve fault in that cylinder", ("moves", "Moves"), ("still", "Stands still")),
        per_cylinder=True,
        second_kind=True,
    ),
    Question(
        "borescope",
        "Borescope",
        "Crown and valves of each cylinder through the plug hole.",
        "cover",
        _answers(
            "borescope",
            "valves that met pistons",
            ("clean", "Clean"),
            ("marked", "Crown marked"),
            ("bent_valve", "Bent valve"),
        ),
        per_cylinder=True,
        second_kind=True,
    ),
    Question(
        "marks",
        "Timing marks",
        "Through the filler or under a light cover, with the crank on its own mark, better with a piston proved at "
        "TDC. Through a filler hole about 4° of the cam can be told, 8° of the crank. An alignment tool that will not "
        "fit is a look too.",
        "cover",
        _answers("marks", "valves out of time", ("true", "True"), ("out", "Out")),
        per_cam=True,
        second_kind=True,
        caution="Turn the engine by hand only, in its running direction.",
    ),
    Question(
        "crank_wheel",
        "Crank's signal wheel",
        "Bent bracket, loose sensor, a wheel that has turned on its hub or was fitted anew: look, and feel for play.",
        "cover",
        _answers("crank_wheel", "a moved crank wheel", ("sits_right", "Sits right"), ("moved", "Moved")),
        second_kind=True,
    ),
    Question(
        "cam_target",
        "Cam's signal wheel",
        "A target turned on its cam, a bent or wrong sensor, a spacer left out: look through the sensor's hole.",
        "cover",
        _answers("cam_target", "a moved cam target", ("sits_right", "Sits right"), ("moved", "Moved")),
        per_cam=True,
        second_kind=True,
    ),
    Question(
        "tensioner",
        "Tensioner travel",
        "Through its opening or with a dummy plunger. Taking the tensioner out can make the chain jump.",
        "cover",
        _answers("tensioner", "a long chain", ("usual", "Usual"), ("far_out", "Far out")),
        caution="A tensioner that releases lets the chain jump: crank held, cams not moved, the maker's procedure.",
    ),
)

_BY_ID = {asked.id: asked for asked in QUESTIONS}


def question(question_id: str) -> Question | None:
    """The question of that id, or ``None``."""
    return _BY_ID.get(question_id)


def asked_of(asked: Question, profile: EngineProfile) -> bool:
    """Whether that question makes sense on this engine: a diesel is not asked for spark, nor for fuel by hand."""
    sparks = profile.ignition is None or profile.ignition.type != "none"
    if asked.id in ("solenoid_swapped", "solenoid_resistance"):
        return any(cam.phaser for cam in profile.cams)
    return sparks or not asked.with_spark
