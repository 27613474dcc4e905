"""For and against each explanation, in plain words with numbers, from the terms that moved its score."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from phasko.core import numbers
from phasko.core.call.posterior import Weighed
from phasko.core.documents.engine import EngineProfile
from phasko.core.evidence import Observable
from phasko.core.words import angle_words

__all__ = ["reasons"]

_MOST = 4
_PITCH_SAYS_NOTHING = ("phaser_off_park", "chain_stretched", "reference_wrong")
_FITS_ANYTHING = ("something_else",)
"""The explanation that is left when nothing else fits. No value speaks for it, so no value is named as its reason."""


def reasons(
    profile: EngineProfile, weighed: Sequence[Weighed], observed: Sequence[Observable]
) -> dict[str, tuple[list[str], list[str]]]:
    """(for, against) by fault. A value speaks for an explanation that predicts it better than the others do on the
    average of their prior chances, against one that predicts it worse; the strongest come first."""
    if not observed:
        return {w.explanation.fault: ([], []) for w in weighed}
    values = np.array([o.value for o in observed])
    logs = np.array([_log_density(values, w) for w in weighed])
    found: dict[str, tuple[list[str], list[str]]] = {}
    for i, one in enumerate(weighed):
        others = [j for j in range(len(weighed)) if j != i]
        chance = np.array([weighed[j].explanation.prior(profile) for j in others])
        rival = np.log(np.exp(logs[others]).T @ (chance / chance.sum()) + 1e-300)
        gain = logs[i] - rival
        if one.explanation.fault in _FITS_ANYTHING:
            found[one.explanation.fault] = [], []
            continue
        speaks_for, against = _sentences(one, observed, gain)
        whole = _whole_pitches(weighed, one, observed)
        if whole and one.best.branch.pitches is not None:
            speaks_for.insert(0, f"The offset is {whole} pitches, a whole number")
        elif whole:
            against.append(f"A whole number of pitches ({whole}) would be chance")
        found[one.explanation.fault] = speaks_for, against
    return found


def _whole_pitches(weighed: Sequence[Weighed], one: Weighed, observed: Sequence[Observable]) -> str | None:
    """How many pitches the cams that one explanation moves are off, in words, when that is a whole number of them."""
    jump = next((w for w in weighed if w.best.branch.pitches), None)
    if jump is None or one.amount_deg is None or one.explanation.fault in _PITCH_SAYS_NOTHING:
        return None
    cams = one.best.branch.place.cams
    moved = [o.value for o in observed if o.kind == "cam_phase" and (o.cam in cams or not cams)]
    if not moved:
        return None
    pitch = (jump.best.branch.amount_deg or 0.0) / (jump.best.branch.pitches or 1.0)
    pitches = abs(sum(moved) / len(moved) / pitch)
    near = round(pitches) != 0 and abs(pitches - round(pitches)) <= numbers.WHOLE_PITCH.value
    return f"{pitches:.2f}" if near else None


def _log_density(values: np.ndarray, weighed: Weighed) -> np.ndarray:
    sd = weighed.best.predicted_sd
    return np.asarray(-0.5 * ((values - weighed.best.predicted) / sd) ** 2 - np.log(sd))


def _sentences(one: Weighed, observed: Sequence[Observable], gain: np.ndarray) -> tuple[list[str], list[str]]:
    speaks_for: list[str] = []
    against: list[str] = []
    for i in np.argsort(-np.abs(gain)).tolist():
        if abs(float(gain[i])) < math.log(numbers.TELLING_ODDS.value):
            break
        text = _sentence(observed[i], float(one.best.predicted[i]), float(one.best.predicted_sd[i]))
        target = speaks_for if gain[i] > 0 else against
        if text not in target and len(target) < _MOST:
            target.append(text)
    return speaks_for, against


def _sentence(observable: Observable, predicted: float, predicted_sd: float) -> str:
    if observable.kind != "cam_phase":
        return observable.words
    if predicted_sd > numbers.ANYTHING_SD_DEG.value:
        return f"{observable.words}; this would allow anything"
    expected = "in time" if abs(predicted) < 0.05 else angle_words(predicted, 2 * predicted_sd)
    return f"{observable.words}; expected {expected} within {2 * predicted_sd:.0f}°"
