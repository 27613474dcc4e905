"""Which of the two turns of a cycle it is, and where each cam stands: decided by the cam patterns together."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from phasko.core import numbers
from phasko.core.angles import wrap, wrap_cycle, wrap_difference
from phasko.core.arrays import Bools, Floats
from phasko.core.crank.clock import ClockPiece
from phasko.core.cycle.pattern import PatternFit, fit_pattern
from phasko.core.documents.engine import Cam
from phasko.core.signals.switching import EdgeTrain

__all__ = ["CamPlace", "CamsAsked", "PieceTurn", "TurnSource", "in_one_place", "resolve_turn", "turned_by_cams"]

TurnSource = Literal["cam", "coil", "cylinder_pressure"]


@dataclass(frozen=True, slots=True)
class CamPlace:
    """Where one cam stands in one piece: its coarse offset (deg), the turn to add to the clock's angle for it, how
    well the pattern fits (``cost`` 0 to 1) and after which angle it would fit again (``None``: not within a turn).
    ``once_per_cycle``: where that is the wheel's doing, whether the pattern itself occurs once in 720 degrees.
    ``moves``: its phaser may have been driven in this piece; the offset is where it stood still."""

    shift_deg: float
    turn_deg: float
    cost: float
    ambiguous_modulo_deg: float | None
    once_per_cycle: bool = False
    moves: bool = False


@dataclass(frozen=True, slots=True)
class PieceTurn:
    """One clock piece with its turn: ``turn_deg`` (0 or 360) is added to its running angles. ``source`` is ``None``
    when no signal tells the turns apart; the turn is then a convention."""

    piece: ClockPiece
    turn_deg: float
    source: TurnSource | None
    places: Mapping[str, CamPlace]
    misfits: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class CamsAsked:
    """Which cams' edges are the engine's (``known``), and which may have been moved by their phasers (``moving``)."""

    known: frozenset[str]
    moving: frozenset[str] = frozenset()


def resolve_turn(
    piece: ClockPiece,
    trains: Mapping[str, EdgeTrain],
    cams: Sequence[Cam],
    clock_modulo_deg: float | None,
    about: CamsAsked,
) -> PieceTurn:
    """Fits every cam's pattern to the piece and lets the patterns vote for the turn, each by how well it fits.

    An offset lies within half a turn either way, so a pattern that occurs once in 720 degrees settles the turn.
    ``clock_modulo_deg`` is the pitch of a wheel without a signature, of which the clock's angle is known only modulo.
    Cams that are not known follow a pattern learnt from this capture: they keep its pieces together but cannot tell
    which turn is which. Those that move are looked at where they stand still.
    """
    fits: dict[str, PatternFit] = {}
    misfits: list[str] = []
    for cam in cams:
        moves = cam.id in about.moving
        fit = _fit(piece, trains[cam.id], cam, moves) if cam.id in trains and cam.edges else None
        if fit is None:
            continue
        if fit.cost > numbers.PATTERN_MAX_COST.value:
            misfits.append(cam.id)
        else:
            fits[cam.id] = fit
    able = [cam_id for cam_id, fit in fits.items() if fit.modulo_deg > 360.0]
    asked = [cam_id for cam_id in able if cam_id in about.known]
    votes = [(1.0 - fits[cam_id].cost) * _side(fits[cam_id]) for cam_id in asked or able]
    turn_deg = 0.0 if sum(votes) >= 0 else 360.0
    places = {cam_id: _place(fit, turn_deg, clock_modulo_deg) for cam_id, fit in fits.items()}
    places = {cam_id: replace(place, moves=cam_id in about.moving) for cam_id, place in places.items()}
    resolved = bool(asked) and clock_modulo_deg is None
    return PieceTurn(piece, turn_deg, "cam" if resolved else None, places, tuple(misfits))


def in_one_place(pieces: Sequence[PieceTurn]) -> tuple[PieceTurn, ...]:
    """The same pieces, with every cam that is known only modulo an angle at the place where it stands nearest to its
    first piece's: near half of that angle the smallest offset of one piece is +15 degrees and of the next -15, and
    their mean would be neither."""
    first: dict[str, CamPlace] = {}
    found = []
    for turn in pieces:
        places = {cam_id: _nearest(place, first.setdefault(cam_id, place)) for cam_id, place in turn.places.items()}
        found.append(replace(turn, places=places))
    return tuple(found)


def _nearest(place: CamPlace, first: CamPlace) -> CamPlace:
    modulo = place.ambiguous_modulo_deg
    if modulo is None:
        return place
    moved = modulo * round((first.shift_deg - place.shift_deg) / modulo)
    return replace(place, shift_deg=place.shift_deg + moved, turn_deg=place.turn_deg + moved)


def turned_by_cams(pieces: Sequence[PieceTurn]) -> tuple[PieceTurn, ...] | None:
    """Pieces of a wheel that looks alike several times a turn, with the place at which all cams stand nearest to their
    own: right as long as no cam is out by more than half of what the wheel repeats after. ``None`` where no cam's
    pattern tells a place of the whole cycle, or two cams tell different ones."""
    found = []
    for turn in pieces:
        told = [p.turn_deg for p in turn.places.values() if p.once_per_cycle]
        if not told or max(abs(wrap_cycle(t - told[0])) for t in told) > 1.0:
            return None
        found.append(replace(turn, turn_deg=told[0] % 720.0, source="cam"))
    return tuple(found)


def _fit(piece: ClockPiece, train: EdgeTrain, cam: Cam, moves: bool) -> PatternFit | None:
    inside = piece.usable(train.times_s)
    if cam.sensor == "vr":
        kinds = {edge.kind for edge in cam.edges}
        if len(kinds) == 1:
            inside &= train.rising == (kinds == {"rising"})
    angles, rising = piece.angle_deg(train.times_s[inside]), train.rising[inside]
    if moves:
        angles, rising = _where_it_stands(angles, rising, cam)
    return fit_pattern(angles, rising, cam.edges)


def _where_it_stands(angles_deg: Floats, rising: Bools, cam: Cam) -> tuple[Floats, Bools]:
    """The edges of the few cycles, one after the other, in which they follow the pattern best; of alike ones the
    first."""
    if not angles_deg.size:
        return angles_deg, rising
    window = _STANDS_CYCLES * 720.0
    best, found = math.inf, (angles_deg, rising)
    for start in np.arange(angles_deg[0], max(angles_deg[0] + 1.0, angles_deg[-1] - window), window / 2.0).tolist():
        inside = (angles_deg >= start) & (angles_deg < start + window)
        fit = fit_pattern(angles_deg[inside], rising[inside], cam.edges)
        if fit is not None and fit.cost < best - _STANDS_BETTER:
            best, found = fit.cost, (angles_deg[inside], rising[inside])
    return found


_STANDS_CYCLES = 3.0
_STANDS_BETTER = 0.05


def _side(fit: PatternFit) -> float:
    return 1.0 if wrap_difference(fit.shift_deg) == fit.shift_deg else -1.0


def _place(fit: PatternFit, turn_deg: float, clock_modulo_deg: float | None) -> CamPlace:
    modulo = fit.modulo_deg if clock_modulo_deg is None else clock_modulo_deg
    total = fit.shift_deg + turn_deg
    if modulo < 360.0:
        smallest = wrap(total, modulo)
        return CamPlace(smallest, turn_deg + smallest - total, fit.cost, modulo, fit.modulo_deg > 360.0)
    shift = wrap_difference(total)
    turn = turn_deg + wrap_cycle(shift - total)
    return CamPlace(shift, turn, fit.cost, None)
