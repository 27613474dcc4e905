"""A leaking cylinder's pressure against the same equations integrated by SciPy, and its limits by hand.

Flow through a hole: Heywood, Internal Combustion Engine Fundamentals, 1988, appendix C (from memory): choked below the
critical pressure ratio (2 / (gamma + 1)) ** (gamma / (gamma - 1)) = 0.528 of air. Reference: ``solve_ivp`` (LSODA).
"""

import numpy as np
import pytest
from scipy.integrate import solve_ivp

from phasko.bench.pool import pool_engine
from phasko.core.engine.gas_torque import POLYTROPIC, gas_torque, leaking_torque, squeezed_less_torque, usual_geometry

ENGINE = pool_engine("corvane-2.1-four")
SHAPE = usual_geometry(ENGINE)
assert ENGINE.valve_timing is not None
CLOSES_DEG = float(np.ceil(ENGINE.valve_timing.intake_close_deg - 720.0))
OPENS_DEG = float(ENGINE.valve_timing.exhaust_open_deg)


def volume(deg: float) -> float:
    """Of the cylinder in strokes: slider-crank, Heywood equations 2.4 to 2.6."""
    angle, rod = np.radians(deg), SHAPE.rod_mm / SHAPE.stroke_mm
    travel = 0.5 + rod - (0.5 * np.cos(angle) + np.sqrt(rod**2 - 0.25 * np.sin(angle) ** 2))
    return float(travel + 1.0 / (SHAPE.compression_ratio - 1.0))


def flow(pressure: float) -> float:
    """Against the choked flow at the outside's pressure."""
    ratio = max(min(pressure, 1.0 / pressure), 0.5283)
    psi = np.sqrt(max(ratio ** (2 / 1.4) - ratio ** (2.4 / 1.4), 0.0)) / np.sqrt(
        0.5283 ** (2 / 1.4) - 0.5283 ** (2.4 / 1.4)
    )
    return float(np.sign(pressure - 1.0) * max(pressure, 1.0) * psi)


def integrated(leak_per_deg: float, at_deg: np.ndarray) -> np.ndarray:
    def pressure(deg: float, mass: float) -> float:
        return float((mass * volume(CLOSES_DEG) / volume(deg)) ** POLYTROPIC)

    def loses(deg: float, mass: np.ndarray) -> np.ndarray:
        return np.array([-leak_per_deg * flow(pressure(deg, float(mass[0])))])

    solved = solve_ivp(loses, (CLOSES_DEG, OPENS_DEG), [1.0], "LSODA", at_deg, rtol=1e-8, atol=1e-10, max_step=0.5)
    return np.array([pressure(d, m) - 1.0 for d, m in zip(at_deg, solved.y[0], strict=True)])


@pytest.mark.parametrize("leak_per_deg", [2e-4, 1e-3])
def test_what_a_leak_leaves_and_how_it_bends_the_torque(leak_per_deg: float) -> None:
    at = np.arange(CLOSES_DEG + 5.0, OPENS_DEG - 5.0, 0.5)
    tight, leaking = integrated(0.0, at), integrated(leak_per_deg, at)
    left = leaking.max() / tight.max()
    assert 0.2 < left < 0.95
    slope = np.gradient(np.array([volume(d) for d in at]), np.radians(at))
    expected = leaking / leaking.max() * slope
    found = leaking_torque(ENGINE).at(at, float(left))
    assert np.abs(found - expected).max() < 0.04 * np.abs(expected).max()


def test_without_a_leak_it_is_the_tight_cylinders() -> None:
    at = np.arange(-140.0, 130.0, 0.7)
    for table in (leaking_torque(ENGINE), squeezed_less_torque(ENGINE)):
        assert table.at(at, 1.0) == pytest.approx(gas_torque(at, ENGINE), abs=2e-3)


def test_a_leak_bends_before_tdc_a_wider_clearance_does_not() -> None:
    """Torque of a tight cylinder is odd about TDC whatever its clearance; a leak asks for more than it gives back."""
    at = np.arange(1.0, 90.0)
    leaks, wider = leaking_torque(ENGINE), squeezed_less_torque(ENGINE)
    assert np.all(leaks.at(at, 0.6) < -leaks.at(-at, 0.6))
    assert wider.at(at, 0.6) == pytest.approx(-wider.at(-at, 0.6), abs=2e-3)
