"""Measurements in the words of the trade: sign words, sensible rounding, names of cams."""

from __future__ import annotations

from phasko.core.documents.engine import Cam, EngineProfile

__all__ = [
    "GATE_WORDS",
    "amount_words",
    "angle_words",
    "cam_name",
    "chance_words",
    "count_words",
    "degrees",
    "drive_word",
    "lower_first",
    "odds_words",
    "pitch_words",
    "plus_minus",
]

GATE_WORDS = {"go": "open up", "confirm_first": "confirm first", "no": "covers stay on"}
"""What the gate says, as every screen says it."""

_COUNTS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten")


def count_words(count: int) -> str:
    """A small whole number in words."""
    return _COUNTS[count] if 0 <= count < len(_COUNTS) else str(count)


def degrees(size_deg: float, u95_deg: float = 0.5) -> str:
    """A size without sign, rounded to what its uncertainty carries: tenths, or whole degrees from ± 3 up."""
    return f"{abs(size_deg):.0f}°" if u95_deg >= 3.0 else f"{abs(size_deg):.1f}°"


def plus_minus(u95_deg: float) -> str:
    """The half width with one digit more than its size needs: ``± 0.7°``, ``± 0.04°``, ``± 3°``."""
    if u95_deg >= 3.0:
        return f"± {u95_deg:.0f}°"
    return f"± {u95_deg:.1f}°" if u95_deg >= 0.095 else f"± {max(u95_deg, 0.01):.2f}°"


def angle_words(offset_deg: float, u95_deg: float = 0.5) -> str:
    """An offset with its sign word: ``17.1° late``, ``3.0° early``; ``0.0°`` when it rounds to nothing."""
    size = degrees(offset_deg, u95_deg)
    if float(size.rstrip("°")) == 0.0:
        return size
    return f"{size} {'late' if offset_deg > 0 else 'early'}"


def amount_words(offset_deg: float) -> str:
    """An offset for a title, in whole degrees: ``17° late``; nothing when it rounds to nothing, as where a cam was not
    measured and may be off either way."""
    if abs(offset_deg) < 0.5:
        return ""
    return f"{abs(offset_deg):.0f}° {'late' if offset_deg > 0 else 'early'}"


def lower_first(text: str) -> str:
    """The same words inside a sentence: ``Intake cam`` becomes ``intake cam``."""
    return text[:1].lower() + text[1:]


def drive_word(profile: EngineProfile) -> str:
    """Chain, belt or drive, as the profile says."""
    kind = profile.drive.type if profile.drive else None
    return {"chain": "chain", "belt": "belt"}.get(kind or "", "drive")


def pitch_words(pitches: float, drive: str) -> str:
    """``one chain pitch``, ``two belt pitches``, for a number close to a whole one."""
    whole = abs(round(pitches))
    return f"{count_words(whole)} {drive} {'pitch' if whole == 1 else 'pitches'}"


def cam_name(cam: Cam, profile: EngineProfile) -> str:
    """How a person names that cam: ``Intake cam``, ``Bank 2 exhaust cam``, ``Cam``."""
    several_banks = len({other.bank for other in profile.cams}) > 1
    alike = [other for other in profile.cams if other.bank == cam.bank and other.shaft == cam.shaft]
    shaft = "cam" if cam.shaft == "single" else f"{cam.shaft} cam"
    name = f"bank {cam.bank} {shaft}" if several_banks else shaft
    if len(alike) > 1:
        name += f" {cam.id}"
    return name[0].upper() + name[1:]


def chance_words(probability: float) -> str:
    """A chance as people say it: ``97 in 100``, ``over 99 in 100``, ``under 1 in 100``."""
    # Rounded to 0 or 100 it would promise what no measurement can.
    if probability < 0.01:
        return "under 1 in 100"
    if probability > 0.99:
        return "over 99 in 100"
    return f"{100 * probability:.0f} in 100"


def odds_words(bits: float) -> str:
    """What a kind of evidence weighs, as people say it: ``87 to 1 for``; ``nothing`` where it is less than 1.5 to 1."""
    if abs(bits) < 0.58:
        return "nothing"
    ratio = 2.0 ** min(abs(bits), 20.0)
    much = "over 1000" if ratio >= 1000 else f"{ratio:.0f}" if ratio >= 10 else f"{ratio:.1f}"
    return f"{much} to 1 {'for' if bits > 0 else 'against'}"
