"""The sweep test: how a cam follows when its phaser is driven, where it stops both ways, and where it comes back to."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.documents.engine import Cam
from phasko.core.phase.offset import CamEdges
from phasko.core.phase.reading import CamReading
from phasko.core.phasers.beside import Beside
from phasko.core.phasers.command import CommandStep, PhaserCommands
from phasko.core.phasers.travel import Level, Travel, fitted_travel, level_of

__all__ = ["PhaserSweep", "SweepState", "commands_by_movement", "measure_sweep", "rest_until"]

SweepState = Literal["stuck", "slow", "returns_off_park", "moves"]


@dataclass(frozen=True, slots=True, eq=False)
class PhaserSweep:
    """One phaser in one capture. ``places_deg`` of shape (edges,) is where the cam stood at ``times_s``, as an offset
    (late positive), the edges' own errors taken off; ``absolute``: counted from the reference, else from its start.

    ``start``: where it rested before the first command. ``swept_deg``: signed, from there to the furthest. ``low``,
    ``high``: both ends of what it reached; ``returned``: where it came to rest after the last command (``None``: the
    record ends before). ``dead_time_s``: from the first command to the first movement. ``range_deg``: of the profile.
    ``tested``: it was driven to try it, and not by the control unit as it pleased.
    ``short_deg``: by how much the travel is short of that; ``None`` where it is not known, or where the cam was still
    moving when the command ended, so that no stop was seen.
    """

    cam: Cam
    commands: PhaserCommands
    times_s: Floats
    places_deg: Floats
    absolute: bool
    start: Level
    travels: tuple[Travel, ...]
    swept_deg: float
    low_deg: float
    high_deg: float
    stop_u95_deg: float
    returned: Level | None
    dead_time_s: float | None
    dead_time_u95_s: float | None
    rate_deg_s: float | None
    state: SweepState
    short_deg: float | None
    stop_seen: bool
    tested: bool = True
    beside: tuple[Beside, ...] = ()

    @property
    def whole_drive(self) -> bool:
        """Whether it was driven so far that a sound phaser goes to its stop."""
        return self.tested and max(step.after for step in self.commands.steps) >= numbers.SWEEP_WHOLE_DRIVE.value

    @property
    def short_side(self) -> Literal["park", "far"] | None:
        """On which side travel is missing, where it is more than healthy phasers differ by: at park where the cam
        started off its park by as much, else at the far stop."""
        phaser = self.cam.phaser
        if phaser is None or self.short_deg is None or self.state == "stuck" or not self.whole_drive:
            return None
        usual = numbers.SWEEP_SHORT_SHARE.value * phaser.range_deg + numbers.SWEEP_SHORT_DEG.value
        if self.short_deg <= usual + self.stop_u95_deg:
            return None
        off_park = abs(self.start.place_deg) if self.absolute else 0.0
        return "park" if off_park > 0.5 * self.short_deg else "far"

    @property
    def healthy(self) -> bool:
        """Whether it did what a sound phaser does: its whole travel, as fast as it should, and back."""
        whole = self.whole_drive and self.short_deg is not None and self.short_side is None
        return self.state == "moves" and whole

    @property
    def hysteresis_deg(self) -> float | None:
        """Where it came back to, less where it started (deg); ``None`` where it did not come back in the record."""
        return None if self.returned is None else self.returned.place_deg - self.start.place_deg


def rest_until(commands: PhaserCommands | None) -> float:
    """Until when (s) a cam rested: the first time its phaser was driven; infinite where it never was, and before all
    time where it was driven fully when the record began."""
    if commands is None or not commands.steps:
        return math.inf
    first = commands.steps[0]
    return -math.inf if first.before > _FULL and first.after < first.before else first.at_s - first.u95_s


_FULL = 0.9


def measure_sweep(
    reading: CamReading, edges: CamEdges, commands: PhaserCommands, tested: bool = True
) -> PhaserSweep | None:
    """How the cam of ``reading`` (taken at rest) moved over all its ``edges``. ``tested``: somebody drove it to try it;
    else the control unit did as it pleased. ``None`` where nothing was driven, or nothing was seen at rest."""
    known = edges.reference >= 0
    if reading.relative is None or not known.any() or reading.swapped or not commands.steps:
        return None
    times, places = _places(reading, edges, known)
    start = level_of(*_between(times, places, -math.inf, rest_until(commands)), reading.relative.offset.u95)
    return None if start is None else replace(_judged(reading, commands, start, times, places), tested=tested)


def commands_by_movement(cam: str, edges: CamEdges) -> PhaserCommands:
    """Steps as the cam's own movement shows them, where no command was recorded: each begins where a stretch of
    movement does. No steps for a cam that does not move."""
    known = edges.reference >= 0
    times, late, place = edges.times_s[known], edges.delta_deg[known], edges.reference[known]
    order = np.argsort(times, kind="stable")
    times, late, place = times[order], late[order], place[order]
    first = {k: float(np.median(late[place == k][:2])) for k in np.unique(place).tolist()}
    own = np.array([first[k] for k in place.tolist()])
    return PhaserCommands(cam, "movement", _moved_by_itself(times, late - own))


def _judged(reading: CamReading, told: PhaserCommands, start: Level, times: Floats, places: Floats) -> PhaserSweep:
    assert reading.relative is not None
    common = reading.relative.offset.u95
    travels, levels = _travels(told.steps, start, times, places, common)
    furthest = max(levels, key=lambda level: abs(level.place_deg - start.place_deg))
    back = told.steps[-1].after == told.steps[0].before and len(levels) > 1
    # One that was still on its way when the record ended has come to rest nowhere.
    still_moving = bool(travels) and travels[-1].commanded_s == told.steps[-1].at_s and not travels[-1].arrived
    returned = levels[-1] if back and not still_moving else None
    swept = furthest.place_deg - start.place_deg
    moved = [travel for travel in travels if abs(travel.to_deg - travel.from_deg) >= numbers.SWEEP_STUCK_DEG.value]
    rate = _mean_rate(moved)
    stuck = abs(swept) < numbers.SWEEP_STUCK_DEG.value
    dead, dead_u95 = _dead_time(told, moved)
    state: SweepState = "moves"
    if stuck:
        state = "stuck"
    elif rate is not None and rate < numbers.SWEEP_SLOW_DEG_S.value:
        state = "slow"
    elif returned is not None and abs(returned.place_deg - start.place_deg) > numbers.SWEEP_RETURN_DEG.value:
        state = "returns_off_park"
    seen_stop = stuck or any(t.arrived for t in moved if abs(t.to_deg - furthest.place_deg) < 1e-9)
    phaser = reading.cam.phaser
    low = min(level.place_deg for level in levels)
    high = max(level.place_deg for level in levels)
    return PhaserSweep(
        cam=reading.cam,
        commands=told,
        times_s=times,
        places_deg=places,
        absolute=reading.offset is not None,
        start=start,
        travels=tuple(travels),
        swept_deg=swept,
        low_deg=low,
        high_deg=high,
        stop_u95_deg=max(level.u95_deg for level in levels),
        returned=returned,
        dead_time_s=dead,
        dead_time_u95_s=dead_u95,
        rate_deg_s=rate,
        state=state,
        short_deg=phaser.range_deg - (high - low) if phaser is not None and seen_stop else None,
        stop_seen=seen_stop,
    )


def _places(reading: CamReading, edges: CamEdges, known: np.ndarray) -> tuple[Floats, Floats]:
    """(times in s, places in deg) of all edges in order of time, each edge's own error taken off."""
    assert reading.relative is not None
    means = reading.relative.statistics.edge_means
    value = reading.relative.offset.value
    own = np.where(np.isfinite(means), means - value, 0.0)
    order = np.argsort(edges.times_s[known], kind="stable")
    late = (edges.delta_deg[known] - own[edges.reference[known]])[order]
    return np.asarray(edges.times_s[known][order]), np.asarray(late)


def _between(times: Floats, places: Floats, from_s: float, to_s: float) -> tuple[Floats, Floats]:
    inside = (times >= from_s) & (times < to_s)
    return times[inside], places[inside]


def _travels(
    steps: tuple[CommandStep, ...], start: Level, times: Floats, places: Floats, common_u95_deg: float
) -> tuple[list[Travel], list[Level]]:
    """The travel after each step of the command, and every place at which the cam was after one."""
    travels: list[Travel] = []
    levels = [start]
    for step, after in itertools.zip_longest(steps, steps[1:]):
        own_times, own = _between(times, places, step.at_s - step.u95_s, math.inf if after is None else after.at_s)
        if own_times.size and float(np.percentile(np.abs(own - levels[-1].place_deg), 90)) < _STILL_DEG:
            level = level_of(own_times, own, common_u95_deg)
            assert level is not None
            levels.append(level)
            continue
        travel = fitted_travel(step.at_s, own_times, own, levels[-1], common_u95_deg)
        if travel is None:
            continue
        level = Level(travel.to_deg, travel.to_u95_deg, travel.ends_s, float(own_times[-1]), int(own_times.size))
        travels.append(travel)
        levels.append(level)
    return travels, levels


_STILL_DEG = 1.5
"""A cam that stays so near after a command (deg) did not follow it."""


def _mean_rate(moved: list[Travel]) -> float | None:
    """Mean rate of travel (deg/s) over all travels there and back; ``None`` where it did not move."""
    way = sum(abs(t.rate_deg_s) * (t.ends_s - t.begins_s) for t in moved)
    lasts = sum(t.ends_s - t.begins_s for t in moved)
    return way / lasts if lasts > 0.0 else None


def _dead_time(told: PhaserCommands, moved: list[Travel]) -> tuple[float | None, float | None]:
    """(from the command to the first movement, its half width), in s, of the first step that moved the cam. A start so
    soft that nobody could say when it was is not told."""
    if told.source == "movement" or not moved:
        return None, None
    first = moved[0]
    step = next(step for step in told.steps if step.at_s == first.commanded_s)
    u95 = math.hypot(first.begins_u95_s, step.u95_s)
    if step.u95_s == 0.0 and u95 > numbers.DEAD_TIME_U95_MOST_S.value:
        return None, None
    return first.begins_s - step.at_s, u95


def _moved_by_itself(times: Floats, places: Floats) -> tuple[CommandStep, ...]:
    """Steps as the movement shows them, where no command was recorded: each begins where a stretch of movement does."""
    if times.size < 8:
        return ()
    start = float(np.median(places[:4]))
    apart = np.abs(places[2:] - places[:-2]) > _MOVES_DEG
    moving = np.flatnonzero(apart) + 1
    steps: list[CommandStep] = []
    level = 0.0
    for run in np.split(moving, np.flatnonzero(np.diff(moving) > 3) + 1) if moving.size else []:
        ends = float(np.median(places[min(run[-1] + 1, places.size - 1) : run[-1] + 5]))
        target = 1.0 if abs(ends - start) > 0.3 * float(np.ptp(places)) else 0.0
        if float(np.ptp(places[max(0, run[0] - 1) : run[-1] + 2])) >= numbers.SWEEP_STUCK_DEG.value and target != level:
            steps.append(CommandStep(float(times[max(0, run[0] - 1)]), level, target))
            level = target
    return tuple(steps)


_MOVES_DEG = 1.2
