"""Numbers of what is seen and heard."""

from __future__ import annotations

from collections.abc import Mapping

from phasko.core.numbers.entry import Entry

__all__ = [
    "DISTANCE_WORN_KM",
    "GAUGE_LOW_SHARE",
    "GAUGE_RANGE_SHARE",
    "LEAK_DOWN_MOST_PERCENT",
    "LOOK_CHANCES",
    "LOOK_SEEN_DEG",
    "LOOM_HURT_CHANCES",
    "MANIFOLD_PUSHES_BAR",
    "MARK_AT_REST_SHARE",
    "MARK_ON_PULLEY_SHARE",
    "OUT_OF_STEP_DEG",
    "PUSH_BACK_LEAST_DEG",
    "SEAL_LEAKS_BELOW",
    "WHEEL_SEEN_DEG",
]

# --- what is seen and heard ----------------------------------------------------------------------------------------
LOOK_SEEN_DEG = Entry(8.0, "deg", "Displacement that a look at marks shows, four degrees at the cam", "(cp)")
WHEEL_SEEN_DEG = Entry(4.0, "deg", "Displacement of a signal wheel that a look shows", "(cp)")
PUSH_BACK_LEAST_DEG = Entry(20.0, "deg", "Valves this far out make an engine push back", "(cp) a pitch or more")
OUT_OF_STEP_DEG = Entry(9.0, "deg", "Signals further apart may make a control unit withhold spark", "(cp)")
GAUGE_LOW_SHARE = Entry(0.75, "of highest", "A lower gauge reading is low", "(cp) three quarters of the highest")
GAUGE_RANGE_SHARE = Entry(0.85, "of range", "A gauge below this share of the profile's least is low", "(cp)")
SEAL_LEAKS_BELOW = Entry(0.9, "of healthy", "A cylinder with less seal than this leaks", "(cp)")
MARK_AT_REST_SHARE = Entry(0.35, "", "A phaser or slack strand off its place shows with the engine at rest", "(cp)")
MARK_ON_PULLEY_SHARE = Entry(0.7, "", "Maker's marks that do not turn with a slipped sprocket", "(cp)")
DISTANCE_WORN_KM = Entry(150_000.0, "km", "From here on a drive is often worn", "(cp)")
MANIFOLD_PUSHES_BAR = Entry(1.03, "bar", "More absolute pressure at the port than the outside: it pushes", "(cp)")
LEAK_DOWN_MOST_PERCENT = Entry(20.0, "%", "More leak-down is a leak", "(cp)")


# --- how often an answer is given where what it speaks about holds, and otherwise -----------------------------------
def _look(shown: float, otherwise: float) -> tuple[Entry, Entry]:
    source = "(cp) as strong as the trade takes it"
    return (
        Entry(shown, "", "Chance of this answer where what it speaks about holds", source),
        Entry(otherwise, "", "Chance of this answer otherwise", source),
    )


LOOM_HURT_CHANCES = (
    Entry(
        0.25, "", "Cars whose sensors or wiring are at fault that had an accident, fire, water or wiring work", "(cp)"
    ),
    Entry(0.08, "", "and others that had one", "(cp)"),
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
    "rhythm.even": _look(0.4, 0.93),
    "rhythm.uneven": _look(0.6, 0.07),
    "rattle.none": _look(0.3, 0.83),
    "rattle.at_start": _look(0.5, 0.12),
    "rattle.always": _look(0.2, 0.05),
    "throttle_hand.pulls": _look(0.25, 0.9),
    "throttle_hand.pushes_back": _look(0.6, 0.01),
    "throttle_hand.neither": _look(0.15, 0.09),
    "spark.present": _look(0.4, 0.88),
    "spark.weak": _look(0.05, 0.03),
    "spark.stops": _look(0.2, 0.03),
    "spark.absent": _look(0.35, 0.06),
    "injector.present": _look(0.6, 0.92),
    "injector.absent": _look(0.4, 0.08),
    "fuel_by_hand.reacts": _look(0.9, 0.45),
    "fuel_by_hand.nothing": _look(0.1, 0.55),
    "exhaust_opened.same": _look(0.2, 0.97),
    "exhaust_opened.better": _look(0.8, 0.03),
    "intake_opened.same": _look(0.2, 0.97),
    "intake_opened.better": _look(0.8, 0.03),
    "solenoid_swapped.stayed": _look(0.5, 0.9),
    "solenoid_swapped.moved": _look(0.5, 0.03),
    "coil_swapped.stayed": _look(0.3, 0.95),
    "coil_swapped.moved": _look(0.7, 0.05),
    "slack.none": _look(0.5, 0.5),
    "slack.felt": _look(0.5, 0.5),
    "fuel_pressure.right": _look(0.6, 0.95),
    "fuel_pressure.low": _look(0.4, 0.05),
    "cold_strategy.same": _look(0.7, 0.95),
    "cold_strategy.starts": _look(0.3, 0.05),
    "sensor_unplugged.same": _look(0.65, 0.94),
    "sensor_unplugged.better": _look(0.35, 0.06),
    "sensor_wires.right": _look(0.5, 0.93),
    "sensor_wires.supply_missing": _look(0.25, 0.03),
    "sensor_wires.ground_missing": _look(0.25, 0.03),
    "solenoid_resistance.right": _look(0.7, 0.97),
    "solenoid_resistance.off": _look(0.3, 0.03),
    "turns_by_hand.turns": _look(0.7, 0.99),
    "turns_by_hand.locks": _look(0.3, 0.01),
    "plug.usual": _look(0.7, 0.85),
    "plug.crushed": _look(0.15, 0.004),
    "plug.wet": _look(0.5, 0.12),
    "plug.oiled": _look(0.3, 0.05),
    "borescope.clean": _look(0.35, 0.97),
    "borescope.marked": _look(0.45, 0.015),
    "borescope.bent_valve": _look(0.2, 0.01),
    "gauge.low": _look(0.85, 0.05),
    "gauge.fine": _look(0.15, 0.95),
    "leak_down.leaks": _look(0.9, 0.04),
    "leak_down.tight": _look(0.1, 0.96),
    "valve_moves.moves": _look(0.3, 0.99),
    "valve_moves.still": _look(0.7, 0.01),
    "crank_wheel.sits_right": _look(0.08, 0.97),
    "crank_wheel.moved": _look(0.92, 0.03),
    "cam_target.sits_right": _look(0.1, 0.97),
    "cam_target.moved": _look(0.9, 0.03),
    "marks.true": _look(0.03, 0.98),
    "marks.out": _look(0.97, 0.02),
    "tensioner.usual": _look(0.1, 0.96),
    "tensioner.far_out": _look(0.9, 0.04),
}
