"""Numbers of the gate, the next test, and what is worth saying."""

from __future__ import annotations

from phasko.core.numbers.entry import Entry

__all__ = [
    "ALIKE_DEG",
    "ANYTHING_SD_DEG",
    "ANY_WAY_DEG",
    "BESIDES_LEAST",
    "CAUTION_LEAST_DEG",
    "CAUTION_PROBABILITY",
    "CORNERS_LEAST",
    "CORNER_SEEN_DEG",
    "CRANKING_RUIN_CHANCE",
    "CYLINDER_ODDS",
    "DECISION_WEIGHT",
    "ENGINE_HOURS",
    "GATE_BESIDE_PHASER",
    "GATE_CONTRADICTION",
    "GATE_ODDS",
    "GATE_PROBABILITY",
    "GATE_SUSPICION",
    "HARMLESS_LEAST",
    "HEAD_HOURS",
    "IN_TIME_WORDS_DEG",
    "LOOK_RELIABILITY",
    "MINUTES_BORESCOPE",
    "MINUTES_CAPTURE",
    "MINUTES_COIL_SWAPPED",
    "MINUTES_EXHAUST_OPENED",
    "MINUTES_FUEL_BY_HAND",
    "MINUTES_FUEL_PRESSURE",
    "MINUTES_GAUGE",
    "MINUTES_INTAKE_OPENED",
    "MINUTES_KNOWN_GOOD",
    "MINUTES_LEAK_DOWN",
    "MINUTES_MARKS",
    "MINUTES_PRESSURE",
    "MINUTES_PROFILE_CHECK",
    "MINUTES_RELATIVE",
    "MINUTES_RHYTHM",
    "MINUTES_ROAD",
    "MINUTES_SENSOR_WIRES",
    "MINUTES_SOLENOID_SWAPPED",
    "MINUTES_SPARK_TURNED",
    "MINUTES_SWEEP",
    "MINUTES_SYNC",
    "MINUTES_TARGET_LOOK",
    "MINUTES_TENSIONER",
    "MINUTES_THROTTLE_HAND",
    "MINUTES_TURNS_BY_HAND",
    "MINUTES_VALVE_LOOK",
    "MINUTES_WHEEL_LOOK",
    "MINUTES_WIGGLE",
    "MINUTES_WIRING",
    "NEXT_TEST_LEAST_BITS",
    "OPENING_HOURS",
    "RIVAL_LEAST",
    "RUIN_CHANCE",
    "SETTLED_PROBABILITY",
    "TDC_SEEN_DEG",
    "TELLING_ODDS",
    "UNDECIDED_ODDS",
    "WEIGHT_LEAST",
    "WHOLE_PITCH",
    "WHOLE_PITCH_WORDS",
]

# --- words: what is worth saying -------------------------------------------------------------------------------------
WHOLE_PITCH_WORDS = Entry(
    0.12, "pitch", "Distance from a whole number up to which a headline counts pitches", "(house)"
)
TELLING_ODDS = Entry(2.0, "to 1", "A term that moves the odds by less is not worth a sentence", "(house)")
ANYTHING_SD_DEG = Entry(10.0, "deg", "An explanation that spreads wider is said to allow anything", "(house)")
RIVAL_LEAST = Entry(0.005, "", "Less likely explanations are not named as what a test parts", "(house)")
WEIGHT_LEAST = Entry(1.5, "to 1", "A look that weighs less weighs next to nothing", "(cp)")

# --- the gate --------------------------------------------------------------------------------------------------------
GATE_PROBABILITY = Entry(
    0.95, "", "Least probability of the leader for opening the covers", "(house) a wrong go is the worst failure"
)
GATE_BESIDE_PHASER = Entry(
    0.6, "", "Least probability for opening where a phaser that its state excludes is left out of account", "(house)"
)
GATE_ODDS = Entry(
    20.0,
    "to 1",
    "Odds a second kind of evidence must give against each harmless explanation",
    "(house) a wrong go is the worst failure",
)
GATE_CONTRADICTION = Entry(
    3.0,
    "x uncertainty",
    "No single measurement may contradict the leader by more",
    "(house) a wrong go is the worst failure",
)
GATE_SUSPICION = Entry(0.2, "", "Least chance of a fault behind the covers for asking to confirm it", "(house)")
BESIDES_LEAST = Entry(0.5, "", "Chance from which a further fault is told besides the first", "result document")
UNDECIDED_ODDS = Entry(1.5, "to 1", "Leader and second closer than this: undecided", "(house)")
CAUTION_LEAST_DEG = Entry(10.0, "deg", "Valves further off than this can meet pistons", "(cp)")
SETTLED_PROBABILITY = Entry(0.9, "", "Surer than this that all is well: no further test is proposed", "(house)")
IN_TIME_WORDS_DEG = Entry(1.5, "deg", "Beyond its uncertainty: an offset still called in time", "(house) build spread")
ALIKE_DEG = Entry(2.0, "deg", "Offsets closer than this are told as one", "(house)")
WHOLE_PITCH = Entry(0.07, "pitch", "Distance from a whole number still called whole", "(house)")
CAUTION_PROBABILITY = Entry(0.10, "", "Chance that valves meet pistons from which cranking is advised against", "(cp)")
ANY_WAY_DEG = Entry(60.0, "deg", "Valves this far off can meet pistons whichever way", "(cp)")
CYLINDER_ODDS = Entry(
    8.0, "to 1", "A kind of evidence that speaks so strongly for a cylinder agrees about it", "(house)"
)
HARMLESS_LEAST = Entry(
    5e-4, "", "Harmless states that are together less likely than this need not be excluded one by one", "(house)"
)

# --- the next test: minutes without travel to the part, and how often a look is right --------------------------------
CRANKING_RUIN_CHANCE = Entry(
    0.02, "", "Chance that one more cranking ruins an engine whose valves can meet the pistons", "(cp)"
)
MINUTES_MARKS = Entry(6.0, "min", "Look at cam marks with the crank on its own mark", "(cp) varies with access")
MINUTES_WHEEL_LOOK = Entry(12.0, "min", "Look at the crank wheel, its hub and the sensor bracket", "(cp)")
MINUTES_TARGET_LOOK = Entry(10.0, "min", "Look at a cam's signal wheel and sensor seat", "(cp)")
MINUTES_PROFILE_CHECK = Entry(5.0, "min", "Compare the profile with the maker's data", "(cp)")
MINUTES_PRESSURE = Entry(25.0, "min", "Pressure capture in one cylinder with the crank signal", "(cp)")
MINUTES_SWEEP = Entry(8.0, "min", "Drive the phaser and watch the cam sweep", "(cp)")
MINUTES_TENSIONER = Entry(15.0, "min", "Tensioner travel through its opening or with a dummy plunger", "(cp)")
MINUTES_WIGGLE = Entry(8.0, "min", "Wiggle and warm a sensor and its wiring while watching the signal", "(cp)")
MINUTES_LEAK_DOWN = Entry(15.0, "min", "Leak-down of one cylinder", "(cp)")
MINUTES_VALVE_LOOK = Entry(12.0, "min", "Watch one cylinder's valves move", "(cp)")
MINUTES_EXHAUST_OPENED = Entry(10.0, "min", "A sensor out before the catalyst, and try", "(cp)")
MINUTES_INTAKE_OPENED = Entry(4.0, "min", "Air filter and duct off, and try", "(cp)")
MINUTES_SPARK_TURNED = Entry(8.0, "min", "Distributor turned or coil swapped while the spark is watched", "(cp)")
MINUTES_BORESCOPE = Entry(20.0, "min", "Look at crown and valves through a plug hole", "(cp)")
MINUTES_WIRING = Entry(5.0, "min", "Look along loom and plugs", "(cp)")
MINUTES_SENSOR_WIRES = Entry(10.0, "min", "Meter at a sensor's wires", "(cp)")
MINUTES_RHYTHM = Entry(2.0, "min", "Listen while cranking", "(cp)")
MINUTES_THROTTLE_HAND = Entry(6.0, "min", "Duct off, hand over the throttle", "(cp)")
MINUTES_FUEL_BY_HAND = Entry(6.0, "min", "A little fuel given by hand", "(cp)")
MINUTES_FUEL_PRESSURE = Entry(15.0, "min", "Gauge on the fuel rail", "(cp)")
MINUTES_SOLENOID_SWAPPED = Entry(20.0, "min", "Solenoids of two cams changed over", "(cp)")
MINUTES_COIL_SWAPPED = Entry(10.0, "min", "Two coils changed over", "(cp)")
MINUTES_TURNS_BY_HAND = Entry(15.0, "min", "Two turns of the crank by hand", "(cp)")
MINUTES_GAUGE = Entry(25.0, "min", "Compression gauge in every cylinder", "(cp)")
MINUTES_KNOWN_GOOD = Entry(15.0, "min", "Find a known good capture of the kind", "(cp)")
MINUTES_CAPTURE = Entry(15.0, "min", "Hook up and record once", "(cp)")
MINUTES_RELATIVE = Entry(10.0, "min", "Clamp on and crank once", "(cp)")
MINUTES_SYNC = Entry(15.0, "min", "Turn a sync drive into its window", "(cp)")
MINUTES_ROAD = Entry(25.0, "min", "Log a drive", "(cp)")
CORNERS_LEAST = Entry(2.0, "corners", "Valve corners that agree before they count as a second kind", "design")
CORNER_SEEN_DEG = Entry(5.0, "deg", "Displaced valves that a pressure capture shows", "(cp)")
TDC_SEEN_DEG = Entry(2.5, "deg", "Displaced wheel that a pressure capture shows", "(cp)")
LOOK_RELIABILITY = Entry(0.95, "", "Chance that a careful look shows what is there", "(cp)")
NEXT_TEST_LEAST_BITS = Entry(0.03, "bit", "A test expected to tell less is not proposed", "(house)")

# --- costs -----------------------------------------------------------------------------------------------------------
OPENING_HOURS = Entry(6.0, "h", "Labour of opening a timing drive where the job says nothing", "(cp) 3 to 12")
HEAD_HOURS = Entry(9.0, "h", "Labour of taking a cylinder head off where the job says nothing", "(cp)")
ENGINE_HOURS = Entry(45.0, "h", "What a ruined engine costs, as hours of labour", "(cp)")
RUIN_CHANCE = Entry(0.3, "", "Chance that an engine is ruined that drives on with such a fault", "(cp)")
DECISION_WEIGHT = Entry(0.15, "bit/h", "How much an hour of expected loss weighs beside what a test tells", "(house)")
