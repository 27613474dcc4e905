"""The demo: jobs of the island motor pool, made by the bench through the same use cases as a user's work."""

from __future__ import annotations

import json
import time
from collections.abc import Callable
from contextlib import closing
from dataclasses import replace

from pydantic import TypeAdapter

from phasko.bench.drive_log import drive_log_csv
from phasko.bench.faults import EngineFaults
from phasko.bench.job_sheet import BenchSheet, recorded_files
from phasko.bench.pool import pool_engine, pool_engines
from phasko.bench.probe import Probe
from phasko.bench.recorder import ScopeSettings
from phasko.core.documents.capture import KnownGoodOf
from phasko.core.documents.job import JobDocument
from phasko.core.documents.repair import Repair
from phasko.formats import CaptureFiles
from phasko.jobs.analysing import analyse_stored_job
from phasko.jobs.board import board
from phasko.jobs.captures import import_capture
from phasko.jobs.demo.marks_photo import marks_as_found
from phasko.jobs.demo.stories import STORIES, Story, Take
from phasko.jobs.demo.told import ENDINGS, TOLD, WORKSHOP
from phasko.jobs.engine_profiles import engines, save_engine
from phasko.jobs.handing_over.photos import add_photo
from phasko.jobs.handing_over.workshop_name import WorkshopName, name_workshop
from phasko.jobs.library import keep_as_known_good
from phasko.jobs.logbook.closing import add_note, close_job, note_repair
from phasko.jobs.looking import note_look
from phasko.jobs.opening import open_job
from phasko.jobs.preparing.hooking_up import hook_up_page, keep_hook_up
from phasko.jobs.recording import Recordings, StartRecording
from phasko.jobs.recording.recordings import EngineSaid
from phasko.jobs.road_testing import add_road_test
from phasko.jobs.told import tell as tell_of
from phasko.jobs.told import told_document
from phasko.store import Database, jobs

__all__ = ["fill_demo"]

_RATE_HZ = 50_000.0


def fill_demo(database: Database, tell: Callable[[str], None] = lambda _: None) -> int:
    """Adds the demo's engines and jobs to an empty workshop; leaves one that holds jobs as it is. Returns jobs made.

    ``tell`` hears which job is being made, since all of them take about a minute.
    """
    if board(database):
        return 0
    for name in pool_engines():
        document = pool_engine(name).model_dump_json(by_alias=True, exclude_none=True, indent=1)
        save_engine(database, document.encode(), f"{name}.json")
    by_name = {engine.name: engine.id for engine in engines(database)}
    for number, story in enumerate(STORIES, start=1):
        tell(f"Recording sample job {number} of {len(STORIES)}: {story.vehicle}")
        job = open_job(
            database,
            vehicle=story.vehicle,
            make_model=story.make_model,
            complaint=story.complaint,
            codes=list(story.codes),
            engine_id=by_name[pool_engine(story.engine).name],
        )
        _prepare(database, job.id, story)
        if story.live:
            _record(database, job.id)
            stored = []
        else:
            stored = [import_capture(database, job.id, _capture_files(story))]
        stored += [import_capture(database, job.id, _taken_again(story, take)) for take in story.more]
        if story.felt:
            import_capture(database, job.id, _pressure_files(story))
        for look in story.looks:
            note_look(database, job.id, look)
        if story.drive is not None:
            log = drive_log_csv(pool_engine(story.engine), story.drive, story.seed)
            add_road_test(database, job.id, f"{story.capture.rsplit('-', 1)[0]}-drive.csv", log)
        if story.known_good:
            for capture in stored:
                keep_as_known_good(database, capture.id, _SEEN_GOOD)
        _end(database, job.id, story.vehicle)
        analyse_stored_job(database, job.id)
        with database.transaction() as session:
            jobs.get_job(session, job.id).sample = True
    name_workshop(database, WorkshopName.model_validate(WORKSHOP))
    return len(STORIES)


def _end(database: Database, job_id: int, vehicle: str) -> None:
    """The repair, the mark as it was found, and how the job was closed, where the story has an end."""
    ending = ENDINGS.get(vehicle)
    if ending is None:
        return
    note_repair(database, job_id, Repair.model_validate(ending["repair"]))
    add_photo(database, job_id, "hand-over", "Marks as found, crank on its own mark", "marks.png", marks_as_found())
    close_job(database, job_id, ending["cause"], "", "J. Tollan")
    add_note(database, job_id, ending["note"], "J. Tollan")


_SEEN_GOOD = KnownGoodOf(how="marks_seen", note="Marks seen true at the service")


def _prepare(database: Database, job_id: int, story: Story) -> None:
    """Everything before the recording: what is told of the vehicle, the hook-up with its cautions ticked, and the car
    that the simulated instruments find."""
    told = told_document(database, job_id).document
    parts = JobDocument.model_validate({"schema": "phasko.job/1", **TOLD[story.vehicle]})
    complaint = parts.complaint.model_copy(update={"text": story.complaint}) if parts.complaint else told.complaint
    more = {name: getattr(parts, name) for name in ("replaced", "hook_up", "costs", "ordered", "for_owner")}
    tell_of(database, job_id, told.model_copy(update={"complaint": complaint, **more}))
    question = story.live or ("timing" if story.scenario.record_from_s == 0.0 else "running")
    page = hook_up_page(database, job_id, question, 4)
    ticked = [caution.id for caution in page.cautions]
    hook_up = page.hook_up.model_copy(update={"question": question, "channels": 4, "ticked": ticked})
    keep_hook_up(database, job_id, hook_up)
    car = {"seed": story.seed, "faults": _FAULTS.dump_python(story.faults, mode="json"), "length_s": 6.0}
    with database.transaction() as session:
        jobs.get_job(session, job_id).simulated_car = json.dumps(car)


_FAULTS = TypeAdapter(EngineFaults)
_LIVE_S = 4.0


def _record(database: Database, job_id: int) -> None:
    """The planned hook-up, recorded from the simulated scope for some seconds, as a technician would."""
    with closing(Recordings(database)) as recordings:
        said = EngineSaid(condition="idle", temperature="hot", throttle="closed", symptom="present")
        recordings.start(database, job_id, StartRecording(said=said, name="tractor-2-idle"))
        ends = time.monotonic() + 60.0
        while time.monotonic() < ends:
            view = recordings.view(job_id)
            if view is None or view.phase == "failed" or view.seconds > _LIVE_S:
                break
            time.sleep(0.1)
        recordings.stop(job_id)


def _retaken(story: Story, take: Take) -> Story:
    """The same story as that recording has it."""
    return replace(
        story,
        capture=take.capture,
        seed=take.seed,
        scenario=take.scenario or story.scenario,
        faults=take.faults or story.faults,
        probes=take.probes or story.probes,
    )


def _taken_again(story: Story, take: Take) -> CaptureFiles:
    """Its files; of one after the repair the description says so."""
    files = _capture_files(_retaken(story, take))
    if not take.after_repair:
        return files
    said = {**json.loads(files.description), "repair": "after"}
    return replace(files, description=json.dumps(said, indent=1).encode())


def _capture_files(story: Story) -> CaptureFiles:
    """The files of one story's capture, as a scope would have written them."""
    return _recorded(story, story.capture, story.seed, list(story.probes), ScopeSettings(rate_hz=_RATE_HZ))


def _pressure_files(story: Story) -> CaptureFiles:
    """The same engine cranked again with a transducer in place of a plug, the other plugs in."""
    probes = [Probe("crank"), *(Probe("cam", cam=cam.id) for cam in pool_engine(story.engine).cams)]
    probes += [Probe("cylinder_pressure", cylinder=cylinder, range_v=20.0) for cylinder in story.felt]
    name = f"{story.capture.rsplit('-', 1)[0]}-pressure"
    scope = ScopeSettings(rate_hz=_RATE_HZ / 2, bits=12)
    return _recorded(story, name, story.seed + 5000, [*probes, Probe("starter_current")][:8], scope)


def _recorded(story: Story, name: str, seed: int, probes: list[Probe], scope: ScopeSettings) -> CaptureFiles:
    sheet = BenchSheet(
        engine=story.engine,
        seed=seed,
        faults=story.faults,
        spread=story.spread,
        scenario=story.scenario,
        probes=probes,
        scope=scope,
    )
    files = recorded_files(sheet, name)
    described, data = f"{name}.capture.json", f"{name}.csv"
    return CaptureFiles(described, files[described], data, files[data])
