"""Numbers of sparks."""

from __future__ import annotations

from phasko.core.numbers.entry import Entry

__all__ = [
    "FIRING_RULE",
    "IGNITION_LOCKED",
    "INJECTION_BATTERY_V",
    "INJECTION_WIDTH_S",
    "INJECTION_WITHHELD_CYCLES",
    "SPARK_FLOOR_DEG",
    "SPARK_MISSED_LEAST",
    "SPARK_OWN_DEG",
    "SPARK_PRIMARY_V",
    "SPARK_SPIKE_SHARE",
    "SPARK_STRAY_DEG",
    "SPARK_USUAL_DEG",
]

# --- sparks -----------------------------------------------------------------------------------------------------
SPARK_PRIMARY_V = Entry(40.0, "V", "A coil signal above this is a primary, not its drive", "(cp) spikes of hundreds")
SPARK_SPIKE_SHARE = Entry(0.4, "of largest", "Level at which a primary's spike is timed", "(house) above burn line")
SPARK_OWN_DEG = Entry(180.0, "deg", "A spark nearer than this to a TDC of the cycle belongs to that turn", "(cp)")
SPARK_USUAL_DEG = Entry(-10.0, "deg", "Where a spark usually stands to its TDC while cranking", "(cp) 0 to 15 before")
SPARK_STRAY_DEG = Entry(25.0, "deg", "Farther from the usual firing a single one does not count", "(house)")
SPARK_FLOOR_DEG = Entry(0.05, "deg", "Least error of a spark's angle: level and slope of the spike", "(house)")
SPARK_MISSED_LEAST = Entry(1.0, "firings", "More left out are mentioned", "(house) starts count from the second turn")

IGNITION_LOCKED = (
    Entry(
        6.9,
        "",
        "Rayleigh's z from which added pulses are tied to the ignition",
        "Mardia and Jupp 2000, 6.3.1: 1 in 1000",
    ),
    Entry(0.8, "", "And the length of their mean direction", "(house)"),
)
FIRING_RULE = (
    Entry(40.0, "deg", "Usual step of sparks this near to 360 or 720 may be a rule", "(house)"),
    Entry(60.0, "deg", "Single steps this near follow it", "(house)"),
    Entry(0.6, "of steps", "So many of them make it the rule", "(house)"),
)
INJECTION_BATTERY_V = Entry(5.0, "V", "An injector's wire rests at the battery's voltage, above this", "(cp)")
INJECTION_WIDTH_S = (
    Entry(0.0004, "s", "An injector's pulse lasts at least", "(cp)"),
    Entry(0.06, "s", "and at most, cold and cranking", "(cp)"),
)
INJECTION_WITHHELD_CYCLES = Entry(2.0, "cycles", "So many without a pulse, and it is withheld", "(cp)")
