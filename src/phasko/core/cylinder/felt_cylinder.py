"""Everything that the pressure in one cylinder says: peak, top dead centre, loss, corners, levels."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.crank.segments import SegmentKind
from phasko.core.cylinder.closed_line import ClosedLine, closed_line, wall_k
from phasko.core.cylinder.corner_sweep import SweptCorners, swept_corners
from phasko.core.cylinder.corners import Corner, exhaust_opens, intake_closes
from phasko.core.cylinder.gas_model import Chamber, followed_bar
from phasko.core.cylinder.overlap import felt_overlap
from phasko.core.cylinder.pressure_trace import AXIS_DEG, PressureTrace
from phasko.core.documents.capture import HandCorner, Valve, ValveEnd
from phasko.core.documents.engine import EngineProfile, ValveTiming
from phasko.core.engine.filling import USUAL_TIMING
from phasko.core.uncertainty import NORMAL_95

__all__ = ["FeltCylinder", "feel_cylinder", "marked_by_hand", "sound_cycle_bar", "watched"]


_SHUT_BEFORE_DEG = 22.0
"""A valve is shut so far behind the angle at which it passes the lift of its timing."""


@dataclass(frozen=True, slots=True, eq=False)
class FeltCylinder:
    """One cylinder in one state. Pressures are gauge (bar), angles after its own true firing TDC (deg). ``state``:
    ``motored``; ``fires`` (only its peak is read); ``dead`` (nothing else is read). What could not be read is
    ``None``; ``coarse`` where the converter's steps allow no corners. ``exhaust_top_bar``: how high other cylinders'
    pulses lift the exhaust stroke. ``expected_bar``: the peak of a sound cylinder with its corner where it was found.
    ``swept``: the corners cycle by cycle, where a phaser was swept."""

    trace: PressureTrace
    state: str
    peak_bar: float
    peak_u95_bar: float
    line: ClosedLine | None = None
    peak_deg: float | None = None
    symmetry: float | None = None
    exhaust_open: Corner | None = None
    intake_close: Corner | None = None
    exhaust_close: Corner | None = None
    intake_open: Corner | None = None
    squeezed_bar: float | None = None
    drawn_bar: float | None = None
    exhaust_bar: float | None = None
    exhaust_top_bar: float | None = None
    intake_bar: float | None = None
    expected_bar: float | None = None
    coarse: bool = False
    swept: tuple[SweptCorners, ...] = ()

    @property
    def corners(self) -> list[tuple[Valve, ValveEnd, Corner]]:
        """Those that are known: the two that shut cylinders show first, then those about the overlap."""
        every: tuple[tuple[Valve, ValveEnd, Corner | None], ...] = (
            ("intake", "closes", self.intake_close),
            ("exhaust", "opens", self.exhaust_open),
            ("exhaust", "closes", self.exhaust_close),
            ("intake", "opens", self.intake_open),
        )
        return [(valve, end, corner) for valve, end, corner in every if corner is not None]

    @property
    def stroke_u95_bar(self) -> float:
        """Half width of pressures near the outside's: the transducer's zero, and a converter's steps."""
        zero = (numbers.ZERO_SD_BAR if self.trace.zero_bar is None else numbers.ZERO_BY_REST_SD_BAR).value
        return NORMAL_95 * float(np.hypot(zero, 0.3 * self.trace.step_bar / np.sqrt(len(self.trace.absolute_bar))))

    @property
    def lost_by(self) -> Literal["leak", "clearance"] | None:
        """Why a low peak is low: gas leaves it, or it is tight and squeezes less, as with a bent rod or a wrong piston.
        ``None`` for a sound one, and where neither shows."""
        if self.line is None or self.expected_bar is None:
            return None
        if self.peak_bar >= numbers.LEVEL_SOUND_SHARE.value * self.expected_bar:
            return None
        if self.line.leak_mm2 > numbers.LEAK_TOLD_FACTOR.value * numbers.USUAL_LEAK_MM2.value:
            return "leak"
        return "clearance" if self.line.clearance > numbers.CLEARANCE_TOLD.value else None

    @property
    def cylinder(self) -> int:
        return self.trace.cylinder

    @property
    def segment(self) -> SegmentKind:
        return self.trace.segment

    @property
    def loss_deg(self) -> float | None:
        """By how much the peak lies before TDC."""
        return None if self.peak_deg is None else -self.peak_deg

    @property
    def tdc_u95_deg(self) -> float | None:
        return None if self.line is None else NORMAL_95 * self.line.tdc_sd_deg


def feel_cylinder(trace: PressureTrace, engine: EngineProfile, temperature: str | None) -> FeltCylinder:
    """Reads a trace: first whether it compresses at all and is not fired, then where TDC is, then everything that is
    counted from it."""
    mean = trace.mean_bar
    peak = _top(mean) - trace.ambient_bar
    u95 = float(np.hypot(numbers.PEAK_OWN_U95_BAR.value, numbers.TRANSDUCER_SCALE_SHARE.value * _range(peak)))
    if peak < numbers.PRESSURE_DEAD_BAR.value:
        return FeltCylinder(trace, "dead", peak, u95)
    if _fires(trace):
        return FeltCylinder(trace, "fires", peak, u95)
    walls = wall_k(temperature)
    shut = _shut(trace, engine, walls)
    if shut is None:
        return FeltCylinder(trace, "motored", peak, u95, coarse=_coarse(trace))
    line, closes = shut
    opens = overlap = None
    if not _coarse(trace):
        opens = exhaust_opens(trace, line, engine, walls)
        overlap = felt_overlap(trace, line, engine, walls, _late_deg(engine, closes, opens))
    exhaust, intake = _level(trace, line, (200.0, 320.0)), _level(trace, line, (430.0, 520.0))
    return FeltCylinder(
        trace=trace,
        state="motored",
        peak_bar=peak,
        peak_u95_bar=u95,
        line=line,
        peak_deg=trace.peak_axis_deg - line.lag_deg - line.tdc_axis_deg,
        symmetry=_symmetry(trace, line),
        exhaust_open=opens,
        intake_close=closes,
        exhaust_close=None if overlap is None else overlap.exhaust_close,
        intake_open=None if overlap is None else overlap.intake_open,
        squeezed_bar=None if overlap is None else overlap.squeezed_bar,
        drawn_bar=None if overlap is None else overlap.drawn_bar,
        exhaust_bar=exhaust,
        exhaust_top_bar=_pulsed_top(trace, line, engine, opens),
        intake_bar=intake,
        expected_bar=_expected_bar(trace, engine, closes, intake, walls),
        coarse=_coarse(trace),
    )


def _shut(trace: PressureTrace, engine: EngineProfile, walls_k: float) -> tuple[ClosedLine, Corner | None] | None:
    """The line of shut valves and where the intake closes; where that is so late that it still stood open within the
    usual reach, or nothing fits there, along what lies nearer to the peak. ``None`` where no line fits."""
    line = closed_line(trace, engine, walls_k)
    fits = line.misfit <= numbers.CLOSED_MISFIT_MOST.value
    closes = None if _coarse(trace) or not fits else intake_closes(trace, line, engine, walls_k)
    if fits and (closes is None or 720.0 - closes.angle_deg > _SHUT_BEFORE_DEG + numbers.CLOSED_REACH_DEG.value):
        return line, closes
    nearer = closed_line(trace, engine, walls_k, numbers.CLOSED_NEAR_DEG.value)
    if nearer.misfit > numbers.CLOSED_MISFIT_MOST.value:
        return (line, closes) if fits else None
    return nearer, None if _coarse(trace) else intake_closes(trace, nearer, engine, walls_k)


def marked_by_hand(felt: FeltCylinder, marks: Sequence[HandCorner]) -> FeltCylinder:
    """The same with the corners that a person set for it, instead of those that were found. A cylinder whose TDC is not
    known has no angles to mark."""
    if felt.line is None:
        return felt
    own = {
        f"{one.valve}_{'open' if one.end == 'opens' else 'close'}": Corner(
            one.angle_deg, numbers.HAND_CORNER_SD_DEG.value, 0.0, by_hand=True
        )
        for one in marks
        if one.cylinder == felt.cylinder and one.segment == felt.segment
    }
    return replace(felt, **own)  # type: ignore[arg-type]


def watched(felt: FeltCylinder, engine: EngineProfile, temperature: str | None) -> FeltCylinder:
    """The same with its corners cycle by cycle, for a capture in which a phaser is swept: the mean over a sweep is no
    place of a valve."""
    if felt.line is None or felt.coarse:
        return felt
    swept = swept_corners(felt.trace, felt.line, engine, wall_k(temperature))
    return replace(felt, swept=swept, exhaust_open=None, exhaust_close=None, intake_open=None, intake_close=None)


def _late_deg(engine: EngineProfile, closes: Corner | None, opens: Corner | None) -> tuple[float, float]:
    """How late the exhaust and the intake valves move at the ends that shut cylinders show."""
    timing = engine.valve_timing or USUAL_TIMING
    exhaust = 0.0 if opens is None else opens.angle_deg - timing.exhaust_open_deg
    return exhaust, 0.0 if closes is None else closes.angle_deg - timing.intake_close_deg


def _coarse(trace: PressureTrace) -> bool:
    return trace.step_bar > numbers.PRESSURE_STEP_BAR.value


def _top(mean_bar: Floats) -> float:
    """The top of the mean cycle by a parabola over its highest fifteen degrees, which noise and steps move little."""
    turned = np.roll(mean_bar, mean_bar.size // 2 - int(mean_bar.argmax()))
    about = np.arange(-7.0, 8.0)
    around = turned[mean_bar.size // 2 - 7 : mean_bar.size // 2 + 8]
    curve = np.polynomial.polynomial.polyfit(about, around, 2)
    return float(curve[0] - curve[1] ** 2 / (4.0 * curve[2])) if curve[2] < 0.0 else float(around.max())


def _range(peak_bar: float) -> float:
    """The range of the transducer that was likely used: the next usual one above the peak, in bar."""
    return next((r for r in (14.0, 34.5) if peak_bar < 0.95 * r), 1.2 * peak_bar)


def _fires(trace: PressureTrace) -> bool:
    """Whether it burns: hot gas stands far above what was squeezed, 80 degrees behind the peak against before it."""
    mean, peak = trace.mean_bar, trace.peak_axis_deg
    rise, fall = (float(np.interp(peak + side, AXIS_DEG, mean, period=720.0)) for side in (-80.0, 80.0))
    return fall > numbers.FIRES_RATIO.value * rise


def _level(trace: PressureTrace, line: ClosedLine, span_deg: tuple[float, float]) -> float:
    """Mean gauge pressure between two angles after the cylinder's true TDC."""
    return float(line.read_bar(trace, np.arange(*span_deg)).mean()) - trace.ambient_bar


def _pulsed_top(trace: PressureTrace, line: ClosedLine, engine: EngineProfile, opens: Corner | None) -> float | None:
    """The highest gauge pressure of the exhaust stroke, over a seventh of a stroke at a time; ``None`` where it is not
    known that the exhaust valve stands open all along."""
    timing = engine.valve_timing or USUAL_TIMING
    if opens is None or abs(opens.angle_deg - timing.exhaust_open_deg) > numbers.CORNER_FAR_DEG.value:
        return None
    bar = line.read_bar(trace, np.arange(215.0, 330.0)) - trace.ambient_bar
    return float(np.convolve(bar, np.full(25, 1.0 / 25.0), "valid").max())


def _symmetry(trace: PressureTrace, line: ClosedLine) -> float | None:
    """Fall angle over rise angle at half of the gauge height, about TDC."""
    own = np.arange(-90.0, 90.5, 0.5)
    gauge = line.read_bar(trace, own) - trace.ambient_bar
    half = 0.5 * float(gauge.max())
    top = int(gauge.argmax())
    before, after = np.flatnonzero(gauge[:top] < half), np.flatnonzero(gauge[top:] < half)
    if not before.size or not after.size:
        return None
    rise = _crossed(own, gauge, int(before[-1]), half)
    fall = _crossed(own, gauge, top + int(after[0]) - 1, half)
    return None if rise >= 0.0 else fall / -rise


def _crossed(own: Floats, gauge: Floats, at: int, level: float) -> float:
    low, high = float(gauge[at]), float(gauge[at + 1])
    return float(own[at] + (own[at + 1] - own[at]) * (level - low) / (high - low))


def sound_cycle_bar(
    trace: PressureTrace, engine: EngineProfile, timing: ValveTiming, intake_bar: float, walls_k: float
) -> tuple[Floats, Floats]:
    """What a sound cylinder with its cams at ``timing`` would show between shut valves: (angles after its own TDC in
    deg, gauge pressures in bar), both of shape (points,). ``intake_bar`` gauge, ``walls_k`` in K."""
    own = np.arange(timing.intake_close_deg - 720.0 + numbers.TRAPPED_AFTER_DEG.value, timing.exhaust_open_deg)
    chamber = Chamber.of(engine, np.full(own.shape, trace.mean_rpm), walls_k)
    volume = chamber.volume_m3(own, np.full(own.shape, chamber.usual_clearance(trace.lead.hose_m3)))[:, None]
    start = np.array([1e5 * (intake_bar + trace.ambient_bar)])
    losses = np.ones(1), np.full(1, numbers.USUAL_LEAK_MM2.value)
    return own, followed_bar(chamber, volume, start, numbers.CHARGE_K.value, losses)[:, 0] - trace.ambient_bar


def _expected_bar(
    trace: PressureTrace, engine: EngineProfile, closes: Corner | None, intake_bar: float, walls_k: float
) -> float:
    """The gauge peak of a sound cylinder whose charge is trapped where this one's is, at this speed and throttle."""
    timing = engine.valve_timing or USUAL_TIMING
    closes_deg = timing.intake_close_deg if closes is None else closes.angle_deg
    own = timing.model_copy(update={"intake_close_deg": closes_deg, "exhaust_open_deg": 20.0})
    return float(sound_cycle_bar(trace, engine, own, intake_bar, walls_k)[1].max())
