"""What a library of known good engines teaches a profile: new edges, a new index, and how sure they are."""

from __future__ import annotations

import math
from collections.abc import Collection, Sequence

import numpy as np
from pydantic import BaseModel, ConfigDict

from phasko.core import numbers
from phasko.core.angles import wrap_difference
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.documents.engine import Cam, EngineProfile, RefinedFrom
from phasko.core.phase.healthy_range import healthy_range
from phasko.core.phase.reading import CamReading
from phasko.core.phase.reference import KnownGood, own_sd_deg, profile_references, run_state, usual_spread_deg
from phasko.core.uncertainty import NORMAL_95

__all__ = ["CamProposal", "IndexProposal", "Proposal", "index_moved", "proposed_profile", "refined_profile"]


class ProposalPart(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class CamProposal(ProposalPart):
    """New edges of one cam: by how much each moves (deg) and the half width before and after; from so many engines."""

    cam: str
    moved_deg: list[float]
    mean_moved_deg: float
    mean_u95_deg: float
    u95_before_deg: float
    u95_after_deg: float
    engines: int


class IndexProposal(ProposalPart):
    """A new place of tooth 1 from the pistons of the known good engines, where their TDC was measured."""

    index_deg: float
    moved_deg: float
    u95_before_deg: float
    u95_after_deg: float
    engines: int


class Proposal(ProposalPart):
    """What would change in a profile, and from which captures. ``sharper``: at least one half width becomes smaller."""

    cams: list[CamProposal]
    index: IndexProposal | None
    captures: list[str]
    sharper: bool


def proposed_profile(measured: Sequence[tuple[str, CaptureMeasurement]], profile: EngineProfile) -> Proposal | None:
    """What captures of known good engines (hash, measurement) say beyond the profile; ``None`` where they say nothing
    new. Captures that the profile already rests on are left out, so that none counts twice.

    The profile is the prior: its edges are right to within its half width. What is seen of each engine is off by its
    build; the new half width is that of one more engine of the kind.
    """
    done = set(profile.refined.captures) if profile.refined is not None else set()
    new = [(sha, capture) for sha, capture in measured if sha not in done]
    cams = [made for cam in profile.cams if (made := _cam(cam, [c for _, c in new], profile)) is not None]
    index = _index([capture for _, capture in new], profile)
    if not cams and index is None:
        return None
    sharper = any(c.u95_after_deg < c.u95_before_deg for c in cams) or index is not None
    return Proposal(cams=cams, index=index, captures=[sha for sha, _ in new], sharper=sharper)


def refined_profile(profile: EngineProfile, proposal: Proposal, keep: Collection[str]) -> EngineProfile:
    """The profile with what was proposed, of the cams (and ``index``) that a person accepted."""
    by_cam = {one.cam: one for one in proposal.cams if one.cam in keep}
    cams = [_refined(cam, by_cam[cam.id]) if cam.id in by_cam else cam for cam in profile.cams]
    earlier = profile.refined.captures if profile.refined is not None else []
    index = proposal.index if "index" in keep else None
    counts = [one.engines for one in by_cam.values()] + ([] if index is None else [index.engines])
    engines = max(counts, default=0)
    changes: dict[str, object] = {
        "cams": cams,
        "refined": RefinedFrom(
            captures=[*earlier, *proposal.captures],
            engines=engines + (profile.refined.engines if profile.refined is not None else 0),
        ),
    }
    if index is not None:
        crank = {"index_deg": index.index_deg, "index_u95_deg": round(index.u95_after_deg, 2)}
        changes["crank"] = profile.crank.model_copy(update=crank)
    return profile.model_copy(update=changes)


def _refined(cam: Cam, proposal: CamProposal) -> Cam:
    edges = [
        edge.model_copy(update={"deg": round((edge.deg + moved) % 720.0, 2)})
        for edge, moved in zip(cam.edges, proposal.moved_deg, strict=True)
    ]
    return cam.model_copy(update={"edges": edges, "edges_u95_deg": round(proposal.u95_after_deg, 2)})


def _rest_readings(captures: Sequence[CaptureMeasurement], cam: Cam) -> list[tuple[CaptureMeasurement, CamReading]]:
    """One reading of the cam a capture, at park: cranking before running, phasers that may be driven left out."""
    found = []
    for capture in captures:
        own = [
            r
            for r in capture.cams
            if r.cam.id == cam.id
            and r.relative is not None
            and not r.swapped
            and r.ambiguous_modulo_deg is None
            and r.reference.source == "profile"
            and np.isfinite(r.relative.statistics.edge_means).all()
            and (
                cam.phaser is None
                or r.segment == "cranking"
                or capture.recording.description.phasers in ("parked", "unplugged", "sweep")
            )
        ]
        if own:
            found.append((capture, min(own, key=lambda r: r.segment != "cranking")))
    return found


def _cam(cam: Cam, captures: Sequence[CaptureMeasurement], profile: EngineProfile) -> CamProposal | None:
    read = _rest_readings(captures, cam)
    if not read or not cam.edges:
        return None
    rows = np.array([r.relative.statistics.edge_means for _, r in read if r.relative is not None])
    sds = []
    for capture, reading in read:
        about = capture.recording.description
        state = run_state(about, reading.segment)
        assert reading.relative is not None
        how = about.known_good.how if about.known_good is not None else None
        good = KnownGood(cam.id, state, (), reading.relative.offset.u95, capture.recording.file, how)
        sds.append(own_sd_deg(good, state, cam))
    reference = profile_references(profile)[cam.id]
    prior_sd = reference.u95_deg / NORMAL_95
    spread = usual_spread_deg(profile)[cam.id]
    # The profile is one more engine whose place is known as well as it says.
    means = rows.mean(axis=1)
    range_ = healthy_range([0.0, *means.tolist()], [prior_sd, *sds], spread)
    middle = range_.mean_deg
    moved = rows.mean(axis=0) - means.mean() + middle
    # The offset's half width joins edges and index; the index keeps its own share of it.
    total = range_.u95_deg
    edges_after = math.sqrt(max(total**2 - reference.index_u95_deg**2, numbers.EDGES_U95_LEAST_DEG.value**2))
    return CamProposal(
        cam=cam.id,
        moved_deg=[float(m) for m in moved],
        mean_moved_deg=middle,
        mean_u95_deg=NORMAL_95 * range_.mean_sd_deg,
        u95_before_deg=reference.edges_u95_deg,
        u95_after_deg=edges_after,
        engines=len(read),
    )


def _index(captures: Sequence[CaptureMeasurement], profile: EngineProfile) -> IndexProposal | None:
    """The profile's index joined with what pressure and the crank's speed say of every engine; ``None`` where that is
    no sharper than the profile."""
    known = [c.index for c in captures if c.index is not None]
    if profile.crank.index_deg is None or not known:
        return None
    default = numbers.DEFAULT_REFERENCE_U95_DEG.value
    before = default if profile.crank.index_u95_deg is None else profile.crank.index_u95_deg
    spread = numbers.INDEX_BUILD_SD_DEG.value
    weights = [NORMAL_95**2 / before**2]
    weights += [1.0 / ((one.u95_deg / NORMAL_95) ** 2 + spread**2) for one in known]
    values = [0.0, *(one.offset_deg for one in known)]
    moved = sum(w * v for w, v in zip(weights, values, strict=True)) / sum(weights)
    after = NORMAL_95 * math.hypot(1.0 / math.sqrt(sum(weights)), spread)
    if after >= before:
        return None
    return index_moved(profile.crank.index_deg, moved, (before, after), len(known))


def index_moved(
    index_deg: float, moved_deg: float, u95_before_after_deg: tuple[float, float], engines: int
) -> IndexProposal:
    """A profile's index moved by so much (deg, late positive), with its half width before and after, from so many
    engines."""
    before, after = u95_before_after_deg
    return IndexProposal(
        index_deg=round((index_deg + wrap_difference(moved_deg)) % 360.0, 2),
        moved_deg=moved_deg,
        u95_before_deg=before,
        u95_after_deg=after,
        engines=engines,
    )
