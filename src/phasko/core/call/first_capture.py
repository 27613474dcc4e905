"""What the first capture of a cranking engine would show in any state: which cams are off, and whether the humps are
even."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from phasko.core import numbers
from phasko.core.documents.engine import EngineProfile
from phasko.core.engine.state import EngineState
from phasko.core.evidence.cylinder_compression import pressed, relative_pressures

__all__ = ["first_capture_outcomes"]

_PATTERNS = ("all in time", "one cam off", "one bank off", "all off", "some cams off", "a signal is not whole")


def first_capture_outcomes(state: EngineState, profile: EngineProfile) -> Mapping[str, float]:
    """Chance of every picture that crank, cams and starter current may make in that state, together 1."""
    if not state.cams_turn:
        return {"the cams stand still": 1.0}
    sure = numbers.LOOK_RELIABILITY.value
    shown = _pattern(state, profile)
    rest = (1.0 - sure) / (len(_PATTERNS) - 1)
    uneven = _uneven(state, profile)
    humps = {"even humps": sure + (1.0 - 2.0 * sure) * uneven, "uneven humps": 1.0 - sure + (2.0 * sure - 1.0) * uneven}
    return {
        f"{pattern}, {how}": (sure if pattern == shown else rest) * share
        for pattern in _PATTERNS
        for how, share in humps.items()
    }


def _pattern(state: EngineState, profile: EngineProfile) -> str:
    if state.signals:
        return "a signal is not whole"
    off = [c.id for c in profile.cams if abs(state.reading_of(c.id)) >= numbers.SHIFT_MIN_DEG.value]
    if not off:
        return "all in time"
    if len(off) == len(profile.cams):
        return "all off"
    if len(off) == 1:
        return "one cam off"
    return "one bank off" if _is_bank(off, profile) else "some cams off"


def _is_bank(off: Sequence[str], profile: EngineProfile) -> bool:
    banks = {c.bank for c in profile.cams}
    return any({c.id for c in profile.cams if c.bank == bank} == set(off) for bank in banks)


def _uneven(state: EngineState, profile: EngineProfile) -> float:
    if state.unknown_seal_sd:
        return 0.8
    return float(min(relative_pressures(pressed(state, profile)).values()) < _LOW_SHARE)


_LOW_SHARE = 0.8
"""A hump lower than this share of the others is seen at once."""
