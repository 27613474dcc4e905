"""Numbers of what each cylinder compresses, and how that follows the valves."""

from __future__ import annotations

from phasko.core.numbers.entry import Entry

__all__ = [
    "COMPRESSION_BENT_U95",
    "COMPRESSION_BESIDE_U95",
    "COMPRESSION_CHANGE_LEAST",
    "COMPRESSION_CYCLES_LEAST",
    "COMPRESSION_DEAD_BELOW",
    "COMPRESSION_EXPLAINED_LEAST",
    "COMPRESSION_INRUSH_S",
    "COMPRESSION_MOST",
    "COMPRESSION_PACED_U95",
    "COMPRESSION_PACE_FIT",
    "COMPRESSION_RHYTHM_TOLD",
    "COMPRESSION_SETTLED_SHARE",
    "COMPRESSION_SPEED_U95",
    "COMPRESSION_STARTER_U95",
    "COMPRESSION_TEETH_PER_HUMP",
    "COMPRESSION_TURN_LEAST",
    "COMPRESSION_TURN_TOLD",
    "COMPRESSION_UNEVEN_U95",
    "COMPRESSION_UNKNOWN_U95",
    "COMPRESSION_WEAK_BELOW",
    "OVERALL_HEALTHY_SD",
    "OVERALL_LAW_SHARE",
    "OVERALL_OPEN_SD",
    "OVERALL_SPEED_SHARE",
    "OVERALL_STARTER_U95",
    "OVERALL_TEMPERATURE_U95",
    "OVERALL_THROTTLE_U95",
    "OVERALL_THROTTLE_UNKNOWN_U95",
    "PITCH_UNKNOWN_SD_DEG",
    "PRESSURE_PEAKS_APART_S",
    "PRESSURE_PEAK_LEAST_BAR",
]

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
COMPRESSION_MOST = Entry(1.1, "of healthy", "No healthy cylinder compresses more than this", "(cp) within a tenth")
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

# --- laws: how compression follows the intake valves ------------------------------------------------------------------
OVERALL_TEMPERATURE_U95 = Entry(
    0.04, "of healthy", "What cold or hot does to all cylinders' size, where not alike", "(house)"
)
PITCH_UNKNOWN_SD_DEG = Entry(
    0.2, "deg", "Width of one pitch where the sprocket is not known", "(house) next tooth count"
)
