"""Sound engines of a kind among those that may have moved: a mixture with a broad second part, by expectation and
maximisation; and how far engines of a kind may be expected to differ."""

from __future__ import annotations

import numpy as np

from phasko.core.arrays import Floats

__all__ = ["MOVED_SD_DEG", "ROUNDS", "SPREAD_PRIOR_DEG", "first_weights", "log_prior", "sound_chance"]

SPREAD_PRIOR_DEG = 1.0
MOVED_SD_DEG = 30.0
"""Where cams and wheels that jumped or slipped lie: anywhere."""
ROUNDS = 6


def log_prior(spread_deg: Floats) -> Floats:
    """Logarithm of how likely spreads of shape (points,) in degrees are before anything was seen: half Cauchy, on a
    grid that is even in the logarithm (Gelman 2006, Bayesian Analysis 1, 515-534; from memory)."""
    return np.asarray(np.log(spread_deg) - np.log1p((spread_deg / SPREAD_PRIOR_DEG) ** 2))


def first_weights(chances: Floats) -> Floats:
    """How far each engine counts at first, a share of shape (engines,). Who more likely jumped than not is let in once
    he is seen to lie among the others: beginning with all of them, a few far ones would make the spread so wide that
    they fit in."""
    return np.where(chances >= 0.5, chances, 0.0)


def sound_chance(chances: Floats, log_ratio: Floats) -> Floats:
    """How likely each engine is a sound one, a share of shape (engines,): by its call before (0 to 1), and by the
    logarithm of how much likelier its reading is of a sound one than of one that has moved."""
    chance = np.clip(chances, 1e-9, 1.0 - 1e-9)
    odds = np.log(chance) - np.log1p(-chance) + log_ratio
    return np.asarray(1.0 / (1.0 + np.exp(-np.clip(odds, -700.0, 700.0))))
