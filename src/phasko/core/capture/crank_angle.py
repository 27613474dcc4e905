"""From signals to crank angles: edges of every channel, teeth, clock, and which of the two turns is which."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from phasko.core.arrays import Floats
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.capture.problems import turn_problems
from phasko.core.crank.clock import ClockSetting, CrankClock, ToothSensor, crank_clock
from phasko.core.crank.tooth_count import ToothCount, counted_teeth
from phasko.core.crank.wheel_recognition import is_another_wheel, recognised_wheel
from phasko.core.cycle.cycle_half import CamsAsked, PieceTurn, in_one_place, resolve_turn
from phasko.core.documents.analysis import Problem
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.firing_ripple import firing_ripple
from phasko.core.engine.wheel import wheel_name
from phasko.core.found import Found
from phasko.core.phase.aux_wheel import crank_from_aux, turn_of_even_wheel
from phasko.core.phase.learning import Learning, Learnt, learn_what_is_missing
from phasko.core.phase.swapped import swapped_crank
from phasko.core.phasers import driven_cams
from phasko.core.signals.edge_trains import aux_trains, cam_trains, crank_edges
from phasko.core.signals.recording import Recording
from phasko.core.signals.switching import EdgeTrain

__all__ = ["OnTheClock", "Signals", "put_on_the_clock", "read_signals"]


@dataclass(frozen=True, slots=True, eq=False)
class Signals:
    """A capture's edges: the crank's (``None`` where no channel gives any), the cams' and the further wheels' by id."""

    recording: Recording
    profile: EngineProfile
    crank: EdgeTrain | None
    cams: Mapping[str, EdgeTrain]
    aux: Mapping[str, EdgeTrain]

    @property
    def by_channel(self) -> dict[str, EdgeTrain]:
        """All of them by the channel they were read from."""
        trains = (self.crank, *self.cams.values(), *self.aux.values())
        return {train.channel: train for train in trains if train is not None}


@dataclass(frozen=True, slots=True, eq=False)
class OnTheClock:
    """A capture whose edges stand at crank angles. ``modulo_deg`` is the angle after which the clock repeats (``None``:
    the turn is known), ``known_cams`` those whose edges the profile has; those of the others were only learnt here."""

    recording: Recording
    engine: EngineProfile
    learnt: Learnt | None
    crank_channel: str
    clock: CrankClock
    modulo_deg: float | None
    pieces: tuple[PieceTurn, ...]
    cams: Mapping[str, EdgeTrain]
    aux: Mapping[str, EdgeTrain]
    known_cams: frozenset[str]

    @property
    def end_s(self) -> float:
        return self.recording.start_s + self.recording.duration_s


def read_signals(recording: Recording, profile: EngineProfile) -> Found[Signals]:
    """Edges of every crank, cam and further wheel's channel. Where the crank sensor is dead another wheel on the crank
    stands in for it, and the profile is then that of an engine with this one as its crank wheel."""
    crank = crank_edges(recording, profile)
    cams, aux = cam_trains(recording, profile), aux_trains(recording, profile)
    problems = (*crank.problems, *cams.problems, *aux.problems)
    if crank.value is None:
        stand_in = crank_from_aux(profile, aux.value)
        if stand_in is not None:
            engine, train, others = stand_in
            text = f"The crank angle was taken from {train.channel}, a further signal wheel on the crank, instead."
            instead = Problem(code="crank_from_aux", channel=train.channel, text=text)
            return Found(Signals(recording, engine, train, cams.value, others), (*problems, instead))
    return Found(Signals(recording, profile, crank.value, cams.value, aux.value), problems)


def put_on_the_clock(signals: Signals, crank: EdgeTrain) -> Found[OnTheClock | CaptureMeasurement]:
    """The capture's edges at crank angles; where these cannot be had, all that could be measured without them."""
    recording, profile = signals.recording, signals.profile
    learning = learn_what_is_missing(profile, crank, signals.cams)
    engine, learnt = learning.value.engine, learning.value.learnt
    if engine.crank.wheel is None:
        return Found(CaptureMeasurement(recording, profile, (), learnt=learnt), learning.problems)
    teeth = counted_teeth(crank, engine)
    problems = (*learning.problems, *teeth.problems)
    times, count = teeth.value
    if is_another_wheel(count, engine.crank.known_wheel):
        other = _other_wheel(recording, engine, crank)
        return Found(other.value, (*problems, *other.problems))
    clock, modulo = _clock(times, count, engine, signals.aux, _setting(engine, crank, recording))
    if not clock.pieces:
        text = "Less than a whole turn with a steady count of teeth."
        short = Problem(code="too_short", channel=crank.channel, text=text)
        wheel, matches = wheel_name(engine.crank.known_wheel), learning.value.matches
        unread = CaptureMeasurement(recording, engine, (), wheel=wheel, matches_profile=matches, clock=clock)
        return Found(unread, (*problems, short))
    return _with_turns(signals, crank, learning.value.with_cams(signals.cams, clock.pieces), clock, modulo, problems)


def _with_turns(
    signals: Signals,
    crank: EdgeTrain,
    learning: Learning,
    clock: CrankClock,
    modulo: float | None,
    problems: tuple[Problem, ...],
) -> Found[OnTheClock | CaptureMeasurement]:
    engine = learning.engine
    known = signals.profile.reference_cams
    asked = CamsAsked(known, driven_cams(signals.recording, signals.profile) & known)
    pieces = in_one_place([resolve_turn(piece, signals.cams, engine.cams, modulo, asked) for piece in clock.pieces])
    placed = OnTheClock(
        recording=signals.recording,
        engine=engine,
        learnt=learning.learnt,
        crank_channel=crank.channel,
        clock=clock,
        modulo_deg=modulo,
        pieces=pieces,
        cams=signals.cams,
        aux=signals.aux,
        known_cams=known,
    )
    return Found(placed, (*problems, *turn_problems(pieces, signals.cams, engine)))


def _setting(engine: EngineProfile, crank: EdgeTrain, recording: Recording) -> ClockSetting:
    sensor = ToothSensor(engine.crank.sensor == "vr", crank.alike_s)
    span_s = (recording.start_s, recording.start_s + recording.duration_s)
    return ClockSetting(engine.crank.index_deg, firing_ripple(engine), sensor, span_s)


def _clock(
    times_s: Floats, count: ToothCount, engine: EngineProfile, aux: Mapping[str, EdgeTrain], setting: ClockSetting
) -> tuple[CrankClock, float | None]:
    """(the clock, after which angle it repeats: ``None`` once the turn is known)."""
    crank = engine.crank
    clock = crank_clock(times_s, count, crank.known_wheel, setting)
    if count.signature:
        return clock, None
    turned = [turn_of_even_wheel(piece, aux, engine, count.repeats_deg) for piece in clock.pieces]
    if len(turned) != 1 or turned[0] is None or crank.index_deg is None:
        return clock, count.repeats_deg
    return crank_clock(times_s, count, crank.known_wheel, setting.with_index(crank.index_deg - turned[0])), None


def _other_wheel(recording: Recording, profile: EngineProfile, train: EdgeTrain) -> Found[CaptureMeasurement]:
    """What is said where the crank signal is not that of the profile's wheel; nothing is measured from it."""
    swapped = swapped_crank(recording, profile)
    if swapped is not None:
        return Found(CaptureMeasurement(recording, profile, (), matches_profile=False), (swapped,))
    seen = recognised_wheel(train.of_kind(profile.crank.timing_edge))
    expected = wheel_name(profile.crank.known_wheel)
    text = (
        f"The crank signal does not fit the profile's {expected} wheel"
        + (f"; it looks like {seen}" if seen else "")
        + ". Wrong engine profile, wrong channel, or a damaged signal. No offset is read from it."
    )
    mismatch = Problem(code="wheel_mismatch", channel=train.channel, text=text)
    return Found(CaptureMeasurement(recording, profile, (), wheel=seen, matches_profile=False), (mismatch,))
