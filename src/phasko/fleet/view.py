"""What a fleet's tables show: every kind of engine with its cams over distance and age, those that lie apart, how it
wears, what a library of its known goods would be, and what its profile could learn."""

from __future__ import annotations

import csv
import io
import math
from collections import Counter
from collections.abc import Sequence
from pathlib import Path
from typing import Any

import numpy as np
from pydantic import BaseModel, ConfigDict

from phasko.core import numbers
from phasko.core.errors import DataError, NotFoundError
from phasko.core.handover import FAULT_SHORT
from phasko.core.population import Estimate, IndexPopulation, Spread
from phasko.core.standards import Proposal
from phasko.core.standards.proposal import CamProposal, IndexProposal, index_moved
from phasko.core.uncertainty import NORMAL_95
from phasko.fleet.folder import VIEW
from phasko.fleet.teaching import Taught, taught_by

__all__ = ["FleetView", "KindView", "fleet_sheet", "fleet_view", "keep_view", "kept_view", "proposal_of"]

_APART_SDS = 3.0
"""A car further from its kind than this is told: of sound ones one in 370 a cam."""
_SOUND = 0.9
"""So likely one of its kind with nothing moved, a car could be a known good one."""
_CALLED = 0.5
"""What is likelier is called: such a car is no known good one."""
_LEAST_ENGINES = 5.0
"""From fewer nothing is proposed: the profile's own half width is as good."""
_MOST_POINTS = 1500
_MOST_BAD = 200
_COLUMNS = (
    *("engine", "car", "cam", "distance_km", "age_years", "offset_deg", "offset_u95_deg", "expected_deg", "apart_sds"),
    *("probability_moved", "fault", "probability", "gate"),
)


class ViewPart(BaseModel):
    model_config = ConfigDict(frozen=True)


class Interval(ViewPart):
    """A value with half its 95 % interval, and its ends, which a spread has not the same on both sides."""

    value: float
    u95: float
    low: float
    high: float


class PointView(ViewPart):
    """One car: its offset (degrees of the crank, late positive) and its half width, how many standard deviations of a
    sound one it lies from its kind, and how likely a cam or wheel has moved."""

    unit: str
    name: str
    job_id: int | None
    distance_km: float | None
    age_years: float | None
    offset_deg: float
    u95_deg: float
    apart_sds: float
    moved: float


class CamView(ViewPart):
    """One cam of the kind: where its edges lie when new, in which half width a new sound one reads, how fast it falls
    back (degrees in 10 000 km), and its cars; ``left_out`` of them are not drawn."""

    cam: str
    edge_deg: Interval
    usual_u95_deg: float
    wear_deg: Interval | None
    points: list[PointView]
    left_out: int


class ApartView(ViewPart):
    """A car that lies apart: which cam by how many standard deviations, and what was called."""

    unit: str
    name: str
    job_id: int | None
    cam: str
    offset_deg: float
    u95_deg: float
    expected_deg: float
    apart_sds: float
    called: str | None
    probability: float | None


class IndexView(ViewPart):
    """Where the crank wheel's index stands against the profile, how much engines differ (a standard deviation), in
    which half width a new sound one's lies; degrees of the crank, late positive; from how many engines."""

    place_deg: Interval
    spread_deg: Interval
    usual_u95_deg: float
    engines: float


class GoodsView(ViewPart):
    """What the library of known goods would look like: cars that are sound enough, of how many, at which temperatures,
    how many of them are kept as known good already."""

    cars: int
    every: int
    kept: int
    temperatures: dict[str, int]


class KindView(ViewPart):
    """One kind of engine. ``engines``: how many cars count; ``drifts``: whether its cams fall back with distance beyond
    the half width; ``wear_deg``: the furthest cam in 10 000 km; ``elongation_percent``: the chain in 10 000 km;
    ``index``: ``None`` where nothing felt the pistons; ``compression``: how much sound cylinders differ, a share."""

    engine: str
    engine_sha256: str
    cars: int
    engines: float
    cams: list[CamView]
    build_deg: Interval
    whole_deg: Interval
    wear_deg: Interval | None
    drifts: bool
    elongation_percent: float | None
    elongation_u95_percent: float | None
    index: IndexView | None
    compression: Interval | None
    apart: list[ApartView]
    goods: GoodsView
    proposal: Proposal | None


class BadView(ViewPart):
    name: str
    reason: str


class FleetView(ViewPart):
    """All kinds, the one with most cars first; what could not be read."""

    captures: int
    kinds: list[KindView]
    bad: list[BadView]
    bad_count: int


def fleet_view(out: Path) -> FleetView:
    """What the tables of that folder show; cars of the workshop that it lies in by their jobs. Raises NotFoundError
    where there are none."""
    kinds = sorted(
        (_kind(one, str(out.resolve().parent)) for one in taught_by(out)), key=lambda kind: (-kind.cars, kind.engine)
    )
    import pyarrow.parquet as pq

    bad = pq.read_table(out / "bad.parquet").to_pylist()
    return FleetView(
        captures=pq.read_metadata(out / "captures.parquet").num_rows,
        kinds=kinds,
        bad=[BadView(name=row["name"], reason=row["reason"]) for row in bad[:_MOST_BAD]],
        bad_count=len(bad),
    )


def keep_view(out: Path) -> None:
    """Works out what the tables show and keeps it beside them: of many kinds it takes seconds. Raises DataError where
    it cannot be written."""
    begun = out / f"{VIEW}.begun"
    try:
        begun.write_text(fleet_view(out).model_dump_json(), encoding="utf-8")
        begun.replace(out / VIEW)
    except OSError as error:
        raise DataError(f"cannot be written: {error.strerror}", place=str(out)) from error


def kept_view(out: Path) -> bytes:
    """The same as it was kept, as JSON. Raises NotFoundError where nothing was."""
    try:
        return (out / VIEW).read_bytes()
    except FileNotFoundError as error:
        raise NotFoundError("No fleet has been analysed yet", remedy="Begin with: Analyse the fleet.") from error


def fleet_sheet(out: Path) -> str:
    """Every car and cam of the fleet as CSV, with what its kind would have it read."""
    written = io.StringIO()
    sheet = csv.DictWriter(written, _COLUMNS, lineterminator="\n")
    sheet.writeheader()
    for taught in taught_by(out):
        expected, apart = _against_kind(taught)
        readings = taught.readings
        for row, column in np.argwhere(np.isfinite(readings.offsets_deg)):
            car = taught.captures[row]
            sheet.writerow(
                {
                    "engine": taught.engine,
                    "car": _named(car),
                    "cam": taught.cams[column],
                    "distance_km": _plain(car["distance_km"], 0),
                    "age_years": _plain(car["age_years"], 1),
                    "offset_deg": _plain(readings.offsets_deg[row, column], 3),
                    "offset_u95_deg": _plain(1.96 * readings.sds_deg[row, column], 3),
                    "expected_deg": _plain(expected[row, column], 3),
                    "apart_sds": _plain(apart[row, column], 2),
                    "probability_moved": _plain(car["probability_moved"], 3),
                    "fault": car["fault"] or "",
                    "probability": _plain(car["probability"], 3),
                    "gate": car["gate"] or "",
                }
            )
    return written.getvalue()


def proposal_of(taught: Taught) -> Proposal | None:
    """What the profile could learn: edges moved to where the kind's lie when new, and the half width in which a new
    sound engine of it reads; its index, where that is told better than the profile has it, or lies elsewhere; ``None``
    from too few cars."""
    if taught.population.engines < _LEAST_ENGINES:
        return None
    cams = []
    known = taught.population
    for cam, edge, usual in zip(taught.profile.cams, known.edges, known.usual_u95_deg, strict=True):
        if not cam.edges:
            continue
        before = cam.edges_u95_deg if cam.edges_u95_deg is not None else numbers.DEFAULT_REFERENCE_U95_DEG.value
        cams.append(
            CamProposal(
                cam=cam.id,
                moved_deg=[edge.value] * len(cam.edges),
                mean_moved_deg=edge.value,
                mean_u95_deg=edge.u95,
                u95_before_deg=before,
                u95_after_deg=max(usual, numbers.EDGES_U95_LEAST_DEG.value),
                engines=round(known.engines),
            )
        )
    index = _index_proposal(taught)
    if not cams and index is None:
        return None
    sharper = any(one.u95_after_deg < one.u95_before_deg for one in cams)
    sharper = sharper or (index is not None and index.u95_after_deg < index.u95_before_deg)
    # Those that the library would teach from, too, must not teach twice.
    goods = [str(car["sha256"]) for car in taught.captures if car["known_good"] and car["sha256"]]
    return Proposal(cams=cams, index=index, captures=goods, sharper=sharper)


def _index_proposal(taught: Taught) -> IndexProposal | None:
    """Joined with the profile's by their weights where both agree; where they do not, as the fleet has it."""
    found, crank = taught.index, taught.profile.crank
    if found is None or found.engines < _LEAST_ENGINES or crank.index_deg is None:
        return None
    before = crank.index_u95_deg if crank.index_u95_deg is not None else numbers.DEFAULT_REFERENCE_U95_DEG.value
    moved, u95 = found.place.value, found.place.u95
    agree = abs(moved) <= math.hypot(u95, before)
    if agree:
        moved *= before**2 / (before**2 + u95**2)
        u95 = before * u95 / math.hypot(before, u95)
    after = math.hypot(u95, NORMAL_95 * found.spread.value)
    # As the profile keeps it: nobody is asked to accept what reads the same.
    if agree and round(after, 2) >= round(before, 2):
        return None
    return index_moved(crank.index_deg, moved, (before, after), round(found.engines))


def _kind(taught: Taught, workshop: str) -> KindView:
    known = taught.population
    expected, apart = _against_kind(taught)
    wear = known.wear
    return KindView(
        engine=taught.engine,
        engine_sha256=taught.engine_sha256,
        cars=len(taught.captures),
        engines=known.engines,
        cams=[_cam(taught, column, apart[:, column], workshop) for column in range(len(taught.cams))],
        build_deg=_interval(known.build),
        whole_deg=_interval(known.whole),
        wear_deg=None if wear is None else _interval(wear),
        drifts=wear is not None and (wear.low > 0.0 or wear.high < 0.0),
        elongation_percent=None if taught.elongation_percent is None else taught.elongation_percent[0],
        elongation_u95_percent=None if taught.elongation_percent is None else taught.elongation_percent[1],
        index=_index(taught.index),
        compression=_compression(taught.compression),
        apart=_apart(taught, expected, apart, workshop),
        goods=_goods(taught, apart),
        proposal=proposal_of(taught),
    )


def _against_kind(taught: Taught) -> tuple[Any, Any]:
    """What each car's cams should read by their kind (cars, cams), and by how many standard deviations of a sound one
    they lie apart (NaN where not read)."""
    known, readings = taught.population, taught.readings
    edges = np.array([edge.value for edge in known.edges])
    worn = 0.0 if known.wear is None else known.wear.value
    expected = edges + np.nan_to_num(readings.distances)[:, None] * readings.reach * worn
    usual_sds = np.array(known.usual_u95_deg) / 1.96
    return expected, (readings.offsets_deg - expected) / np.hypot(usual_sds, np.nan_to_num(readings.sds_deg))


def _cam(taught: Taught, column: int, apart: Any, workshop: str) -> CamView:
    known, readings = taught.population, taught.readings
    read = np.flatnonzero(np.isfinite(readings.offsets_deg[:, column]))
    drawn = _thinned(read, np.abs(apart[read]))
    reach = float(readings.reach[column])
    wear = known.wear
    return CamView(
        cam=taught.cams[column],
        edge_deg=_interval(known.edges[column]),
        usual_u95_deg=known.usual_u95_deg[column],
        wear_deg=None if wear is None else _interval(wear, reach),
        points=[
            PointView(
                unit=car["unit"],
                name=_named(car),
                job_id=_job_of(car, workshop),
                distance_km=car["distance_km"],
                age_years=car["age_years"],
                offset_deg=float(readings.offsets_deg[row, column]),
                u95_deg=float(1.96 * readings.sds_deg[row, column]),
                apart_sds=float(apart[row]),
                moved=float(car["probability_moved"] or 0.0),
            )
            for row in drawn
            for car in [taught.captures[row]]
        ],
        left_out=len(read) - len(drawn),
    )


def _thinned(read: Any, apart: Any) -> Sequence[int]:
    """All that lie apart, and every so many of the others."""
    if len(read) <= _MOST_POINTS:
        return [int(row) for row in read]
    far = read[apart >= _APART_SDS][:_MOST_POINTS]
    near = np.setdiff1d(read, far)
    chosen = near[:: -(-len(near) // max(1, _MOST_POINTS - len(far)))]
    return [int(row) for row in np.sort(np.concatenate([far, chosen]))]


def _apart(taught: Taught, expected: Any, apart: Any, workshop: str) -> list[ApartView]:
    """One line a car, its furthest cam; the furthest car first."""
    found = []
    for row, car in enumerate(taught.captures):
        far = np.nan_to_num(np.abs(apart[row]))
        column = int(np.argmax(far)) if far.size else 0
        if far.size and far[column] >= _APART_SDS:
            found.append(
                ApartView(
                    unit=car["unit"],
                    name=_named(car),
                    job_id=_job_of(car, workshop),
                    cam=taught.cams[column],
                    offset_deg=float(taught.readings.offsets_deg[row, column]),
                    u95_deg=float(1.96 * taught.readings.sds_deg[row, column]),
                    expected_deg=float(expected[row, column]),
                    apart_sds=float(apart[row, column]),
                    called=_called_words(car["fault"]),
                    probability=car["probability"],
                )
            )
    return sorted(found, key=lambda one: -abs(one.apart_sds))


def _goods(taught: Taught, apart: Any) -> GoodsView:
    near = np.all(~(np.abs(apart) >= _APART_SDS), axis=1) & (taught.population.weights >= _SOUND)
    good = [car for car, lies_near in zip(taught.captures, near, strict=True) if lies_near and not _called(car)]
    return GoodsView(
        cars=len(good),
        every=len(taught.captures),
        kept=sum(1 for car in good if car["known_good"]),
        temperatures=dict(Counter(str(car["temperature"] or "unknown") for car in good)),
    )


def _called(car: dict[str, Any]) -> bool:
    """Whether something else is likely wrong with it, or the covers should come off."""
    other = car["fault"] not in (None, "none") and (car["probability"] or 0.0) >= _CALLED
    return other or car["gate"] == "go"


def _called_words(fault: str | None) -> str | None:
    """A fault of the tables by its name in lists; as it stands where a later version wrote it."""
    return None if fault is None else dict(FAULT_SHORT).get(fault, fault)  # type: ignore[call-overload]


def _interval(one: Estimate, times: float = 1.0) -> Interval:
    return Interval(value=one.value * times, u95=one.u95 * times, low=one.low * times, high=one.high * times)


def _index(found: IndexPopulation | None) -> IndexView | None:
    if found is None:
        return None
    return IndexView(
        place_deg=_interval(found.place),
        spread_deg=_interval(found.spread),
        usual_u95_deg=found.usual_u95_deg,
        engines=found.engines,
    )


def _compression(spread: Spread | None) -> Interval | None:
    return None if spread is None else _interval(spread.share)


def _named(car: dict[str, Any]) -> str:
    return str(car["vehicle"] or car["name"])


def _job_of(car: dict[str, Any], workshop: str) -> int | None:
    """The job of this workshop that it is."""
    return car["job_id"] if car["workshop"] == workshop else None


def _plain(value: float | None, digits: int) -> str:
    return "" if value is None else f"{value:.{digits}f}"
