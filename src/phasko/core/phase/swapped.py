"""Channels that seem swapped: each fits where the other one is said to be."""

from __future__ import annotations

import itertools
from collections.abc import Mapping, Sequence

import numpy as np

from phasko.core import numbers
from phasko.core.angles import wrap_difference
from phasko.core.arrays import Bools, Floats
from phasko.core.crank.tooth_count import count_teeth
from phasko.core.crank.wheel_recognition import is_another_wheel
from phasko.core.cycle.cycle_half import PieceTurn
from phasko.core.cycle.pattern import fit_pattern
from phasko.core.documents.analysis import Problem
from phasko.core.documents.engine import Cam, EngineProfile
from phasko.core.signals.recording import Recording
from phasko.core.signals.switching import EdgeTrain, switching_edges

__all__ = ["swapped_cams", "swapped_crank"]


_EDGES_ENOUGH = 400


def swapped_crank(recording: Recording, profile: EngineProfile) -> Problem | None:
    """Which other channel carries the crank wheel, when the one described as the crank does not."""
    described = recording.with_role("crank")[0]
    for channel in recording.channels:
        if channel is described or channel.description.role not in ("cam", "aux", "other"):
            continue
        train = switching_edges(channel, recording)
        times = train.of_kind(profile.crank.timing_edge) if train is not None else np.empty(0)
        if times.size < 2 * len(profile.crank.known_wheel.angles_deg):
            continue
        count = count_teeth(times, profile.crank.known_wheel)
        if count.signature and not is_another_wheel(count, profile.crank.known_wheel):
            text = (
                f"Channels {described.name} and {channel.name} seem swapped: {channel.name} carries the crank wheel. "
                "Correct the roles and measure again; nothing was read from them."
            )
            return Problem(code="channels_swapped", channel=described.name, text=text)
    return None


def swapped_cams(
    pieces: Sequence[PieceTurn], trains: Mapping[str, EdgeTrain], cams: Sequence[Cam]
) -> list[tuple[str, str]]:
    """Pairs of cams of which each one's signal follows the other one's pattern, in time, and not its own.

    In time means within the tolerance of the cam that it follows, so that two alike patterns count as swapped only
    if both would be right after the exchange and neither is now.
    """
    if not pieces:
        return []
    turn = max(pieces, key=lambda t: float(t.piece.times_s[-1] - t.piece.times_s[0]))
    hooked = [cam for cam in cams if cam.id in trains and cam.edges and cam.sensor != "vr"]
    seen = {cam.id: _seen(turn, trains[cam.id]) for cam in hooked}
    found = []
    for one, other in itertools.combinations(hooked, 2):
        crossed = _in_time(*seen[one.id], other) and _in_time(*seen[other.id], one)
        straight = crossed and (_in_time(*seen[one.id], one) or _in_time(*seen[other.id], other))
        if crossed and not straight:
            found.append((one.id, other.id))
    return found


def _seen(turn: PieceTurn, train: EdgeTrain) -> tuple[Floats, Bools]:
    """Angles and kinds of some hundred edges from the middle: whether a pattern fits needs no more."""
    inside = np.flatnonzero(turn.piece.usable(train.times_s))
    first = max(0, (inside.size - _EDGES_ENOUGH) // 2)
    some = inside[first : first + _EDGES_ENOUGH]
    return turn.piece.angle_deg(train.times_s[some]), train.rising[some]


def _in_time(angles_deg: Floats, rising: Bools, cam: Cam) -> bool:
    """Whether the edges follow that cam's pattern within its tolerance, in either of the two turns."""
    fit = fit_pattern(angles_deg, rising, cam.edges)
    if fit is None or fit.cost > 0.5 * numbers.PATTERN_MAX_COST.value:
        return False
    return abs(wrap_difference(fit.shift_deg)) <= cam.tolerance_deg
