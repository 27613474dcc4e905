"""Lessons in the order of the trade: one picture each, read by hand with the rulers, answered in numbers."""

from __future__ import annotations

from dataclasses import dataclass

from phasko.core.practice.marking import Asked

__all__ = ["LESSONS", "Lesson", "lesson"]


@dataclass(frozen=True, slots=True)
class Lesson:
    """One lesson. ``text``: what to know, in paragraphs; ``how``: what to do with the rulers, in steps; ``trap``: the
    mistake that it is about; ``asked``: the numbers; ``after``: what is told once they are marked. Words in braces are
    filled in with what belongs to the engine of the day."""

    id: str
    title: str
    topic: str
    trap: str
    text: tuple[str, ...]
    how: tuple[str, ...]
    asked: tuple[Asked, ...]
    after: str


LESSONS: tuple[Lesson, ...] = (
    Lesson(
        id="humps",
        title="Count the humps in 720 degrees",
        topic="humps",
        trap="An even rhythm over a dead bank.",
        text=(
            "Each hump of the starter's current is one cylinder on compression. A cycle is two turns of the crank, "
            "720 degrees: there are as many humps as cylinders.",
            "An even rhythm proves nothing. Where every second cylinder in firing order is dead, the humps are as "
            "even as before, and only half as many.",
        ),
        how=(
            "Find two gaps of the crank signal that are two turns apart: one ruler on each.",
            "Count the humps of the current between the rulers.",
            "Compare with the cylinders of this engine: {cylinders}.",
        ),
        asked=(
            Asked("humps", "Humps in 720 degrees", "", 0.0),
            Asked("missing", "Humps that are missing", "", 0.0),
        ),
        after="A bank whose cams stand still compresses nothing. The ear hears an even rhythm, the count tells.",
    ),
    Lesson(
        id="wasted_spark",
        title="How often does this coil fire?",
        topic="humps",
        trap="A wasted spark taken for a whole cycle.",
        text=(
            "Two firings of a coil are a cycle apart only where it fires once per cycle. A wasted spark fires every "
            "turn; then everything counted between two sparks is half a cycle.",
            "So the interval is proved first, on the crank's own wheel.",
        ),
        how=(
            "One ruler on a spark, the other on the next one of the same coil.",
            "Read the degrees between them, or count gaps of the crank signal.",
            "Count the humps of the current between the same rulers.",
        ),
        asked=(
            Asked("interval", "Crank degrees between two sparks", "°", 12.0),
            Asked("humps", "Humps between two sparks", "", 0.0),
            Asked("cycle", "Humps in a whole cycle", "", 0.0),
        ),
        after="Half the humps between two sparks of a wasted-spark coil: not half the cylinders dead.",
    ),
    Lesson(
        id="weak_cylinder",
        title="Which cylinder is the low hump?",
        topic="weak_cylinder",
        trap="The hump after the spark is not yet the cylinder that fired.",
        text=(
            "A weak cylinder is low each time its turn comes. To name it one walks the firing order from a cylinder "
            "that is known: here the coil of cylinder 1 fires once per cycle, near its own top.",
            "The firing order of this engine is {firing_order}.",
        ),
        how=(
            "One ruler on a spark of cylinder 1: the hump at it is cylinder 1.",
            "Walk on hump by hump, in firing order, to the low one.",
            "Look at the next cycle: it must be low again.",
        ),
        asked=(
            Asked("steps", "Humps from that of cylinder 1 to the low one", "", 0.0),
            Asked("cylinder", "Cylinder of the low hump", "", 0.0),
        ),
        after="What does not repeat every cycle is noise; what does is a cylinder.",
    ),
    Lesson(
        id="clamp",
        title="The clamp that was not zeroed",
        topic="weak_cylinder",
        trap="A clamp off its zero makes every hump look large, or small.",
        text=(
            "Before the starter turns, no current flows through it. What the clamp reads then is its own error, and "
            "it is in every reading after it.",
        ),
        how=(
            "Read the current in the stretch before the starter turns.",
            "Read a hump's top and the valley after it, somewhere in the settled middle.",
            "Take the error off.",
        ),
        asked=(
            Asked("zero", "What the clamp reads at rest", "A", 4.0),
            Asked("mean", "Mean current of the settled cranking, the error taken off", "A", 25.0),
        ),
        after="A clamp is zeroed each time, off the cable, and its battery looked at.",
    ),
    Lesson(
        id="teeth",
        title="Count wheel teeth from the gap to a cam's edge",
        topic="teeth",
        trap="Missing teeth counted, or not: always say which.",
        text=(
            "How far a cam's edge is from the gap is counted in teeth of the crank's wheel. Tooth 1 is the first "
            "after the gap; at it the count is 0. Missing teeth count.",
            "An edge between two teeth is somewhere between two whole numbers: halfway is a half.",
        ),
        how=(
            "One ruler on tooth 1, the first {timing_edge} edge after the gap.",
            "The other on the {edge_kind} edge of {cam}, the {edge_number} after that gap.",
            "Count the teeth between them, with a half or a quarter where it lies between two.",
        ),
        asked=(Asked("teeth", "Teeth from tooth 1 to the edge", "teeth", 0.35, places=2),),
        after="Counted a tooth too far or too few is {pitch} degrees: more than many a stretched chain.",
    ),
    Lesson(
        id="revolution",
        title="The right one of two turns",
        topic="teeth",
        trap="The wrong revolution: everything is 360 degrees off.",
        text=(
            "A crank wheel looks the same in both turns of a cycle. Which turn an edge of the cam is in is told by "
            "something that comes once per cycle: here the coil of cylinder 1, which fires near its top, once in 720.",
        ),
        how=(
            "One ruler on a spark of cylinder 1.",
            "The other on the next {edge_kind} edge of {cam} after it.",
            "Count gaps between them: each whole turn is 360 degrees.",
        ),
        asked=(Asked("after_spark", "Degrees from the spark to that edge", "°", 10.0, modulo=720.0),),
        after="In the other turn the same edge would be taken for one that is a whole turn away.",
    ),
    Lesson(
        id="pitch",
        title="Degrees, teeth and pitches",
        topic="teeth",
        trap="Wheel teeth handed on as sprocket teeth.",
        text=(
            "A chain jumps by whole teeth of its sprocket. The crank's sprocket has {sprocket} teeth, so one pitch is "
            "360 / {sprocket} crank degrees. The crank's signal wheel has other teeth: {slots} places, {pitch} "
            "degrees each.",
            "On an engine in time the {edge_kind} edge of {cam} lies {reference_teeth} wheel teeth after tooth 1.",
        ),
        how=(
            "Count the wheel teeth from tooth 1 to that edge, as before.",
            "Take off where it should be: what is left are wheel teeth late.",
            "Make degrees of them, and of the degrees pitches.",
        ),
        asked=(
            Asked("teeth", "Wheel teeth late", "teeth", 0.4, places=2),
            Asked("degrees", "Crank degrees late", "°", 2.5, places=1),
            Asked("pitches", "Pitches", "", 0.15, places=2),
        ),
        after="Close to a whole number of pitches says jumped; anything between says slipped, stretched, or read "
        "wrong.",
    ),
    Lesson(
        id="wheel_or_chain",
        title="Wheel or chain?",
        topic="wheel_or_chain",
        trap="Condemning a chain for a signal wheel that moved.",
        text=(
            "All cams read early. Either every cam is, or the crank's own wheel is late: the signals cannot tell. The "
            "piston can: with a transducer in cylinder {cylinder} its pressure peaks a little before its top, two to "
            "three degrees in health while cranking, wherever the wheel says the top is.",
            "The wheel of this engine says top of cylinder {cylinder} at {tdc_teeth} teeth after tooth 1.",
        ),
        how=(
            "Count the wheel teeth from tooth 1 to the peak of the pressure, and make degrees of it.",
            "The true top lies about 2.5 degrees after the peak.",
            "Compare with where the wheel says it is: how late does the wheel sit?",
        ),
        asked=(
            Asked(
                "wheel",
                "How early the wheel shows the piston's top, which is how late the wheel sits",
                "°",
                4.0,
                places=1,
            ),
        ),
        after="The cams are right, the wheel is late: nothing behind the covers is blamed.",
    ),
    Lesson(
        id="phaser",
        title="Phasers first",
        topic="phasers",
        trap="A phaser that was active taken for a chain that jumped.",
        text=(
            "A cam with a phaser may be anywhere in its range while the engine runs. Here its solenoid is driven "
            "once: the wire goes low, the cam follows, and comes back. Park and stop are both healthy places.",
        ),
        how=(
            "One ruler on the falling edge of the command, the other where the cam's edges begin to move: that is its "
            "dead time with the lag of the oil.",
            "Count the teeth from tooth 1 to one edge of the cam before the command, and once more while it is held.",
        ),
        asked=(
            Asked("swept", "How far it was driven, degrees", "°", 4.0, places=1),
            Asked("held", "How long the command was held", "s", 0.08, places=2),
        ),
        after="Unplugged, this cam reads its park. Recorded with the phaser active it would have looked jumped.",
    ),
    Lesson(
        id="good_bank",
        title="Which bank is the good one?",
        topic="wheel_or_chain",
        trap="The good bank taken as reference without saying that it is assumed.",
        text=(
            "Both banks have the same cams, {between} degrees apart on this engine. Bank against bank shows that one "
            "has moved, never which one.",
            "Against the gap it shows: where {first} and {second} should lie is known here, {first_teeth} and "
            "{second_teeth} wheel teeth after tooth 1 ({edge_kind} edge).",
        ),
        how=(
            "Count the teeth from tooth 1 to that edge of either cam.",
            "Compare each with where it should be.",
        ),
        asked=(
            Asked("first", "{first}: degrees late", "°", 3.0, places=1),
            Asked("second", "{second}: degrees late", "°", 3.0, places=1),
        ),
        after="Only with a reference beside the other bank is it known which one moved.",
    ),
    Lesson(
        id="mirrored",
        title="A pair of wires the wrong way round",
        topic="sensor",
        trap="A mirrored inductive signal against a stored one that was not.",
        text=(
            "An inductive sensor has two wires. Probed on the other one its picture is mirrored: what went up goes "
            "down. Its timing edge is the steep crossing in the middle of each tooth; mirrored, that crossing goes "
            "the other way.",
            "Whoever counts crossings in the stored direction then counts the flat ones between the teeth: everything "
            "is off by half a tooth.",
        ),
        how=(
            "Find the gap. Just beside it, see which crossing of zero is steep: rising or falling.",
            "Measure from a steep crossing to the next flat one, in milliseconds, and from a steep one to the next "
            "steep one.",
            "Make degrees of both: a wheel of {slots} places has {pitch} degrees a place.",
        ),
        asked=(Asked("half", "How far everything is off, degrees", "°", 0.8, places=1),),
        after="Mirrored signals are told by the picture beside the gap. The reading is right once the steep crossing "
        "is taken.",
    ),
    Lesson(
        id="filter",
        title="Too much filter",
        topic="sensor",
        trap="A filter that makes a pretty picture and moves every edge.",
        text=(
            "A low-pass filter takes noise away, and time with it: every edge comes later. The same cam signal is "
            "here twice, as it came and filtered.",
        ),
        how=(
            "One ruler on an edge of the signal as it came, where it passes half its height.",
            "The other on the same edge of the filtered one, at half height too.",
            "Read milliseconds, and degrees at this speed.",
        ),
        asked=(
            Asked("ms", "How much later the filtered edge comes", "ms", 0.35, places=2),
            Asked("degrees", "Crank degrees at this speed", "°", 0.7, places=1),
        ),
        after="Both signals through the same filter lose alike; one alone is out of step by this much.",
    ),
    Lesson(
        id="corner",
        title="A corner by ruler",
        topic="weak_cylinder",
        trap="Reading a corner off the noise of a cylinder that does not compress.",
        text=(
            "With a transducer in place of the plug the pressure tells when the valves move. After the peak it falls "
            "below the outside; then the exhaust valve opens, and it comes back up: a corner, shortly before bottom "
            "dead centre.",
            "This cylinder compresses: its corner may be read.",
        ),
        how=(
            "Read the peak.",
            "One ruler on the peak, the other on the corner where the pressure turns up again after it.",
            "The true top lies about 2.5 degrees after the peak: take that off.",
        ),
        asked=(
            Asked("peak", "Peak pressure", "bar", 0.4, places=1),
            Asked("opens", "Exhaust opens, degrees after top", "°", 12.0),
        ),
        after="Between like cylinders corners are compared to a few degrees; alone, a corner by hand is good to ten.",
    ),
    Lesson(
        id="dropout",
        title="A signal that drops out",
        topic="sensor",
        trap='"Good" from one quiet stretch clears nothing.',
        text=(
            "A sensor that fails now and then looks perfect in between. Long recordings are read whole: here {signal} "
            "drops out once, and rests high meanwhile.",
        ),
        how=(
            "Look along the whole recording for the stretch where the signal stands still while the engine turns.",
            "One ruler where it stops, the other where it comes back.",
        ),
        asked=(
            Asked("begins", "Where it begins", "s", 0.04, places=2),
            Asked("lasts", "How long it lasts", "ms", 25.0),
        ),
        after="Codes are set only after many bad windows; the recording shows the first.",
    ),
)
"""Tolerances are those of a good hand with a mouse (own estimate)."""


def lesson(lesson_id: str) -> Lesson:
    """The lesson of that name. Raises KeyError."""
    return {one.id: one for one in LESSONS}[lesson_id]
