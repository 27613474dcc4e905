"""Where in its own cycle a cylinder is expected to move the gas that a pulse sensor feels."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from phasko.core import numbers
from phasko.core.documents.engine import EngineProfile

__all__ = ["Mechanism", "PulseRole", "expected_feature_deg", "mechanisms"]

PulseRole = Literal["intake_pulse", "exhaust_pulse", "crankcase_pulse"]
Way = Literal["up", "down", "either"]

USUAL_EXHAUST_OPEN_DEG = 140.0
USUAL_INTAKE_OPEN_DEG, USUAL_INTAKE_CLOSE_DEG = 355.0, 590.0


@dataclass(frozen=True, slots=True)
class Mechanism:
    """Something a faulty cylinder does to the pulses: ``after_deg`` its own firing TDC, give or take ``sd_deg``, and
    ``way`` it bends the signal there. ``own_pulse``: it changes the cylinder's regular pulse, else it adds one."""

    words: str
    after_deg: float
    sd_deg: float
    way: Way
    own_pulse: bool


def mechanisms(role: PulseRole, engine: EngineProfile) -> tuple[Mechanism, ...]:
    """What to look for in each channel. A sealed, cranked cylinder is under the outside when its exhaust valve opens,
    and sucks; one that lost gas sucks more, one that never closed does not (common practice, no source; the thermo-
    dynamics of the closed part are Heywood 1988, section 5.4)."""
    opens, draws, closes = _valves(engine)
    opened, opened_sd = (entry.value for entry in numbers.PULSE_EXHAUST_OPENS_DEG)
    stroke, stroke_sd = (entry.value for entry in numbers.PULSE_EXHAUST_STROKE_DEG)
    leak, leak_sd = (entry.value for entry in numbers.PULSE_LEAK_DEG)
    rings, rings_sd = (entry.value for entry in numbers.PULSE_RINGS_DEG)
    if role == "exhaust_pulse":
        return (
            Mechanism("its pulse as the exhaust valve opens differs", opens + opened, opened_sd, "either", True),
            Mechanism("its push on the exhaust stroke differs", opens + stroke, stroke_sd, "either", True),
            Mechanism("gas comes out near its compression TDC", leak, leak_sd, "up", False),
        )
    if role == "intake_pulse":
        return (
            Mechanism(
                "its pull differs", 0.5 * (draws + closes), numbers.PULSE_INTAKE_PULL_SD_DEG.value, "either", True
            ),
            Mechanism("gas comes back near its compression TDC", leak, leak_sd, "up", False),
        )
    return (Mechanism("more gas comes past its rings near TDC", rings, rings_sd, "up", True),)


def _valves(engine: EngineProfile) -> tuple[float, float, float]:
    timing = engine.valve_timing
    if timing is None:
        return USUAL_EXHAUST_OPEN_DEG, USUAL_INTAKE_OPEN_DEG, USUAL_INTAKE_CLOSE_DEG
    return timing.exhaust_open_deg, timing.intake_open_deg, timing.intake_close_deg


def expected_feature_deg(role: PulseRole, engine: EngineProfile, upwards: bool) -> float:
    """Where the largest swing of a regular pulse is expected after its own cylinder's TDC, without any delay.

    Exhaust: downwards the suction as the valve opens, upwards the push of the rising piston. Intake: downwards the
    pull in the middle of its stroke, upwards its end. Crankcase: blow-by at TDC.
    """
    opens, draws, closes = _valves(engine)
    if role == "exhaust_pulse":
        return opens + (numbers.PULSE_EXHAUST_STROKE_DEG[0].value if upwards else numbers.PULSE_SUCTION_DEG.value)
    if role == "intake_pulse":
        return closes if upwards else 0.5 * (draws + closes)
    blow_by = numbers.PULSE_BLOW_BY_DEG.value
    return blow_by if upwards else blow_by + 360.0 / engine.cylinders
