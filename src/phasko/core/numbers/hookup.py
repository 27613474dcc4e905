"""Numbers of hooking up and recording."""

from __future__ import annotations

from phasko.core.numbers.entry import Entry

__all__ = [
    "BURST_MOST_S",
    "CLAMP_V_PER_A",
    "COIL_PRIMARY_V",
    "GROUND_MOST_OHM",
    "INJECTOR_V",
    "RPM_CRANKING_MOST",
    "RPM_IDLE_MOST",
    "RPM_ROAD_MOST",
    "SAMPLES_PER_TOOTH",
    "SAMPLE_DEG",
    "SAMPLE_LONG_DEG",
    "SENSOR_ERRATIC_SHARE",
    "SENSOR_FLAT_SHARE",
    "SENSOR_OVERHEATED_C",
    "SENSOR_RANGE_V",
    "SENSOR_SHRUNK_SHARE",
    "SOLENOID_APART_SHARE",
    "SPARK_RATE_HZ",
    "SUPPLY_SAGS_V",
    "SUPPLY_V",
    "TRANSDUCER_BAR_PER_V",
    "VR_CRANKING_V",
    "VR_RUNNING_V",
]

BURST_MOST_S = Entry(10.0, "s", "A starter turns no longer without a rest", "(cp)")
RPM_CRANKING_MOST = Entry(350.0, "rpm", "An engine cranks no faster", "(cp)")
RPM_IDLE_MOST = Entry(1200.0, "rpm", "It idles no faster, cold start included", "(cp)")
RPM_ROAD_MOST = Entry(5000.0, "rpm", "and on a test drive turns no faster for long", "(cp)")
SAMPLE_DEG = Entry(0.1, "deg", "One sample is no longer, in crank degrees", "(house) an edge lies within a tenth of it")
SAMPLE_LONG_DEG = Entry(0.3, "deg", "nor where one records for minutes", "(house) signals are counted then")
SAMPLES_PER_TOOTH = Entry(10.0, "samples", "The shortest level of a wheel holds so many", "(house)")
SPARK_RATE_HZ = Entry(100_000.0, "Hz", "A spark or an injector needs this rate", "(cp) ten microseconds")
SENSOR_RANGE_V = Entry(20.0, "V", "Range for the signal of a powered sensor", "(cp) up to the battery's")
VR_CRANKING_V = Entry(10.0, "V", "Range for an inductive sensor while cranking", "(cp)")
VR_RUNNING_V = Entry(100.0, "V", "Range for an inductive sensor while running", "(cp) its height grows with speed")
COIL_PRIMARY_V = Entry(500.0, "V", "Range for a coil's primary", "(cp) three to four hundred volts at the spark")
INJECTOR_V = Entry(100.0, "V", "Range for an injector's switched wire", "(cp)")
CLAMP_V_PER_A = Entry(0.001, "V/A", "Sensitivity of a clamp in its coarse range", "(cp)")
TRANSDUCER_BAR_PER_V = Entry(6.9, "bar/V", "Of a transducer of 34.5 bar over 5 V", "(cp)")
SENSOR_FLAT_SHARE = Entry(0.15, "of its usual swing", "A sensor's signal that swings less is gone", "(house)")
SENSOR_SHRUNK_SHARE = Entry(0.75, "of its usual swing", "and one that swings less shrinks", "(house)")
SENSOR_ERRATIC_SHARE = Entry(0.1, "of its periods", "More that jump from one to the next are erratic", "(house)")
SENSOR_OVERHEATED_C = Entry(150.0, "°C", "From here on every sensor fails", "(cp) most are rated to 130 to 150")
SUPPLY_V = (
    Entry(4.5, "V", "A five volt supply, at least", "(cp)"),
    Entry(5.5, "V", "and at most", "(cp)"),
    Entry(9.0, "V", "A sensor fed by the battery has at least", "(cp)"),
    Entry(16.0, "V", "and at most", "(cp)"),
)
SUPPLY_SAGS_V = Entry(
    0.5, "V", "A supply sags less when a load of a kilohm hangs on it; a signal's pull-up more", "(cp)"
)
GROUND_MOST_OHM = Entry(5.0, "ohm", "A ground has less to the engine, the networks asleep", "(cp)")
SOLENOID_APART_SHARE = Entry(0.2, "of its neighbour", "Solenoids of a kind are nearer together", "(cp)")
