"""Further signal wheels: read like a cam that cannot move, counted, and used to tell the turn of an even wheel."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from phasko.core import numbers
from phasko.core.angles import wrap, wrap_cycle
from phasko.core.crank.clock import ClockPiece
from phasko.core.cycle.cycle_half import CamPlace
from phasko.core.cycle.pattern import fit_pattern
from phasko.core.documents.engine import AuxWheel, Cam, CamEdge, Crank, EngineProfile, Wheel
from phasko.core.engine.wheel import gaps_deg, repeats_deg
from phasko.core.phase.offset import CamEdges, cam_edges_in_piece
from phasko.core.signals.switching import EdgeTrain

__all__ = ["as_cam", "aux_edges", "crank_from_aux", "turn_of_even_wheel"]


_CLOCK_TEETH = 12


def as_cam(wheel: AuxWheel) -> Cam:
    """The wheel's timing edges over one cycle, in the form in which cams are read; a crank wheel passes twice."""
    turns = (0.0,) if wheel.turns_with != "crank" else (0.0, 360.0)
    places = sorted({(deg + turn) % 720.0 for turn in turns for deg in wheel.teeth_deg})
    return Cam(id=wheel.id, sensor="vr", edges=[CamEdge(deg=deg, kind=wheel.timing_edge) for deg in places])


def crank_from_aux(
    profile: EngineProfile, trains: Mapping[str, EdgeTrain]
) -> tuple[EngineProfile, EdgeTrain, dict[str, EdgeTrain]] | None:
    """(profile with that wheel as the crank's, its edges, the other wheels): where the crank sensor itself is dead.

    Only a wheel that turns with the crank, has a dozen teeth at least and looks the same only once a turn is good for
    that; ``None`` without one. The index is then the wheel's own first tooth.
    """
    for wheel in profile.aux_wheels:
        places = sorted(wheel.teeth_deg)
        if wheel.turns_with != "crank" or wheel.id not in trains or len(places) < _CLOCK_TEETH:
            continue
        own = Wheel(teeth_deg=[deg - places[0] for deg in places])
        if repeats_deg(gaps_deg(own)) < 360.0:
            continue
        crank = Crank(
            sensor=wheel.sensor,
            timing_edge=wheel.timing_edge,
            wheel=own,
            index_deg=places[0],
            index_u95_deg=profile.crank.index_u95_deg,
        )
        rest = [other for other in profile.aux_wheels if other.id != wheel.id]
        engine = profile.model_copy(update={"crank": crank, "aux_wheels": rest})
        return engine, trains[wheel.id], {key: train for key, train in trains.items() if key != wheel.id}
    return None


def turn_of_even_wheel(
    piece: ClockPiece, trains: Mapping[str, EdgeTrain], profile: EngineProfile, repeats_deg: float
) -> float | None:
    """How many degrees (a multiple of the pitch) the clock of a crank wheel without signature must be turned by.

    Another wheel fixed to the crank says so, if its own pattern repeats in no less than half a turn and its teeth
    then stand where the profile has them. ``None`` without such a wheel. Angles remain modulo a turn.
    """
    for wheel in profile.aux_wheels:
        train = trains.get(wheel.id)
        if wheel.turns_with != "crank" or train is None:
            continue
        inside = piece.usable(train.times_s)
        fit = fit_pattern(piece.angle_deg(train.times_s[inside]), train.rising[inside], as_cam(wheel).edges)
        if fit is None or fit.cost > numbers.PATTERN_MAX_COST.value or fit.modulo_deg < 360.0:
            continue
        return repeats_deg * round(wrap_cycle(fit.shift_deg) / repeats_deg)
    return None


def aux_edges(
    piece: ClockPiece, train: EdgeTrain, wheel: AuxWheel, turn_deg: float, first_cycle: int
) -> CamEdges | None:
    """The wheel's edges on the clock, each with its tooth; ``None`` where they follow another pattern."""
    cam = as_cam(wheel)
    inside = piece.usable(train.times_s)
    angles = piece.angle_deg(train.times_s[inside]) + turn_deg
    fit = fit_pattern(angles, train.rising[inside], cam.edges)
    if fit is None or fit.cost > numbers.PATTERN_MAX_COST.value:
        return None
    shift = fit.shift_deg if fit.modulo_deg >= 720.0 else float(np.round(_smallest(fit.shift_deg, fit.modulo_deg), 9))
    return cam_edges_in_piece(train, piece, cam, CamPlace(shift, turn_deg, fit.cost, None), first_cycle)


def _smallest(shift_deg: float, modulo_deg: float) -> float:
    return wrap(shift_deg, modulo_deg)
