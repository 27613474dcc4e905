"""The sizes of the firing ripple's waves against the equation of motion, integrated by SciPy.

Torque = inertia times angular acceleration (Newton; Heywood, Internal Combustion Engine Fundamentals, 1988, for the
gas torque by slider-crank kinematics; from memory). Reference: ``scipy.integrate.solve_ivp`` (DOP853), stiff flywheel.
"""

import numpy as np
import pytest
from scipy.integrate import solve_ivp

from phasko.core.engine.firing_ripple import firing_ripple
from phasko.core.engine.gas_torque import gas_torque
from tests.builders import profile

ENGINE = profile()
TDCS = np.array(sorted(ENGINE.firing_tdc_deg.values()))
MEAN_RAD_S = 20.0
FLYWHEEL = 2e4
"""So heavy that the speed hardly changes: waves of the torque are then waves of the angle."""


def turning(_: float, state: np.ndarray) -> np.ndarray:
    after = (np.degrees(state[0]) - TDCS + 360.0) % 720.0 - 360.0
    return np.array([state[1], gas_torque(after, ENGINE).sum() / FLYWHEEL])


def test_waves_of_the_angle_are_those_that_the_torque_drives() -> None:
    cycle_s = 4.0 * np.pi / MEAN_RAD_S
    at = np.linspace(0.0, cycle_s, 721)
    moved = solve_ivp(turning, (0.0, cycle_s), [0.0, MEAN_RAD_S], "DOP853", at, rtol=1e-11, atol=1e-13, max_step=1e-3)
    off = moved.y[0] - moved.y[0][0] - (moved.y[0][-1] - moved.y[0][0]) * at / cycle_s
    spectrum = np.abs(np.fft.rfft(off[:-1]))
    ripple = firing_ripple(ENGINE)
    for per_cycle in (8, 12):
        expected = ripple.sine[per_cycle - 1] / ripple.sine[3]
        assert spectrum[per_cycle] / spectrum[4] == pytest.approx(expected, rel=0.05)
