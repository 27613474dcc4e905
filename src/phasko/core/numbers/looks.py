"""Numbers of what is seen and heard."""

from __future__ import annotations

from collections.abc import Mapping

from phasko.core.numbers.entry import Entry

__all__ = [
    "COMPRESSION_SPEAKS_BELOW",
    "DEAD_BANK_LEAST_DEG",
    "GAUGE_LOW_SHARE",
    "LEAK_DOWN_MOST_PERCENT",
    "LOOK_CHANCES",
    "LOOK_SEEN_DEG",
    "OUT_OF_STEP_DEG",
    "PUSH_BACK_LEAST_DEG",
    "WEAK_BY_CHANCE",
    "WEAK_CYLINDER_PRIOR",
]

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


# --- how often an answer is given where what it speaks about holds, and otherwise -----------------------------------
def _look(shown: float, otherwise: float) -> tuple[Entry, Entry]:
    source = "(cp) as strong as the trade takes it"
    return (
        Entry(shown, "", "Chance of this answer where what it speaks about holds", source),
        Entry(otherwise, "", "Chance of this answer otherwise", source),
    )


LOOK_CHANCES: Mapping[str, tuple[Entry, Entry]] = {
    "wiring.good": _look(0.6, 0.94),
    "wiring.damaged": _look(0.4, 0.06),
    "wiring.repaired": _look(0.5, 0.5),
    "oil.good": _look(0.55, 0.87),
    "oil.low": _look(0.2, 0.08),
    "oil.sludged": _look(0.25, 0.05),
    "replaced.nothing": _look(0.3, 0.6),
    "replaced.sensor_before": _look(0.4, 0.08),
    "replaced.drive_before": _look(0.4, 0.06),
    "replaced.sensor_in_vain": _look(0.08, 0.24),
    "rhythm.even": _look(0.15, 0.93),
    "rhythm.uneven": _look(0.85, 0.07),
    "rattle.none": _look(0.3, 0.83),
    "rattle.at_start": _look(0.5, 0.12),
    "rattle.always": _look(0.2, 0.05),
    "throttle_hand.pulls": _look(0.35, 0.9),
    "throttle_hand.pushes_back": _look(0.5, 0.01),
    "throttle_hand.neither": _look(0.15, 0.09),
    "spark.present": _look(0.4, 0.88),
    "spark.stops": _look(0.2, 0.04),
    "spark.absent": _look(0.4, 0.08),
    "injector.present": _look(0.6, 0.92),
    "injector.absent": _look(0.4, 0.08),
    "fuel_by_hand.reacts": _look(0.7, 0.3),
    "fuel_by_hand.nothing": _look(0.3, 0.7),
    "exhaust_opened.same": _look(0.2, 0.97),
    "exhaust_opened.better": _look(0.8, 0.03),
    "intake_opened.same": _look(0.2, 0.97),
    "intake_opened.better": _look(0.8, 0.03),
    "slack.none": _look(0.5, 0.5),
    "slack.felt": _look(0.5, 0.5),
    "fuel_pressure.right": _look(0.6, 0.95),
    "fuel_pressure.low": _look(0.4, 0.05),
    "valve_moves.moves": _look(0.3, 0.99),
    "valve_moves.still": _look(0.7, 0.01),
    "marks.true": _look(0.04, 0.96),
    "marks.out": _look(0.96, 0.04),
    "tensioner.usual": _look(0.3, 0.9),
    "tensioner.far_out": _look(0.7, 0.1),
    "gauge.low": _look(0.85, 0.05),
    "gauge.fine": _look(0.15, 0.95),
    "leak_down.leaks": _look(0.9, 0.04),
    "leak_down.tight": _look(0.1, 0.96),
}
