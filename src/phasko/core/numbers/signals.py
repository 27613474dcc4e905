"""Numbers of reading edges, teeth, segments and patterns."""

from __future__ import annotations

from phasko.core.numbers.entry import Entry

__all__ = [
    "BETWEEN_SHARED",
    "CLEAR_TURN_NATS",
    "CRANKING_MAX_RPM",
    "CYCLES_LEAST",
    "DEFAULT_REFERENCE_U95_DEG",
    "EDGE_ALIKE_SAMPLES",
    "EDGE_FLOOR_SAMPLES",
    "EDGE_HYSTERESIS",
    "EDGE_LEVEL",
    "GAP_REACH_DEG",
    "LEVEL_EDGES_MISSED",
    "LEVEL_LOW_V",
    "LEVEL_MIN_AMPLITUDE_V",
    "LEVEL_MIN_OVER_NOISE",
    "LEVEL_PLAUSIBLE_V",
    "LEVEL_STEADY",
    "MISREAD_LEAST_DEG",
    "PATTERN_AMBIGUITY",
    "PATTERN_MAX_COST",
    "PATTERN_WINDOW_DEG",
    "PITCH_THIN_DEG",
    "REST_GAP_S",
    "RIPPLE_ASIDE",
    "RIPPLE_UNEVEN",
    "RUN_OUT_SHARE",
    "RUN_UP_SHARE",
    "SAMPLES_PER_TOOTH_GOOD",
    "SAMPLES_PER_TOOTH_MIN",
    "SPEED_FLOOR_SHARE",
    "THIN_UNKNOWN_SD_DEG",
    "TOOTH_ERROR_FLOOR",
    "TOOTH_ERROR_FLOOR_DEG",
    "TOOTH_ERROR_TURNS",
    "TOOTH_RATIO_ACCEPT",
    "TOOTH_SD_MOST_DEG",
    "UNLIKE_SPREAD",
    "UNSTEADY_CHANGE_DEG",
    "UNSTEADY_SPREAD_DEG",
    "VOTE_LEAST_SHARE",
    "VR_ARMING",
    "VR_BESIDE_GAP",
    "VR_FLANK",
    "VR_LEAST_V",
    "VR_MIDDLE",
    "VR_MIDDLE_MOST",
    "VR_OVER_NOISE",
    "WHEEL_GAPS_SEEN_GOOD",
    "WHEEL_GAPS_SEEN_LEAST",
    "WHEEL_MISMATCH_SHARE",
]

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

GAP_REACH_DEG = Entry(
    30.0, "deg", "So near to missing samples a lost or added pulse is the file's", "(house) one tooth of twelve"
)

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
