"""Current clamp, pressure transducer and pulse sensors: from a quantity to a voltage, with their errors."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy

from phasko.bench.arrays import Floats

__all__ = ["CurrentClamp", "PressureTransducer", "PulseSensor", "coupled_ac"]


def _lagged(values: Floats, step_s: float, time_s: float) -> Floats:
    """First-order response."""
    share = 1.0 - np.exp(-step_s / time_s)
    out, _ = scipy.signal.lfilter([share], [1.0, share - 1.0], values, zi=[(1.0 - share) * values[0]])
    return np.asarray(out)


def coupled_ac(values: Floats, step_s: float, time_s: float = 0.16) -> Floats:
    """What an AC-coupled input leaves: changes about a mean that follows slowly."""
    return values - _lagged(values, step_s, time_s)


@dataclass(frozen=True, slots=True)
class CurrentClamp:
    """1 mV/A, or 10 mV/A on the fine range which clips at 100 A; ``zero_a`` not zeroed; ``turned`` the wrong way."""

    fine: bool = False
    zero_a: float = 1.5
    turned: bool = False
    response_s: float = 6e-6

    @property
    def volt_per_a(self) -> float:
        return 0.01 if self.fine else 0.001

    def voltage(self, current_a: Floats, step_s: float) -> Floats:
        seen = _lagged(current_a, step_s, self.response_s) + self.zero_a
        limit = 100.0 if self.fine else 600.0
        return (-1.0 if self.turned else 1.0) * self.volt_per_a * np.clip(seen, -limit, limit)


@dataclass(frozen=True, slots=True)
class PressureTransducer:
    """Range in bar, response in s, error of scale (1 % class) and of zero; a hose adds lag. Output in bar."""

    range_bar: float = 34.5
    absolute: bool = False
    response_s: float = 1.0e-4
    scale_error: float = 0.003
    zero_bar: float = 0.004
    hose_s: float = 0.0

    def bar(self, pressure_pa: Floats, ambient_pa: float, step_s: float) -> Floats:
        seen = _lagged(pressure_pa, step_s, self.response_s + self.hose_s) / 1e5
        seen = seen if self.absolute else seen - ambient_pa / 1e5
        return np.clip(seen * (1.0 + self.scale_error) + self.zero_bar, -1.0, self.range_bar)


@dataclass(frozen=True, slots=True)
class PulseSensor:
    """A piezo pulse sensor: feels changes only; delay of the pipe before it."""

    volt_per_pa: float = 0.004
    delay_s: float = 1.5e-3
    high_pass_s: float = 0.12

    def voltage(self, pressure_pa: Floats, step_s: float) -> Floats:
        shift = round(self.delay_s / step_s)
        late = np.concatenate([np.full(shift, pressure_pa[0]), pressure_pa[: pressure_pa.size - shift]])
        return self.volt_per_pa * coupled_ac(late, step_s, self.high_pass_s)
