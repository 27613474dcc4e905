"""Reading an engine of which little is known: its wheel, its cams' patterns, and what remains unknown."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from phasko.core.angles import wrap
from phasko.core.arrays import Floats
from phasko.core.crank.clock import ClockPiece
from phasko.core.crank.wheel_recognition import LearntWheel, learn_wheel
from phasko.core.documents.analysis import Problem
from phasko.core.documents.engine import Cam, CamEdge, EdgeKind, EngineProfile, LearntFrom
from phasko.core.found import Found
from phasko.core.signals.switching import EdgeTrain
from phasko.core.uncertainty import robust_sd

__all__ = [
    "CycleMoments",
    "Learning",
    "Learnt",
    "LearntCam",
    "cycle_moments",
    "learn_cam",
    "learn_crank_wheel",
    "learn_what_is_missing",
    "learnt_profile",
]


_MOST_EDGES = 24


@dataclass(frozen=True, slots=True)
class LearntCam:
    """Edges per 720 degrees of one cam, as angles on the clock (which counts from tooth 1
    where the profile has no index), and after which angle they repeat."""

    cam: str
    edges: tuple[CamEdge, ...]
    repeats_deg: float


@dataclass(frozen=True, slots=True)
class Learnt:
    """What one capture taught about the engine; ``unknown`` names, in words, what no signal can tell."""

    wheel: LearntWheel | None
    cams: tuple[LearntCam, ...]
    unknown: tuple[str, ...]


@dataclass(frozen=True, slots=True, eq=False)
class CycleMoments:
    """Moments one cam turn apart. ``alike``: the cam's pulses are all alike, so that there may be several per turn."""

    times_s: Floats
    alike: bool


def cycle_moments(train: EdgeTrain) -> CycleMoments | None:
    """Every n-th rising edge, n being the edges after which the pattern comes round; ``None`` without a pattern.

    Found on the logarithms of neighbouring intervals, which do not depend on the speed.
    """
    times = train.times_s
    if times.size < 8 or not train.rising.any():
        return None
    change = np.diff(np.log(np.maximum(np.diff(times), 1e-9)))
    usual = float(np.median(np.abs(change - np.median(change))))
    for edges in range(2, min(_MOST_EDGES, change.size // 3) + 1, 2):
        scatter = float(np.median(np.abs(change[edges:] - change[:-edges])))
        # A pattern repeats itself better than neighbours resemble each other; a quarter is what cranking alone does.
        if scatter < min(0.25, 0.35 * usual + 0.1):
            alike = edges == 2 and float(np.median(np.abs(change))) < 0.25
            return CycleMoments(times[int(np.flatnonzero(train.rising)[0]) :: edges], alike)
    return None


def learn_crank_wheel(times_s: Floats, cams: Mapping[str, EdgeTrain]) -> LearntWheel | None:
    """The crank's wheel, its turn measured by a cam where one tells a cycle.

    A cam whose pattern repeats within its turn gives a fraction of the cycle: the largest count of any cam wins. One
    with pulses that are all alike only helps a wheel that has gaps to check it by. ``times_s`` of shape (edges,) in s.
    """
    found = []
    for moments in (cycle_moments(train) for train in cams.values()):
        wheel = None if moments is None else learn_wheel(times_s, moments.times_s)
        if moments is not None and wheel is not None and (wheel.wheel.missing or not moments.alike):
            found.append(wheel)
    if found:
        return max(found, key=lambda learnt: learnt.wheel.slots or 0)
    return learn_wheel(times_s)


def learn_cam(cam: str, train: EdgeTrain, pieces: Sequence[ClockPiece]) -> LearntCam | None:
    """The cam's edges over one cycle, in the clock's own frame; ``None`` when no steady pattern is seen.

    Only the longest clock piece is used, since the two turns of a cycle are not told apart between pieces.
    """
    if not pieces:
        return None
    piece = max(pieces, key=lambda p: p.usable_s[1] - p.usable_s[0])
    inside = piece.usable(train.times_s)
    angles, rising = piece.angle_deg(train.times_s[inside]), train.rising[inside]
    cycles = (
        piece.angle_deg(np.array([piece.usable_s[1]]))[0] - piece.angle_deg(np.array([piece.usable_s[0]]))[0]
    ) / 720
    # Every edge of the cycle must have come at least once, and half of them twice.
    if cycles < 1.5:
        return None
    edges: list[CamEdge] = []
    for kind in ("rising", "falling"):
        places = _clusters(angles[rising == (kind == "rising")] % 720.0, cycles)
        if places is None:
            return None
        edges += [CamEdge(deg=float(place), kind=_kind(kind)) for place in places]
    if not edges or len(edges) > _MOST_EDGES:
        return None
    edges.sort(key=lambda edge: edge.deg)
    return LearntCam(cam, tuple(edges), _repeats(edges))


def _kind(kind: str) -> EdgeKind:
    return "rising" if kind == "rising" else "falling"


def _clusters(angles: Floats, cycles: float) -> list[float] | None:
    """Mean places of edges that come once per cycle; ``None`` when they do not gather in such places."""
    if not angles.size:
        return []
    count = round(angles.size / cycles)
    if not 1 <= count <= _MOST_EDGES:
        return None
    ordered = np.sort(angles)
    gaps = np.diff(np.append(ordered, ordered[0] + 720.0))
    # As many widest gaps as edges per cycle part the places, wherever they lie.
    cuts = np.sort(np.argsort(gaps)[-count:])
    found = []
    for low, high in zip(np.roll(cuts, 1), cuts, strict=True):
        group = (
            np.concatenate([ordered[low + 1 :], ordered[: high + 1] + 720.0])
            if low >= high
            else ordered[low + 1 : high + 1]
        )
        # A place that half the cycles miss, or that is wider than a phaser's sway, is no edge of a pattern.
        if group.size < 0.5 * cycles or np.ptp(group) > 40.0:
            return None
        found.append(float(np.median(group)) % 720.0)
    return sorted(found)


def _repeats(edges: Sequence[CamEdge]) -> float:
    """The smallest whole part of 720 degrees after which the pattern is the same within three degrees."""
    places = np.array([edge.deg for edge in edges])
    kinds = np.array([edge.kind == "rising" for edge in edges])
    for parts in (8, 6, 5, 4, 3, 2):
        moved = (places + 720.0 / parts) % 720.0
        off = np.abs(wrap(moved[:, None] - places[None, :], 720.0))
        off = np.where(kinds[:, None] == kinds[None, :], off, np.inf)
        if float(off.min(axis=1).max()) < 3.0:
            return 720.0 / parts
    return 720.0


def learnt_profile(profile: EngineProfile, learnt: Learnt, name: str, capture: str) -> EngineProfile:
    """A new profile with what the capture of that name taught. An index that the profile had is kept; where it had
    none none is made up, since no crank or cam signal can tell it, and the cams' edges are then angles after tooth 1,
    which move once the index is known. It says that it was learnt from one car, whose state nobody has vouched for."""
    wheel = learnt.wheel.wheel if learnt.wheel is not None else profile.crank.wheel
    seen = {cam.cam: cam for cam in learnt.cams}
    cams = [
        cam.model_copy(update={"edges": list(seen[cam.id].edges), "edges_u95_deg": None}) if cam.id in seen else cam
        for cam in profile.cams
    ]
    known = {cam.id for cam in cams}
    cams += [Cam(id=cam.cam, edges=list(cam.edges)) for cam in learnt.cams if cam.cam not in known]
    crank = profile.crank.model_copy(update={"wheel": wheel})
    before = list(profile.learnt.cams) if profile.learnt is not None and not profile.learnt.known_good else []
    origin = LearntFrom(
        capture=capture, cams=[*before, *(c for c in seen if c not in before)], index_deg=crank.index_deg
    )
    update = {"name": name, "crank": crank, "cams": cams, "learnt": origin if origin.cams else profile.learnt}
    return profile.model_copy(update=update)


@dataclass(frozen=True, slots=True)
class Learning:
    """The profile as it is read with, and what was learnt for it (``None``: nothing had to be)."""

    engine: EngineProfile
    learnt: Learnt | None

    @property
    def matches(self) -> bool | None:
        """True where the profile had a wheel to match, ``None`` where it was learnt."""
        return None if self.learnt is not None and self.learnt.wheel is not None else True

    def with_cams(self, trains: Mapping[str, EdgeTrain], pieces: Sequence[ClockPiece]) -> Learning:
        """Adds the patterns of the cams that the profile has no edges for."""
        cams, found = [], []
        for cam in self.engine.cams:
            learnt = learn_cam(cam.id, trains[cam.id], pieces) if not cam.edges and cam.id in trains else None
            if learnt is not None:
                found.append(learnt)
            cams.append(cam if learnt is None else cam.model_copy(update={"edges": list(learnt.edges)}))
        if not found:
            return self
        wheel = self.learnt.wheel if self.learnt is not None else None
        engine = self.engine.model_copy(update={"cams": cams})
        return Learning(engine, Learnt(wheel, tuple(found), _unknown(engine, wheel, found)))


def learn_what_is_missing(profile: EngineProfile, crank: EdgeTrain, cams: Mapping[str, EdgeTrain]) -> Found[Learning]:
    """Gives the profile what it lacks before teeth can be counted: its wheel, its accurate edge, cams nobody listed."""
    engine = _with_listed_cams(profile, cams)
    if profile.crank.wheel is not None:
        return Found(Learning(engine, None))
    edge, wheel = _accurate_edge(profile, crank, cams)
    if wheel is None:
        text = (
            "The profile does not describe the crank wheel, and none is recognised from the signal: give its teeth, "
            "or hook up a cam so that a cycle can be counted."
        )
        unknown = Problem(code="wheel_unknown", channel=crank.channel, text=text)
        return Found(Learning(engine, Learnt(None, (), ("the crank wheel",))), (unknown,))
    assumed = " Its turn is assumed from its own pattern." if wheel.turn_assumed else ""
    text = f"The profile does not describe the crank wheel; the signal is that of a {wheel.name} wheel.{assumed}"
    recognised = Problem(code="wheel_recognised", channel=crank.channel, text=text)
    made = engine.crank.model_copy(update={"wheel": wheel.wheel, "timing_edge": edge})
    engine = engine.model_copy(update={"crank": made})
    return Found(Learning(engine, Learnt(wheel, (), _unknown(engine, wheel, []))), (recognised,))


def _with_listed_cams(profile: EngineProfile, cams: Mapping[str, EdgeTrain]) -> EngineProfile:
    """Cams that are hooked up though the profile lists none of that name, bank and shaft read from ids like B1I."""
    known = {cam.id for cam in profile.cams}
    added = []
    for cam_id in cams:
        if cam_id not in known:
            parts = re.fullmatch(r"B(\d)([IE])", cam_id)
            bank = int(parts[1]) if parts else 1
            shaft = "single" if parts is None else ("intake" if parts[2] == "I" else "exhaust")
            added.append(Cam.model_validate({"id": cam_id, "bank": bank, "shaft": shaft}))
    return profile.model_copy(update={"cams": [*profile.cams, *added]}) if added else profile


def _accurate_edge(
    profile: EngineProfile, crank: EdgeTrain, cams: Mapping[str, EdgeTrain]
) -> tuple[EdgeKind, LearntWheel | None]:
    """The edge whose teeth stand more evenly, and the wheel seen by it."""
    kinds: tuple[EdgeKind, ...] = ("falling", "rising")
    if "timing_edge" in profile.crank.model_fields_set:
        kinds = (profile.crank.timing_edge,)
    seen = [(kind, learn_crank_wheel(crank.of_kind(kind), cams)) for kind in kinds]
    found = [(kind, wheel) for kind, wheel in seen if wheel is not None]
    if not found:
        return kinds[0], None
    return min(found, key=lambda pair: _unevenness(crank.of_kind(pair[0])))


def _unevenness(times_s: Floats) -> float:
    """How much neighbouring intervals differ, as a robust standard deviation of their ln ratio."""
    change = np.diff(np.log(np.maximum(np.diff(times_s), 1e-9)))
    return robust_sd(change)


def _unknown(engine: EngineProfile, wheel: LearntWheel | None, cams: Sequence[LearntCam]) -> tuple[str, ...]:
    """What no crank or cam signal can tell."""
    found = []
    if engine.crank.index_deg is None:
        found.append("where tooth 1 stands to TDC of cylinder 1")
    if cams:
        found.append("where the cams' edges should be")
    if wheel is not None and wheel.turn_assumed:
        found.append("whether the wheel's pattern comes once per turn")
    if not any(cam.repeats_deg >= 720.0 for cam in cams):
        found.append("which of the two turns of a cycle is which")
    return tuple(found)
