"""The words of the trade as they are used here: one meaning each, in the order in which a job meets them."""

from __future__ import annotations

from dataclasses import dataclass

__all__ = ["TERMS", "Term"]


@dataclass(frozen=True, slots=True)
class Term:
    """A word with what it means in one sentence, what else one should know, and the stations where it is met. ``id``
    names its drawing."""

    id: str
    name: str
    meaning: str
    more: str
    stations: tuple[str, ...]


TERMS: tuple[Term, ...] = (
    Term(
        "cycle",
        "Cycle, 720°",
        "Two turns of the crank in which every cylinder fires once and every cam turns once.",
        "Humps, sparks and cam edges are counted in 720°, never in one turn.",
        ("seal", "phase", "cylinder"),
    ),
    Term(
        "crank_degree",
        "Crank degree, cam degree",
        "A cam turns half as fast as the crank: one degree of the cam is two of the crank.",
        "Angles here are crank degrees unless the cam is named.",
        ("phase", "call"),
    ),
    Term(
        "tdc",
        "TDC, firing and gas exchange",
        "The piston stands at the top twice in 720°: once on compression, when it fires, and once between exhaust and "
        "intake.",
        "Pressure or the crank's own speed shows where it is; the wheel alone only says where it should be.",
        ("phase", "cylinder"),
    ),
    Term(
        "gap",
        "Gap",
        "The missing teeth of the crank wheel, by which the control unit knows where the crank is.",
        "Teeth are counted from the first one after it.",
        ("phase", "captures"),
    ),
    Term(
        "tooth",
        "Tooth of the wheel",
        "One slot of the signal wheel: 6° on a wheel of 60 slots, 10° on one of 36.",
        "It is not a tooth of the chain's sprocket, which is two to three times as much.",
        ("phase",),
    ),
    Term(
        "index",
        "Index",
        "How far the firing TDC of cylinder 1 stands after the first tooth behind the gap.",
        "A wheel that has turned on the crank moves every cam the same way at once, and the index the other way.",
        ("phase", "call"),
    ),
    Term(
        "late",
        "Late and early",
        "Late comes after the place where it belongs, in the way the crank turns; early comes before.",
        "Late stands to the right, early to the left. Seen from the front it is against the turning, or with it.",
        ("phase", "call", "look"),
    ),
    Term(
        "edge",
        "Edge",
        "The moment at which a signal falls or rises; angles are measured at edges.",
        "A pattern of edges tells which cam it is and where it stands.",
        ("phase", "captures"),
    ),
    Term(
        "hall",
        "Hall sensor",
        "A sensor with its own supply that switches between two levels.",
        "Its low level must lie near ground; a poor ground lifts it.",
        ("captures", "hook-up"),
    ),
    Term(
        "inductive",
        "Inductive sensor",
        "A coil at a magnet: its voltage swings through zero as a tooth passes, the more the faster it turns.",
        "Only one of the two crossings is accurate. With its wires swapped the picture stands on its head, and the "
        "other crossing is read.",
        ("captures", "hook-up", "phase"),
    ),
    Term(
        "pitch",
        "Pitch",
        "One link of the chain or tooth of the belt on the sprocket: 360° divided by the teeth of the crank sprocket.",
        "A jumped chain is off by whole pitches; anything between has another cause.",
        ("phase", "call"),
    ),
    Term(
        "stretch",
        "Stretch",
        "A worn chain is longer: the cams at the end of the pulled strand come late, the farther one more.",
        "The maker's limit is about half a percent to one percent of its length.",
        ("phase", "call"),
    ),
    Term(
        "tensioner",
        "Tensioner",
        "It takes up the slack strand; when it yields, the cams come late while the engine starts and right later.",
        "How far it stands out tells how long the chain has become.",
        ("look", "call"),
    ),
    Term(
        "park",
        "Park",
        "The stop at which a phaser rests without oil, locked by a pin.",
        "Timing is measured there: an intake cam usually parks at its latest place, an exhaust cam at its earliest.",
        ("phase", "call"),
    ),
    Term(
        "phaser",
        "Phaser and its travel",
        "The unit between sprocket and cam that turns the cam by oil, from one stop to the other.",
        "A cam within its travel may be commanded there: park it, or unplug it, before its timing is judged.",
        ("phase", "call"),
    ),
    Term(
        "hump",
        "Hump",
        "The starter draws more current each time a cylinder is compressed: one hump for each cylinder in 720°.",
        "Even humps do not prove a whole bank: where all of its cylinders are weak alike, the rhythm stays.",
        ("seal",),
    ),
    Term(
        "relative_compression",
        "Relative compression",
        "How much each cylinder compresses beside the best one, read from humps or from the crank's speed.",
        "Under 90 of 100 is weak. It says nothing of a loss that all cylinders share.",
        ("seal",),
    ),
    Term(
        "corner",
        "Corner",
        "The place in a cylinder's pressure where it leaves the line of shut valves: a valve has opened or closed.",
        "With two corners the valves are known to follow the cam, or not to.",
        ("cylinder",),
    ),
    Term(
        "overlap",
        "Overlap",
        "The stretch around the gas exchange TDC in which the exhaust still closes while the intake opens.",
        "It moves when one cam is off and the other is not.",
        ("cylinder",),
    ),
    Term(
        "loss_angle",
        "Loss angle",
        "The pressure's peak stands a little before TDC, since gas leaks and cools while it is compressed.",
        "Half a degree to two degrees in a sound cylinder that is cranked; more in one that leaks.",
        ("cylinder",),
    ),
    Term(
        "leak_down",
        "Leak-down",
        "Air is let into a cylinder at TDC, and what escapes is told in percent.",
        "Where it hisses tells which part leaks: intake, exhaust, oil filler or cooling water.",
        ("look",),
    ),
    Term(
        "wasted_spark",
        "Wasted spark",
        "One coil fires two cylinders at once, so that each plug sparks twice in 720°.",
        "Taken for one spark a cycle it makes the engine look like one of half as many cylinders.",
        ("captures", "phase"),
    ),
    Term(
        "dwell",
        "Dwell",
        "The time for which current builds up in a coil before it fires.",
        "It ends at the spark, so its end is what is timed.",
        ("captures",),
    ),
    Term(
        "clear_flood",
        "Clear flood",
        "With the pedal held down while cranking most engines inject no fuel.",
        "It is proved with a pulse at the injector, not taken for granted.",
        ("hook-up",),
    ),
    Term(
        "half_width",
        "Half width",
        "The figure after ±: 95 times in 100 the true value lies no farther away than that.",
        "It holds the measurement and what is not known of the reference.",
        ("phase", "seal", "cylinder", "call"),
    ),
    Term(
        "known_good",
        "Known good",
        "A capture of the same engine that is known to be in time, to hold others against.",
        "How it was proved good stands with it; an unproved one counts for less.",
        ("phase",),
    ),
    Term(
        "gate",
        "The gate",
        "May the covers come off: no, confirm first, or open up.",
        "It opens when two different kinds of evidence agree and nothing contradicts them.",
        ("call",),
    ),
)
