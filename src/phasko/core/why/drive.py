"""Why a chain is called longer, and a phaser stuck, slow or short."""

from __future__ import annotations

from collections.abc import Iterator

from phasko.core import numbers
from phasko.core.documents.analysis import CaptureResult, PhaserResult
from phasko.core.documents.engine import EngineProfile
from phasko.core.documents.standards_results import ElongationResult
from phasko.core.why.answer import Part, Why
from phasko.core.words import angle_words, cam_name, plus_minus

__all__ = ["elongation_why", "phaser_whys"]


def elongation_why(one: ElongationResult, engine: EngineProfile) -> Why:
    """How much longer the timing drive is than a new one."""
    cam = engine.cam(one.furthest_cam)
    furthest = f"{angle_words(one.furthest_deg, one.furthest_u95_deg)} {plus_minus(one.furthest_u95_deg)}"
    parts = [Part(name=f"{cam_name(cam, engine) if cam else one.furthest_cam}, furthest", value=furthest)]
    if one.mm is not None and one.u95_mm is not None:
        parts.append(Part(name="On its free strand", value=f"{one.mm:.1f} ± {one.u95_mm:.1f} mm"))
    parts.append(Part(name="The cams stand as one elongation would have them", value="yes" if one.fits else "no"))
    stays = {None: "seen in one condition only", True: "yes", False: "no"}[one.stays]
    parts.append(Part(name="It stays in every condition", value=stays))
    return Why(
        id="elongation",
        title="Elongation of the timing drive",
        value=f"{one.percent:.2f} ± {one.u95_percent:.2f} %",
        formula="An elongation of e percent makes a cam late by e ÷ 100 × free links of its tight strand × pitch in "
        "crank degrees; the e that fits all cams.",
        parts=parts,
        source="Chain arithmetic: pitch = 360° ÷ teeth of the crank sprocket. Free links and pitch are the profile's.",
        taken_from="The cams of every capture of this job",
    )


def phaser_whys(capture: CaptureResult, engine: EngineProfile) -> Iterator[Why]:
    """One for each phaser that was driven."""
    for one in capture.phasers:
        if one.state is not None and one.swept_deg is not None:
            yield _phaser(capture.file, one, one.swept_deg, engine)


def _phaser(file: str, one: PhaserResult, swept_deg: float, engine: EngineProfile) -> Why:
    cam = engine.cam(one.cam)
    told = (
        ("Rate", one.rate_deg_per_s, "°/s"),
        ("Came back from where it began by", one.hysteresis_deg, "°"),
        ("Range of the profile", one.range_deg, "°"),
        ("Short of it by", one.short_deg, "°"),
    )
    parts = [Part(name=name, value=f"{value:.1f}{unit}") for name, value, unit in told if value is not None]
    if one.dead_time_s is not None:
        half = f" ± {1000 * one.dead_time_u95_s:.0f}" if one.dead_time_u95_s is not None else ""
        parts.append(Part(name="Dead time", value=f"{1000 * one.dead_time_s:.0f}{half} ms"))
    stuck, slow, back = numbers.SWEEP_STUCK_DEG, numbers.SWEEP_SLOW_DEG_S, numbers.SWEEP_RETURN_DEG
    limits = f"stuck under {stuck.value:g}°, slow under {slow.value:g}°/s, off park over {back.value:g}°"
    parts.append(Part(name="Limits", value=limits))
    return Why(
        id=f"phaser/{one.cam}",
        title=f"{cam_name(cam, engine) if cam else one.cam}, phaser",
        value=f"{angle_words(swept_deg)}, {one.state.replace('_', ' ') if one.state else ''}",
        formula="Each travel is a steady rate through a lag of the first order, fitted to the edges: begin, duration, "
        "lag and end. Travel = furthest place − where it started.",
        parts=parts,
        source="What is stuck, slow and off park is defined by the result document; short is more than "
        f"{100 * numbers.SWEEP_SHORT_SHARE.value:.0f} % of the profile's range (common practice, no source).",
        taken_from=f"The sweep in {file.removesuffix('.capture.json')}",
    )
