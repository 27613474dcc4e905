"""Crank, cams and further wheels by the rhythm of their edges."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from phasko.core import numbers
from phasko.core.angles import wrap, wrap_cycle, wrap_difference
from phasko.core.channels.proposed import RoleProposal
from phasko.core.channels.shape import Shape
from phasko.core.crank.clock import ClockPiece, ClockSetting, crank_clock
from phasko.core.crank.tooth_count import ToothCount, count_teeth
from phasko.core.crank.wheel_recognition import learn_wheel
from phasko.core.cycle.cycle_half import CamsAsked, resolve_turn
from phasko.core.cycle.pattern import fit_pattern
from phasko.core.documents.engine import Cam, EngineProfile
from phasko.core.engine.firing_ripple import firing_ripple
from phasko.core.engine.wheel import wheel_name
from phasko.core.phase.aux_wheel import as_cam
from phasko.core.phase.learning import learn_cam
from phasko.core.signals.inductive import of_one_kind
from phasko.core.signals.switching import EdgeTrain

__all__ = ["CrankFound", "cam_proposals", "find_crank"]

_GAPS_SEEN = 0.6
_GAPS_CERTAIN = 0.8
_ODD_MOST = 0.12
_FAR_DEG = 60.0
_SHORT_S = 0.012
_EDGES_TRIED = 3000


@dataclass(frozen=True, slots=True, eq=False)
class CrankFound:
    """The column that is the crank, its clock (longest piece), and whether angles are those of the profile."""

    proposal: RoleProposal
    shape: Shape
    piece: ClockPiece
    index_known: bool
    repeats_deg: float


def find_crank(shapes: Sequence[Shape], profile: EngineProfile) -> CrankFound | None:
    """The column whose edges are the teeth of the profile's wheel, else of any wheel with a gap; ``None`` without."""
    found: list[tuple[float, CrankFound]] = []
    for shape in shapes:
        for train in _trains_of(shape):
            for kind in ("rising", "falling"):
                made = _as_crank(shape, train, kind, profile)
                if made is not None:
                    found.append(made)
    if not found:
        return None
    return max(found, key=lambda one: one[0])[1]


def _trains_of(shape: Shape) -> list[EdgeTrain]:
    return [train for train in (shape.edges, shape.waves) if train is not None]


def _as_crank(shape: Shape, train: EdgeTrain, kind: str, profile: EngineProfile) -> tuple[float, CrankFound] | None:
    """(merit, crank) if that direction's edges are a wheel's teeth."""
    times = train.of_kind(kind)[:_EDGES_TRIED]
    if times.size < 16:
        return None
    waves = shape.kind == "waves"
    wheel, known = profile.crank.wheel, True
    count: ToothCount | None = None
    if wheel is not None and (not waves or profile.crank.sensor == "vr" or wheel.missing):
        count = count_teeth(times, wheel)
        if not _fits(count):
            count = None
    if count is None:
        learnt = learn_wheel(times)
        if learnt is None or not learnt.wheel.missing:
            return None
        wheel, known = learnt.wheel, profile.crank.wheel is None
        count = count_teeth(times, wheel)
        if not _fits(count):
            return None
    assert wheel is not None
    right_kind = kind == profile.crank.timing_edge or (profile.crank.sensor == "vr" and waves)
    clock = crank_clock(
        times, count, wheel, ClockSetting(profile.crank.index_deg if known else None, firing_ripple(profile))
    )
    if not clock.pieces:
        return None
    piece = max(clock.pieces, key=lambda p: p.usable_s[1] - p.usable_s[0])
    teeth = len(wheel.angles_deg)
    of_profile = known and profile.crank.wheel is not None
    where = f"the {wheel_name(wheel)} wheel of the profile" if of_profile else f"a {wheel_name(wheel)} wheel"
    signature = count.signature
    reason = f"{teeth} pulses a turn" + (f" and the gap of {where}" if wheel.missing else f", as {where} has them")
    certain = signature and known and count.odd_share < 0.05 and count.gaps_seen_share >= _GAPS_CERTAIN
    if not known:
        reason += f", not the {wheel_name(profile.crank.known_wheel)} wheel of the profile"
    proposal = RoleProposal(shape.name, "crank", certain, f"{reason}.")
    # Many teeth with a gap are no accident; the profile's wheel and direction speak for a column, odd edges against it.
    merit = teeth * (1.0 + signature) * (2.0 if known else 1.0) * (1.5 if right_kind else 1.0) - 40.0 * count.odd_share
    # Only breaks ties: of two equal readings the longer one.
    merit += 1e-3 * times.size
    return merit, CrankFound(proposal, shape, piece, known and profile.crank.index_deg is not None, count.repeats_deg)


def _fits(count: ToothCount) -> bool:
    """Whether a count is one of teeth of that wheel: hardly an odd edge, the gaps where they belong, evenly timed."""
    if count.odd_share > _ODD_MOST or count.gaps_seen_share < _GAPS_SEEN:
        return False
    counted = count.tooth_number[count.tooth_number >= 0]
    return counted.size >= 2 and int(counted[-1] - counted[0]) >= 2 * count.teeth


def cam_proposals(
    shapes: Sequence[Shape], crank: CrankFound, profile: EngineProfile
) -> tuple[dict[str, RoleProposal], float | None]:
    """(cams and further wheels among the other columns: those whose edges come round with the crank; the turn, 0 or
    360 degrees, by which their patterns tell the two turns of a cycle apart, ``None`` where they do not).

    Each is held against every pattern of the profile; the assignment in which the patterns are shifted least is taken.
    Certain is what no other pattern fits within ``_FAR_DEG``. Short pulses are no cam's, unless a pattern says so.
    """
    fits: dict[str, dict[str, float]] = {}
    periodic: dict[str, int] = {}
    others = [shape for shape in shapes if shape.name != crank.shape.name and _pulses(shape)]
    patterns = [*profile.cams, *(as_cam(wheel) for wheel in profile.aux_wheels)]
    wheels = {wheel.id for wheel in profile.aux_wheels}
    for shape in others:
        for train in _trains_of(shape):
            edges = _edges_per_cycle(train, crank.piece)
            if edges is None:
                continue
            periodic[shape.name] = edges
            fits[shape.name] = {p.id: shift for p in patterns if (shift := _shift(train, p, shape, crank)) is not None}
    taken = _assigned(fits)
    found: dict[str, RoleProposal] = {}
    unnamed = iter(_names_left(profile, set(taken.values())))
    for name, edges in periodic.items():
        if name in taken:
            found[name] = _named(name, taken[name], edges, fits[name], wheels, crank)
        elif not fits[name] and not _short_pulses(next(s for s in others if s.name == name)):
            cam = next(unnamed)
            text = f"{edges} edges per 720°, coming round with the crank; no pattern of the profile"
            found[name] = RoleProposal(name, "cam", False, f"{text}.", cam=cam)
    return found, _turn(others, found, crank, profile)


def _pulses(shape: Shape) -> bool:
    return shape.kind == "switching" or (shape.kind == "waves" and shape.quiet_between)


def _short_pulses(shape: Shape) -> bool:
    """Whether its pulses last milliseconds and are rare: a coil's or an injector's, not a tooth's."""
    train = shape.edges
    if train is None or train.times_s.size < 4:
        return False
    lengths = np.diff(train.times_s)
    return bool(min(np.median(lengths[::2]), np.median(lengths[1::2])) < _SHORT_S and shape.kind == "switching")


def _turn(
    shapes: Sequence[Shape], found: dict[str, RoleProposal], crank: CrankFound, profile: EngineProfile
) -> float | None:
    trains: dict[str, EdgeTrain] = {}
    for shape in shapes:
        named = found.get(shape.name)
        if named is not None and named.cam is not None and profile.cam(named.cam) is not None:
            trains[named.cam] = _trains_of(shape)[0]
    cams = [cam for cam in profile.cams if cam.id in trains and cam.edges]
    modulo = None if crank.repeats_deg >= 360.0 else crank.repeats_deg
    turn = resolve_turn(crank.piece, trains, cams, modulo, CamsAsked(frozenset(cam.id for cam in cams)))
    return turn.turn_deg if turn.source is not None and crank.index_known else None


def _named(
    name: str,
    pattern: str,
    edges: int,
    fits: dict[str, float],
    wheels: set[str],
    crank: CrankFound,
) -> RoleProposal:
    shift = fits[pattern]
    rivals = [abs(other) for key, other in fits.items() if key != pattern]
    # One cam's pattern shifted far looks like another's in time: only a wide margin makes it certain.
    alone = not rivals or min(rivals) > abs(shift) + _FAR_DEG
    certain = alone and crank.index_known and crank.proposal.certain and abs(shift) < _FAR_DEG
    text = f"{edges} edges per 720° in the pattern of {pattern}"
    if rivals and not alone:
        text += ", which another one looks like"
    if pattern in wheels:
        return RoleProposal(name, "aux", certain, f"{text}.", wheel=pattern)
    return RoleProposal(name, "cam", certain, f"{text}.", cam=pattern)


def _edges_per_cycle(train: EdgeTrain, piece: ClockPiece) -> int | None:
    """Edges that come round every 720 degrees; ``None`` where they do not."""
    learnt = learn_cam("x", train, [piece])
    return len(learnt.edges) if learnt is not None else None


def _shift(train: EdgeTrain, cam: Cam, shape: Shape, crank: CrankFound) -> float | None:
    """How far (deg, within half a turn) the pattern is shifted on the clock; ``None`` where it does not fit."""
    if not cam.edges:
        return None
    kinds = {edge.kind for edge in cam.edges}
    if len(kinds) == 1:
        tries = [of_one_kind(train, kind, next(iter(kinds))) for kind in ("rising", "falling")]
    elif shape.kind == "waves":
        return None
    else:
        tries = [train]
    best: float | None = None
    for one in tries:
        inside = crank.piece.usable(one.times_s)
        fit = fit_pattern(crank.piece.angle_deg(one.times_s[inside]), one.rising[inside], cam.edges)
        if fit is None or fit.cost > numbers.PATTERN_MAX_COST.value:
            continue
        modulo = min(360.0, fit.modulo_deg, crank.repeats_deg)
        shift = wrap_difference(wrap_cycle(fit.shift_deg)) if crank.index_known else 0.0
        smallest = wrap(shift, modulo)
        best = smallest if best is None or abs(smallest) < abs(best) else best
    return best


def _assigned(fits: dict[str, dict[str, float]]) -> dict[str, str]:
    """Column to pattern, the smallest shifts first, no pattern twice."""
    pairs = sorted((abs(shift), name, pattern) for name, own in fits.items() for pattern, shift in own.items())
    taken: dict[str, str] = {}
    for _, name, pattern in pairs:
        if name not in taken and pattern not in taken.values():
            taken[name] = pattern
    return taken


def _names_left(profile: EngineProfile, taken: set[str]) -> list[str]:
    """Names for cams that no pattern told: those of the profile first."""
    left = [cam.id for cam in profile.cams if cam.id not in taken and not cam.edges]
    left += [cam.id for cam in profile.cams if cam.id not in taken and cam.edges]
    return [*left, *(f"CAM{k}" for k in range(1, 40) if f"CAM{k}" not in taken)]
