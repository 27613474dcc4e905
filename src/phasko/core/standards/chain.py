"""Chain arithmetic: pitches, elongation along the free strands, slack, and how far a limit is."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import scipy

from phasko.core import numbers
from phasko.core.capture.measurement import CaptureMeasurement
from phasko.core.documents.engine import EngineProfile
from phasko.core.documents.standards_results import ChainResult, ElongationResult, MarginResult, PitchResult
from phasko.core.engine.timing_drive import chain_mm_per_deg, elongation_lateness_deg, pitch_stages_deg
from phasko.core.phase.reading import CamReading
from phasko.core.uncertainty import NORMAL_95
from phasko.core.words import cam_name, degrees, lower_first

__all__ = ["chain_of", "elongation_of"]

_MARK_LIMIT_DEG = 1.0
_UNIT_U95 = 0.4
"""A count known less well than this says nothing about whole pitches."""


def chain_of(capture: CaptureMeasurement, limit_deg: float | None = None) -> list[ChainResult]:
    """Pitches, slack and margins of every cam whose offset is known. ``limit_deg``: the maker's figure that the job
    names, else each cam's own."""
    engine = capture.engine
    found = []
    for reading in capture.cams:
        if reading.offset is None or reading.swapped or reading.relative is None:
            continue
        value, total = reading.offset.offset.value, reading.offset.total_u95_deg
        stages = pitch_stages_deg(engine.drive, reading.cam.id)
        pitches = [_pitches(stage, pitch, value, total) for stage, pitch in enumerate(stages)]
        per_deg = chain_mm_per_deg(engine.drive, reading.cam.id)
        spread = reading.relative.spread_deg
        found.append(
            ChainResult(
                cam=reading.cam.id,
                segment=reading.segment,
                pitches=pitches,
                chain_mm=None if per_deg is None else value * per_deg,
                slack_mm=None if per_deg is None else 2.0 * NORMAL_95 * spread * per_deg,
                margins=_margins(reading, stages, limit_deg, per_deg),
                words=_words(pitches),
            )
        )
    return found


def _pitches(stage: int, pitch_deg: float, offset_deg: float, total_u95_deg: float) -> PitchResult:
    """``whole`` only where one whole number lies inside the half width and the count is known well enough to leave out
    its neighbours; 0.90 ± 0.05 is no pitch."""
    count, u95 = offset_deg / pitch_deg, total_u95_deg / pitch_deg
    nearest = round(count)
    whole = nearest if abs(count - nearest) <= u95 < _UNIT_U95 else None
    return PitchResult(stage=stage, pitch_deg=pitch_deg, pitches=count, u95=u95, whole=whole)


def _words(pitches: Sequence[PitchResult]) -> str:
    """The count of every stage with its half width, and whether it is a whole one."""
    said = []
    for one in pitches:
        where = "" if len(pitches) == 1 else f" of stage {one.stage + 1}"
        count = f"{one.pitches:+.2f} ± {max(one.u95, 0.01):.2f}{where}"
        if one.whole:
            said.append(f"{count}: {abs(one.whole)} whole")
        elif one.whole == 0:
            said.append(f"{count}: none")
        else:
            said.append(f"{count}: not a whole number" if one.u95 < _UNIT_U95 else f"{count}: too coarse to count")
    return "; ".join(said)


def _margins(
    reading: CamReading, stages: Sequence[float], limit_deg: float | None, per_deg: float | None
) -> list[MarginResult]:
    assert reading.offset is not None
    off, total = abs(reading.offset.offset.value), reading.offset.total_u95_deg
    limits = [("mark", _MARK_LIMIT_DEG), ("maker", limit_deg or reading.cam.tolerance_deg)]
    limits += [("pitch", stages[0])] if stages else []
    return [
        MarginResult(
            school=school,
            limit_deg=limit,
            margin_deg=limit - off,
            margin_u95_deg=total,
            margin_mm=None if per_deg is None else (limit - off) * per_deg,
        )
        for school, limit in limits
    ]


@dataclass(frozen=True, slots=True)
class _Fit:
    """One capture's elongation: percent, its standard deviation, the chance that the cams stand so by it, the state."""

    percent: float
    sd_percent: float
    fits: bool
    state: tuple[str, str]


def elongation_of(captures: Sequence[CaptureMeasurement], profile: EngineProfile) -> ElongationResult | None:
    """Elongation from all captures together; ``None`` where no free links are known or fewer than two cams were read,
    so that there is no pattern along the strand.

    Generalised least squares of lateness over free links, with the errors that all cams share (the wheel's index). What
    is there in one condition and gone in another is no elongation: only what stays in all of them is given.
    """
    fits = [fit for capture in captures for fit in _fits(capture, profile)]
    if not fits:
        return None
    by_state = {fit.state: fit for fit in fits}
    least = min(by_state.values(), key=lambda fit: fit.percent)
    most = max(by_state.values(), key=lambda fit: fit.percent)
    apart = NORMAL_95 * math.sqrt(2.0) * _own_percent_sd(profile)
    stays = None if len(by_state) < 2 else most.percent - least.percent <= apart
    shown = least if stays is False else min(fits, key=lambda fit: fit.sd_percent)
    links = _links(profile)
    furthest = max(links, key=lambda cam: elongation_lateness_deg(profile.drive, cam, 1.0))
    per_percent = elongation_lateness_deg(profile.drive, furthest, 1.0)
    pitch_mm = profile.drive.pitch_mm if profile.drive is not None else None
    per_mm = None if pitch_mm is None else max(links.values()) * pitch_mm / 100.0
    u95 = NORMAL_95 * shown.sd_percent
    made = ElongationResult(
        percent=shown.percent,
        u95_percent=u95,
        mm=None if per_mm is None else shown.percent * per_mm,
        u95_mm=None if per_mm is None else u95 * per_mm,
        furthest_cam=furthest,
        furthest_deg=shown.percent * per_percent,
        furthest_u95_deg=u95 * per_percent,
        fits=shown.fits,
        stays=stays,
    )
    return made.model_copy(update={"words": _elongation_words(made, profile)})


def _own_percent_sd(profile: EngineProfile) -> float:
    """By how much the elongation of one engine may read otherwise from one capture to the next (percent)."""
    longest = max(elongation_lateness_deg(profile.drive, cam, 1.0) for cam in _links(profile))
    return numbers.CAPTURE_SD_DEG.value / longest


def _links(profile: EngineProfile) -> dict[str, float]:
    drive = profile.drive
    if drive is None or drive.type not in ("chain", "belt"):
        return {}
    return {cam: links for cam, links in drive.free_links.items() if links > 0.0 and profile.cam(cam) is not None}


def _fits(capture: CaptureMeasurement, profile: EngineProfile) -> list[_Fit]:
    links = _links(profile)
    found = []
    for segment in ("cranking", "running"):
        read = [
            r
            for r in capture.cams
            if r.segment == segment
            and r.offset is not None
            and not r.swapped
            and r.cam.id in links
            and _placed(r, capture)
        ]
        if len(read) < 2:
            continue
        late = np.array([r.offset.offset.value for r in read if r.offset is not None])
        per = np.array([elongation_lateness_deg(profile.drive, r.cam.id, 1.0) for r in read])
        own = np.array([r.offset.offset.u95 for r in read if r.offset is not None])
        edges = np.array([r.reference.edges_u95_deg for r in read])
        covariance = np.diag((own**2 + edges**2) / NORMAL_95**2)
        # Where the crank wheel sits, and how the strands lie today (half the variance of a change from one capture to
        # another), are alike for every cam.
        common = max(r.reference.index_u95_deg for r in read) / NORMAL_95
        covariance += common**2 + numbers.CAPTURE_SD_DEG.value**2 / 2.0
        weights = np.linalg.inv(covariance)
        precision = float(per @ weights @ per)
        percent = float(per @ weights @ late) / precision
        left = late - percent * per
        misfit = float(left @ weights @ left)
        fits = bool(scipy.special.chdtrc(len(read) - 1, misfit) > _FITS)
        found.append(
            _Fit(percent, 1.0 / math.sqrt(precision), fits, (segment, capture.recording.description.temperature))
        )
    return found


_FITS = 0.01


def _placed(reading: CamReading, capture: CaptureMeasurement) -> bool:
    """Whether the cam stands where its chain has it: a phaser that may be driven says nothing of the chain."""
    if reading.cam.phaser is None or reading.segment == "cranking":
        return True
    return capture.recording.description.phasers in ("parked", "unplugged", "sweep")


def _elongation_words(found: ElongationResult, profile: EngineProfile) -> str:
    word = "belt" if profile.drive is not None and profile.drive.type == "belt" else "chain"
    cam = profile.cam(found.furthest_cam)
    name = lower_first(cam_name(cam, profile)) if cam is not None else found.furthest_cam
    if not found.fits:
        return (
            f"The cams do not stand as a longer {word} would have them: more on the cam further along the strand, in "
            "proportion to its free links."
        )
    if found.percent <= found.u95_percent:
        least = max(found.percent, 0.0) + found.u95_percent
        return f"No elongation seen: the {word} is less than {least:.2f} % longer than new."
    mm = "" if found.mm is None else f", {found.mm:.1f} mm on the longest free strand"
    said = (
        f"The {word} is {found.percent:.2f} ± {found.u95_percent:.2f} % longer than new{mm}: the {name} "
        f"{degrees(found.furthest_deg, found.furthest_u95_deg)} late."
    )
    if found.stays is None:
        return f"{said} Seen in one condition only; elongation stays in every one."
    return (
        f"{said} It stays in every condition."
        if found.stays
        else f"{said} More than that comes and goes: no elongation."
    )
