"""Numbers of what a kind of evidence shows under a state: how often a sound thing looks wrong and a wrong one sound."""

from __future__ import annotations

from phasko.core.numbers.entry import Entry

__all__ = [
    "BACK_PRESSURE_BY_CHANCE",
    "BACK_PRESSURE_SHOWN",
    "BANK_ALIKE_SD_DEG",
    "CHANGES_BY_CHANCE",
    "CHANGES_SHOWN",
    "CYLINDER_BUILD_SD",
    "CYLINDER_LAW_SHARE",
    "CYLINDER_LOW_SD",
    "EXHAUST_STROKE_SHOWN",
    "FLAT_CAMS_SHARE",
    "FREE_CAM_SD_DEG",
    "GAUGE_OWN_SD",
    "GAUGE_SIZE_SD",
    "GAUGE_USUAL_BAR",
    "HUMPS_WRONG_BY_CHANCE",
    "INTAKE_STROKE_BY_CHANCE",
    "INTAKE_STROKE_SHOWN",
    "LEAK_DOWN_SD",
    "LEAK_DOWN_SOUND_PERCENT",
    "LEAK_DOWN_WIDE_OPEN_PERCENT",
    "MARK_AMOUNT_SD_DEG",
    "MARK_SEEN_SLOPE_DEG",
    "PULSE_BY_CHANCE",
    "PULSE_SHOWN",
    "PUSH_BLOCKED",
    "PUSH_BY_CHANCE",
    "PUSH_SHOWN",
    "ROAD_SHOWN",
    "ROAD_VALVES_SHOWN",
    "SIGNAL_CHANCES",
    "SIGNAL_INTERMITTENT",
    "SPARK_MAP_SD_DEG",
    "SPARK_UNUSUAL_CHANCE",
    "SPARK_USUAL_SD_DEG",
    "WITHHELD_BY_CHANCE",
    "WITHHELD_SHOWN",
]

# --- cylinders -------------------------------------------------------------------------------------------------------
CYLINDER_BUILD_SD = Entry(0.035, "of healthy", "Spread of healthy cylinders of one engine", "(cp)")
CYLINDER_LOW_SD = Entry(0.05, "of healthy", "What a separation of humps leaves open behind a low cylinder", "(house)")
CYLINDER_LAW_SHARE = Entry(0.3, "of change", "What displaced valves cost may differ by", "(house) bench: a fifth")
HUMPS_WRONG_BY_CHANCE = Entry(0.01, "", "Chance that the humps of a state are counted otherwise", "(house)")
GAUGE_OWN_SD = Entry(0.05, "ln", "Repeatability of a compression gauge", "(cp) a twentieth")
GAUGE_SIZE_SD = Entry(0.12, "ln", "What the gauge and the cranking speed do to all readings alike", "(cp)")
GAUGE_USUAL_BAR = Entry(12.0, "bar", "Cranking pressure where the profile gives no range", "(cp) 10 to 14")
LEAK_DOWN_SOUND_PERCENT = Entry(8.0, "%", "Usual leak-down of a sound cylinder", "(cp) 5 to 15")
LEAK_DOWN_WIDE_OPEN_PERCENT = Entry(85.0, "%", "Leak-down of a cylinder that holds nothing", "(cp)")
LEAK_DOWN_SD = Entry(0.45, "ln", "How far readings spread about what is usual", "(cp)")

# --- signals, changes ------------------------------------------------------------------------------------------------
SIGNAL_CHANCES = (
    Entry(0.991, "", "A sound signal reads whole", "(house)"),
    Entry(0.004, "", "A sound signal seems to lose pulses", "(house)"),
    Entry(0.002, "", "A sound signal seems gone", "(house) probe off"),
    Entry(0.003, "", "A sound signal seems to have pulses added", "(house)"),
)
SIGNAL_INTERMITTENT = Entry(0.15, "", "A bad signal is whole in the captures", "(cp) comes and goes")
FREE_CAM_SD_DEG = Entry(100.0, "deg", "Where a cam stands that nothing drives", "(house)")
FLAT_CAMS_SHARE = Entry(0.93, "", "Broken drives that leave a cam standing, not turning freely", "(cp)")
CHANGES_BY_CHANCE = Entry(0.01, "", "A sound engine's cam moves inside a capture", "(house)")
CHANGES_SHOWN = Entry(0.35, "", "What comes and goes shows itself inside one capture", "(house)")
BANK_ALIKE_SD_DEG = Entry(2.5, "deg", "Targets of two banks assumed alike without a profile", "(cp)")

# --- spark -----------------------------------------------------------------------------------------------------------
SPARK_MAP_SD_DEG = Entry(1.5, "deg", "What a control unit's map adds beside its window while cranking", "(cp)")
SPARK_USUAL_SD_DEG = Entry(7.0, "deg", "Spread of cranking sparks where no window is given", "(cp)")
SPARK_UNUSUAL_CHANCE = Entry(0.02, "", "A sound engine sparks anywhere", "(house) odd maps")
WITHHELD_BY_CHANCE = Entry(0.03, "", "A sound engine withholds spark or injection", "(cp) immobiliser, flood mode")
WITHHELD_SHOWN = Entry(0.5, "", "Signals out of step make the control unit withhold", "(cp)")

# --- breathing, road -------------------------------------------------------------------------------------------------
PUSH_SHOWN = Entry(0.6, "", "Valves far out of time push back at the throttle", "(cp) strong evidence")
PUSH_BLOCKED = Entry(0.15, "", "A blocked exhaust or a leaking intake valve pushes back", "(cp)")
PUSH_BY_CHANCE = Entry(0.01, "", "An engine in time pushes at the throttle", "(cp) strong evidence")
BACK_PRESSURE_SHOWN = Entry(0.8, "", "A blocked exhaust stands under pressure while cranking", "(cp)")
EXHAUST_STROKE_SHOWN = Entry(
    0.4, "", "A blocked exhaust lifts the exhaust stroke", "(house) bench: from nine tenths on"
)
INTAKE_STROKE_SHOWN = Entry(0.4, "", "A blocked intake holds back the intake stroke", "(house) bench: nearly shut only")
INTAKE_STROKE_BY_CHANCE = Entry(0.04, "", "So does a throttle that was not open after all", "(cp)")
BACK_PRESSURE_BY_CHANCE = Entry(0.02, "", "A free exhaust shows pressure while cranking", "(house)")
PULSE_SHOWN = Entry(0.75, "", "A faulty cylinder's pulse is odd", "(house) bench")
PULSE_BY_CHANCE = Entry(0.015, "", "A sound engine's pulse is odd once per cycle", "(house)")
ROAD_VALVES_SHOWN = Entry(0.3, "", "Valves a pitch out show on the road as too little air", "(cp)")
ROAD_SHOWN = Entry(0.85, "", "An engine that breathes badly shows it on the road", "(cp)")

# --- looks at marks --------------------------------------------------------------------------------------------------
MARK_SEEN_SLOPE_DEG = Entry(0.8, "deg", "How sharply a look at marks tells displaced from true", "(cp)")
MARK_AMOUNT_SD_DEG = Entry(3.0, "deg", "Error of a displacement read off marks, crank degrees", "(cp) half a tooth")
