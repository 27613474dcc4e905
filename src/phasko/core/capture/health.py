"""The signals over the whole capture: what was odd, and a line of states per channel."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from typing import Literal

from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.documents.analysis import HealthSpan, IrregularityResult, SignalHealth
from phasko.core.phase.irregularities import SignalEvent

__all__ = ["irregularities", "signal_health"]

State = Literal["good", "irregular", "silent", "standing", "unread"]

_MOST = 2000
"""So many irregularities are listed at most. The counts hold all of them."""
_WINDOWS = 240
_LEAST_WINDOW_S = 0.02


def irregularities(capture: CaptureMeasurement) -> list[IrregularityResult]:
    """Every lost or added pulse and silent stretch, in order of time."""
    return [
        IrregularityResult(
            signal=event.signal,
            channel=event.channel,
            kind=event.kind,
            count=event.count,
            time_s=event.time_s,
            to_s=event.to_s,
            cycle=event.cycle,
            angle_deg=event.angle_deg,
        )
        for event in capture.events[:_MOST]
    ]


def signal_health(capture: CaptureMeasurement) -> list[SignalHealth]:
    """Crank, cam and further wheels over the capture, in stretches of one state.

    ``standing``: the engine does not turn; ``unread``: it turns, but nothing is measured there (start, stop).
    """
    found = []
    for channel in capture.recording.channels:
        about = channel.description
        if about.role not in ("crank", "cam", "aux"):
            continue
        signal = {"crank": "crank", "cam": about.cam or channel.name, "aux": about.wheel or channel.name}[about.role]
        own = [event for event in capture.events if event.signal == signal]
        found.append(SignalHealth(signal=signal, channel=channel.name, spans=_spans(capture, signal, own)))
    return found


def _spans(capture: CaptureMeasurement, signal: str, events: Sequence[SignalEvent]) -> list[HealthSpan]:
    start, end = capture.recording.start_s, capture.recording.start_s + capture.recording.duration_s
    if end <= start:
        return []
    width = max(_LEAST_WINDOW_S, (end - start) / _WINDOWS)
    edges = [start + i * width for i in range(int((end - start) / width))] + [end]
    states = [_state(capture, signal, events, low, high) for low, high in itertools.pairwise(edges)]
    spans: list[HealthSpan] = []
    for state, (low, high) in zip(states, itertools.pairwise(edges), strict=True):
        if spans and spans[-1].state == state:
            spans[-1] = HealthSpan(from_s=spans[-1].from_s, to_s=high, state=state)
        else:
            spans.append(HealthSpan(from_s=low, to_s=high, state=state))
    return spans


def _state(capture: CaptureMeasurement, signal: str, events: Sequence[SignalEvent], low: float, high: float) -> State:
    inside = [event for event in events if event.time_s < high and max(event.to_s, event.time_s + 1e-9) > low]
    middle = 0.5 * (low + high)
    if signal in capture.silent_cams or any(e.kind == "silent" and e.time_s <= middle <= e.to_s for e in inside):
        return "silent"
    if inside:
        return "irregular"
    clock = capture.clock
    if clock is None:
        return "unread"
    if any(s.kind == "rest" and s.from_s <= middle <= s.to_s for s in capture.segments):
        return "standing"
    return "good" if clock.usable_at(middle) else "unread"
