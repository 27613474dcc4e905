"""Every number the judgement rests on, in one table: value, unit, meaning, where it comes from.

``docs/numbers.md`` is generated from this module. "(cp)" is common practice without a published source;
"(house)" is our own choice, with the reason in its meaning.
"""

from __future__ import annotations

import hashlib
from dataclasses import dataclass

__all__ = ["NUMBERS_VERSION", "Entry", "digest", "table"]

NUMBERS_VERSION = "2026-11"


@dataclass(frozen=True, slots=True)
class Entry:
    """One number of the table; two entries are equal when all fields are."""

    value: float
    unit: str
    meaning: str
    source: str


# --- levels and edges -------------------------------------------------------------------------------------------
EDGE_LEVEL = Entry(
    0.5, "of amplitude", "Level at which a switching edge is timed", "IEEE 181-2011, 50 % reference level"
)
EDGE_HYSTERESIS = Entry(
    0.15, "of amplitude", "Half width of the band an edge must cross whole", "(house) three times usual hum"
)
LEVEL_MIN_AMPLITUDE_V = Entry(
    0.03, "V", "Smallest difference of levels read as a switching signal", "(cp) 0.5 V on 10:1"
)
LEVEL_PLAUSIBLE_V = (
    Entry(2.0, "V", "Smaller swings of a switching sensor are mentioned: probe scale, open ground", "(cp) 5 V supply"),
    Entry(30.0, "V", "Larger swings of a switching sensor are mentioned: probe scale", "(cp) battery supply"),
)
LEVEL_LOW_V = Entry(1.5, "V", "A higher low level of a switching sensor is mentioned: ground", "(cp) under 1 V")
LEVEL_MIN_OVER_NOISE = Entry(8.0, "x noise", "Smallest amplitude over the noise of a level", "(house)")
LEVEL_STEADY = Entry(0.035, "of amplitude", "Levels that scatter less are steady", "(house) white noise 0.026")
LEVEL_EDGES_MISSED = Entry(1.02, "x", "Jumps over edges between two levels from which the levels wander", "(house)")
EDGE_FLOOR_SAMPLES = Entry(
    0.02, "samples", "Least standard deviation of one edge, however calm: curved edges repeat it", "(house)"
)
EDGE_ALIKE_SAMPLES = Entry(
    0.02, "samples", "What shifts all edges of a channel alike: its own moment of sampling, levels", "(cp) hundredths"
)
VR_ARMING = Entry(0.3, "of neighbours", "Height from which a lobe of an inductive signal counts", "(house) gap wiggles")
VR_FLANK = Entry(0.4, "of lobe", "Part of an inductive flank through which the line is laid", "(house) straight part")
VR_OVER_NOISE = Entry(5.0, "x noise", "Smallest lobe of an inductive signal over its noise", "(house)")
VR_LEAST_V = Entry(0.1, "V", "Smallest lobe of an inductive signal", "(cp) sensors give tenths of volts at 20 rpm")
VR_BESIDE_GAP = Entry(0.05, "of pitch", "Spread of an inductive crossing beside a gap", "(house) the field leans over")
VR_MIDDLE = Entry(0.002, "of lobe", "How well an inductive signal's own middle is known at best", "(house)")
VR_MIDDLE_MOST = Entry(0.05, "of lobe", "And at worst, when parts of a capture do not tell", "(house)")
SAMPLES_PER_TOOTH_MIN = Entry(
    4.0, "samples", "Fewer samples per tooth are refused", "(house) two per level, sampling theorem"
)
SAMPLES_PER_TOOTH_GOOD = Entry(10.0, "samples", "Fewer samples per tooth are mentioned", "(cp)")

# --- sealing ----------------------------------------------------------------------------------------------------
COMPRESSION_SETTLED_SHARE = Entry(
    0.08, "of speed", "Cycles farther from the usual speed are left out", "(house) run-up, end"
)
COMPRESSION_CYCLES_LEAST = Entry(
    2.0, "cycles", "Fewer settled cranking cycles say nothing about sealing", "(cp) repeats"
)
COMPRESSION_EXPLAINED_LEAST = Entry(
    0.8, "of variance", "Signals less explained by humps are not used", "(house) bench: 0.97"
)
COMPRESSION_TEETH_PER_HUMP = Entry(5.0, "teeth", "Fewer wheel teeth per hump do not show the speed's dips", "(house)")
COMPRESSION_TURN_TOLD = Entry(
    0.05, "of variance", "So much better explained, the humps tell the turn themselves", "(house)"
)
COMPRESSION_CHANGE_LEAST = Entry(
    0.3, "of healthy", "Smaller differences from cycle to cycle are scatter", "(house) bench: 0.1"
)
COMPRESSION_TURN_LEAST = Entry(0.9, "of variance", "Less explained humps do not tell the turn", "(house)")
COMPRESSION_DEAD_BELOW = Entry(0.25, "of healthy", "A lower peak pressure is no compression", "result document")
COMPRESSION_WEAK_BELOW = Entry(0.9, "of healthy", "A lower peak pressure is weak", "result document")
COMPRESSION_MOST = Entry(1.1, "of healthy", "No healthy cylinder presses more than this", "(cp) within a tenth")
COMPRESSION_UNKNOWN_U95 = Entry(0.15, "of healthy", "Less sure than this: unknown", "result document")
COMPRESSION_SPEED_U95 = (
    Entry(0.035, "of healthy", "What a hump's shape may be off by, by crank speed, to four cylinders", "(house) bench"),
    Entry(0.05, "of healthy", "The same with five or six, whose humps overlap", "(house) bench"),
    Entry(0.06, "of healthy", "The same with more", "(house) bench"),
)
COMPRESSION_STARTER_U95 = (
    Entry(0.05, "of healthy", "What a hump's shape may be off by, by the starter, to four cylinders", "(house) bench"),
    Entry(0.07, "of healthy", "The same with five or six", "(house) bench"),
    Entry(0.09, "of healthy", "The same with more", "(house) bench"),
)
COMPRESSION_UNEVEN_U95 = Entry(
    0.17, "of healthy", "What uneven firing does to humps seen through the starter", "(house) bench"
)
COMPRESSION_BENT_U95 = Entry(0.09, "of healthy", "A half weak cylinder's hump may be bent otherwise", "(house) bench")
COMPRESSION_BESIDE_U95 = (
    Entry(0.1, "of healthy", "The hump after a missing one, seen through the starter, to four", "(house) bench"),
    Entry(0.25, "of healthy", "The same with five or six", "(house) bench"),
    Entry(0.5, "of healthy", "The same with more", "(house) bench"),
)

COMPRESSION_PACED_U95 = Entry(0.06, "of healthy", "What a cycle without crank angles adds", "(house) bench")
COMPRESSION_PACE_FIT = Entry(0.03, "of a cycle", "Cam edges farther from their shares do not pace a cycle", "(house)")
COMPRESSION_RHYTHM_TOLD = Entry(0.05, "of variance", "So much better explained, another rhythm is believed", "(house)")
COMPRESSION_INRUSH_S = Entry(0.6, "s", "After the starter engages: inrush and settling, without a crank signal", "(cp)")
PRESSURE_PEAK_LEAST_BAR = Entry(1.0, "bar", "Lower peaks name no cylinder", "(cp) a sound one has several bar")
PRESSURE_PEAKS_APART_S = Entry(0.05, "s", "No two compressions of a cylinder lie closer", "(house) 2400 rpm")

COMPRESSION_LATE_MARGIN = Entry(
    0.12, "of healthy", "Beside what late cams cost a cylinder: spread and measurement", "(house)"
)
OVERALL_HEALTHY_SD = Entry(0.04, "of healthy", "Spread of healthy engines of one kind in cranking pressure", "(cp)")
OVERALL_SPEED_SHARE = Entry(0.3, "", "Half width per share of difference in cranking speed", "(house) bench: 0.15")
OVERALL_THROTTLE_U95 = Entry(0.15, "of healthy", "Open against closed throttle, not corrected", "(cp)")
OVERALL_THROTTLE_UNKNOWN_U95 = Entry(0.12, "of healthy", "Throttle not noted", "(house)")
OVERALL_STARTER_U95 = Entry(
    0.2, "of healthy", "Battery and cables of another day, by the current alone", "(house) bench"
)
OVERALL_LAW_SHARE = Entry(
    0.4, "of change", "What late cams cost another engine may differ by", "(house) bench: a third more"
)
OVERALL_OPEN_SD = Entry(0.2, "of healthy", "What something else does to all cylinders", "(house)")

# --- breathing ---------------------------------------------------------------------------------------------------
PULSE_ODD_SHARE = Entry(0.22, "of pulse", "Healthy pulses differ by less", "(house) bench: 0.13")
PULSE_ODD_CRANKCASE = Entry(2.0, "of pulse", "The same in the crankcase, where blow-by varies", "(house) bench: 1.3")
PULSE_DELAY_MOST_DEG = Entry(60.0, "deg", "Longest delay of hose and pipe while cranking", "(cp) 40 ms at 250 rpm")
PULSE_DELAY_U95_DEG = Entry(15.0, "deg", "How well the place of a pulse is known without delay", "(house) bench")
PULSE_BLAMED = Entry(0.55, "", "Chance from which a cylinder is named as the odd one", "(house) more likely than not")
PULSE_DOUBT = Entry(0.2, "", "Chance from which another cylinder is named beside it", "(house)")
PULSE_RANDOM_MOST = Entry(0.25, "of pulse", "More from cycle to cycle is called random unevenness", "(house)")
GAUGE_ZERO_U95_BAR = Entry(0.004, "bar", "Zero of a gauge that was zeroed at atmosphere", "(cp) 1 % of a small range")
AMBIENT_UNKNOWN_U95_BAR = Entry(0.06, "bar", "Air pressure when nobody noted it", "(cp) weather and 300 m of height")
EXHAUST_MEAN_MOST_BAR = Entry(0.03, "bar", "Mean exhaust pressure of a free exhaust while cranking", "(cp)")

# --- road test ---------------------------------------------------------------------------------------------------
ROAD_THROTTLE_LEAST_PERCENT = Entry(70.0, "%", "A throttle that never opens further was not full", "(cp)")
ROAD_RPM_LEAST = Entry(1500.0, "rpm", "Full throttle counts from this speed on", "(cp) low gear, pulling")
ROAD_LASTS_S = Entry(0.5, "s", "Full throttle has to last", "(cp) meters lag")
ROAD_LOAD_LOW_PERCENT = Entry(70.0, "%", "Less peak calculated load is suspect (air-flow meter cars)", "(cp)")
ROAD_LOAD_GOOD_PERCENT = Entry(75.0, "%", "From here peak calculated load is good", "(cp)")
ROAD_LOAD_U95_PERCENT = Entry(3.0, "%", "How well a control unit's load is known", "(house)")
ROAD_EFFICIENCY_LEAST = Entry(0.75, "", "Less volumetric efficiency at its best speed is suspect", "(cp) 0.75 to 0.95")
ROAD_METER_U95 = Entry(0.05, "of air", "Error of an air-flow meter", "(cp)")
ROAD_TRIM_MOST_PERCENT = Entry(10.0, "%", "Trims within this are normal", "(cp)")
ROAD_DROP_MOST_KPA = Entry(8.0, "kPa", "More under the outside at full throttle is a blocked intake", "(cp) 2 to 5 kPa")
ROAD_BOOST_KPA = Entry(5.0, "kPa", "More over the outside: the engine is charged", "(house)")
ROAD_OUTSIDE_KPA = Entry(99.0, "kPa", "Air pressure where none is logged", "(house) sea level to 350 m")
ROAD_INTAKE_C = Entry(25.0, "degC", "Intake air where none is logged", "(house)")
ROAD_WARM_C = Entry(70.0, "degC", "Coolant of a warm engine", "(cp)")
ROAD_BY_CHANCE = Entry(0.02, "", "Chance that a road test finds a sound engine breathing badly", "(house)")

# --- other faults that leave the timing as it is -------------------------------------------------------------------
VALVE_TRAIN_PRIOR = Entry(0.05, "", "A lobe, clearance, spring or valve of one cylinder, once it shows", "(cp)")
EXHAUST_RESTRICTED_PRIOR = Entry(0.12, "", "A blocked exhaust, once breathing is poor", "(cp)")
INTAKE_RESTRICTED_PRIOR = Entry(0.06, "", "A blocked intake, once breathing is poor", "(cp)")
IGNITION_MISTIMED_PRIOR = Entry(0.04, "", "Spark at the wrong time, once it is measured there", "(cp)")
IMPOSSIBLE_PRIOR = Entry(1e-6, "", "A fault that this engine cannot have", "(house) never zero")
SPARK_OUT_BY_CHANCE = Entry(0.01, "", "Chance that a sound engine sparks outside its window", "(house) odd maps")
PULSE_BY_CHANCE = Entry(0.01, "", "Chance that a sound engine's pulse is odd once per cycle", "(house)")
PUSH_BY_CHANCE = Entry(0.01, "", "Chance that an engine in time pushes at the throttle", "(cp) strong evidence")
BACK_PRESSURE_BY_CHANCE = Entry(0.02, "", "Chance that a free exhaust shows pressure while cranking", "(house)")

# --- what is seen and heard ----------------------------------------------------------------------------------------
LOOK_SEEN_DEG = Entry(4.0, "deg", "Displacement that a careful look at marks shows, two degrees at the cam", "(cp)")
PUSH_BACK_LEAST_DEG = Entry(20.0, "deg", "Valves this far out make an engine push back", "(cp) a pitch or more")
OUT_OF_STEP_DEG = Entry(9.0, "deg", "Signals further apart may make a control unit withhold spark", "(cp)")
GAUGE_LOW_SHARE = Entry(0.75, "of highest", "A lower gauge reading is low", "(cp) three quarters of the highest")
LEAK_DOWN_MOST_PERCENT = Entry(20.0, "%", "More leak-down is a leak", "(cp)")

WEAK_CYLINDER_PRIOR = Entry(0.10, "", "A cylinder that does not seal, of engines in doubt", "(house) before seen")
WEAK_BY_CHANCE = Entry(0.001, "", "However clear: a sound engine may still read weak, a plug or lead off", "(house)")
DEAD_BANK_LEAST_DEG = Entry(40.0, "deg", "Cams closer to their place do not stop a bank from pressing", "(house) bench")
COMPRESSION_SPEAKS_BELOW = Entry(
    0.97, "of healthy", "Relative plus half width under this speaks for a fault", "(house)"
)

# --- sparks -----------------------------------------------------------------------------------------------------
SPARK_PRIMARY_V = Entry(40.0, "V", "A coil signal above this is a primary, not its drive", "(cp) spikes of hundreds")
SPARK_SPIKE_SHARE = Entry(0.4, "of largest", "Level at which a primary's spike is timed", "(house) above burn line")
SPARK_OWN_DEG = Entry(180.0, "deg", "A spark nearer than this to a TDC of the cycle belongs to that turn", "(cp)")
SPARK_USUAL_DEG = Entry(-10.0, "deg", "Where a spark usually stands to its TDC while cranking", "(cp) 0 to 15 before")
SPARK_STRAY_DEG = Entry(25.0, "deg", "Farther from the usual firing a single one does not count", "(house)")
SPARK_FLOOR_DEG = Entry(0.05, "deg", "Least error of a spark's angle: level and slope of the spike", "(house)")
SPARK_MISSED_LEAST = Entry(1.0, "firings", "More left out are mentioned", "(house) starts count from the second turn")

# --- segments ---------------------------------------------------------------------------------------------------
CYCLES_LEAST = Entry(1.0, "cycles", "Fewer whole cycles with cam edges give no offset", "(house)")
UNLIKE_SPREAD = Entry(0.08, "ln ratio", "Change of speed between unlike teeth", "(house)")
CLEAR_TURN_NATS = Entry(12.0, "nats", "A turn that fits one rotation of the wheel so much better shows it", "(house)")
REST_GAP_S = Entry(0.3, "s", "No tooth for this long: the engine stands", "(cp) one 60-2 tooth at 3 rpm")
CRANKING_MAX_RPM = Entry(400.0, "rpm", "Below: cranking, above: running", "(cp) cranking 100 to 350, idle from 500")
RUN_UP_SHARE = Entry(0.85, "of running speed", "Run-up ends at this share of the speed reached", "(house)")
SPEED_FLOOR_SHARE = Entry(
    0.4, "of median speed", "Slower at the ends: starting, stopping, roll-back; left out", "(house)"
)

# --- alignment and pattern ----------------------------------------------------------------------------------------
TOOTH_RATIO_ACCEPT = Entry(
    0.3, "ln ratio", "Interval accepted as one tooth without looking further", "(house) half of ln 2"
)
MISREAD_LEAST_DEG = Entry(0.12, "deg", "A tooth further than this from its own place is another pulse", "(house)")
TOOTH_ERROR_TURNS = Entry(5.0, "turns", "Fewer turns: the errors of single teeth are not removed", "(house)")
TOOTH_ERROR_FLOOR = Entry(0.05, "of tooth errors", "Closer than this a mean residual is not believed", "(house)")
TOOTH_SD_MOST_DEG = Entry(0.3, "deg", "Largest spacing error believed of a wheel with few teeth", "(cp) cut to tenths")
TOOTH_ERROR_FLOOR_DEG = Entry(0.002, "deg", "Nor closer than this", "(house) what the formula leaves of a ripple")
RUN_OUT_SHARE = Entry(0.3, "of tooth errors", "Run-out of a signal wheel assumed beside its tooth errors", "(house)")
PITCH_THIN_DEG = Entry(11.0, "deg", "Wider teeth sample the firing ripple thinly", "(house) a dozen teeth are 30 deg")
RIPPLE_ASIDE = Entry(0.5, "x", "Part of the firing ripple that is turned aside from its place at TDC", "(house)")
RIPPLE_UNEVEN = Entry(0.05, "x", "Difference between the cylinders behind the firing ripple", "(cp) healthy spread")
BETWEEN_SHARED = Entry(1.15, "x", "What edges of one cam share of the error between teeth", "(house)")
THIN_UNKNOWN_SD_DEG = Entry(3.0, "deg", "Error between two teeth of a coarse wheel that cannot be tried out", "(house)")
WHEEL_MISMATCH_SHARE = Entry(0.25, "of teeth", "More misfitting teeth: it is another wheel", "(house) faults lie below")
WHEEL_GAPS_SEEN_LEAST = Entry(0.4, "of gaps", "Fewer gaps where the wheel has them: another wheel", "(house)")
WHEEL_GAPS_SEEN_GOOD = Entry(0.9, "of gaps", "From here on no other wheel is looked for", "(house) single lost teeth")
VOTE_LEAST_SHARE = Entry(0.02, "of windows", "Fewer windows name no odd signal", "(house)")
PATTERN_WINDOW_DEG = Entry(12.0, "deg", "Edge further from its place belongs to no reference edge", "(house)")
PATTERN_MAX_COST = Entry(0.5, "share", "Worse fit: the cam pattern is not the profile's", "(house)")
PATTERN_AMBIGUITY = Entry(0.08, "share", "Fits closer than this to the best are equally possible", "(house)")
UNSTEADY_SPREAD_DEG = Entry(1.5, "deg", "Cycle spread above which a cam is unsteady", "result document")
UNSTEADY_CHANGE_DEG = Entry(3.0, "deg", "Drift or step above which a cam is unsteady", "result document")
DEFAULT_REFERENCE_U95_DEG = Entry(1.0, "deg", "Uncertainty of profile edges or index when not given", "result document")

# --- what healthy engines do ------------------------------------------------------------------------------------
BUILD_CHAIN_SD_DEG = Entry(0.8, "deg", "Spread of healthy engines, all cams of a drive together", "(cp)")
BUILD_CAM_SD_DEG = Entry(0.7, "deg", "Spread of healthy engines, cam by cam", "(cp)")
STATE_SD_DEG = Entry(0.5, "deg", "Change of a healthy fixed cam between states (cranking, idle)", "(cp)")

# --- explanations: prior chance before any capture -----------------------------------------------------------------
PRIOR_NONE = Entry(0.45, "", "Timing is as it should be", "(cp) most suspected engines are in time")
PRIOR_CHAIN_JUMPED = Entry(0.10, "", "Chain or belt jumped", "(cp)")
PRIOR_CHAIN_STRETCHED = Entry(0.10, "", "Chain stretched", "(cp)")
PRIOR_CAM_SLIPPED = Entry(0.05, "", "One cam turned on its sprocket or phaser", "(cp)")
PRIOR_PHASER_OFF_PARK = Entry(0.08, "", "Phaser rests off its park position", "(cp)")
PRIOR_CAM_SIGNAL = Entry(0.06, "", "Cam signal wheel or sensor moved", "(cp)")
PRIOR_CRANK_SIGNAL = Entry(0.05, "", "Crank signal wheel or sensor moved", "(cp)")
PRIOR_REFERENCE = Entry(0.06, "", "Wrong profile or reference", "(cp)")
PRIOR_SOMETHING_ELSE = Entry(0.05, "", "None of the explanations in the table", "(house) never zero")

SENSOR_CAM_PRIOR = Entry(0.06, "", "A cam sensor or its wiring, once a signal is disturbed", "(cp)")
SENSOR_CRANK_PRIOR = Entry(0.06, "", "The crank sensor or its wiring, once a signal is disturbed", "(cp)")
SENSOR_INDUCED_PRIOR = Entry(0.04, "", "Induced pulses, once a signal is disturbed", "(cp)")
DISTURBED_LEAST_PULSES = Entry(3.0, "pulses", "Fewer in a capture are noise", "(cp) judge what repeats")
ROCKING_RPM = Entry(
    80.0, "rpm", "Slower, a crank rocks at its compressions and its teeth are miscounted", "(cp) sound: 150 or more"
)
DISTURBED_BY_CHANCE = Entry(0.005, "", "Chance that a sound signal is disturbed like that", "(house)")
DISTURBANCE_UNSEEN = Entry(0.05, "", "Chance that a faulty signal is sound in the captures", "(house)")
DISTURBED_BESIDES = Entry(0.9, "", "Chance of a signal fault that was seen beside another fault", "(house)")
PRIOR_WRONG_DRIVE_FACTOR = Entry(0.1, "x", "Jump of a geared drive, elongation of a belt: rarely", "(cp)")

# --- explanations: how far each reaches -----------------------------------------------------------------------------
JUMP_LATE_SHARE = Entry(0.75, "", "Jumps that leave the cams late", "(cp) a slack chain climbs on the slack side")
JUMP_PITCH_WEIGHTS = (
    Entry(0.72, "", "Share of jumps by one pitch", "(cp)"),
    Entry(0.20, "", "Share of jumps by two pitches", "(cp)"),
    Entry(0.08, "", "Share of jumps by three pitches", "(cp)"),
)
JUMP_AT_CRANK_SHARE = Entry(0.55, "", "Jumps that move the whole drive, not one cam", "(cp)")
JUMP_AT_BANK_SHARE = Entry(0.25, "", "Jumps that move the cams of one bank (engines with several banks)", "(cp)")
SPROCKET_TEETH_UNKNOWN = (
    Entry(18, "teeth", "Fewest crank sprocket teeth assumed when not given", "(cp) pitch often 15 to 20 degrees"),
    Entry(24, "teeth", "Most crank sprocket teeth assumed when not given", "(cp) pitch often 15 to 20 degrees"),
)
STRETCH_MEAN_PERCENT = Entry(0.45, "%", "Mean elongation of a chain that is suspected", "(cp) replaced at 0.5 to 1 %")
STRETCH_MIN_PERCENT = Entry(0.15, "%", "Less elongation is ordinary wear", "(cp)")
STRETCH_MAX_PERCENT = Entry(1.8, "%", "Longest elongation a guided chain survives", "(cp)")
FREE_LINKS_UNKNOWN = Entry(40, "links", "Free tight links assumed when not given", "(cp)")
SHIFT_SD_DEG = Entry(14.0, "deg", "Width of a slipped cam, wheel or sensor shift", "(cp)")
SHIFT_MIN_DEG = Entry(2.5, "deg", "Smaller shifts of a wheel or cam are no fault", "(cp) half of the usual limit")
SHIFT_MAX_DEG = Entry(60.0, "deg", "Largest shift of a slipped cam or wheel considered", "(cp)")
WRONG_REFERENCE_SD_DEG = Entry(30.0, "deg", "Width of the offsets a wrong profile gives", "(house)")
SOMETHING_ELSE_SD_DEG = Entry(20.0, "deg", "Width of the offsets something else gives", "(house)")
WRONG_EDGE_SHARE = Entry(0.25, "", "Wrong references that are a wrong crank edge", "(cp)")
WRONG_SPACING_SHARE = Entry(0.6, "", "Wrong references whose edge spacing is wrong too", "(cp)")
GARBLED_SHARE = Entry(0.1, "", "Something else that garbles the edges' pattern", "(house)")
PATTERN_MISFIT_SD_DEG = Entry(2.5, "deg", "How rarely a right profile's pattern is not recognised", "(house)")
WRONG_SPACING_SD_DEG = Entry(6.0, "deg", "Misfit of edge spacing under a wrong profile", "(house)")
SPACING_FLOOR_SD_DEG = Entry(0.7, "deg", "Misfit of edge spacing on a right profile beside its own u95", "(cp)")
PHASER_MOVED_CRANKING = Entry(0.03, "", "Chance that a phaser of unknown state is off park while cranking", "(cp)")
PHASER_MOVED_RUNNING = Entry(0.5, "", "Chance that a phaser of unknown state is off park while running", "(cp)")
PHASER_MOVED_ACTIVE = Entry(0.85, "", "Chance that a phaser left active is off park while running", "(cp)")

# --- the gate -------------------------------------------------------------------------------------------------------
GATE_PROBABILITY = Entry(
    0.95, "", "Least probability of the leader for opening the covers", "(house) a wrong go is the worst failure"
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
UNDECIDED_ODDS = Entry(1.5, "to 1", "Leader and second closer than this: undecided", "(house)")
CAUTION_LEAST_DEG = Entry(10.0, "deg", "Valves further off than this can meet pistons", "(cp)")
SETTLED_PROBABILITY = Entry(0.9, "", "Surer than this that all is well: no further test is proposed", "(house)")
IN_TIME_WORDS_DEG = Entry(1.5, "deg", "Beyond its uncertainty: an offset still called in time", "(house) build spread")
ALIKE_DEG = Entry(2.0, "deg", "Offsets closer than this are told as one", "(house)")
WHOLE_PITCH = Entry(0.07, "pitch", "Distance from a whole number still called whole", "(house)")
CAUTION_PROBABILITY = Entry(0.15, "", "Chance of a jump from which cranking is advised against", "(cp)")


# --- the next test: minutes without travel to the part, and how often a look is right ---------------------------------
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
LOOK_RELIABILITY = Entry(0.95, "", "Chance that a careful look shows what is there", "(cp)")
NEXT_TEST_LEAST_BITS = Entry(0.03, "bit", "A test expected to tell less is not proposed", "(house)")


def table() -> dict[str, Entry]:
    """All entries by name, in the order of this file; grouped ones get a running number."""
    found: dict[str, Entry] = {}
    for name, item in globals().items():
        if isinstance(item, Entry):
            found[name] = item
        elif isinstance(item, tuple) and item and all(isinstance(part, Entry) for part in item):
            found.update({f"{name}[{i}]": part for i, part in enumerate(item)})
    return found


def digest() -> str:
    """Hash over all values, so that a result that rests on other numbers is known as stale."""
    return hashlib.sha256(repr([(name, entry.value) for name, entry in table().items()]).encode()).hexdigest()
