"""The gas of the pressure fit against Cantera, handbook formulas and public units."""

from __future__ import annotations

import math

import cantera
import numpy as np
import pytest

from phasko.core.cylinder.gas_model import Chamber, followed_bar, heat_capacity_v, mass_flow
from phasko.core.cylinder.least_squares import Known, fitted
from phasko.core.signals.pressure_units import to_bar
from tests.builders import FOUR, pool_engine

OWN = np.arange(-120.0, 1.0)


def squeezed(heat: float, leak_mm2: float, rpm: float = 200.0) -> tuple[np.ndarray, np.ndarray]:
    """(volumes, pressures) from 120 degrees before TDC on, from 1 bar and 300 K."""
    chamber = Chamber.of(pool_engine(FOUR), np.full(OWN.size, rpm), 350.0)
    volume = chamber.volume_m3(OWN, np.ones(OWN.size))
    losses = np.full(1, heat), np.full(1, leak_mm2)
    return volume, followed_bar(chamber, volume[:, None], np.full(1, 1e5), 300.0, losses)[:, 0]


def test_without_loss_it_is_canteras_isentrope() -> None:
    """Cantera 3.2, mechanism air.yaml, at constant entropy to the smallest volume."""
    volume, bar = squeezed(0.0, 0.0)
    air = cantera.Solution("air.yaml")
    air.TPX = 300.0, 1e5, "O2:0.21, N2:0.79"
    entropy, specific = air.entropy_mass, 1.0 / air.density
    air.SV = entropy, specific * volume[-1] / volume[0]
    assert bar[-1] == pytest.approx(air.P / 1e5, rel=0.005)


def test_cranked_compression_has_the_usual_exponent() -> None:
    """1.28 to 1.35 between 60 and 10 degrees before TDC (Heywood 1988, section 5.4, motored; from memory)."""
    volume, bar = squeezed(1.0, 0.7)
    early, late = int(np.flatnonzero(OWN == -60.0)[0]), int(np.flatnonzero(OWN == -10.0)[0])
    exponent = math.log(bar[late] / bar[early]) / math.log(volume[early] / volume[late])
    assert 1.25 < exponent < 1.37


def test_a_leak_brings_the_peak_forward_as_the_trade_says() -> None:
    """Half a degree to three in health, three to eight with a strong leak (common practice, no source)."""
    own = np.arange(-120.0, 60.0)
    chamber = Chamber.of(pool_engine(FOUR), np.full(own.size, 200.0), 350.0)
    volume = np.repeat(chamber.volume_m3(own, np.ones(own.size))[:, None], 3, axis=1)
    leaks = np.array([0.0, 0.7, 5.0])
    bar = followed_bar(chamber, volume, np.full(3, 1e5), 300.0, (np.ones(3), leaks))
    before = -own[bar.argmax(axis=0)]
    assert 0.0 <= before[0] < before[1] <= 3.5
    assert 3.0 <= before[2] <= 14.0


def test_choked_and_gentle_flow() -> None:
    """Heywood 1988, equations C.9 (choked) and C.8, gamma 1.4; outwards positive."""
    area, kelvin = np.array([1e-4]), np.array([300.0])
    choked = 1e-4 * 3e5 / math.sqrt(287.05 * 300.0) * math.sqrt(1.4) * (2.0 / 2.4) ** 3.0
    assert mass_flow(area, np.array([3e5]), kelvin, 1e5)[0] == pytest.approx(choked, rel=1e-4)
    ratio = 0.9
    gentle = 1e-4 * 1e5 / math.sqrt(287.05 * 300.0) * ratio ** (1 / 1.4)
    gentle *= math.sqrt(2.8 / 0.4 * (1.0 - ratio ** (0.4 / 1.4)))
    assert mass_flow(area, np.array([1e5]), kelvin, 0.9e5)[0] == pytest.approx(gentle, rel=1e-4)
    assert mass_flow(area, np.array([0.9e5]), kelvin, 1e5)[0] == pytest.approx(-gentle, rel=1e-4)


@pytest.mark.parametrize("kelvin", [300.0, 600.0, 900.0])
def test_heat_capacity_is_canteras_air(kelvin: float) -> None:
    """Cantera 3.2, mechanism air.yaml (O2 0.21, N2 0.79 by volume)."""
    air = cantera.Solution("air.yaml")
    air.TPX = kelvin, 1e5, "O2:0.21, N2:0.79"
    assert heat_capacity_v(np.array([kelvin]))[0] == pytest.approx(air.cv_mass, rel=0.013)


def test_500_psi_are_34_47_bar() -> None:
    """NIST Special Publication 811, appendix B.8."""
    assert 500.0 * (to_bar("psi") or 0.0) == pytest.approx(34.47, abs=0.005)


def test_what_is_known_beforehand_counts_as_a_measurement() -> None:
    """Weighted mean of a prior and n readings, and its variance (JCGM 102:2011; textbook result)."""
    readings, sd = np.array([2.0, 2.2, 1.8, 2.4]), np.full(4, 0.5)
    known = Known(np.array([1.0]), np.array([0.4]), np.array([0.1]), np.array([10.0]), np.array([-np.inf]))
    found = fitted(lambda sets: np.repeat(sets[:, 0][None, :], 4, axis=0), readings, sd, known)
    weights = 4 / 0.25, 1 / 0.16
    assert found.best[0] == pytest.approx((weights[0] * 2.1 + weights[1] * 1.0) / sum(weights))
    assert found.sd(0) == pytest.approx(sum(weights) ** -0.5)
