"""Numbers of what healthy engines do, chances before measuring, and how far each explanation reaches."""

from __future__ import annotations

from phasko.core.numbers.entry import Entry

__all__ = [
    "BACK_PRESSURE_BY_CHANCE",
    "BUILD_CAM_SD_DEG",
    "BUILD_CHAIN_SD_DEG",
    "CAPTURES_DIFFER_DEG",
    "DISTURBANCE_UNSEEN",
    "DISTURBED_BESIDES",
    "DISTURBED_BY_CHANCE",
    "DISTURBED_LEAST_PULSES",
    "EXHAUST_RESTRICTED_PRIOR",
    "FREE_LINKS_UNKNOWN",
    "GARBLED_SHARE",
    "IGNITION_MISTIMED_PRIOR",
    "IMPOSSIBLE_PRIOR",
    "INTAKE_RESTRICTED_PRIOR",
    "JUMP_AT_BANK_SHARE",
    "JUMP_AT_CRANK_SHARE",
    "JUMP_LATE_SHARE",
    "JUMP_PITCH_WEIGHTS",
    "PATTERN_MISFIT_SD_DEG",
    "PHASER_MOVED_ACTIVE",
    "PHASER_MOVED_RUNNING",
    "PRIOR_CAM_SIGNAL",
    "PRIOR_CAM_SLIPPED",
    "PRIOR_CHAIN_JUMPED",
    "PRIOR_CHAIN_STRETCHED",
    "PRIOR_CRANK_SIGNAL",
    "PRIOR_NONE",
    "PRIOR_PHASER_OFF_PARK",
    "PRIOR_REFERENCE",
    "PRIOR_SOMETHING_ELSE",
    "PRIOR_WRONG_DRIVE_FACTOR",
    "PULSE_BY_CHANCE",
    "PUSH_BY_CHANCE",
    "ROCKING_RPM",
    "SENSOR_CAM_PRIOR",
    "SENSOR_CRANK_PRIOR",
    "SENSOR_INDUCED_PRIOR",
    "SHIFT_MAX_DEG",
    "SHIFT_MIN_DEG",
    "SHIFT_SD_DEG",
    "SOMETHING_ELSE_SD_DEG",
    "SPACING_FLOOR_SD_DEG",
    "SPARK_OUT_BY_CHANCE",
    "SPROCKET_TEETH_UNKNOWN",
    "STATE_SD_DEG",
    "STRETCH_MAX_PERCENT",
    "STRETCH_MEAN_PERCENT",
    "STRETCH_MIN_PERCENT",
    "VALVE_TRAIN_PRIOR",
    "WRONG_EDGE_SHARE",
    "WRONG_REFERENCE_SD_DEG",
    "WRONG_SPACING_SD_DEG",
    "WRONG_SPACING_SHARE",
]

# --- what healthy engines do ------------------------------------------------------------------------------------
BUILD_CHAIN_SD_DEG = Entry(0.8, "deg", "Spread of healthy engines, all cams of a drive together", "(cp)")
BUILD_CAM_SD_DEG = Entry(0.7, "deg", "Spread of healthy engines, cam by cam", "(cp)")
CAPTURES_DIFFER_DEG = Entry(
    3.0, "deg", "Captures of one state further apart contradict each other", "as a step inside one capture"
)
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
PHASER_MOVED_RUNNING = Entry(0.5, "", "Chance that a phaser of unknown state is off park while running", "(cp)")
PHASER_MOVED_ACTIVE = Entry(0.85, "", "Chance that a phaser left active is off park while running", "(cp)")

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
