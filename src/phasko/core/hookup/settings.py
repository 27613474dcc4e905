"""How fast and how long to record, what one sample is in crank degrees, and when to begin."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from phasko.core import numbers
from phasko.core.documents.engine import EngineProfile
from phasko.core.hookup.leads import EngineState, Lead
from phasko.core.hookup.questions import HookUpQuestion

__all__ = ["RANGES_V", "RATES_HZ", "Recording", "narrowest_level_deg", "recording_settings", "top_speed_rpm"]

RATES_HZ = (10_000.0, 20_000.0, 50_000.0, 100_000.0, 200_000.0, 500_000.0, 1_000_000.0)
"""The rates that the plan chooses from, the usual steps 1, 2, 5."""


RANGES_V = (0.05, 0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0)
"""The half ranges of an instrument's inputs (V), the usual steps 1, 2, 5."""


@dataclass(frozen=True, slots=True)
class Recording:
    """Rate and length of a recording; ``sample_deg``: crank degrees from one sample to the next at the highest speed
    (``rpm``), ``None`` without a turning engine. ``why``: what asks for the rate. ``trigger``: when to begin."""

    rate_hz: float
    length_s: float
    rpm: float | None
    sample_deg: float | None
    why: str
    trigger: str


def top_speed_rpm(turns: EngineState) -> float | None:
    """The highest speed in that state; ``None`` on the bench, where nothing turns."""
    return {
        "cranking": numbers.RPM_CRANKING_MOST.value,
        "idle": numbers.RPM_IDLE_MOST.value,
        "running": numbers.RPM_ROAD_MOST.value,
        "bench": None,
    }[turns]


def narrowest_level_deg(profile: EngineProfile) -> float:
    """The shortest level between two edges of any crank or cam wheel, deg: half a slot where the teeth are not told."""
    levels = []
    for cam in profile.cams:
        places = sorted(edge.deg for edge in cam.edges)
        levels += [b - a for a, b in zip(places, [*places[1:], places[0] + 720.0], strict=True) if len(places) > 1]
    if profile.crank.wheel is not None:
        angles = profile.crank.wheel.angles_deg
        pitch = min((b - a for a, b in zip(angles, [*angles[1:], angles[0] + 360.0], strict=True)), default=360.0)
        tooth = abs(profile.crank.tooth_deg) if profile.crank.tooth_deg is not None else pitch / 2.0
        levels.append(min(tooth, pitch - tooth) if 0.0 < tooth < pitch else pitch / 2.0)
    return min(levels, default=3.0)


def recording_settings(question: HookUpQuestion, leads: Sequence[Lead], profile: EngineProfile) -> Recording:
    """The lowest usual rate at which an edge is known well enough, every level of the wheels holds enough samples, and
    a spark or an injector can be seen."""
    rpm = top_speed_rpm(question.turns)
    if rpm is None:
        return Recording(RATES_HZ[0], question.length_s, None, None, "Nothing turns fast: levels count.", _AT_ONCE)
    deg_per_s = 6.0 * rpm
    # What lasts for minutes is counted, not measured to the last tenth.
    allowed = (numbers.SAMPLE_LONG_DEG if question.turns == "running" else numbers.SAMPLE_DEG).value
    by_edge = deg_per_s / allowed
    by_level = numbers.SAMPLES_PER_TOOTH.value * deg_per_s / narrowest_level_deg(profile)
    needs = {
        f"a sample of {allowed:g}° at {rpm:.0f} rpm": by_edge,
        f"{numbers.SAMPLES_PER_TOOTH.value:.0f} samples in the shortest tooth at {rpm:.0f} rpm": by_level,
    }
    if any(lead.role in ("coil", "injector") for lead in leads):
        needs["a spark or injector"] = numbers.SPARK_RATE_HZ.value
    most = max(needs.values())
    rate = next((rate for rate in RATES_HZ if rate >= most * (1.0 - 1e-9)), RATES_HZ[-1])
    why = max(needs, key=lambda need: needs[need])
    return Recording(rate, question.length_s, rpm, deg_per_s / rate, f"For {why}.", _trigger(question, leads))


_AT_ONCE = "Begin at once, end by hand."


def _trigger(question: HookUpQuestion, leads: Sequence[Lead]) -> str:
    if question.turns != "cranking":
        return "Begin at once, end by hand; press M when it happens." if question.id == "symptom" else _AT_ONCE
    if any(lead.role == "starter_current" for lead in leads):
        return "Begin first, then turn the key. With a trigger: the current rising through 50 A, a second before it."
    if any(lead.role == "battery_voltage" for lead in leads):
        return "Begin first, then turn the key. With a trigger: the voltage falling through 12 V, a second before it."
    return "Begin first, then turn the key: the rest before it is needed."


def samples_words(recording: Recording, channels: int) -> str:
    """How many samples that makes, in words."""
    millions = recording.rate_hz * recording.length_s * channels / 1e6
    return f"{millions:.1f} million samples" if millions < 10 else f"{math.ceil(millions)} million samples"
