"""A low-pass that shifts nothing in time, off unless asked for, and what it does to the edges."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
import scipy

from phasko.core.arrays import Floats
from phasko.core.documents.analysis import FilterResult, Problem
from phasko.core.signals.recording import Channel, Recording, Samples
from phasko.core.signals.switching import EdgeTrain

__all__ = ["FilterEffect", "effect_on_edges", "filter_problems", "filter_results", "filtered", "with_filters"]


_ORDER = 4


@dataclass(frozen=True, slots=True)
class FilterEffect:
    """By how much a channel's edges moved (s, median and largest of the sizes), how many were lost and added."""

    channel: str
    filter_hz: float
    moved_usual_s: float
    moved_most_s: float
    lost: int
    added: int


def filtered(samples: Samples, interval_s: float, filter_hz: float) -> Samples:
    """The samples after a Butterworth low-pass of fourth order run forwards and backwards (Gustafsson, IEEE Trans.
    Signal Processing 44, 1996, 988), which doubles its order and cancels its delay. Missing samples are bridged by a
    straight line for the filter and stay missing. Unchanged where the corner is not below half the sample rate.
    ``samples`` and the result: (n,), in the channel's own unit; ``interval_s`` in s, ``filter_hz`` in Hz."""
    share = 2.0 * filter_hz * interval_s
    if share >= 0.99 or samples.size < 64:
        return samples
    good = np.isfinite(samples)
    if not good.any():
        return samples
    whole = samples.astype(np.float64)
    if not good.all():
        places = np.arange(samples.size)
        whole = np.interp(places, places[good], whole[good])
    made = np.asarray(
        scipy.signal.sosfiltfilt(scipy.signal.butter(_ORDER, share, output="sos"), whole), dtype=np.float32
    )
    made[~good] = np.nan
    return made


def with_filters(recording: Recording) -> Recording:
    """The recording with the low-pass of every channel that asks for one."""
    channels = tuple(
        channel
        if channel.description.filter_hz is None
        else Channel(
            channel.description,
            filtered(channel.samples, recording.interval_s, channel.description.filter_hz),
        )
        for channel in recording.channels
    )
    return replace(recording, channels=channels)


def effect_on_edges(before: EdgeTrain | None, after: EdgeTrain | None, filter_hz: float) -> FilterEffect | None:
    """Holds the edges with the filter against those without: nearest of the same kind, within half the usual distance
    between edges. ``None`` where there were none before."""
    if before is None or not before.times_s.size:
        return None
    if after is None or not after.times_s.size:
        return FilterEffect(before.channel, filter_hz, 0.0, 0.0, int(before.times_s.size), 0)
    moved: list[Floats] = []
    lost = added = 0
    for kind in ("rising", "falling"):
        old, new = before.of_kind(kind), after.of_kind(kind)
        if not old.size or not new.size:
            lost, added = lost + int(old.size), added + int(new.size)
            continue
        near = np.clip(np.searchsorted(new, old), 1, max(1, new.size - 1))
        candidates = np.column_stack([new[near - 1], new[np.minimum(near, new.size - 1)]])
        off = np.abs(candidates - old[:, None]).min(axis=1)
        reach = 0.5 * float(np.median(np.diff(old))) if old.size > 1 else np.inf
        matched = off < reach
        moved.append(off[matched])
        lost += int(np.count_nonzero(~matched))
        added += max(0, int(new.size) - int(np.count_nonzero(matched)))
    every = np.concatenate(moved) if moved else np.zeros(1)
    every = every if every.size else np.zeros(1)
    return FilterEffect(before.channel, filter_hz, float(np.median(every)), float(every.max()), lost, added)


def filter_results(effects: Sequence[FilterEffect], speed_deg_s: float, u95_deg: float) -> list[FilterResult]:
    """The effects in crank degrees at the usual speed; ``harmful`` where an edge moves by more than ``u95_deg``, the
    uncertainty that the offsets claim, or is lost."""
    return [
        FilterResult(
            channel=effect.channel,
            filter_hz=effect.filter_hz,
            moved_usual_deg=effect.moved_usual_s * speed_deg_s,
            moved_most_deg=effect.moved_most_s * speed_deg_s,
            lost_edges=effect.lost,
            added_edges=effect.added,
            harmful=effect.moved_usual_s * speed_deg_s > u95_deg or effect.lost > 0,
        )
        for effect in effects
    ]


def filter_problems(results: Sequence[FilterResult]) -> list[Problem]:
    """That a filter is on is always said; what it does to the edges stands beside."""
    found = []
    for result in results:
        what = (
            f"A low-pass at {result.filter_hz:.0f} Hz is on: it moves edges by {result.moved_usual_deg:.2f}° as a "
            f"rule, {result.moved_most_deg:.2f}° at most"
        )
        rest = f", loses {result.lost_edges}" if result.lost_edges else ""
        rest += f", removes or adds {result.added_edges}" if result.added_edges else ""
        if result.harmful:
            text = f"{what}{rest}. That is more than the measurement is sure of: filter less, or not at all."
            found.append(Problem(code="filter_moves_edges", channel=result.channel, text=text))
        else:
            found.append(Problem(code="filter_on", channel=result.channel, text=f"{what}{rest}."))
    return found
