"""A stretch of a pressure trace with what is needed to follow the gas along it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from phasko.core.arrays import Floats
from phasko.core.cylinder.closed_line import ClosedLine
from phasko.core.cylinder.gas_model import Chamber, Opening, followed_bar
from phasko.core.cylinder.pressure_trace import AXIS_DEG, PressureTrace
from phasko.core.documents.engine import EngineProfile

__all__ = ["Stretch"]


@dataclass(frozen=True, slots=True, eq=False)
class Stretch:
    """Angles after the cylinder's own firing TDC (deg), pressures there and what a model may be off by (bar,
    absolute), the chamber and its volumes (m3), each of shape (points,); what the angles may be off by (deg)."""

    own_deg: Floats
    bar: Floats
    sd_bar: Floats
    chamber: Chamber
    volume_m3: Floats
    pace_sd_deg: float

    @classmethod
    def of(
        cls,
        trace: PressureTrace,
        line: ClosedLine,
        engine: EngineProfile,
        walls_k: float,
        span_deg: tuple[float, float],
    ) -> Stretch:
        """One point a degree between two angles."""
        own = np.arange(span_deg[0], span_deg[1])
        bar = line.read_bar(trace, own)
        axis = own + line.tdc_axis_deg + line.lag_deg
        chamber = Chamber.of(engine, np.interp(axis, AXIS_DEG, trace.speed_rpm, period=720.0), walls_k)
        volume = chamber.volume_m3(own, np.full(own.shape, line.clearance))
        # What the model does not know is a share of the pressure; a converter's steps even out over the cycles.
        noise = 0.5 * trace.step_bar / math.sqrt(trace.absolute_bar.shape[0])
        return cls(own, bar, 0.004 + 0.006 * bar + noise, chamber, volume, trace.pace_sd_deg)

    def followed(self, line: ClosedLine, start_pa: Floats, start_k: float, valves: Sequence[Opening]) -> Floats:
        """Pressures, of shape (points, columns) in bar, from ``start_pa`` (columns,) and ``start_k`` (K) on, with the
        losses of the closed line."""
        columns = start_pa.size
        losses = np.full(columns, line.heat), np.full(columns, line.leak_mm2)
        volume = np.repeat(self.volume_m3[:, None], columns, axis=1)
        return followed_bar(self.chamber, volume, start_pa, start_k, losses, valves)
