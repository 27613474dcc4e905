"""Parts what every cylinder contributes from the sum that the starter, the battery or the crank's speed shows."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from phasko.core import numbers
from phasko.core.angles import wrap
from phasko.core.arrays import Bools, Floats
from phasko.core.cycle.angle_grid import STEPS, grid_deg
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.gas_torque import LowTorque, gas_torque, leaking_torque, squeezed_less_torque

__all__ = ["Coupling", "Separation", "found_healthy", "healthy_pressure", "separate"]

Coupling = Literal["speed", "dc", "ac"]

SHIFTS_DEG = np.arange(-12.0, 13.0, 2.0)
"""Shifts of all humps together that are tried, in degrees: the wheel's index and the loss of heat move them."""

LAGS_S = (0.0, 0.005, 0.01, 0.015, 0.02, 0.03, 0.05)
"""Electrical time constants of a starter circuit that are tried (inductance over resistance)."""

BELLS_DEG = (20.0, 24.0, 29.0, 35.0, 42.0, 50.0, 60.0)
"""Standard deviations of plain humps that are tried beside the gas torque, for currents that do not follow the motor's
equation: another machine between starter and crank, a filter in the clamp."""

BELL_BETTER = 0.5
"""A plain hump is preferred only if it leaves less than this share of what the motor's equation leaves unexplained."""

_LOW_ROUNDS = 6
_LOW_BELOW = 0.9
"""Only a cylinder below this share of the others is given the bent hump of a leak. Valves that close late lower a hump
as much as a small leak does and do not bend it."""

ORDERS_PER_CYLINDER = 6
"""So many harmonics of the cycle are kept per cylinder: they draw a hump and its flanks."""


@dataclass(frozen=True, slots=True, eq=False)
class Separation:
    """Peak pressures of the cylinders, in order of their numbers, in an arbitrary common unit, with the standard error
    of each over cycles. ``explained``: share of the variance; ``shift_deg``: how late all humps stand against the
    profile's TDCs; ``turned``: whether the humps point down. ``drive`` is the torque that was fitted, over the cycle;
    ``per_cycle`` (cycles, cylinders) are the pressures of each cycle alone, which scatter more.
    """

    pressures: Floats
    errors: Floats
    dof: int
    explained: float
    shift_deg: float
    turned: bool
    drive: Floats
    per_cycle: Floats


def separate(signal: Floats, speed_rad_s: Floats, coupling: Coupling, engine: EngineProfile) -> Separation | None:
    """The cylinders' pressures from ``signal`` (cycles, STEPS); ``None`` where it carries nothing.

    Newton's second law for the crank, J * omega * d(omega)/d(theta) = starter - gas - friction: the gas torques of the
    cylinders have the known shape of ``gas_torque`` at their known TDCs, and the inertia swallows most of their swing.
    From the *speed* the left side is known. From the starter's *current* it follows by the motor's own equation,
    V = R i + L di/dt + k omega: the speed is a constant less (i + L/R di/dt) times R/k, so that the derivative of the
    current, not the current, goes with the gas torque, and the current itself stands in for the starter's torque.
    Battery voltage is a constant less the current times the battery's resistance; coupled through a capacitor it is
    that through a first-order high-pass, which one more term undoes. Least squares over the mean cycle; the place of
    the humps and L/R are those under which most is explained. (own method; the equations are those of any handbook of
    electric machines) A plain hump is taken instead where its slope fits better (``BELLS_DEG``). Errors by the
    jackknife over cycles (Efron and Tibshirani 1993, chapter 11; from memory).
    """
    if not np.isfinite(signal).all() or signal.shape[0] < 2:
        return None
    orders = ORDERS_PER_CYLINDER * engine.cylinders
    whole = _Cycle.of(signal.mean(axis=0), speed_rad_s.mean(axis=0), coupling, orders)
    shifts = SHIFTS_DEG.tolist()
    tried = [fit for s in shifts for fit in _fits(whole, _lags(coupling), _shapes(engine, s, None), s)]
    gas = max(tried, key=lambda fit: fit.explained)
    # A speed obeys Newton's law without a motor between: there is nothing that a plain hump could stand for.
    bell = _best_bell(whole, engine) if coupling != "speed" else gas
    plain = 1.0 - bell.explained < BELL_BETTER * (1.0 - gas.explained)
    best = bell if plain else _with_low_cylinders(whole, gas, engine)
    if not best.pressures.any():
        return None
    # A clamp the other way round, or a battery's sag, turns the humps over; pressures themselves are positive.
    sign = -1.0 if best.pressures.sum() < 0 else 1.0
    left_out = []
    # The jackknife: lag, place and shapes stay, so that only what changes from cycle to cycle scatters.
    for k in range(signal.shape[0]):
        others = np.arange(signal.shape[0]) != k
        part = _Cycle.of(signal[others].mean(axis=0), speed_rad_s[others].mean(axis=0), coupling, orders)
        left_out.append(_fit(part, best.lag_s, best.shapes, best.shift_deg).pressures)
    count = len(left_out)

    def alone(row: int) -> Floats:
        cycle = _Cycle.of(signal[row], speed_rad_s[row], coupling, orders)
        return _fit(cycle, best.lag_s, best.shapes, best.shift_deg).pressures

    spread = np.array(left_out) - np.mean(left_out, axis=0)
    # The cylinders share one scatter: few cycles tell it badly for each of them.
    variance = (count - 1) / count * float(np.mean(np.sum(spread**2, axis=0)))
    errors = np.full(engine.cylinders, np.sqrt(variance))
    return Separation(
        pressures=sign * best.pressures,
        errors=errors,
        dof=(count - 1) * engine.cylinders,
        explained=best.explained,
        shift_deg=best.shift_deg,
        turned=sign < 0 and coupling != "speed",
        drive=sign * whole.drive(best.lag_s),
        per_cycle=sign * np.array([alone(row) for row in range(count)]),
    )


def _with_low_cylinders(cycle: _Cycle, sound: _Fit, engine: EngineProfile) -> _Fit:
    """The same with the humps of low cylinders bent as what makes them low bends them, as far as that explains more.

    A cylinder that loses gas while it compresses asks for more before its TDC, gives back less after it and later
    draws on the vacuum that is left; one that is tight but compresses less has a wider hump. How much of it follows
    from how low the cylinder is, which needs a few rounds. Of each low cylinder that reason is kept which explains
    most, one after the other; where neither does, it keeps the hump of a sound one.
    """
    relative = _against_healthy(sound.pressures)
    low = [k for k in np.argsort(relative).tolist() if relative[k] < _LOW_BELOW]
    if not low:
        return sound
    after = _after_tdc(engine, sound.shift_deg)
    tables = (leaking_torque(engine), squeezed_less_torque(engine))
    best = sound
    bent: list[LowTorque | None] = [None] * engine.cylinders
    for k in low:
        for table in tables:
            tried_as = [table if i == k else bent[i] for i in range(engine.cylinders)]
            tried = _in_rounds(cycle, best, sound.shapes, after, tried_as)
            if tried.explained > best.explained:
                best, bent = tried, tried_as
    return best


def _in_rounds(
    cycle: _Cycle, begun: _Fit, sound_shapes: Floats, after: Floats, tables: Sequence[LowTorque | None]
) -> _Fit:
    """Fits until the shapes of the low cylinders are those of the pressures that are found with them."""
    relative = _against_healthy(begun.pressures)
    best = begun
    for _ in range(_LOW_ROUNDS):
        shapes = [
            sound_shapes[:, k] if table is None else -table.at(after[:, k], float(relative[k]))
            for k, table in enumerate(tables)
        ]
        best = _fit(cycle, begun.lag_s, np.column_stack(shapes), begun.shift_deg)
        # Halfway: a leak's hump swings about the answer when it is taken over at once.
        relative = 0.5 * (relative + _against_healthy(best.pressures))
    return best


def _against_healthy(pressures: Floats) -> Floats:
    """Each pressure over that of the healthy ones, in whatever direction they point."""
    upright = pressures if pressures.sum() >= 0 else -pressures
    usual = healthy_pressure(upright)
    # None compresses: nothing to be measured against.
    return np.ones(upright.size) if usual <= 0.0 else np.asarray(np.clip(upright / usual, 0.0, 1.0))


def healthy_pressure(pressures: Floats) -> float:
    """What healthy cylinders press, in the unit of ``pressures`` of shape (cylinders,), be it bar, A or unitless: the
    median of those that are ``found_healthy``."""
    return float(np.median(pressures[found_healthy(pressures)]))


def found_healthy(pressures: Floats) -> Bools:
    """Which cylinders are the measure of all, of shape (cylinders,), from pressures (bar, A or unitless): those above
    half of the second highest. Where one alone compresses, all others are noise beside it, and it is its own
    measure."""
    highest, second = (float(v) for v in np.sort(pressures)[::-1][[0, min(1, pressures.size - 1)]])
    if second <= numbers.COMPRESSION_DEAD_BELOW.value * highest:
        return np.asarray(pressures >= highest)
    return np.asarray(pressures > 0.5 * second)


def _best_bell(cycle: _Cycle, engine: EngineProfile) -> _Fit:
    """The plain hump whose slope explains most: over places and widths, then its width more finely."""
    widths: Sequence[float] = BELLS_DEG
    places = SHIFTS_DEG.tolist()
    for finer in (0.05, 0.02):
        tried = [(w, _fit(cycle, 0.0, _shapes(engine, s, w), s)) for w in widths for s in places]
        width, best = max(tried, key=lambda one: one[1].explained)
        widths = [width * (1.0 + finer * k) for k in range(-2, 3)]
        places = [best.shift_deg]
    return max((_fit(cycle, 0.0, _shapes(engine, places[0], w), places[0]) for w in widths), key=lambda f: f.explained)


def _lags(coupling: Coupling) -> tuple[float, ...]:
    return (0.0,) if coupling == "speed" else LAGS_S


@dataclass(frozen=True, slots=True, eq=False)
class _Cycle:
    """The mean cycle: what is explained (``first`` plus lag times ``second``) and what else explains it."""

    first: Floats
    second: Floats
    beside: tuple[Floats, ...]

    def drive(self, lag_s: float) -> Floats:
        """What drives the humps where the signal lags by so many s: shape (STEPS,), in the signal's unit."""
        return self.first + lag_s * self.second

    @staticmethod
    def of(signal: Floats, speed_rad_s: Floats, coupling: Coupling, orders: int) -> _Cycle:
        """From one cycle of the signal and the crank's speed (rad/s), both of shape (STEPS,)."""
        mean_speed = float(speed_rad_s.mean())
        if coupling == "speed":
            first = -_slope(0.5 * _level_ends(speed_rad_s) ** 2, orders)
            return _Cycle(first, np.zeros(STEPS), (speed_rad_s - mean_speed,))
        even = _level_ends(signal)
        first = _slope(even, orders)
        second = mean_speed * _slope(first, orders)
        beside: tuple[Floats, ...] = (_smooth(even, orders) - float(even.mean()),)
        if coupling == "ac":
            gathered = np.cumsum(even - even.mean())
            beside = (*beside, gathered - gathered.mean())
        return _Cycle(first, second, beside)


@dataclass(frozen=True, slots=True, eq=False)
class _Fit:
    pressures: Floats
    explained: float
    lag_s: float
    shift_deg: float
    shapes: Floats


def _fit(cycle: _Cycle, lag_s: float, shapes: Floats, shift_deg: float) -> _Fit:
    return _fits(cycle, (lag_s,), shapes, shift_deg)[0]


def _fits(cycle: _Cycle, lags_s: Sequence[float], shapes: Floats, shift_deg: float) -> list[_Fit]:
    """Least squares for each lag; what is explained depends on it linearly, so that one factorization serves all."""
    design = np.column_stack([np.ones(STEPS), *cycle.beside, shapes])
    basis, upper = np.linalg.qr(design)
    size = np.abs(np.diag(upper))
    # Columns that nearly depend on each other would make the triangular solution explode; singular values do not.
    if size.min() <= 1e-10 * size.max():
        both, *_ = np.linalg.lstsq(design, np.column_stack([cycle.first, cycle.second]), rcond=None)
    else:
        both = np.linalg.solve(upper, basis.T @ np.column_stack([cycle.first, cycle.second]))
    return [_fit_of(cycle.drive(lag), both[:, 0] + lag * both[:, 1], design, lag, shapes, shift_deg) for lag in lags_s]


def _fit_of(wanted: Floats, found: Floats, design: Floats, lag_s: float, shapes: Floats, shift_deg: float) -> _Fit:
    rest = wanted - design @ found
    total = float(np.sum((wanted - wanted.mean()) ** 2))
    explained = 1.0 - float(rest @ rest) / total if total > 0 else 0.0
    return _Fit(np.asarray(found[-shapes.shape[1] :]), explained, lag_s, shift_deg, shapes)


def _after_tdc(engine: EngineProfile, shift_deg: float) -> Floats:
    """(STEPS, cylinders) angle after each cylinder's firing TDC, humps ``shift_deg`` late, in (-360, 360]."""
    tdc = engine.firing_tdc_deg
    after: Floats = grid_deg(engine.cylinders)[:, None] - np.array([tdc[c] for c in sorted(tdc)]) - shift_deg
    return wrap(after, 720.0)


def _shapes(engine: EngineProfile, shift_deg: float, bell_deg: float | None) -> Floats:
    """(STEPS, cylinders) what each cylinder's gas asks of the starter over the cycle, humps ``shift_deg`` late; with
    ``bell_deg`` the slope of a bell of that standard deviation instead."""
    after = _after_tdc(engine, shift_deg)
    if bell_deg is None:
        return -gas_torque(after, engine)
    return np.asarray(-after / bell_deg * np.exp(-0.5 * (after / bell_deg) ** 2))


def _level_ends(cycle: Floats) -> Floats:
    """Without the drift from one end to the other, so that it comes round."""
    step = float(cycle[-1] - cycle[0]) * STEPS / (STEPS - 1)
    return np.asarray(cycle - step * (np.arange(STEPS) / STEPS - 0.5))


def _slope(cycle: Floats, orders: int) -> Floats:
    """Derivative per radian of crank angle, from the first ``orders`` harmonics of the cycle."""
    spectrum = np.fft.rfft(cycle)
    order = np.arange(spectrum.size)
    return np.asarray(np.fft.irfft(np.where(order <= orders, spectrum * 0.5j * order, 0.0), STEPS))


def _smooth(cycle: Floats, orders: int) -> Floats:
    spectrum = np.fft.rfft(cycle)
    return np.asarray(np.fft.irfft(np.where(np.arange(spectrum.size) <= orders, spectrum, 0.0), STEPS))
