"""Breathing pulses while cranking: which of them differ once per 720 degrees, and whose that is."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from phasko.core import numbers
from phasko.core.angles import wrap
from phasko.core.arrays import Floats
from phasko.core.breathing.pulse_shape import PulseRole, expected_feature_deg, mechanisms
from phasko.core.cycle.angle_grid import STEPS, CrankingCycles, grid_deg
from phasko.core.documents.engine import EngineProfile
from phasko.core.signals.recording import Channel, Recording
from phasko.core.uncertainty import NORMAL_95

__all__ = ["PulseCylinder", "PulseMeasurement", "PulseOdd", "measure_pulses"]

PulseState = Literal["good", "weak", "dead", "unknown"]
ROLES: tuple[PulseRole, ...] = ("intake_pulse", "exhaust_pulse", "crankcase_pulse")

_STEP_DEG = 720.0 / STEPS


@dataclass(frozen=True, slots=True)
class PulseCylinder:
    """A cylinder's regular pulse over the usual one, its 95 % half width, and what that means."""

    cylinder: int
    relative: float | None
    u95: float | None
    state: PulseState


@dataclass(frozen=True, slots=True)
class PulseOdd:
    """One place that differs in every cycle: at ``deg`` of the cycle, ``size`` of the usual pulse's height (upwards
    positive) with its half width, and whose it can be, most likely first, with the mechanism in words. ``swung_by``:
    cylinders that do not press, none of them a suspect: the crank's speed swings behind them and bends other pulses."""

    deg: float
    size: float
    u95: float
    suspects: tuple[tuple[int, float, str], ...]
    swung_by: tuple[int, ...] = ()


@dataclass(frozen=True, slots=True, eq=False)
class PulseMeasurement:
    """One pulse channel over its settled cranking cycles. ``signal`` is the mean cycle, ``usual`` what it would be if
    all cylinders were alike. ``delay_deg`` between the engine and the sensor, ``None`` where the pulses stand where no
    delay of a pipe puts them; ``random_share`` is how much single cycles differ, which does not repeat."""

    role: PulseRole
    channel: str
    cylinders: tuple[PulseCylinder, ...]
    odd: tuple[PulseOdd, ...]
    delay_deg: float | None
    delay_s: float | None
    delay_u95_s: float
    random_share: float
    signal: Floats
    usual: Floats
    cycles: int

    @property
    def repeats(self) -> bool:
        """Whether anything differs in every cycle."""
        return bool(self.odd)


def measure_pulses(
    recording: Recording, engine: EngineProfile, settled: CrankingCycles, named: bool, low: Collection[int] = ()
) -> tuple[PulseMeasurement, ...]:
    """Every pulse channel. Cylinders have names only where ``named``, and only with even firing, in which all pulses
    are alike. ``low``: those that do not compress as the others."""
    # The usual pulse is a median over the cylinders, which two cannot outvote and uneven firing would smear.
    if engine.cylinders < 3 or not engine.fires_evenly:
        return ()
    found = []
    for role in ROLES:
        for channel in recording.with_role(role):
            measured = _measured(
                role=role, channel=channel, recording=recording, engine=engine, settled=settled, named=named, low=low
            )
            if measured is not None:
                found.append(measured)
    return tuple(found)


def _measured(
    role: PulseRole,
    channel: Channel,
    recording: Recording,
    engine: EngineProfile,
    settled: CrankingCycles,
    named: bool,
    low: Collection[int],
) -> PulseMeasurement | None:
    rpm = float(np.mean([c.mean_rpm for c in settled.cycles]))
    level = _level_cycles(channel, recording, settled, 0.0)
    if len(level) < numbers.COMPRESSION_CYCLES_LEAST.value:
        return None
    # A delay is a time: where the speed swings it is another angle for every cylinder, so that it is undone in time.
    first = _delay_deg(role, _usual(level.mean(axis=0), engine.cylinders), engine)
    undone_s = max(0.0, first or 0.0) / (6.0 * rpm)
    level = _level_cycles(channel, recording, settled, undone_s) if undone_s else level
    mean = level.mean(axis=0)
    usual = _usual(mean, engine.cylinders)
    height = float(np.ptp(usual))
    if height <= 0.0:
        return None
    scatter = level - mean
    error = scatter.std(axis=0, ddof=1) / np.sqrt(len(level))
    random_share = float(np.sqrt(np.mean(scatter**2)) / height)
    delay_deg = _delay_deg(role, usual, engine)
    odd = _odd(role, mean - usual, error, height, engine, delay_deg) if named else ()
    # A cylinder that does not compress lets the crank race on, which bends the pulses of those that follow.
    odd = tuple(_beside_low(one, low) for one in odd)
    whole_deg = None if delay_deg is None else delay_deg + undone_s * 6.0 * rpm
    return PulseMeasurement(
        role=role,
        channel=channel.name,
        cylinders=_cylinders(
            role=role, mean=mean, usual=usual, error=error, engine=engine, delay_deg=delay_deg, odd=odd
        )
        if named
        else (),
        odd=odd,
        delay_deg=whole_deg,
        delay_s=None if whole_deg is None else whole_deg / (6.0 * rpm),
        delay_u95_s=numbers.PULSE_DELAY_U95_DEG.value / (6.0 * rpm),
        random_share=random_share,
        signal=mean,
        usual=usual,
        cycles=len(level),
    )


def _level_cycles(channel: Channel, recording: Recording, settled: CrankingCycles, delay_s: float) -> Floats:
    """(cycles, STEPS) whole cycles that come round, as the gas was so long before the sensor felt it."""
    cycles = settled.signal(channel.samples, recording.start_s - delay_s, recording.interval_s)
    cycles = cycles[np.isfinite(cycles).all(axis=1)]
    return np.array([_come_round(cycle) for cycle in cycles])


def _come_round(cycle: Floats) -> Floats:
    """Without its mean and the drift from one end to the other."""
    step = float(cycle[-1] - cycle[0]) * STEPS / (STEPS - 1)
    level = cycle - step * (np.arange(STEPS) / STEPS - 0.5)
    return np.asarray(level - level.mean())


def _usual(mean: Floats, cylinders: int) -> Floats:
    """What the cycle would be with all cylinders alike: the median of the cycle shifted by every firing interval,
    which one odd cylinder among three or more does not move."""
    turns = np.arange(cylinders) * STEPS / cylinders
    rows = [np.interp((np.arange(STEPS) + t) % STEPS, np.arange(STEPS + 1), np.append(mean, mean[0])) for t in turns]
    return np.asarray(np.median(rows, axis=0))


def _delay_deg(role: PulseRole, usual: Floats, engine: EngineProfile) -> float | None:
    """How far the usual pulse stands after the place the engine's geometry gives; ``None`` where that is no delay of a
    pipe, and in intake and crankcase, where the strokes of several cylinders run into each other."""
    if role != "exhaust_pulse":
        return None
    period = 720.0 / engine.cylinders
    upwards = bool(usual.max() > -usual.min())
    at = float(grid_deg(engine.cylinders)[int(np.argmax(usual) if upwards else np.argmin(usual))])
    # The pulse is up to 15 degrees early by the valve's own opening; anything more is the one before, late.
    late = (at - expected_feature_deg(role, engine, upwards) + 15.0) % period - 15.0
    return late if late <= numbers.PULSE_DELAY_MOST_DEG.value else late - period if late - period > -30.0 else None


def _odd(
    role: PulseRole, differs: Floats, error: Floats, height: float, engine: EngineProfile, delay_deg: float | None
) -> tuple[PulseOdd, ...]:
    """Places that differ by more than healthy pulses and scatter do, the largest first; a smaller one beside a larger
    is its shadow."""
    least = _least(role, engine)
    left = differs / height
    noise = 3.0 * error / height
    found: list[PulseOdd] = []
    reach = int(STEPS / engine.cylinders)
    while len(found) < engine.cylinders // 2:
        at = int(np.argmax(np.abs(left)))
        size = float(left[at])
        # The gas swings on in the pipe after a large oddity: a second one has to stand well out of that ringing.
        enough = max(least, numbers.PULSE_NEXT_SHARE.value * abs(found[0].size) if found else 0.0)
        if abs(size) < enough or abs(size) < noise[at] + least / 2:
            break
        deg = float(grid_deg(engine.cylinders)[at])
        suspects = _suspects(role, deg, size > 0, engine, delay_deg)
        found.append(PulseOdd(deg, size, NORMAL_95 * float(error[at]) / height + least / 2, suspects))
        around = (np.arange(STEPS) - at + STEPS // 2) % STEPS - STEPS // 2
        left = np.where(np.abs(around) <= reach, 0.0, left)
    return tuple(found)


def _beside_low(odd: PulseOdd, low: Collection[int]) -> PulseOdd:
    """Beside a cylinder that does not press, a place is only that one's or nobody's."""
    own = [s for s in odd.suspects if s[0] in low]
    if not low:
        return odd
    if not own:
        return replace(odd, suspects=(), swung_by=tuple(sorted(low)))
    total = sum(s[1] for s in own)
    return replace(odd, suspects=tuple((c, share / total, words) for c, share, words in own))


def _least(role: PulseRole, engine: EngineProfile) -> float:
    """How much healthy pulses may differ. In the intake the strokes of several cylinders run into each other: the
    regular pulse shrinks with the square of their number, what is odd does not."""
    if role == "crankcase_pulse":
        return numbers.PULSE_ODD_CRANKCASE.value
    crowded = max(1.0, (engine.cylinders / 4.0) ** 2) if role == "intake_pulse" else 1.0
    return numbers.PULSE_ODD_SHARE.value * crowded


def _suspects(
    role: PulseRole, deg: float, up: bool, engine: EngineProfile, delay_deg: float | None
) -> tuple[tuple[int, float, str], ...]:
    """(cylinder, chance, what it does): every mechanism of every cylinder by how near it is expected, normal errors;
    without a known delay everything is twice as wide."""
    shift = delay_deg or 0.0
    wider = numbers.PULSE_NO_DELAY_WIDER.value if delay_deg is None and role == "exhaust_pulse" else 1.0
    weights: dict[int, tuple[float, str]] = {}
    for cylinder, tdc in engine.firing_tdc_deg.items():
        best, total = ("", 0.0), 0.0
        for one in mechanisms(role, engine):
            if one.way != "either" and (one.way == "up") != up:
                continue
            off = wrap(deg - tdc - one.after_deg - shift, 720.0)
            sd = wider * one.sd_deg
            weight = float(np.exp(-0.5 * (off / sd) ** 2) / sd)
            total += weight
            if weight > best[1]:
                best = (one.words, weight)
        weights[cylinder] = (total, best[0])
    every = sum(weight for weight, _ in weights.values()) or 1.0
    ranked = sorted(((c, w / every, words) for c, (w, words) in weights.items()), key=lambda s: -s[1])
    return tuple((c, share, words) for c, share, words in ranked if share >= numbers.PULSE_SUSPECT_LEAST.value)


def _cylinders(
    role: PulseRole,
    mean: Floats,
    usual: Floats,
    error: Floats,
    engine: EngineProfile,
    delay_deg: float | None,
    odd: Sequence[PulseOdd],
) -> tuple[PulseCylinder, ...]:
    """Each cylinder's own pulse: how much of the usual one stands in the firing interval around its place."""
    upwards = bool(usual.max() > -usual.min())
    centre = expected_feature_deg(role, engine, upwards) + (delay_deg or 0.0)
    half = STEPS // (2 * engine.cylinders)
    angle = grid_deg(engine.cylinders)
    blamed = {one.suspects[0][0]: one.suspects[0][1] for one in reversed(odd) if one.suspects}
    doubted = {c for one in odd for c, share, _ in one.suspects if share >= numbers.PULSE_DOUBT.value}
    found = []
    for cylinder, tdc in sorted(engine.firing_tdc_deg.items()):
        at = int(np.argmin(np.abs(wrap(angle - tdc - centre, 720.0))))
        rows = (at + np.arange(-half, half)) % STEPS
        own, shape = mean[rows] - mean[rows].mean(), usual[rows] - usual[rows].mean()
        power = float(shape @ shape)
        relative = float(own @ shape) / power
        u95 = float(np.hypot(NORMAL_95 * np.sqrt(np.mean(error[rows] ** 2) / max(power / rows.size, 1e-30)), 0.05))
        state: PulseState = "good"
        if blamed.get(cylinder, 0.0) >= numbers.PULSE_BLAMED.value:
            state = "dead" if relative + u95 < numbers.COMPRESSION_DEAD_BELOW.value else "weak"
        elif cylinder in doubted:
            state = "unknown"
        found.append(PulseCylinder(cylinder, relative, u95, state))
    return tuple(found)
