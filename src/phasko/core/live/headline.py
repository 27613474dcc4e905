"""The measurement so far in one sentence."""

from __future__ import annotations

from collections.abc import Sequence

from phasko.core.documents.analysis import Finding
from phasko.core.live.reading import LiveCam, LiveReading
from phasko.core.live.sensor_health import SensorHealth
from phasko.core.words import angle_words, count_words, plus_minus

__all__ = ["live_finding", "stand_finding"]


def stand_finding(health: SensorHealth | None, celsius: float | None) -> Finding:
    """What a sensor on the stand does at this moment, in one sentence. ``celsius``: its temperature, °C."""
    if health is None:
        return Finding(text="Recording: waiting for the first pulses", emphasis=None, detail="", short="")
    now, rate = health.spans[-1].health, float(health.edges_hz[-1])
    warm = "" if celsius is None else f", {celsius:.0f} °C"
    word = {"good": "whole", "shrinking": "shrinking", "erratic": "erratic", "flat": "gone"}[now]
    text = f"Recording: the sensor's signal is {word}{warm}"
    pulses = f"{rate:.0f} pulses a second, {health.swing_v[-1]:.1f} V. " if now != "flat" else ""
    detail = f"{pulses}Warm it slowly, then let it cool while it is recorded."
    return Finding(text=text, emphasis=None if now == "good" else word, detail=detail, short=word)


_ENOUGH_CYCLES = 6
_RUNS_RPM = 450.0


def live_finding(reading: LiveReading | None, recording: bool) -> Finding:
    """What the recording reads so far, and whether it is enough. ``recording``: it still runs."""
    begin = "Recording: " if recording else ""
    if reading is None:
        return Finding(text=f"{begin}waiting for the first signal", emphasis=None, detail="", short="")
    told = [cam for cam in reading.cams if cam.offset_deg is not None and cam.total_u95_deg is not None]
    if not told:
        why = reading.why or "no cam could be placed yet"
        return Finding(text=f"{begin}{_sentence(why)}", emphasis=None, detail="", short="")
    text, emphasis = _offsets(told)
    cycles = min(cam.cycles for cam in told)
    runs = reading.rpm is not None and reading.rpm >= _RUNS_RPM
    then = "stop when you like" if runs else "release the key, then stop"
    enough = (
        f"{count_words(cycles).capitalize()} cycles are enough: {then}."
        if cycles >= _ENOUGH_CYCLES
        else f"{count_words(_ENOUGH_CYCLES).capitalize()} cycles are enough; go on."
    )
    tail = f", {count_words(cycles)} cycle{'' if cycles == 1 else 's'}"
    return Finding(text=f"{begin}{text}{tail}", emphasis=emphasis, detail=enough if recording else "", short=text)


def _sentence(why: str) -> str:
    bare = why.rstrip(".")
    return bare[:1].lower() + bare[1:]


def _offsets(cams: Sequence[LiveCam]) -> tuple[str, str | None]:
    values = [cam.offset_deg for cam in cams if cam.offset_deg is not None]
    if len(cams) > 1 and max(values) - min(values) <= _ALIKE_DEG:
        both = "both cams" if len(cams) == 2 else "all cams"
        mean = sum(values) / len(values)
        told = _words(mean, max(cam.total_u95_deg or 0.0 for cam in cams))
        return f"{both} read {told}", told if "time" not in told else None
    far = max(cams, key=lambda cam: abs(cam.offset_deg or 0.0))
    others = [cam for cam in cams if cam is not far]
    told = _words(far.offset_deg or 0.0, far.total_u95_deg or 0.0)
    rest = f", {_rest(others)}" if others else ""
    return f"{_named(far)} reads {told}{rest}", told if "time" not in told else None


_ALIKE_DEG = 1.5
"""Cams that differ by less are told together (deg)."""


def _rest(cams: Sequence[LiveCam]) -> str:
    far = max(cams, key=lambda cam: abs(cam.offset_deg or 0.0))
    return f"{_named(far)} {_words(far.offset_deg or 0.0, far.total_u95_deg or 0.0)}"


def _named(cam: LiveCam) -> str:
    return f"{cam.name[:1].lower()}{cam.name[1:]}"


def _words(offset_deg: float, u95_deg: float) -> str:
    if abs(offset_deg) <= u95_deg:
        return f"in time {plus_minus(u95_deg)}"
    return angle_words(offset_deg, u95_deg)
