"""The demo: jobs of the island motor pool, made by the bench through the same use cases as a user's work."""

from __future__ import annotations

from dataclasses import dataclass

from phasko.bench import Cranking, Nuisances, Shift, capture_files, pool_engine, pool_engines, record
from phasko.formats import CaptureFiles
from phasko.jobs.analysing import analyse_stored_job
from phasko.jobs.board import board
from phasko.jobs.importing import import_capture
from phasko.jobs.opening import engines, open_job, save_engine
from phasko.store import Database

__all__ = ["demo_capture_files", "fill_demo"]


@dataclass(frozen=True, slots=True)
class _Story:
    vehicle: str
    make_model: str
    complaint: str
    codes: tuple[str, ...]
    engine: str
    capture: str
    seed: int
    shift: Shift
    cranking: Cranking


_USUAL = Nuisances(tooth_deg=0.04, cam_jitter_deg=0.08, cam_swing_deg=0.04, profile_edge_deg=0.15)

_STORIES = (
    _Story(
        "Library bus 2",
        "Brimholt Folio",
        "Serviced last week, driver asks for a second look",
        (),
        "brimholt-3.2-six",
        "bus-2-cranking",
        211,
        Shift(),
        Cranking(mean_rpm=196, cycles=7.2, from_rest=True, rest_s=0.35, swing=0.08, start_deg=160, tail_s=0.05),
    ),
    _Story(
        "School van 4",
        "Ostrin Wagtail",
        "Rattles for a second when started cold, tired on hills",
        ("P0011",),
        "ostrin-1.4-four",
        "van-4-cranking",
        412,
        Shift({"B1I": 6.1, "B1E": 2.9}),
        Cranking(mean_rpm=224, cycles=8.4, from_rest=True, rest_s=0.4, start_deg=20, tail_s=0.05),
    ),
    _Story(
        "Harbour pick-up 7",
        "Corvane Skiff",
        "No start when hot",
        ("P0016",),
        "corvane-2.1-four",
        "pick-up-7-cranking",
        716,
        Shift({"B1I": 17.14, "B1E": 17.14}),
        Cranking(mean_rpm=212, cycles=8.7, from_rest=True, rest_s=0.4, start_deg=250, tail_s=0.05),
    ),
)


def fill_demo(database: Database) -> int:
    """Adds the demo's engines and jobs to an empty workshop; leaves one that holds jobs as it is. Returns jobs made."""
    if board(database):
        return 0
    for name in pool_engines():
        document = pool_engine(name).model_dump_json(by_alias=True, exclude_none=True, indent=1)
        save_engine(database, document.encode(), f"{name}.json")
    by_name = {engine.name: engine.id for engine in engines(database)}
    for story in _STORIES:
        job = open_job(
            database,
            vehicle=story.vehicle,
            make_model=story.make_model,
            complaint=story.complaint,
            codes=list(story.codes),
            engine_id=by_name[pool_engine(story.engine).name],
        )
        import_capture(database, job.id, demo_capture_files(story))
        analyse_stored_job(database, job.id)
    return len(_STORIES)


def demo_capture_files(story: _Story) -> CaptureFiles:
    """The files of one story's capture, as a scope would have written them."""
    capture = record(
        pool_engine(story.engine),
        story.seed,
        cranking=story.cranking,
        shift=story.shift,
        nuisances=_USUAL,
        name=story.capture,
    )
    files = capture_files(capture)
    described, data = f"{story.capture}.capture.json", f"{story.capture}.csv"
    return CaptureFiles(described, files[described], data, files[data])
