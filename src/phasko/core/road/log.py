"""A scan tool's log: which column is what, in which unit, on its own uneven times."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from phasko.core.arrays import Floats
from phasko.core.errors import DataError

__all__ = ["QUANTITIES", "RoadColumn", "RoadLog", "road_log"]


LB_PER_MIN_G_S = 453.59237 / 60.0
"""One pound per minute in g/s; pound, mile, psi and inch of mercury by NIST Special Publication 811, appendix B.8."""


@dataclass(frozen=True, slots=True)
class _Quantity:
    """``names``: patterns of which one must be in the column's name; ``units``: factor and addend to ours, by the
    name of the unit; the first is taken where none is told."""

    names: tuple[str, ...]
    units: Mapping[str, tuple[float, float]]


_PERCENT = {"%": (1.0, 0.0)}
_KPA = {"kpa": (1.0, 0.0), "bar": (100.0, 0.0), "mbar": (0.1, 0.0), "psi": (6.894757, 0.0), "inhg": (3.386389, 0.0)}
_CELSIUS = {"c": (1.0, 0.0), "f": (5.0 / 9.0, -160.0 / 9.0), "k": (1.0, -273.15)}

QUANTITIES: Mapping[str, _Quantity] = {
    "time_s": _Quantity((r"^time\b", r"\btime$", r"^t$", r"seconds"), {"s": (1.0, 0.0), "ms": (1e-3, 0.0)}),
    "rpm": _Quantity((r"\brpm\b", r"engine speed"), {"rpm": (1.0, 0.0), "1/min": (1.0, 0.0)}),
    "speed_km_h": _Quantity((r"vehicle speed", r"^speed\b", r"\bvss\b"), {"km/h": (1.0, 0.0), "mph": (1.609344, 0.0)}),
    "load_percent": _Quantity((r"calculated load", r"engine load", r"\bload\b"), _PERCENT),
    "air_g_s": _Quantity(
        (r"\bmaf\b", r"air ?flow", r"mass air"),
        {"g/s": (1.0, 0.0), "kg/h": (1.0 / 3.6, 0.0), "lb/min": (LB_PER_MIN_G_S, 0.0)},
    ),
    "manifold_kpa": _Quantity((r"\bmap\b", r"manifold"), _KPA),
    "outside_kpa": _Quantity((r"baro", r"ambient pressure", r"atmospheric"), _KPA),
    "intake_c": _Quantity((r"\biat\b", r"intake air temp", r"charge air temp", r"intake temp"), _CELSIUS),
    "coolant_c": _Quantity((r"\bect\b", r"coolant"), _CELSIUS),
    "throttle_percent": _Quantity((r"throttle", r"\btps\b"), _PERCENT),
    "short_trim_percent": _Quantity((r"short.*trim", r"\bstft"), _PERCENT),
    "long_trim_percent": _Quantity((r"long.*trim", r"\bltft"), _PERCENT),
}
"""What is looked for in a log, in our unit (the ending of the name)."""


@dataclass(frozen=True, slots=True)
class RoadColumn:
    """A column that was recognised, and the unit it was taken to have."""

    name: str
    quantity: str
    unit: str


@dataclass(frozen=True, slots=True, eq=False)
class RoadLog:
    """``values``: by quantity, one row per moment, NaN where the tool gave none; trims of several banks are their
    mean. ``notes`` say what was assumed."""

    times_s: Floats
    values: Mapping[str, Floats]
    columns: tuple[RoadColumn, ...]
    notes: tuple[str, ...] = field(default=())

    def of(self, quantity: str) -> Floats | None:
        """The values of a quantity, of shape (moments,), in the unit that its name ends with (rpm, kpa, percent for %);
        ``None`` where it was not logged."""
        return self.values.get(quantity)


def road_log(names: Sequence[str], units: Sequence[str], rows: Floats, place: str) -> RoadLog:
    """Recognises the columns of ``rows``, of shape (moments, columns). Raises DataError without time or engine
    speed, or where the time runs backwards. Each column is in the unit that ``units`` says (rpm, kPa, degC), else in
    the one that its size tells."""
    found: list[RoadColumn] = []
    values: dict[str, list[Floats]] = {}
    notes: list[str] = []
    for i, name in enumerate(names):
        quantity = _quantity(name)
        if quantity is None:
            continue
        told = units[i].strip().lower().replace("°", "").replace("deg ", "").replace("deg", "") if units[i] else ""
        known = QUANTITIES[quantity].units
        unit = next((u for u in known if u == told), None)
        if unit is None:
            unit = _likely(quantity, rows[:, i], known)
            notes.append(
                f"{name}: taken as {unit}." if not told else f"{name}: unit {units[i]} not known, {unit} taken."
            )
        factor, addend = known[unit]
        values.setdefault(quantity, []).append(rows[:, i] * factor + addend)
        found.append(RoadColumn(name, quantity, unit))
    remedy = "The log needs a time column and the engine's speed (rpm)."
    for needed, words in (("time_s", "time"), ("rpm", "engine speed")):
        if needed not in values:
            raise DataError(f"has no column for {words}", place=place, remedy=remedy)
    times = values["time_s"][0]
    kept = np.isfinite(times)
    times = times[kept]
    if times.size < 3 or np.any(np.diff(times) < 0):
        raise DataError("has fewer than three moments, or a time that runs backwards", place=place, remedy=remedy)
    joined = {q: _mean(v)[kept] for q, v in values.items() if q != "time_s"}
    return RoadLog(times - times[0], joined, tuple(found), tuple(notes))


def _mean(columns: Sequence[Floats]) -> Floats:
    """Of several columns of one quantity what there is; where all are missing a moment stays missing."""
    stacked = np.array(columns)
    known = np.isfinite(stacked)
    count = known.sum(axis=0)
    total = np.where(known, stacked, 0.0).sum(axis=0)
    return np.asarray(np.where(count > 0, total / np.maximum(count, 1), np.nan))


def _quantity(name: str) -> str | None:
    plain = re.sub(r"[_\s]+", " ", name.lower()).strip()
    for quantity, known in QUANTITIES.items():
        if quantity == "load_percent" and "absolute" in plain:
            continue
        if any(re.search(pattern, plain) for pattern in known.names):
            return quantity
    return None


def _likely(quantity: str, values: Floats, known: Mapping[str, tuple[float, float]]) -> str:
    """The unit that makes sense of the numbers where the log names none."""
    top = float(np.nanmax(values)) if np.isfinite(values).any() else 0.0
    if known is _KPA:
        return "kpa" if top > 45.0 else "inhg" if top > 20.0 else "psi" if top > 5.0 else "bar"
    if quantity == "time_s":
        return "ms" if top > 20_000.0 and float(np.nanmedian(np.diff(values))) > 20.0 else "s"
    return next(iter(known))
