"""Current, voltage, pressure and coils by their shape over the cycle."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from phasko.core.angles import wrap_cycle
from phasko.core.arrays import Floats
from phasko.core.channels.proposed import RoleProposal
from phasko.core.channels.shape import Shape
from phasko.core.crank.clock import ClockPiece
from phasko.core.documents.capture import Role
from phasko.core.documents.engine import EngineProfile

__all__ = ["CycleFrame", "coil_proposal", "humps_proposal", "level_proposal"]


_BINS = 360
_PRESSURE_UNITS = {"bar", "mbar", "psi", "kPa", "Pa", "MPa", "hPa"}
_BATTERY_V = ((6.0, 16.0), (17.0, 32.0))


@dataclass(frozen=True, slots=True, eq=False)
class CycleFrame:
    """The crank clock by which signals are laid over the cycle; ``turn_deg`` is ``None`` while the two turns of a cycle
    are not told apart."""

    piece: ClockPiece
    turn_deg: float | None
    profile: EngineProfile

    def folded(self, shape: Shape) -> tuple[Floats, float]:
        """(mean over the cycles in 360 bins of 720 degrees, the share of the variance that this repeats). The mean is
        of shape (360,) in the channel's own unit."""
        recording = shape.recording
        step = max(1, int(2e-4 / recording.interval_s))
        samples = shape.samples[::step].astype(np.float64)
        times: Floats = recording.start_s + step * recording.interval_s * np.arange(samples.size, dtype=np.float64)
        inside = self.piece.usable(times) & np.isfinite(samples)
        if np.count_nonzero(inside) < 4 * _BINS:
            return np.zeros(_BINS), 0.0
        angles = (self.piece.angle_deg(times[inside]) + (self.turn_deg or 0.0)) % 720.0
        values = samples[inside]
        place = np.minimum((angles * _BINS / 720.0).astype(np.int64), _BINS - 1)
        count = np.bincount(place, minlength=_BINS)
        mean = np.bincount(place, values, _BINS) / np.maximum(count, 1)
        slow = values - mean[place]
        total = float(np.var(values))
        return np.asarray(mean), 1.0 - float(np.var(slow)) / total if total > 0 else 0.0

    def nearest_tdc(self, angle_deg: float) -> tuple[int, float]:
        """(cylinder, degrees after its firing TDC) nearest to a cycle angle."""
        tdc = self.profile.firing_tdc_deg
        after = {cylinder: wrap_cycle(angle_deg - deg) for cylinder, deg in tdc.items()}
        cylinder = min(after, key=lambda c: abs(after[c]))
        return cylinder, after[cylinder]


def coil_proposal(shape: Shape, frame: CycleFrame | None) -> RoleProposal | None:
    """A coil by its spikes or its short pulses, an injector by pulses that pull the battery down."""
    if shape.kind == "spikes":
        text = "High spikes above a level that rests: the primary of a coil"
        cylinder = _fires(_spikes_s(shape), frame)
        return RoleProposal(shape.name, "coil", shape.volts, f"{text}.", cylinder=cylinder, signal="primary")
    train = shape.edges
    if shape.kind != "switching" or train is None or train.times_s.size < 2:
        return None
    rises, falls = train.of_kind("rising"), train.of_kind("falling")
    high_s, low_s = _lengths(rises, falls), _lengths(falls, rises)
    if high_s is None or low_s is None:
        return None
    # At the battery's level a short pulse may be an injector's as well as a coil's drive.
    battery = train.levels.high > 8.0 and shape.volts
    if high_s < 0.2 * low_s and high_s < 0.012:
        cylinder = _fires(falls, frame)
        text = f"Short pulses of {1000 * high_s:.1f} ms: a coil's drive"
        return RoleProposal(shape.name, "coil", not battery, f"{text}.", cylinder=cylinder, signal="drive")
    if low_s < 0.2 * high_s and low_s < 0.03 and battery:
        text = f"Battery voltage, pulled down for {1000 * low_s:.1f} ms at a time: an injector"
        return RoleProposal(shape.name, "injector", False, f"{text}.")
    return None


def _lengths(from_s: Floats, to_s: Floats) -> float | None:
    """Median time from an edge to the next of the other kind."""
    after = np.searchsorted(to_s, from_s, side="right")
    known = after < to_s.size
    return float(np.median(to_s[after[known]] - from_s[known])) if known.any() else None


def _spikes_s(shape: Shape) -> Floats:
    """Beginnings of the spikes, one each 5 ms at most."""
    samples = shape.samples
    limit = shape.middle + 0.4 * (float(np.nanmax(samples)) - shape.middle)
    rows = np.flatnonzero(samples > limit)
    if not rows.size:
        return np.zeros(0)
    times = shape.recording.start_s + rows * shape.recording.interval_s
    # A coil rings for milliseconds after its spike; no engine fires one coil again so soon.
    first = np.concatenate([[True], np.diff(times) > 0.005])
    return np.asarray(times[first])


def _fires(times_s: Floats, frame: CycleFrame | None) -> int | None:
    """The cylinder that fires then, where it fires once per cycle near one TDC; else ``None``."""
    if frame is None or frame.turn_deg is None:
        return None
    inside = times_s[frame.piece.usable(times_s)]
    if inside.size < 2:
        return None
    running = frame.piece.angle_deg(inside)
    if abs(float(np.median(np.diff(running))) - 720.0) > 60.0:
        return None
    angle = float(np.median(np.unwrap((running + frame.turn_deg) % 720.0, period=720.0))) % 720.0
    cylinder, after = frame.nearest_tdc(angle)
    # No engine sparks earlier or later than that while it cranks or idles.
    return cylinder if -45.0 < after < 20.0 else None


def humps_proposal(shape: Shape, frame: CycleFrame | None) -> RoleProposal | None:
    """Current, voltage, pressure and pulses, from their unit, level and humps."""
    cylinders = frame.profile.cylinders if frame is not None else 0
    mean, repeats = frame.folded(shape) if frame is not None else (np.zeros(_BINS), 0.0)
    if frame is not None and repeats > 0.5 and _one_narrow_peak(mean):
        return _pressure(shape, frame, mean)
    if shape.unit == "A":
        return RoleProposal(shape.name, "starter_current", True, "In amperes.")
    if shape.unit in _PRESSURE_UNITS:
        return _pulse(shape)
    if shape.volts and any(low < shape.middle * _to_volts(shape) < high for low, high in _BATTERY_V):
        text = f"About {shape.middle * _to_volts(shape):.1f} V that sags and ripples: the battery"
        return RoleProposal(shape.name, "battery_voltage", _falls(shape), f"{text}.")
    humps = frame is not None and repeats > 0.3 and _humps(mean, cylinders)
    if shape.volts and _inrush(shape) and abs(shape.middle) > 0.15 * shape.amplitude:
        text = "A high peak first, then a level with humps: starter current through a clamp"
        return RoleProposal(shape.name, "starter_current", bool(humps), f"{text}.")
    if shape.volts and abs(shape.middle) > 0.6 * shape.settled_swing:
        text = "A level with humps on it: starter current through a clamp"
        return RoleProposal(shape.name, "starter_current", False, f"{text}.")
    if humps or repeats > 0.3:
        return _pulse(shape)
    return None


def level_proposal(shape: Shape) -> RoleProposal:
    """What rests all the time, or switches without any rhythm."""
    volts = shape.middle * _to_volts(shape)
    if shape.kind == "switching":
        return RoleProposal(shape.name, "other", False, "Switches, but not with the crank: perhaps a phaser's command.")
    if shape.kind == "flat" and shape.volts and volts > 8.0:
        text = f"Rests at {volts:.1f} V: the battery, or a command that is never given."
        return RoleProposal(shape.name, "battery_voltage", False, text)
    if shape.kind == "flat":
        return RoleProposal(shape.name, "other", False, "Flat: nothing connected, or the wrong wire.")
    return RoleProposal(shape.name, "other", False, "Nothing in it comes round with the crank.")


def _to_volts(shape: Shape) -> float:
    return 1e-3 if shape.unit == "mV" else 1.0


def _one_narrow_peak(mean: Floats) -> bool:
    """Whether one hump stands alone in the cycle, no wider at half height than a compression."""
    low, high = float(np.percentile(mean, 20)), float(mean.max())
    above = mean > low + 0.5 * (high - low)
    turned = np.roll(above, -int(np.argmin(above)))
    humps = int(np.count_nonzero(np.diff(turned.astype(np.int64)) == 1))
    return humps == 1 and 0.02 < float(np.mean(above)) < 0.2 and high - low > 3.0 * float(np.percentile(mean, 60) - low)


def _humps(mean: Floats, cylinders: int) -> bool:
    """Whether the cycle swings as often as cylinders fire, more than in any other measure below twice that."""
    swing = np.abs(np.fft.rfft(mean - mean.mean()))[1 : 2 * cylinders]
    return bool(swing.size and int(np.argmax(swing)) + 1 == cylinders)


def _pressure(shape: Shape, frame: CycleFrame, mean: Floats) -> RoleProposal:
    top = (int(np.argmax(mean)) + 0.5) * 720.0 / _BINS
    cylinder, after = frame.nearest_tdc(top)
    known = frame.turn_deg is not None and abs(after) < 40.0
    text = "One hump per 720°, as narrow as a compression"
    if known:
        text += f", at TDC {cylinder}"
    else:
        text += "; which cylinder, no signal tells"
    return RoleProposal(
        shape.name, "cylinder_pressure", known and not shape.volts, f"{text}.", cylinder=cylinder if known else None
    )


def _pulse(shape: Shape) -> RoleProposal:
    """Which pipe it is in no signal tells; the name may."""
    name = shape.name.lower()
    roles: tuple[tuple[Role, tuple[str, ...]], ...] = (
        ("exhaust_pulse", ("exh", "tail")),
        ("crankcase_pulse", ("crankcase", "case", "dip", "oil")),
        ("intake_pulse", ("int", "man", "map")),
    )
    role: Role = next((r for r, words in roles if any(word in name for word in words)), "intake_pulse")
    return RoleProposal(shape.name, role, False, "Swings with the firings about nothing: pulses of intake or exhaust.")


def _inrush(shape: Shape) -> bool:
    """Whether it begins at nothing, leaps to its largest value, and settles at a level of that sign."""
    samples = shape.samples[np.isfinite(shape.samples)].astype(np.float64)
    blocks = np.array([part.mean() for part in np.array_split(samples, min(400, samples.size))])
    top = int(np.argmax(np.abs(blocks)))
    settled = float(np.median(blocks[top + (blocks.size - top) // 2 :])) if top < blocks.size - 4 else 0.0
    early = top < 0.6 * blocks.size
    first = float(np.abs(blocks[: max(1, top // 2)]).min()) if top > 0 else 0.0
    return early and abs(blocks[top]) > 1.3 * abs(settled) > 4.0 * first and settled * blocks[top] > 0


def _falls(shape: Shape) -> bool:
    """Whether it sags by half a volt at least from its highest level."""
    return (shape.high - shape.low) * _to_volts(shape) > 0.5
