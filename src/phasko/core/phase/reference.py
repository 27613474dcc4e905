"""Known good captures as the reference: each cam's edges where healthy engines of the kind have them."""

from __future__ import annotations

import math
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from phasko.core import numbers
from phasko.core.crank.segments import SegmentKind
from phasko.core.documents.capture import CaptureDescription, HowGood
from phasko.core.documents.engine import Cam, EngineProfile
from phasko.core.phase.healthy_range import healthy_range
from phasko.core.uncertainty import NORMAL_95

__all__ = ["CamReference", "KnownGood", "RunState", "profile_references", "references_from", "run_state", "unlike"]


@dataclass(frozen=True, slots=True)
class CamReference:
    """What a cam is compared with: its edges, what they are called, and how far they may be wrong (95 %, deg).

    ``index_u95_deg`` is 0 for known good captures: they were taken against the same kind of wheel. Of these
    ``spread_sd_deg`` is how healthy engines of the kind differ, ``engines`` how many were seen, ``names`` which.
    """

    cam: Cam
    source: str
    edges_u95_deg: float
    index_u95_deg: float
    spread_sd_deg: float | None = None
    engines: int = 0
    names: tuple[str, ...] = ()

    @property
    def u95_deg(self) -> float:
        return math.hypot(self.edges_u95_deg, self.index_u95_deg)


@dataclass(frozen=True, slots=True)
class RunState:
    """What a capture must have in common with one that it is compared with."""

    segment: SegmentKind
    temperature: str
    phasers: str
    throttle: str


@dataclass(frozen=True, slots=True)
class KnownGood:
    """One cam of one known good capture: mean deviation of each edge from the profile (``nan``: not seen), the half
    width of their mean, in which state it was taken, and how the engine is known to be good (``None``: not said).
    ``allowed``: a person compares with it although its state is another one."""

    cam: str
    state: RunState
    edge_means_deg: tuple[float, ...]
    u95_deg: float
    name: str
    how: HowGood | None = None
    allowed: bool = False


_PARKED = ("parked", "unplugged", "sweep")


def run_state(description: CaptureDescription, segment: SegmentKind) -> RunState:
    """The state of one segment of a capture. A swept cam is read before it is driven, at park."""
    phasers = "parked" if description.phasers in _PARKED else description.phasers
    return RunState(segment, description.temperature, phasers, description.throttle)


def unlike(own: RunState, good: RunState, cam: Cam) -> tuple[str, ...]:
    """In what two states differ so that a cam need not stand alike in both, in words; nothing where they agree, or
    where one was not noted."""
    found = []
    if own.segment != good.segment:
        found.append(f"{good.segment}, not {own.segment}")
    if "unknown" not in (own.temperature, good.temperature) and own.temperature != good.temperature:
        found.append(f"{good.temperature}, not {own.temperature}")
    if cam.phaser is not None and "unknown" not in (own.phasers, good.phasers) and own.phasers != good.phasers:
        found.append(f"phasers {good.phasers}, not {own.phasers}")
    return tuple(found)


def profile_references(profile: EngineProfile, known: Collection[str] | None = None) -> dict[str, CamReference]:
    """The profile itself as reference, by cam; 1 degree where it does not say how sure it is. Cams not among the
    ``known`` have edges that were only learnt: their source is ``none``."""
    default = numbers.DEFAULT_REFERENCE_U95_DEG.value
    index = default if profile.crank.index_u95_deg is None else profile.crank.index_u95_deg
    found = {}
    for cam in profile.cams:
        source = "profile" if known is None or cam.id in known else "none"
        edges = default if cam.edges_u95_deg is None else cam.edges_u95_deg
        found[cam.id] = CamReference(cam, source, edges, index)
    return found


def references_from(
    good: Sequence[KnownGood], profile: EngineProfile, states: Mapping[SegmentKind, RunState]
) -> Mapping[tuple[str, SegmentKind], CamReference]:
    """References of known good captures for a capture in these ``states``, by cam and segment: edges moved to where the
    good engines have them, with the range in which one more of them lies.

    Captures of another state are left out, unless a person compares with them all the same: the range is then wider.
    """
    found: dict[tuple[str, SegmentKind], CamReference] = {}
    usual = usual_spread_deg(profile)
    for cam in profile.cams:
        for kind, state in states.items():
            fit = [g for g in good if g.cam == cam.id and np.isfinite(g.edge_means_deg).all()]
            own = {g.name for g in fit if g.state.segment == kind}
            # One that has the state in a segment of its own says nothing by its others.
            fit = [g for g in fit if _comparable(g, state, cam) and (g.state.segment == kind or g.name not in own)]
            if not fit:
                continue
            rows = np.array([g.edge_means_deg for g in fit])
            range_ = healthy_range(rows.mean(axis=1).tolist(), [own_sd_deg(g, state, cam) for g in fit], usual[cam.id])
            moved = rows.mean(axis=0) - rows.mean() + range_.mean_deg
            edges = [
                edge.model_copy(update={"deg": (edge.deg + float(shift)) % 720.0})
                for edge, shift in zip(cam.edges, moved, strict=True)
            ]
            found[cam.id, kind] = CamReference(
                cam=cam.model_copy(update={"edges": edges}),
                source="reference",
                edges_u95_deg=range_.u95_deg,
                index_u95_deg=0.0,
                spread_sd_deg=range_.spread_sd_deg,
                engines=range_.count,
                names=tuple(g.name for g in fit),
            )
    return found


def _comparable(good: KnownGood, own: RunState, cam: Cam) -> bool:
    if good.allowed:
        return not any(words.startswith("phasers") for words in unlike(own, good.state, cam))
    return not unlike(own, good.state, cam)


def own_sd_deg(good: KnownGood, own: RunState, cam: Cam) -> float:
    """How far one known good capture may be off for a reason of its own (deg): its reading, the doubt whether that
    engine is healthy, and a state that is another one or was not noted."""
    parts = [good.u95_deg / NORMAL_95]
    if good.how is not None:
        parts.append(numbers.KNOWN_GOOD_SD[_HOW.index(good.how)].value)
    if unlike(own, good.state, cam):
        parts.append(numbers.OTHER_STATE_SD_DEG.value)
    elif "unknown" in (own.temperature, good.state.temperature) and own.temperature != good.state.temperature:
        parts.append(numbers.UNKNOWN_STATE_SD_DEG.value)
    return math.hypot(*parts)


_HOW: tuple[HowGood, ...] = ("marks_seen", "set_up", "runs_well", "said")


def usual_spread_deg(profile: EngineProfile) -> dict[str, float]:
    """How healthy engines of the kind usually differ, by cam (standard deviation in deg): what the profile's own half
    widths say, and no less than what builds differ by."""
    references = profile_references(profile)
    least = numbers.RANGE_SPREAD_SD_DEG.value
    return {cam: max(least, one.u95_deg / NORMAL_95) for cam, one in references.items()}
