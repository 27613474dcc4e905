"""All cylinders that a capture has felt with a transducer, and what cannot be read of them."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np

from phasko.core import numbers
from phasko.core.angles import wrap_cycle
from phasko.core.crank.segments import Segment
from phasko.core.cycle.cycle_half import PieceTurn
from phasko.core.cylinder.closed_line import wall_k
from phasko.core.cylinder.felt_cylinder import FeltCylinder, feel_cylinder, marked_by_hand, watched
from phasko.core.cylinder.index_offset import IndexOffset
from phasko.core.cylinder.peak_pace import trace_by_peaks
from phasko.core.cylinder.pressure_trace import PressureTrace, pressure_trace
from phasko.core.cylinder.transducer import believed_channel
from phasko.core.documents.analysis import Problem
from phasko.core.documents.engine import EngineProfile
from phasko.core.found import Found
from phasko.core.signals.recording import Channel, Recording
from phasko.core.uncertainty import NORMAL_95

__all__ = ["felt_cylinders", "felt_without_crank", "index_by_pressure"]


def felt_cylinders(
    recording: Recording, engine: EngineProfile, pieces: Sequence[PieceTurn], segments: Sequence[Segment]
) -> Found[tuple[FeltCylinder, ...]]:
    """One entry per pressure channel and state, cranking before running."""

    def traces_of(channel: Channel) -> list[PressureTrace]:
        return _traces(channel, recording, engine, pieces, segments)

    return _felt(recording, engine, pieces, traces_of)


def felt_without_crank(recording: Recording, engine: EngineProfile) -> Found[tuple[FeltCylinder, ...]]:
    """The same of a capture without a crank signal, over cycles that the compression peaks pace: what counts from the
    cylinder's own TDC is read, with what the pace leaves open; of the crank wheel nothing is."""
    walls_k = wall_k(recording.description.temperature)

    def traces_of(channel: Channel) -> list[PressureTrace]:
        made = trace_by_peaks(channel, recording, engine, walls_k)
        return [] if made is None else [made]

    return _felt(recording, engine, (), traces_of)


def _felt(
    recording: Recording,
    engine: EngineProfile,
    pieces: Sequence[PieceTurn],
    traces_of: Callable[[Channel], list[PressureTrace]],
) -> Found[tuple[FeltCylinder, ...]]:
    found: list[FeltCylinder] = []
    problems: list[Problem] = []
    for channel in recording.with_role("cylinder_pressure"):
        if channel.description.cylinder not in engine.firing_tdc_deg:
            text = f"The engine has no cylinder {channel.description.cylinder}; the pressure there is not read."
            problems.append(Problem(code="pressure_cylinder", channel=channel.name, text=text))
            continue
        believed = believed_channel(channel, recording, pieces)
        problems += believed.problems
        if believed.value is None:
            continue
        traces = traces_of(believed.value)
        if not traces:
            text = f"No whole cycle at steady speed for the pressure in {channel.name}; it is not read."
            problems.append(Problem(code="pressure_short", channel=channel.name, text=text))
        about = recording.description
        own = [marked_by_hand(feel_cylinder(t, engine, about.temperature), about.hand_corners) for t in traces]
        if about.phasers == "sweep":
            own = [watched(one, engine, about.temperature) for one in own]
        found += own
        problems += [problem for one in own for problem in _said(one, engine)]
    return Found(tuple(found), tuple(problems))


def _traces(
    channel: Channel,
    recording: Recording,
    engine: EngineProfile,
    pieces: Sequence[PieceTurn],
    segments: Sequence[Segment],
) -> list[PressureTrace]:
    """The longest stretch of cranking and the longest of running; where the speed hovers between the two, all of it as
    the one that it mostly is."""
    tdc_deg = engine.firing_tdc_deg[channel.description.cylinder or 1]
    made = []
    for kind in ("cranking", "running"):
        own = [s for s in segments if s.kind == kind]
        if own:
            longest = max(own, key=lambda s: s.to_s - s.from_s)
            made.append(pressure_trace(channel, recording, pieces, longest, tdc_deg))
    kept = [trace for trace in made if trace is not None]
    turning = [s for s in segments if s.kind != "rest"]
    if kept or not turning:
        return kept
    share = sum(s.to_s - s.from_s for s in turning if s.kind == "running") / (turning[-1].to_s - turning[0].from_s)
    whole = Segment("running" if share > 0.25 else "cranking", turning[0].from_s, turning[-1].to_s)
    trace = pressure_trace(channel, recording, pieces, whole, tdc_deg)
    return [] if trace is None else [trace]


def _said(one: FeltCylinder, engine: EngineProfile) -> list[Problem]:
    """Why something of a cylinder is not given."""
    name = f"Cylinder {one.cylinder}"
    channel = one.trace.channel
    if one.state == "dead":
        text = f"{name} does not compress ({one.peak_bar:.1f} bar): nothing else is read from it."
        return [Problem(code="pressure_dead", channel=channel, text=text)]
    if one.state == "fires":
        text = f"{name} burns in this capture: only its peak is read. Unplug its injector and coil for TDC and corners."
        return [Problem(code="pressure_fires", channel=channel, text=text)]
    if one.line is None:
        text = f"{name}'s pressure follows no shut cylinder; neither TDC nor corners are read from it."
        return [Problem(code="pressure_misfit", channel=channel, text=text)]
    found = []
    if one.coarse:
        text = (
            f"{name}'s pressure comes in steps of {1000 * one.trace.step_bar:.0f} mbar, over "
            f"{1000 * numbers.PRESSURE_STEP_BAR.value:.0f}: no corners. Choose a smaller range or more bits."
        )
        found.append(Problem(code="pressure_coarse", channel=channel, text=text))
    elif one.exhaust_open is None or one.intake_close is None:
        which = " and ".join(
            n for n, c in (("exhaust opening", one.exhaust_open), ("intake closing", one.intake_close)) if c is None
        )
        text = f"{name}: the {which} cannot be told from this trace."
        found.append(Problem(code="corner_not_found", channel=channel, text=text))
    swapped = _swapped(one, engine)
    if swapped is not None:
        text = f"The pressure said to be of cylinder {one.cylinder} peaks at cylinder {swapped}'s TDC. Check the lead."
        found.append(Problem(code="cylinders_swapped", channel=channel, text=text))
    return found


def _swapped(one: FeltCylinder, engine: EngineProfile) -> int | None:
    """The cylinder at whose TDC this one peaks, where that is another one."""
    if one.line is None or one.line.placed:
        return None
    at = one.line.tdc_axis_deg + engine.firing_tdc_deg[one.cylinder]
    near = min(engine.firing_tdc_deg, key=lambda c: abs(wrap_cycle(at - engine.firing_tdc_deg[c])))
    return near if near != one.cylinder else None


def index_by_pressure(felt: Sequence[FeltCylinder]) -> IndexOffset | None:
    """Where the wheel stands by the cylinders that were felt, weighted; ``None`` where none shows it, or where they
    contradict each other. The doubt about the laws of heat and leak they share."""
    known = [one.line for one in felt if one.line is not None and one.line.placed]
    if not known:
        return None
    offsets = np.array([-line.tdc_axis_deg for line in known])
    weights = np.array([line.tdc_sd_deg**-2.0 for line in known])
    mean = float((offsets * weights).sum() / weights.sum())
    sd = min(line.tdc_sd_deg for line in known)
    if float(np.abs(offsets - mean).max()) > numbers.PISTONS_DISAGREE_DEG.value:
        return None
    return IndexOffset(mean, NORMAL_95 * sd, "cylinder_pressure")
