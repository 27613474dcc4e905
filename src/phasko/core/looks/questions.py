"""The list of things to look at and listen to, in the order in which they are done, with the weight of every answer.

A weight is two chances: that an engine with such a fault shows the answer, and that any other engine does. All are
common practice without a published source, set by what the trade says of them: a hand pushed back at the throttle is
strong, an even rhythm proves nothing, slack felt by hand weighs nothing.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

from phasko.core import numbers

__all__ = ["QUESTIONS", "Answer", "Group", "Question", "Speaks", "chances", "question"]

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
    "a blocked exhaust",
    "a blocked intake",
    "a fault outside this list, such as fuel",
    "a part fitted wrong",
    "a drive put together wrong",
    "nothing",
]
"""What an answer speaks about. ``weight.py`` says which explanations those are."""


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
    """``unit``: a reading instead of an answer, judged against the others of the engine or the limit. ``second_kind``:
    it has seen marks or valves themselves, so that it can be the second kind of evidence that opens the covers."""

    id: str
    title: str
    how: str
    group: Group
    answers: tuple[Answer, ...] = field(default=())
    per_cylinder: bool = False
    unit: str | None = None
    most: float | None = None
    second_kind: bool = False
    caution: str = ""


def chances(answer: str) -> tuple[float, float]:
    """(chance where what it speaks about holds, chance otherwise) from the table of numbers."""
    shown, otherwise = numbers.LOOK_CHANCES[answer]
    return shown.value, otherwise.value


QUESTIONS: tuple[Question, ...] = (
    Question(
        "wiring",
        "Wiring and plugs",
        "Melted or chafed loom, loose connectors, cracked coils. Repair what is damaged, then test again.",
        "look",
        (
            Answer("good", "Good", "a sensor or its wiring", *chances("wiring.good")),
            Answer("damaged", "Damaged", "a sensor or its wiring", *chances("wiring.damaged")),
            Answer("repaired", "Repaired now", "nothing", *chances("wiring.repaired")),
        ),
    ),
    Question(
        "oil",
        "Oil",
        "Level and state on the dipstick and in the filler.",
        "look",
        (
            Answer("good", "Good", "a worn timing drive", *chances("oil.good")),
            Answer("low", "Low", "a worn timing drive", *chances("oil.low")),
            Answer("sludged", "Sludged", "a worn timing drive", *chances("oil.sludged")),
        ),
    ),
    Question(
        "replaced",
        "What was replaced",
        "Look for new parts yourself. Fitted just before the symptom: the first suspect. Fitted in vain: a later one.",
        "look",
        (
            Answer("nothing", "Nothing", "a part fitted wrong", *chances("replaced.nothing")),
            Answer("sensor_before", "Sensor, just before", "a part fitted wrong", *chances("replaced.sensor_before")),
            Answer(
                "drive_before",
                "Chain, belt or cam, just before",
                "a drive put together wrong",
                *chances("replaced.drive_before"),
            ),
            Answer("sensor_in_vain", "Sensor, in vain", "a sensor or its wiring", *chances("replaced.sensor_in_vain")),
        ),
    ),
    Question(
        "rhythm",
        "Rhythm while cranking",
        "Listen with the pedal down. An even rhythm proves nothing: every second cylinder dead sounds even.",
        "listen",
        (
            Answer("even", "Even", "one weak cylinder", *chances("rhythm.even")),
            Answer("uneven", "Uneven", "one weak cylinder", *chances("rhythm.uneven")),
        ),
        caution="Clear-flood cranking: prove it on this car, the engine may start. Bursts of ten seconds or less.",
    ),
    Question(
        "rattle",
        "Rattle",
        "Chain or phaser at the start, within the first seconds.",
        "listen",
        (
            Answer("none", "None", "a worn timing drive", *chances("rattle.none")),
            Answer("at_start", "At the start", "a worn timing drive", *chances("rattle.at_start")),
            Answer("always", "Always", "a worn timing drive", *chances("rattle.always")),
        ),
    ),
    Question(
        "throttle_hand",
        "Hand over the throttle",
        "While somebody cranks. A healthy engine pulls; one that pushes back has its valves far out of time.",
        "hand",
        (
            Answer("pulls", "Pulls", "valves far out of time", *chances("throttle_hand.pulls")),
            Answer("pushes_back", "Pushes back", "valves far out of time", *chances("throttle_hand.pushes_back")),
            Answer("neither", "Neither", "valves far out of time", *chances("throttle_hand.neither")),
        ),
        caution="Hands, leads and sleeves clear of belts and fans; the engine may start and may spit back.",
    ),
    Question(
        "spark",
        "Spark",
        "With an earthed spark tester, through the whole crank. None may be an answer of the control unit.",
        "hand",
        (
            Answer("present", "All the time", "signals that do not agree", *chances("spark.present")),
            Answer("stops", "Stops", "signals that do not agree", *chances("spark.stops")),
            Answer("absent", "None", "signals that do not agree", *chances("spark.absent")),
        ),
        caution="Ignition secondary is tens of kilovolts: tester earthed, no bare probes, no fuel about.",
    ),
    Question(
        "injector",
        "Injector pulse",
        "Test light or clamp at one injector.",
        "hand",
        (
            Answer("present", "Present", "signals that do not agree", *chances("injector.present")),
            Answer("absent", "None", "signals that do not agree", *chances("injector.absent")),
        ),
    ),
    Question(
        "fuel_by_hand",
        "Fuel given by hand",
        "A little into the manifold. No reaction at all: not a fuel fault.",
        "hand",
        (
            Answer("reacts", "It catches", "a fault outside this list, such as fuel", *chances("fuel_by_hand.reacts")),
            Answer(
                "nothing", "No reaction", "a fault outside this list, such as fuel", *chances("fuel_by_hand.nothing")
            ),
        ),
        caution="Very little, away from sparks and hot parts; extinguisher at hand.",
    ),
    Question(
        "exhaust_opened",
        "Exhaust opened",
        "Take a sensor out before the catalyst and try again.",
        "hand",
        (
            Answer("same", "The same", "a blocked exhaust", *chances("exhaust_opened.same")),
            Answer("better", "Better", "a blocked exhaust", *chances("exhaust_opened.better")),
        ),
        caution="Hot exhaust; extraction indoors.",
    ),
    Question(
        "intake_opened",
        "Intake opened",
        "Air filter out, duct off, and try again.",
        "hand",
        (
            Answer("same", "The same", "a blocked intake", *chances("intake_opened.same")),
            Answer("better", "Better", "a blocked intake", *chances("intake_opened.better")),
        ),
    ),
    Question(
        "slack",
        "Slack felt by hand",
        "It changes with the place of the crank and proves nothing; noted without weight.",
        "hand",
        (
            Answer("none", "None", "nothing", *chances("slack.none")),
            Answer("felt", "Felt", "nothing", *chances("slack.felt")),
        ),
    ),
    Question(
        "fuel_pressure",
        "Fuel pressure",
        "Against the maker's figure.",
        "gauge",
        (
            Answer("right", "Right", "a fault outside this list, such as fuel", *chances("fuel_pressure.right")),
            Answer("low", "Low", "a fault outside this list, such as fuel", *chances("fuel_pressure.low")),
        ),
        caution="Let the pressure off before opening a line; spray kept from sparks, extinguisher at hand.",
    ),
    Question(
        "gauge",
        "Compression gauge",
        "All plugs out, throttle open, fuel and ignition off; every cylinder alike.",
        "gauge",
        per_cylinder=True,
        unit="bar",
        most=80.0,
        caution="Fuel disabled. Hands clear of plug holes.",
    ),
    Question(
        "leak_down",
        "Leak-down",
        "On the cylinder's own TDC; listen at intake, exhaust, filler and radiator.",
        "gauge",
        per_cylinder=True,
        unit="%",
        most=100.0,
        caution="Air may turn the engine: nobody's tool on the crank, gear out.",
    ),
    Question(
        "valve_moves",
        "Valve seen moving",
        "Through the filler, a cover or a borescope, while the crank is turned by hand or starter.",
        "cover",
        (
            Answer("moves", "Moves", "a valve fault in that cylinder", *chances("valve_moves.moves")),
            Answer("still", "Stands still", "a valve fault in that cylinder", *chances("valve_moves.still")),
        ),
        per_cylinder=True,
        second_kind=True,
    ),
    Question(
        "marks",
        "Timing marks",
        "Through the filler or under a light cover, with the crank on its own mark. An alignment tool that will not "
        "fit is a look too.",
        "cover",
        (
            Answer("true", "True", "valves out of time", *chances("marks.true")),
            Answer("out", "Out", "valves out of time", *chances("marks.out")),
        ),
        second_kind=True,
        caution="Turn the engine by hand only, in its running direction.",
    ),
    Question(
        "tensioner",
        "Tensioner travel",
        "Through its opening or with a dummy plunger.",
        "cover",
        (
            Answer("usual", "Usual", "a long chain", *chances("tensioner.usual")),
            Answer("far_out", "Far out", "a long chain", *chances("tensioner.far_out")),
        ),
    ),
)


def question(question_id: str) -> Question | None:
    """The question of that id, or ``None``."""
    return next((asked for asked in QUESTIONS if asked.id == question_id), None)
