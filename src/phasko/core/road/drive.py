"""What a road test says: whether the engine breathes, and if not, whether it is the way of the air or its meter."""

from __future__ import annotations

import math
from typing import Literal

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Bools, Floats
from phasko.core.documents.analysis import RoadLimit, RoadTestResult
from phasko.core.documents.engine import EngineProfile
from phasko.core.road.air import volumetric_efficiency
from phasko.core.road.log import RoadLog
from phasko.core.uncertainty import NORMAL_95

__all__ = ["judge_road_test"]

RoadState = Literal["breathes", "breathing", "intake_restricted", "air_flow_meter", "low", "unknown"]


def judge_road_test(log: RoadLog, name: str, engine: EngineProfile) -> RoadTestResult:
    """Peak calculated load and volumetric efficiency at full throttle, trims at part load, manifold pressure against
    the outside, each against its limit; what cannot be told is ``None`` with the reason among ``missing``."""
    missing: list[str] = []
    full = _full_throttle(log)
    if not full.any():
        missing.append("Full throttle at more than 1500 rpm for half a second was not found: drive again.")
    load, load_rpm = _peak_load(log, full)
    efficiency, efficiency_u95, efficiency_rpm = _efficiency(log, full, engine, missing)
    trims, trims_u95 = _trims(log, full)
    drop = _drop_kpa(log, full)
    if load is None and full.any():
        missing.append("The log has no calculated load.")
    if trims is None:
        missing.append("No trims at steady part load with a warm engine.")
    boosted = drop is not None and drop < -numbers.ROAD_BOOST_KPA.value
    state, words = _judged(load, efficiency, efficiency_u95, trims, drop, boosted)
    return RoadTestResult(
        name=name,
        duration_s=float(log.times_s[-1]),
        moments=int(log.times_s.size),
        full_throttle_s=_length_s(log.times_s, full),
        peak_load_percent=load,
        peak_load_u95_percent=None if load is None else numbers.ROAD_LOAD_U95_PERCENT.value,
        peak_load_rpm=load_rpm,
        volumetric_efficiency=efficiency,
        volumetric_efficiency_u95=efficiency_u95,
        volumetric_efficiency_rpm=efficiency_rpm,
        trims_percent=trims,
        trims_u95_percent=trims_u95,
        manifold_drop_kpa=drop,
        boosted=boosted,
        state=state,
        text=words,
        missing=missing,
        notes=list(log.notes),
        limits=_limits(),
    )


def _full_throttle(log: RoadLog) -> Bools:
    """Moments of full throttle that last: by the plate where it is logged, else by load or air near their highest."""
    rpm = log.of("rpm")
    assert rpm is not None
    throttle = log.of("throttle_percent")
    sign = throttle if throttle is not None else log.of("load_percent")
    if sign is None:
        sign = log.of("air_g_s")
    if sign is None or not np.isfinite(sign).any():
        return np.zeros(rpm.size, dtype=np.bool_)
    top = float(np.nanmax(sign))
    if throttle is not None and top < numbers.ROAD_THROTTLE_LEAST_PERCENT.value:
        return np.zeros(rpm.size, dtype=np.bool_)
    wide = (sign >= numbers.ROAD_WIDE_SHARE.value * top) & (rpm >= numbers.ROAD_RPM_LEAST.value)
    return _lasting(log.times_s, np.asarray(wide, dtype=np.bool_), numbers.ROAD_LASTS_S.value)


def _lasting(times_s: Floats, inside: Bools, least_s: float) -> Bools:
    """Only stretches that last."""
    kept = np.zeros(inside.size, dtype=np.bool_)
    edges = np.flatnonzero(np.diff(np.concatenate([[0], inside.astype(np.int8), [0]])))
    for first, stop in zip(edges[::2].tolist(), edges[1::2].tolist(), strict=True):
        if times_s[min(stop, times_s.size - 1)] - times_s[first] >= least_s:
            kept[first:stop] = True
    return kept


def _length_s(times_s: Floats, inside: Bools) -> float:
    return float(np.sum(np.diff(times_s)[inside[:-1]])) if times_s.size > 1 else 0.0


def _peak_load(log: RoadLog, full: Bools) -> tuple[float | None, float | None]:
    load, rpm = log.of("load_percent"), log.of("rpm")
    assert rpm is not None
    if load is None or not full.any() or not np.isfinite(load[full]).any():
        return None, None
    # Not the very highest: one odd sample of a slow bus would make an engine breathe.
    peak = float(np.nanquantile(load[full], 0.95))
    at = int(np.nanargmin(np.where(full, np.abs(load - peak), np.nan)))
    return peak, float(rpm[at])


def _efficiency(
    log: RoadLog, full: Bools, engine: EngineProfile, missing: list[str]
) -> tuple[float | None, float | None, float | None]:
    """(best volumetric efficiency at full throttle, its half width, at which speed)."""
    air, rpm, intake = log.of("air_g_s"), log.of("rpm"), log.of("intake_c")
    assert rpm is not None
    if not full.any():
        return None, None, None
    if air is None or engine.displacement_l is None:
        what = "air flow" if air is None else "displacement in the engine profile"
        missing.append(f"No volumetric efficiency without the {what}.")
        return None, None, None
    outside = log.of("outside_kpa")
    pressure = outside if outside is not None else np.full(rpm.size, numbers.ROAD_OUTSIDE_KPA.value)
    temperature = intake if intake is not None else np.full(rpm.size, numbers.ROAD_INTAKE_C.value)
    every = volumetric_efficiency(air, np.maximum(rpm, 1.0), engine.displacement_l, pressure, temperature)
    inside = np.where(full, every, np.nan)
    if not np.isfinite(inside).any():
        return None, None, None
    # The bus lags behind the speed while that rises; the best tenth is what neither end of the pull spoils.
    best = float(np.nanquantile(inside, 0.9))
    at = int(np.nanargmin(np.abs(inside - best)))
    shares = [
        numbers.ROAD_METER_U95.value,
        0.0 if intake is not None else numbers.ROAD_INTAKE_U95.value,
        0.0 if outside is not None else numbers.ROAD_OUTSIDE_U95.value,
    ]
    return best, best * math.hypot(*shares), float(rpm[at])


def _trims(log: RoadLog, full: Bools) -> tuple[float | None, float | None]:
    """(short plus long trim at part load, half width); warm where the coolant is logged."""
    short, long, load = log.of("short_trim_percent"), log.of("long_trim_percent"), log.of("load_percent")
    coolant, rpm = log.of("coolant_c"), log.of("rpm")
    parts = [t for t in (short, long) if t is not None]
    assert rpm is not None
    if not parts:
        return None, None
    total = np.sum(parts, axis=0)
    inside = ~full & (rpm > 1000.0) & np.isfinite(total)
    if load is not None:
        low, high = (entry.value for entry in numbers.ROAD_PART_LOAD_PERCENT)
        inside &= (load > low) & (load < high)
    if coolant is not None:
        inside &= coolant > numbers.ROAD_WARM_C.value
    if np.count_nonzero(inside) < 5:
        return None, None
    spread = float(np.std(total[inside], ddof=1))
    return float(np.median(total[inside])), max(1.0, NORMAL_95 * spread / math.sqrt(np.count_nonzero(inside)))


def _drop_kpa(log: RoadLog, full: Bools) -> float | None:
    """Outside less manifold pressure at full throttle; the outside from the log's own highest reading at a standing
    engine where no barometer is logged."""
    manifold, outside, rpm = log.of("manifold_kpa"), log.of("outside_kpa"), log.of("rpm")
    assert rpm is not None
    if manifold is None or not full.any():
        return None
    inside = manifold[full]
    if not np.isfinite(inside).any():
        return None
    if outside is not None and np.isfinite(outside).any():
        ambient = float(np.nanmedian(outside))
    else:
        standing = manifold[rpm < 50.0]
        if not np.isfinite(standing).any():
            return None
        ambient = float(np.nanmax(standing))
    return ambient - float(np.nanmedian(inside))


def _judged(
    load: float | None,
    efficiency: float | None,
    efficiency_u95: float | None,
    trims: float | None,
    drop_kpa: float | None,
    boosted: bool,
) -> tuple[RoadState, str]:
    if boosted:
        return "unknown", "The engine is charged: the limits for load and efficiency do not hold for it."
    lows = []
    if load is not None:
        lows.append(load + numbers.ROAD_LOAD_U95_PERCENT.value < numbers.ROAD_LOAD_GOOD_PERCENT.value)
        if load < numbers.ROAD_LOAD_LOW_PERCENT.value:
            lows[-1] = True
    if efficiency is not None and efficiency_u95 is not None:
        lows.append(efficiency + efficiency_u95 < numbers.ROAD_EFFICIENCY_LEAST.value)
    if not lows:
        return "unknown", "Nothing measured tells how full the cylinders get."
    if not any(lows):
        return (
            "breathes",
            "The cylinders get as full as they should: intake, exhaust and cam timing let the air through.",
        )
    if trims is None:
        return "low", "The engine gets too little air, or its meter says so; trims at part load would part the two."
    if trims > numbers.ROAD_TRIM_MOST_PERCENT.value:
        return (
            "air_flow_meter",
            f"Too little air is reported, and trims correct a lean mixture by {trims:+.0f} %: the air-flow meter reads "
            "low, or air comes in behind it.",
        )
    if drop_kpa is not None and drop_kpa > numbers.ROAD_DROP_MOST_KPA.value:
        return (
            "intake_restricted",
            f"At full throttle the manifold stays {drop_kpa:.0f} kPa under the outside: the way in is blocked.",
        )
    return (
        "breathing",
        "Too little air although trims at part load are normal: breathing, not the meter. Air filter to catalyst, "
        "lobes and cam timing are suspects.",
    )


def _limits() -> list[RoadLimit]:
    """What was judged against, and where it comes from."""
    entries = (
        ("Peak calculated load, suspect under", numbers.ROAD_LOAD_LOW_PERCENT),
        ("Peak calculated load, good from", numbers.ROAD_LOAD_GOOD_PERCENT),
        ("Volumetric efficiency, suspect under", numbers.ROAD_EFFICIENCY_LEAST),
        ("Trims at part load, normal within", numbers.ROAD_TRIM_MOST_PERCENT),
        ("Manifold under the outside at full throttle, suspect over", numbers.ROAD_DROP_MOST_KPA),
    )
    return [RoadLimit(words=words, value=e.value, unit=e.unit, source=e.source) for words, e in entries]
