"""Where the crank wheel's index stands against the pistons, from whatever felt them."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.cylinder.tdc_by_current import CurrentTdc
from phasko.core.cylinder.tdc_by_speed import SpeedTdc, StarterSource
from phasko.core.documents.analysis import Problem
from phasko.core.found import Found
from phasko.core.words import angle_words

__all__ = ["IndexOffset", "IndexSource", "Starter", "index_by_current", "index_by_speed", "joined_index"]

IndexSource = Literal["cylinder_pressure", "speed", "current", "joined"]
_BY: Mapping[IndexSource, str] = {
    "speed": "the crank's own speed",
    "cylinder_pressure": "the pressure in a cylinder",
    "current": "the starter's current",
    "joined": "cylinder pressure and the crank's own speed",
}
Starter = tuple[StarterSource, Floats]


@dataclass(frozen=True, slots=True)
class IndexOffset:
    """How late the index tooth passes against the profile, measured by the pistons (deg, late positive), with its 95 %
    half width."""

    offset_deg: float
    u95_deg: float
    source: IndexSource

    @property
    def by(self) -> str:
        """What felt the pistons, in words."""
        return _BY[self.source]

    @property
    def confirms(self) -> bool:
        """Whether the wheel stands where the profile has it, as far as this can tell."""
        return abs(self.offset_deg) <= max(self.u95_deg, numbers.INDEX_TRUE_DEG.value)


def joined_index(
    pressure: IndexOffset | None, speed: IndexOffset | None, current: IndexOffset | None
) -> Found[IndexOffset | None]:
    """Pressure and speed together where they agree, by their weights; where they do not, that of the pressure, and a
    problem says so: the speed's own doubt is the larger. The current's wide word stands in where both are missing, and
    checks the speed where that is alone."""
    if pressure is None and speed is not None and current is not None:
        return Found(speed, _checked(speed, current))
    if pressure is None or speed is None:
        return Found(pressure or speed or current)
    apart = pressure.offset_deg - speed.offset_deg
    if abs(apart) > math.hypot(pressure.u95_deg, speed.u95_deg):
        text = (
            f"By the pressure the crank wheel stands {angle_words(pressure.offset_deg, pressure.u95_deg)}, by the "
            f"crank's own speed {angle_words(speed.offset_deg, speed.u95_deg)}: they disagree. The pressure's is used; "
            "check which cylinder the transducer sits in."
        )
        return Found(pressure, (Problem(code="pistons_disagree", text=text),))
    weights = pressure.u95_deg**-2.0, speed.u95_deg**-2.0
    mean = (weights[0] * pressure.offset_deg + weights[1] * speed.offset_deg) / sum(weights)
    return Found(IndexOffset(mean, sum(weights) ** -0.5, "joined"))


def _checked(speed: IndexOffset, current: IndexOffset) -> tuple[Problem, ...]:
    if abs(speed.offset_deg - current.offset_deg) <= math.hypot(speed.u95_deg, current.u95_deg):
        return ()
    text = (
        f"By the crank's own speed the crank wheel stands {angle_words(speed.offset_deg, speed.u95_deg)}, by the "
        f"starter's current {angle_words(current.offset_deg, current.u95_deg)}: they disagree. The speed's is used; "
        "feel a cylinder with a transducer before anything rests on it."
    )
    return (Problem(code="pistons_disagree", text=text),)


def index_by_current(found: CurrentTdc | None) -> IndexOffset | None:
    """From the starter's current; ``None`` where it is known only within more than
    ``INDEX_BY_CURRENT_U95_MOST_DEG``."""
    if found is None or found.u95_deg > numbers.INDEX_BY_CURRENT_U95_MOST_DEG.value:
        return None
    return IndexOffset(found.index_offset_deg, found.u95_deg, "current")


def index_by_speed(found: SpeedTdc | None) -> IndexOffset | None:
    """From the crank's own speed; ``None`` where it does not show, or only within more than ``INDEX_U95_MOST_DEG``."""
    if found is None or found.u95_deg > numbers.INDEX_U95_MOST_DEG.value:
        return None
    return IndexOffset(found.index_offset_deg, found.u95_deg, "speed")
