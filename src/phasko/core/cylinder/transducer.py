"""Whether a pressure channel can be believed: its unit, its zero, its range, and what sits between it and the gas."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from phasko.core import numbers
from phasko.core.cycle.cycle_half import PieceTurn
from phasko.core.cylinder.pressure_trace import converter_step, rest_reading_bar
from phasko.core.documents.analysis import Problem
from phasko.core.found import Found
from phasko.core.signals.pressure_units import to_bar
from phasko.core.signals.recording import Channel, Recording

__all__ = ["believed_channel"]


def believed_channel(channel: Channel, recording: Recording, pieces: Sequence[PieceTurn]) -> Found[Channel | None]:
    """The channel in bar, with its reference put right where the signal shows it; ``None`` where nothing may be read,
    with the reason."""
    bar = to_bar(channel.unit)
    if bar is None:
        text = f"The pressure in {channel.name} is in {channel.unit}, which is no pressure: give its scale. Not read."
        return Found(None, (_problem("pressure_unit", channel, text),))
    known = channel.description.model_copy(update={"unit": "bar", "scaled_unit": "bar"})
    in_bar = replace(channel, description=known, samples=np.asarray(channel.samples * np.float32(bar)))
    wrong = _unreadable(in_bar, recording)
    if wrong is not None:
        return Found(None, (wrong,))
    return _zeroed(in_bar, recording, pieces)


def _unreadable(channel: Channel, recording: Recording) -> Problem | None:
    samples = channel.samples[np.isfinite(channel.samples)]
    if samples.size < 100:
        return _problem("pressure_missing", channel, f"The pressure in {channel.name} holds no samples. Not read.")
    low, middle, high = (float(v) for v in np.quantile(samples, [0.002, 0.5, 0.998]))
    swing = high - low
    if swing < numbers.PRESSURE_FLAT_BAR.value:
        text = (
            f"The pressure in {channel.name} hardly moves ({1000 * swing:.0f} mbar): dead or unpowered transducer, a "
            "wrong scale, or a plug hole that is open. Nothing is read from it."
        )
        return _problem("pressure_flat", channel, text)
    if middle - low > 2.0 * (high - middle) and swing > 1.0:
        text = (
            f"The pressure in {channel.name} points down: sign of the scale, or leads turned. Nothing is read from it."
        )
        return _problem("pressure_upside_down", channel, text)
    if high > numbers.PRESSURE_MOST_BAR.value:
        text = (
            f"The pressure in {channel.name} reaches {high:.0f} bar, more than a cranked or idling cylinder. Psi read "
            f"as bar would be {high * (to_bar('psi') or 0.0):.1f} bar. Give its unit; nothing is read from it."
        )
        return _problem("pressure_unit", channel, text)
    if _clipped(samples, recording.interval_s):
        text = (
            f"The pressure in {channel.name} stands at the end of its range, {high:.1f} bar. Nothing is read from it."
        )
        return _problem("pressure_clipped", channel, text)
    if low > 0.4 * high and low > numbers.PRESSURE_DEAD_BAR.value:
        text = (
            f"The pressure in {channel.name} does not fall below {low:.1f} bar: a check valve left in the hose? "
            "Nothing is read from it."
        )
        return _problem("pressure_held", channel, text)
    return None


def _clipped(samples: np.ndarray, interval_s: float) -> bool:
    """Whether the tops are cut off: far more samples stand at the highest level than at the one below it. A round top
    has at most two and a half times as many."""
    top = float(samples.max())
    level = max(converter_step(samples), 0.002 * abs(top))
    at_top = samples > top - 0.5 * level
    below = np.count_nonzero((samples > top - 1.5 * level) & ~at_top)
    edges = np.flatnonzero(np.diff(np.concatenate([[0], at_top.astype(np.int8), [0]])))
    longest = int((edges[1::2] - edges[::2]).max())
    return longest * interval_s > numbers.PRESSURE_CLIPPED_S.value and int(np.count_nonzero(at_top)) > 6 * max(
        int(below), 1
    )


def _zeroed(channel: Channel, recording: Recording, pieces: Sequence[PieceTurn]) -> Found[Channel | None]:
    """Gauge and absolute told apart by what it reads at rest, or with the valves open; a zero that is far off told."""
    rest = rest_reading_bar(channel, recording, pieces)
    samples = channel.samples[np.isfinite(channel.samples)]
    # Three of four strokes are near the outside while cranking; a running engine's exhaust stroke is.
    usual = float(np.quantile(samples, 0.5)) if rest is None else rest
    ambient = recording.description.ambient_bar or 1.0
    said = channel.description.reference or "gauge"
    near = numbers.REFERENCE_TOLD_BAR.value
    running = recording.description.condition in ("idle", "running", "snap")
    problems: list[Problem] = []
    reference = said
    if said == "gauge" and abs(usual - ambient) < near and not (running and rest is None):
        text = f"The pressure in {channel.name} reads {usual:.2f} bar in open air: it is absolute, not gauge. Read so."
        problems.append(_problem("pressure_reference", channel, text))
        reference = "absolute"
    elif said == "absolute" and abs(usual) < near and not (running and rest is None):
        text = f"The pressure in {channel.name} reads {usual:.2f} bar in open air: it is gauge, not absolute. Read so."
        problems.append(_problem("pressure_reference", channel, text))
        reference = "gauge"
    zero = None if rest is None else rest - (ambient if reference == "absolute" else 0.0)
    if zero is not None and abs(zero) > numbers.TRANSDUCER_ZERO_BAR.value:
        text = (
            f"The pressure in {channel.name} reads {1000 * zero:+.0f} mbar at rest against the outside: zero the "
            "transducer in open air. It is taken off here."
        )
        problems.append(_problem("pressure_zero", channel, text))
    described = channel.description.model_copy(update={"reference": reference})
    return Found(replace(channel, description=described), tuple(problems))


def _problem(code: str, channel: Channel, text: str) -> Problem:
    return Problem(code=code, channel=channel.name, text=text)
