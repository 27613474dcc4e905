"""The simulated scope on a running engine: up to eight leads, converted to whole steps, as a file or live."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from phasko.bench.channels import channel_voltage, crank_wheel_late_deg, sync_deg, target_errors_deg
from phasko.bench.probe import Probe
from phasko.bench.run import Run
from phasko.bench.scope import BenchCapture
from phasko.core.documents import CaptureDescription
from phasko.core.errors import RefusedError

__all__ = ["MOST_CHANNELS", "ScopeSettings", "Trigger", "live_blocks", "record_run", "true_offsets_deg"]

MOST_CHANNELS = 8
RANGES = (0.05, 0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0, 200.0, 500.0)


@dataclass(frozen=True, slots=True)
class Trigger:
    """Starts the record ``before_s`` ahead of the first crossing of ``level`` on a channel (from 0), in its unit."""

    channel: int
    level: float
    rising: bool = True
    before_s: float = 0.1


@dataclass(frozen=True, slots=True)
class ScopeSettings:
    """Rate in samples a second, converter of 8 to 16 bits, optional trigger.

    ``skew_samples``: standard deviation of the moment at which a channel is sampled, in samples. Input filters and
    converters of one instrument are never quite alike: a few hundredths (common practice, no source).
    """

    rate_hz: float = 100_000.0
    bits: int = 12
    trigger: Trigger | None = None
    skew_samples: float = 0.02


def record_run(
    run: Run, probes: Sequence[Probe], settings: ScopeSettings | None = None, *, name: str = "capture"
) -> BenchCapture:
    """Records the whole run. Raises RefusedError for more than eight leads or an impossible converter."""
    settings = settings or ScopeSettings()
    _check(run, probes, settings)
    at_s = np.arange(round(run.times_s[-1] * settings.rate_hz)) / settings.rate_hz
    skew_s = np.random.default_rng([run.seed, 99]).normal(0.0, settings.skew_samples, MOST_CHANNELS) / settings.rate_hz
    columns: dict[str, NDArray[np.float32]] = {}
    channels = []
    for i, probe in enumerate(probes, start=1):
        rng = np.random.default_rng([run.seed, 100 + i])
        columns[f"c{i}"] = _converted(channel_voltage(run, probe, at_s + skew_s[i - 1], rng), probe, settings.bits)
        channels.append(_described(f"c{i}", probe))
    if settings.trigger is not None:
        first = _triggered(columns[f"c{settings.trigger.channel + 1}"], settings.trigger, settings.rate_hz)
        columns = {name_: samples[first:] for name_, samples in columns.items()}
    description = CaptureDescription.model_validate(
        {
            "schema": "phasko.capture/1",
            "data": f"{name}.csv",
            **_state(run),
            "commands": _noted_commands(run, probes),
            "channels": channels,
        }
    )
    late = crank_wheel_late_deg(run)
    return BenchCapture(description, 1.0 / settings.rate_hz, columns, true_offsets_deg(run), late, run.seed)


def true_offsets_deg(run: Run) -> dict[str, float]:
    """What each cam signal really reads against the crank wheel: valves, signal wheel, its own edges, less the crank's.

    Of a phaser that moves, the mean over the recording.
    """
    late = crank_wheel_late_deg(run)
    recorded = run.slot_times_s >= 0.0
    found = {}
    for cam in run.engine.cams:
        placed = run.cams[cam.id]
        wheel = placed.signal_deg + float(np.mean(target_errors_deg(run, cam))) if cam.edges else placed.signal_deg
        found[cam.id] = float(np.mean(placed.valves_deg[recorded])) + wheel + sync_deg(run, cam) - late
    return found


def live_blocks(
    run: Run, probes: Sequence[Probe], settings: ScopeSettings | None = None, *, block_s: float = 0.05
) -> Iterator[dict[str, NDArray[np.float32]]]:
    """The same samples as a stream of short blocks, for screens that watch while the engine turns."""
    capture = record_run(run, probes, settings)
    size = max(1, round(block_s / capture.interval_s))
    count = next(iter(capture.columns.values())).size
    for first in range(0, count, size):
        yield {name: samples[first : first + size] for name, samples in capture.columns.items()}


def _check(run: Run, probes: Sequence[Probe], settings: ScopeSettings) -> None:
    if not 1 <= len(probes) <= MOST_CHANNELS:
        raise RefusedError(f"The scope has 1 to {MOST_CHANNELS} channels, not {len(probes)}")
    for probe in probes:
        if probe.role == "cam" and run.engine.cam(probe.cam or "") is None:
            raise RefusedError(f"{run.engine.name} has no cam {probe.cam!r}")
        if probe.cylinder is not None and probe.cylinder not in run.engine.firing_tdc_deg:
            raise RefusedError(f"{run.engine.name} has no cylinder {probe.cylinder}")
    if not 8 <= settings.bits <= 16:
        raise RefusedError(f"The converter has 8 to 16 bits, not {settings.bits}")


def _converted(volts: NDArray[np.float64], probe: Probe, bits: int) -> NDArray[np.float32]:
    """Clipped to the range, rounded to the converter's step."""
    need = float(np.max(np.abs(volts))) * 1.02
    limit = probe.range_v or next((r for r in RANGES if r >= need), RANGES[-1])
    step = 2.0 * limit / 2**bits
    return np.asarray(np.rint(np.clip(volts, -limit, limit - step) / step) * step, dtype=np.float32)


def _described(column: str, probe: Probe) -> dict[str, object]:
    made: dict[str, object] = {"column": column, "role": probe.role, "unit": "V"}
    if probe.cam:
        made["cam"] = probe.cam
    if probe.wheel:
        made["wheel"] = probe.wheel
    if probe.cylinder:
        made["cylinder"] = probe.cylinder
    if probe.role == "coil":
        made["signal"] = probe.signal
    if probe.ac:
        made["coupling"] = "ac"
    if probe.attenuator != 1.0:
        made |= {"scale": probe.attenuator, "scaled_unit": "V"}
    if probe.role == "starter_current":
        made |= {"scale": 1.0 / probe.clamp.volt_per_a, "scaled_unit": "A"}
    if probe.role == "phaser_command" and probe.solenoid.high_side:
        made["driven"] = "high"
    if probe.role == "other":
        made |= {"unit": "bar"}
    if probe.role == "cylinder_pressure":
        made |= {"unit": "bar", "reference": "absolute" if probe.transducer.absolute else "gauge"}
    return made


def _state(run: Run) -> dict[str, object]:
    scenario = run.scenario
    swept = bool(scenario.phaser_commands)
    condition = "cranking" if not scenario.fuel else ("idle" if scenario.record_from_s > 0 else "mixed")
    return {
        "condition": condition,
        "phasers": "sweep" if swept else ("active" if scenario.phasers_connected else "unplugged"),
        "temperature": scenario.temperature,
        "throttle": "open" if scenario.throttle > 0.5 else "closed",
    }


def _noted_commands(run: Run, probes: Sequence[Probe]) -> list[dict[str, object]]:
    """What the scan tool wrote down of the phasers that it drove, where no lead was on their wire."""
    on_a_lead = {probe.cam for probe in probes if probe.role == "phaser_command"}
    start_s = run.scenario.record_from_s
    return [
        {"cam": cam, "from_s": one.from_s - start_s, "to_s": one.to_s - start_s, "share": abs(one.share)}
        for cam, commands in run.scenario.phaser_commands.items()
        if cam not in on_a_lead and not run.scenario.phasers_by_hand
        for one in commands
    ]


def _triggered(samples: NDArray[np.float32], trigger: Trigger, rate_hz: float) -> int:
    over = samples > trigger.level if trigger.rising else samples < trigger.level
    crossed = np.flatnonzero(over[1:] & ~over[:-1])
    first = int(crossed[0]) + 1 if crossed.size else 0
    return max(0, first - round(trigger.before_s * rate_hz))
