"""Numbers of a scan tool's log of a drive."""

from __future__ import annotations

from phasko.core.numbers.entry import Entry

__all__ = [
    "ROAD_BOOST_KPA",
    "ROAD_BY_CHANCE",
    "ROAD_DROP_MOST_KPA",
    "ROAD_EFFICIENCY_LEAST",
    "ROAD_INTAKE_C",
    "ROAD_INTAKE_U95",
    "ROAD_LASTS_S",
    "ROAD_LOAD_GOOD_PERCENT",
    "ROAD_LOAD_LOW_PERCENT",
    "ROAD_LOAD_U95_PERCENT",
    "ROAD_METER_U95",
    "ROAD_OUTSIDE_KPA",
    "ROAD_OUTSIDE_U95",
    "ROAD_PART_LOAD_PERCENT",
    "ROAD_RPM_LEAST",
    "ROAD_THROTTLE_LEAST_PERCENT",
    "ROAD_TRIM_MOST_PERCENT",
    "ROAD_WARM_C",
    "ROAD_WIDE_SHARE",
]

# --- road test ---------------------------------------------------------------------------------------------------
ROAD_THROTTLE_LEAST_PERCENT = Entry(70.0, "%", "A throttle that never opens further was not full", "(cp)")
ROAD_RPM_LEAST = Entry(1500.0, "rpm", "Full throttle counts from this speed on", "(cp) low gear, pulling")
ROAD_LASTS_S = Entry(0.5, "s", "Full throttle has to last", "(cp) meters lag")
ROAD_WIDE_SHARE = Entry(0.93, "of widest", "Throttle or load from here on is full throttle", "(house) pedals differ")
ROAD_PART_LOAD_PERCENT = (
    Entry(15.0, "%", "Calculated load from which trims are read", "(cp) under it idle"),
    Entry(60.0, "%", "Calculated load up to which trims are read", "(cp) above it enrichment"),
)
ROAD_INTAKE_U95 = Entry(0.05, "of air", "What intake air that nobody logged does", "(house) 15 degrees")
ROAD_OUTSIDE_U95 = Entry(0.06, "of air", "What air pressure that nobody logged does", "(house) weather, height")
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
