"""How hard all cylinders compress together, against known good captures of the same kind of engine."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from phasko.core import numbers
from phasko.core.compression.relative import Compression, OverallCompression, SourceCompression
from phasko.core.documents.analysis import Problem
from phasko.core.signals.recording import Recording
from phasko.core.uncertainty import NORMAL_95, t_factor

__all__ = ["CompressionSize", "compression_size", "overall_problems", "overall_size"]


@dataclass(frozen=True, slots=True)
class CompressionSize:
    """What the healthy cylinders of one capture swing the crank by, and the state it was taken in.

    By the crank's own speed: gas torque over the crank's inertia, in rad2/s2 per radian, which neither battery nor
    starter enters. By the starter's current: the swing of the current times the mean speed, in A rad/s, which holds
    only as long as the starter circuit's resistance does. ``own_share``: its error, one standard deviation.
    """

    source: str
    size: float
    own_share: float
    rpm: float
    throttle: str
    temperature: str


def compression_size(compression: Compression, recording: Recording) -> CompressionSize | None:
    """The size by the crank's speed, else by the starter's current; ``None`` with neither."""
    found = _source(compression, "crank_speed") or _source(compression, "starter_current")
    if found is None:
        return None
    speed = float(np.mean([c.mean_rpm for c in found.cycles])) * math.pi / 30.0
    per = 1.0 if found.source == "crank_speed" else speed
    described = recording.description
    share = float(np.mean(found.separation.errors)) / found.usual / math.sqrt(found.relative.size)
    return CompressionSize(
        found.source, found.usual * per, share, speed * 30.0 / math.pi, described.throttle, described.temperature
    )


def _source(compression: Compression, name: str) -> SourceCompression | None:
    return next((s for s in compression.sources if s.source == name), None)


def overall_size(own: CompressionSize, references: Sequence[CompressionSize]) -> OverallCompression | None:
    """All cylinders' pressure over that of the ``references``; only those by the same source, in the same throttle
    where there are any. ``None`` without any.

    Its half width holds the spread of the references (or of healthy engines of one kind, where there are too few to
    tell), what is different or not known about throttle and temperature, and the difference in speed: slower cranking
    loses more gas and heat.
    """
    same = [r for r in references if r.source == own.source]
    alike = [r for r in same if r.throttle == own.throttle and own.throttle != "unknown"] or same
    if not alike:
        return None
    sizes = np.array([r.size for r in alike])
    relative = own.size / float(np.median(sizes))
    spread = numbers.OVERALL_HEALTHY_SD.value
    if sizes.size >= 3:
        spread = max(0.5 * spread, float(np.std(sizes, ddof=1)) / float(np.median(sizes)))
    count = sizes.size
    between = t_factor(count - 1 if count >= 3 else math.inf) * spread * math.sqrt(1.0 + 1.0 / count)
    rpm = float(np.median([r.rpm for r in alike]))
    parts = [
        between,
        NORMAL_95 * own.own_share,
        0.0 if all(r.throttle == own.throttle for r in alike) and own.throttle != "unknown" else _throttle(own, alike),
        0.0
        if all(r.temperature == own.temperature for r in alike) and own.temperature != "unknown"
        else numbers.OVERALL_TEMPERATURE_U95.value,
        numbers.OVERALL_SPEED_SHARE.value * abs(own.rpm / rpm - 1.0),
        0.0 if own.source == "crank_speed" else numbers.OVERALL_STARTER_U95.value,
    ]
    return OverallCompression(relative, relative * math.hypot(*parts), count, own.source)


def _throttle(own: CompressionSize, references: Sequence[CompressionSize]) -> float:
    known = own.throttle != "unknown" and all(r.throttle != "unknown" for r in references)
    return numbers.OVERALL_THROTTLE_U95.value if known else numbers.OVERALL_THROTTLE_UNKNOWN_U95.value


def overall_problems(overall: OverallCompression) -> list[Problem]:
    """Said where all compress less, or more, than known good engines of the kind."""
    size = f"{100 * overall.relative:.0f} ± {100 * overall.u95:.0f} %"
    if overall.relative + overall.u95 < 1.0:
        text = (
            f"All cylinders together compress {size} of known good engines of this kind: cams late on all, worn rings, "
            "or a throttle that was not open."
        )
        return [Problem(code="compression_all_low", text=text)]
    if overall.relative - overall.u95 > 1.0:
        text = (
            f"All cylinders together compress {size} of known good engines of this kind: cams early on all, or a "
            "difference in throttle or starter."
        )
        return [Problem(code="compression_all_high", text=text)]
    return []
