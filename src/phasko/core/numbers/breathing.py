"""Numbers of pulses and mean pressures."""

from __future__ import annotations

from phasko.core.numbers.entry import Entry

__all__ = [
    "AMBIENT_UNKNOWN_U95_BAR",
    "EXHAUST_MEAN_MOST_BAR",
    "GAUGE_ZERO_U95_BAR",
    "PULSE_BLAMED",
    "PULSE_BLOW_BY_DEG",
    "PULSE_DELAY_MOST_DEG",
    "PULSE_DELAY_U95_DEG",
    "PULSE_DOUBT",
    "PULSE_EXHAUST_OPENS_DEG",
    "PULSE_EXHAUST_STROKE_DEG",
    "PULSE_INTAKE_PULL_SD_DEG",
    "PULSE_LEAK_DEG",
    "PULSE_NEXT_SHARE",
    "PULSE_NO_DELAY_WIDER",
    "PULSE_ODD_CRANKCASE",
    "PULSE_ODD_SHARE",
    "PULSE_RANDOM_MOST",
    "PULSE_RINGS_DEG",
    "PULSE_SUCTION_DEG",
    "PULSE_SUSPECT_LEAST",
]

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

# --- pulses: where a cylinder's valves and rings show -----------------------------------------------------------------
PULSE_EXHAUST_OPENS_DEG = (
    Entry(10.0, "deg", "After exhaust opening: its pulse", "(cp)"),
    Entry(12.0, "deg", "Width of it", "(house) bench"),
)
PULSE_EXHAUST_STROKE_DEG = (
    Entry(110.0, "deg", "After exhaust opening: the push of the stroke", "(cp)"),
    Entry(30.0, "deg", "Width of it", "(house) bench"),
)
PULSE_LEAK_DEG = (
    Entry(-10.0, "deg", "After compression TDC: gas through a valve that leaks", "(cp)"),
    Entry(15.0, "deg", "Width of it", "(house) bench"),
)
PULSE_INTAKE_PULL_SD_DEG = Entry(60.0, "deg", "Width of the pull in the middle of the intake stroke", "(house) bench")
PULSE_RINGS_DEG = (
    Entry(15.0, "deg", "After TDC: blow-by past the rings", "(cp)"),
    Entry(20.0, "deg", "Width of it", "(house) bench"),
)
PULSE_SUCTION_DEG = Entry(8.0, "deg", "After exhaust opening: the suction of a sealed cylinder", "(cp)")
PULSE_BLOW_BY_DEG = Entry(20.0, "deg", "After TDC: the largest blow-by", "(cp)")
PULSE_NEXT_SHARE = Entry(0.6, "of first", "A second odd pulse smaller than this is not named", "(house)")
PULSE_NO_DELAY_WIDER = Entry(2.5, "x", "Widths where the pipe's delay is not known", "(house) bench")
PULSE_SUSPECT_LEAST = Entry(0.05, "", "Less likely cylinders are not listed", "(house)")
