"""Sentences about what opening the timing drive shows, shared by the faults behind its covers."""

from __future__ import annotations

from phasko.core.documents.engine import EngineProfile
from phasko.core.words import cam_name, drive_word, lower_first

__all__ = ["DRIVE_PARTS", "displaced", "drive_parts", "teeth_words"]

DRIVE_PARTS = ("tensioner", "guides", "seals of the cover", "bolts that are used once")
"""What is usually renewed together with the drive (common practice, no source)."""


def drive_parts(profile: EngineProfile) -> tuple[str, ...]:
    """Parts usually done together: the chain or belt itself first."""
    return (drive_word(profile), *DRIVE_PARTS)


def teeth_words(amount_deg: float, profile: EngineProfile) -> str:
    """An amount in crank degrees, sprocket teeth at the cam and cam degrees: what a look at a cam mark shows."""
    drive = profile.drive
    teeth = drive.crank_sprocket_teeth if drive is not None else None
    size = f"{abs(amount_deg):.0f}° of the crank, {abs(amount_deg) / 2:.0f}° at the cam"
    return f"{size}, {abs(amount_deg) * teeth / 360.0:.1f} sprocket teeth" if teeth else size


def displaced(profile: EngineProfile, cams: tuple[str, ...], amount_deg: float | None) -> str:
    """Which mark is displaced, how far and which way, with the crank on its own mark."""
    named = [lower_first(cam_name(cam, profile)) for cam in profile.cams if cam.id in cams]
    marks = f"the mark of the {named[0]}" if len(named) == 1 else f"the marks of {' and '.join(named)}"
    if amount_deg is None or abs(amount_deg) < 1.0:
        return f"With the crank on its own mark, {marks} off the line"
    way = "behind its place" if amount_deg > 0 else "ahead of its place"
    way = way.replace("its", "their") if len(named) != 1 else way
    return f"With the crank on its own mark, {marks} {teeth_words(amount_deg, profile)} {way}"
