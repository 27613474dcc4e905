"""What an engine profile does not say, and what saying it would allow."""

from __future__ import annotations

from collections.abc import Iterator

from pydantic import BaseModel, ConfigDict

from phasko.core import numbers
from phasko.core.documents.engine import EngineProfile
from phasko.core.documents.engine_words import field_title

__all__ = ["OpenPoint", "open_points"]


class OpenPoint(BaseModel):
    """A field that is absent, its ``title``, and in one sentence what it would allow."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    field: str
    title: str
    allows: str


def open_points(profile: EngineProfile) -> list[OpenPoint]:
    """Open points, those that cost most first. A cam without a phaser is a fixed cam, and even firing is the rule:
    both may be absent without anything being open."""
    found = [*_learnt(profile), *_crank(profile), *_cams(profile), *_drive(profile), *_cylinders(profile)]
    return [OpenPoint(field=field, title=field_title(field), allows=allows) for field, allows in found]


def _learnt(profile: EngineProfile) -> Iterator[tuple[str, str]]:
    if profile.learnt is not None and profile.learnt.cams and not profile.learnt.known_good:
        where = f" ({profile.learnt.capture})" if profile.learnt.capture else ""
        yield (
            "learnt.known_good",
            f"makes the edges of {', '.join(profile.learnt.cams)} a reference; they were learnt from one car in an "
            f"unknown state{where}, and until somebody says how that car was known to be good no cam is called late "
            "by them",
        )


def _crank(profile: EngineProfile) -> Iterator[tuple[str, str]]:
    assumed = f"± {numbers.DEFAULT_REFERENCE_U95_DEG.value:g}°"
    if profile.crank.wheel is None:
        yield "crank.wheel", "tells a wrong or turned wheel from the right one; until then it is recognised each time"
    if profile.crank.index_deg is None:
        yield (
            "crank.index_deg",
            "puts TDC into the picture, so that cams are late or early against the pistons; no crank or cam signal can "
            "tell it, cylinder pressure or a mark on the crank can",
        )
    elif profile.crank.index_u95_deg is None:
        yield "crank.index_u95_deg", f"narrows every offset; {assumed} is assumed"


def _cams(profile: EngineProfile) -> Iterator[tuple[str, str]]:
    assumed = f"± {numbers.DEFAULT_REFERENCE_U95_DEG.value:g}°"
    if not profile.cams:
        yield "cams", "names the cam signals; until then each is known by its channel alone"
    for cam in profile.cams:
        if not cam.edges:
            yield (
                f"cams[{cam.id}].edges",
                "says how late or early that cam is; until then its pattern, spread and trend are shown, and the "
                "difference to the other bank",
            )
        elif cam.edges_u95_deg is None:
            yield f"cams[{cam.id}].edges_u95_deg", f"narrows its offset; {assumed} is assumed"
    if len({cam.bank for cam in profile.cams}) > 1 and not profile.banks:
        yield "banks", "compares like cams of the two banks by the firing of their cylinders"


def _drive(profile: EngineProfile) -> Iterator[tuple[str, str]]:
    drive = profile.drive
    if drive is None or not (drive.crank_sprocket_teeth or drive.pitch_crank_deg):
        yield (
            "drive.crank_sprocket_teeth",
            "gives offsets in pitches, by which a jump is told from wear; until then every usual sprocket is weighed",
        )
    if drive is None or (drive.type in ("chain", "belt") and not drive.free_links):
        yield "drive.free_links", "tells how late each cam of a stretched drive must come, nearer and farther ones"
    if profile.interference is None:
        yield "interference", "says whether valves can meet pistons; until then it is assumed that they can"


def _cylinders(profile: EngineProfile) -> Iterator[tuple[str, str]]:
    if profile.layout is None:
        yield "layout", "draws the engine as it stands"
    if profile.geometry is None:
        yield "geometry", "puts a pressure curve on volume and piston position"
    if profile.valve_timing is None:
        yield "valve_timing", "lets a pressure test check the valves themselves, past every signal wheel"
    if profile.ignition is None:
        yield "ignition", "tells how often a coil fires per cycle, and when it should"
    if profile.cranking_pressure_bar is None:
        yield "cranking_pressure_bar", "gives cranking pressure something to be held against"
    if profile.displacement_l is None:
        yield "displacement_l", "turns air flow on the road into volumetric efficiency"
