"""Numbers of what healthy engines do, chances before measuring, and how far each explanation reaches."""

from __future__ import annotations

from phasko.core.numbers.entry import Entry

__all__ = [
    "BUILD_CAM_SD_DEG",
    "BUILD_CHAIN_SD_DEG",
    "CAM_SET_SD_DEG",
    "CAPTURES_DIFFER_DEG",
    "CAPTURE_SD_DEG",
    "DISTURBED_LEAST_PULSES",
    "FREE_LINKS_UNKNOWN",
    "GARBLED_SHARE",
    "JUMP_AT_BANK_SHARE",
    "JUMP_AT_CRANK_SHARE",
    "JUMP_LATE_SHARE",
    "JUMP_PITCH_WEIGHTS",
    "JUMP_WEAR_SD_DEG",
    "PATTERN_MISFIT_SD_DEG",
    "PHASER_MOVED_ACTIVE",
    "PHASER_MOVED_RUNNING",
    "ROCKING_RPM",
    "SHIFT_MAX_DEG",
    "SHIFT_MIN_DEG",
    "SHIFT_SD_DEG",
    "SLOW_MISFIT_DEG",
    "SLOW_RPM",
    "SOMETHING_ELSE_SD_DEG",
    "SPACING_FLOOR_SD_DEG",
    "SPROCKET_TEETH_UNKNOWN",
    "STATE_SD_DEG",
    "STRETCH_MAX_PERCENT",
    "STRETCH_MEAN_PERCENT",
    "STRETCH_MIN_PERCENT",
    "WRONG_EDGE_SHARE",
    "WRONG_INDEX_SHARE",
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
CAPTURE_SD_DEG = Entry(0.4, "deg", "Change of a healthy cam from capture to capture: slack, oil, temperature", "(cp)")
STATE_SD_DEG = Entry(0.5, "deg", "Change of a healthy fixed cam between states (cranking, idle)", "(cp)")

# --- signals ---------------------------------------------------------------------------------------------------

DISTURBED_LEAST_PULSES = Entry(3.0, "pulses", "Fewer in a capture are noise", "(cp) judge what repeats")
SLOW_RPM = Entry(130.0, "rpm", "Slower, a compression may stop the crank for a moment", "(cp) sound: 150 or more")
SLOW_MISFIT_DEG = Entry(
    2.5, "deg", "Edges of one cam that disagree by more at such a speed: teeth miscounted", "(house)"
)
ROCKING_RPM = Entry(
    80.0, "rpm", "Slower, a crank rocks at its compressions and its teeth are miscounted", "(cp) sound: 150 or more"
)

# --- explanations: how far each reaches -----------------------------------------------------------------------------
JUMP_LATE_SHARE = Entry(0.75, "", "Jumps that leave the cams late", "(cp) a slack chain climbs on the slack side")
JUMP_PITCH_WEIGHTS = (
    Entry(0.68, "", "Share of jumps by one pitch", "(cp)"),
    Entry(0.19, "", "Share of jumps by two pitches", "(cp)"),
    Entry(0.07, "", "Share of jumps by three pitches", "(cp)"),
    Entry(0.025, "", "Share of jumps by four pitches", "(cp)"),
    Entry(0.012, "", "Share of jumps by five pitches", "(cp)"),
    Entry(0.009, "", "Share of jumps by six pitches", "(cp)"),
    Entry(0.008, "", "Share of jumps by seven pitches", "(cp)"),
    Entry(0.006, "", "Share of jumps by eight pitches", "(cp)"),
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
WRONG_INDEX_SHARE = Entry(0.2, "", "Wrong profiles whose index and edges are off together", "(cp) learnt ones")
WRONG_EDGE_SHARE = Entry(0.25, "", "Wrong references that are a wrong crank edge", "(cp)")
WRONG_SPACING_SHARE = Entry(0.6, "", "Wrong references whose edge spacing is wrong too", "(cp)")
GARBLED_SHARE = Entry(0.1, "", "Something else that garbles the edges' pattern", "(house)")
PATTERN_MISFIT_SD_DEG = Entry(2.5, "deg", "How rarely a right profile's pattern is not recognised", "(house)")
WRONG_SPACING_SD_DEG = Entry(6.0, "deg", "Misfit of edge spacing under a wrong profile", "(house)")
SPACING_FLOOR_SD_DEG = Entry(0.7, "deg", "Misfit of edge spacing on a right profile beside its own u95", "(cp)")
PHASER_MOVED_RUNNING = Entry(0.5, "", "Chance that a phaser of unknown state is off park while running", "(cp)")
PHASER_MOVED_ACTIVE = Entry(0.85, "", "Chance that a phaser left active is off park while running", "(cp)")
JUMP_WEAR_SD_DEG = Entry(0.8, "deg", "A drive that jumped stands off whole pitches by its wear", "(cp)")
CAM_SET_SD_DEG = Entry(12.0, "deg", "Width of cams that were each set wrong after work", "(cp)")
