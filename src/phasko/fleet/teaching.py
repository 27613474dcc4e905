"""What a fleet's tables teach of every kind of engine in them."""

from __future__ import annotations

import json
import math
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

import numpy as np

from phasko.core import numbers
from phasko.core.arrays import Floats
from phasko.core.documents import EngineProfile, parse_document
from phasko.core.engine.timing_drive import pitch_stages_deg
from phasko.core.errors import NotFoundError
from phasko.core.population import (
    CamPopulation,
    IndexPopulation,
    KindReadings,
    Spread,
    index_of,
    population_of,
    spread_of,
)
from phasko.core.uncertainty import NORMAL_95
from phasko.fleet.folder import ENGINES

__all__ = ["Taught", "taught_by", "taught_json", "taught_lines"]

_USUAL_LINKS = 40.0
_PER_10_000_KM = 1e-4


@dataclass(frozen=True, slots=True, eq=False)
class Taught:
    """One kind of engine: its name and profile, its cams in the order of the estimates, what its cams and cylinders
    teach; the captures (one a car, rows of the table) and readings that it is from.

    ``index``: where the crank wheel's stands, ``None`` where no engine tells. ``elongation_percent``: of the chain per
    10 000 km with its half width; ``None`` without distances or a chain.
    """

    engine: str
    engine_sha256: str
    profile: EngineProfile
    cams: tuple[str, ...]
    captures: tuple[dict[str, Any], ...]
    readings: KindReadings
    population: CamPopulation
    index: IndexPopulation | None
    compression: Spread | None
    elongation_percent: tuple[float, float] | None


def taught_by(out: Path) -> list[Taught]:
    """Every kind of engine in the tables of that folder. Raises NotFoundError where there are none, DocumentError for a
    profile in it that cannot be read."""
    if not (out / "captures.parquet").is_file():
        raise NotFoundError(
            "There are no tables here", place=str(out), remedy="Make them first: phasko fleet analyse ... --out DIR"
        )
    # Only a fleet that was analysed has tables: the server starts without their library.
    import pyarrow.compute as pc
    import pyarrow.parquet as pq

    captures = _newest(pq.read_table(out / "captures.parquet").to_pylist())
    cams = pq.read_table(out / "cams.parquet")
    cams = cams.filter(pc.equal(cams["reference"], "profile")).to_pylist()
    cylinders = pq.read_table(out / "cylinders.parquet").to_pylist()
    kinds: dict[bytes, list[str]] = {}
    for sha256 in sorted({row["engine_sha256"] for row in captures}):
        # Two files that say the same of an engine, each in its own way, are one kind.
        kinds.setdefault((out / ENGINES / f"{sha256}.json").read_bytes(), []).append(sha256)
    found = []
    for document, hashes in kinds.items():
        profile = parse_document(document, EngineProfile, f"{hashes[0]}.json")
        own = [row for row in captures if row["engine_sha256"] in hashes]
        found.append(_taught(profile, hashes[0], own, cams, cylinders))
    return found


def _newest(captures: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """One capture an engine: captures of one car share what this car is off, and are no two witnesses. Of a vehicle
    with a name the newest; only cranked ones, whose phasers rest."""
    kept: dict[str, dict[str, Any]] = {}
    usable = [row for row in captures if row["condition"] in (None, "cranking") and row["phasers"] != "active"]
    for row in sorted(usable, key=lambda one: (one["distance_km"] or 0.0, one["recorded_at"] or "", one["unit"])):
        kept[f"{row['engine']} {row['vehicle']}" if row["vehicle"] else row["unit"]] = row
    return list(kept.values())


def _taught(
    profile: EngineProfile,
    sha256: str,
    captures: list[dict[str, Any]],
    cams: list[dict[str, Any]],
    cylinders: list[dict[str, Any]],
) -> Taught:
    place = {(row["unit"], row["capture"]): i for i, row in enumerate(captures)}
    names = tuple(cam.id for cam in profile.cams)
    offsets, sds = _grid(cams, place, "cam", list(names), ("offset_deg", "offset_u95_deg"))
    links = profile.drive.free_links if profile.drive is not None else {}
    far = np.array([links.get(name, _USUAL_LINKS) for name in names])
    distances = np.array(
        [np.nan if row["distance_km"] is None else row["distance_km"] for row in captures], dtype=float
    )
    moved = np.clip(np.array([row["probability_moved"] or 0.0 for row in captures], dtype=float), 0.0, 1.0)
    reach = far / far.max() if far.size else far
    readings = KindReadings(offsets, sds, distances * _PER_10_000_KM, 1.0 - moved, reach)
    population = population_of(readings)
    order = sorted(int(cylinder) for cylinder in profile.firing_order)
    relative, own = _grid(cylinders, place, "cylinder", order, ("relative", "relative_u95"))
    sound = np.array([row["probability_none"] or 0.0 for row in captures], dtype=float)
    compared = bool(np.isfinite(relative).any())
    return Taught(
        engine=profile.name,
        engine_sha256=sha256,
        profile=profile,
        cams=names,
        captures=tuple(captures),
        readings=readings,
        population=population,
        index=_index(captures, readings.chances),
        compression=spread_of(relative, own, np.clip(sound, 0.0, 1.0)) if compared else None,
        elongation_percent=_elongation(profile, population, float(far.max()) if far.size else 0.0),
    )


def _index(captures: list[dict[str, Any]], chances: Floats) -> IndexPopulation | None:
    """Where the wheel's index stands. How a sound cylinder's gas turns the torque is a matter of the design: that part
    of the doubt all engines of the kind share."""
    offsets, sds = np.full((2, len(captures)), np.nan)
    for at, row in enumerate(captures):
        if row["index_offset_deg"] is not None and row["index_offset_u95_deg"]:
            offsets[at], sds[at] = row["index_offset_deg"], row["index_offset_u95_deg"] / NORMAL_95
    if not np.isfinite(offsets).any():
        return None
    closest = numbers.INDEX_SHARED_SHARE.value * float(np.nanmin(sds))
    return index_of(offsets, sds, chances, min(numbers.LOSS_ANGLE_SD_DEG.value, closest))


def _grid(
    rows: list[dict[str, Any]],
    place: dict[tuple[str, str], int],
    by: str,
    columns: list[Any],
    fields: tuple[str, str],
) -> tuple[Floats, Floats]:
    """Values and standard deviations (captures, columns) of the rows; NaN where there is none."""
    values, sds = np.full((2, len(place), len(columns)), np.nan)
    for row in rows:
        at = place.get((row["unit"], row["capture"]))
        value, u95 = (row[field] for field in fields)
        if at is not None and row[by] in columns and value is not None and u95 is not None:
            values[at, columns.index(row[by])], sds[at, columns.index(row[by])] = value, max(u95, 1e-6) / 1.96
    return values, sds


def _elongation(profile: EngineProfile, population: CamPopulation, links: float) -> tuple[float, float] | None:
    """Degrees at the furthest cam as percent of the free strand: a link is a pitch."""
    if population.wear is None or profile.drive is None or profile.drive.type != "chain" or not links:
        return None
    stages = next((own for cam in profile.cams if (own := pitch_stages_deg(profile.drive, cam.id))), ())
    if not stages:
        return None
    percent = 100.0 / (links * stages[0])
    return population.wear.value * percent, population.wear.u95 * percent


def taught_json(taught: list[Taught]) -> str:
    """As a document."""
    kinds = []
    for one in taught:
        told = asdict(one.population) | {"weights": None}
        del told["weights"]
        compression = None if one.compression is None else asdict(one.compression)
        kinds.append(
            {
                "engine": one.engine,
                "engine_sha256": one.engine_sha256,
                "cams": list(one.cams),
                "population": told,
                "index": None if one.index is None else asdict(one.index),
                "compression": compression,
                "elongation_percent_per_10000_km": one.elongation_percent,
            }
        )
    return json.dumps({"schema": "phasko.taught/1", "kinds": kinds}, indent=1)


def taught_lines(taught: list[Taught]) -> list[str]:
    """As lines to be read."""
    lines = []
    for one in taught:
        known = one.population
        lines.append(f"{one.engine}: {known.engines:.0f} engines count")
        for cam, edge, usual in zip(one.cams, known.edges, known.usual_u95_deg, strict=True):
            lies = f"{_with_half(abs(edge.value), edge.u95)}° {_way(edge.value)}"
            lines.append(
                f"  {cam}: edges lie {lies} of the profile when new; a new sound engine reads within ± {usual:.1f}°"
            )
        lines.append(
            f"  cams differ by {known.build.value:.2f}° ({known.build.low:.2f} to {known.build.high:.2f}), "
            f"engines as a whole by {known.whole.value:.2f}° ({known.whole.low:.2f} to {known.whole.high:.2f}), "
            "standard deviations"
        )
        if known.wear is None:
            lines.append("  too few distances are known to say how it wears")
        else:
            lines.append(f"  the furthest cam falls {_with_half(known.wear.value, known.wear.u95)}° back in 10 000 km")
        if one.elongation_percent is not None:
            percent, half = one.elongation_percent
            lines.append(f"  the chain grows {_with_half(percent, half)} % in 10 000 km")
        if one.index is not None:
            place, spread = one.index.place, one.index.spread
            lines.append(
                f"  the index passes {_with_half(abs(place.value), place.u95)}° {_way(place.value)} of the profile; "
                f"engines differ by {spread.value:.2f}° ({spread.low:.2f} to {spread.high:.2f}), a standard deviation"
            )
        if one.compression is not None:
            share = one.compression.share
            lines.append(
                f"  sound cylinders differ by {100 * share.value:.1f} % "
                f"({100 * share.low:.1f} to {100 * share.high:.1f}), a standard deviation"
            )
    return lines


def _way(value: float) -> str:
    return "late" if value > 0 else "early"


def _with_half(value: float, half: float) -> str:
    """Rounded to the first digit of the half width: many engines make it narrower than any single reading."""
    digits = min(4, max(1, -math.floor(math.log10(half)))) if half > 0.0 else 4
    return f"{round(value, digits) + 0.0:.{digits}f} ± {half:.{digits}f}"
