"""From the repair to the end of a job: sides kept apart, the call of then kept, reopened without losing anything."""

from __future__ import annotations

import pytest

from phasko.core.documents.job import JobDocument, Look
from phasko.core.documents.repair import Repair
from phasko.core.errors import OutdatedError, RefusedError
from phasko.jobs.analysing import analyse_stored_job
from phasko.jobs.board import board
from phasko.jobs.captures import change_description, import_capture, import_data_file
from phasko.jobs.logbook.closing import add_note, close_job, hand_to, note_repair, reopen_job
from phasko.jobs.logbook.copying import copy_job
from phasko.jobs.logbook.timeline import timeline
from phasko.jobs.looking import look_and_listen, note_look
from phasko.jobs.opening import JobSummary, show_job
from phasko.jobs.told import job_document, tell, told_document
from phasko.store import Database
from tests.builders import bench_files

LATE = {"B1I": 17.14, "B1E": 17.14}
REPAIR = Repair.model_validate(
    {
        "opened": True,
        "found": [{"fault": "chain_jumped"}],
        "replaced": [{"part": "drive"}],
        "done_at": "2026-11-20T12:00:00+00:00",
    }
)


def told(**parts: object) -> JobDocument:
    return JobDocument.model_validate({"schema": "phasko.job/1", **parts})


def test_a_closed_job_keeps_the_call_of_then(database: Database, job: JobSummary) -> None:
    import_capture(database, job.id, bench_files("before", **LATE))
    before = analyse_stored_job(database, job.id)
    assert before is not None
    note_repair(database, job.id, REPAIR)
    import_capture(database, job.id, bench_files("after", seed=2))
    after = close_after(database, job.id)
    closing = after.closing
    assert closing is not None and closing.called is not None
    leader = before.analysis.verdict.faults[0]
    assert (closing.called.faults[0].fault, closing.called.teardown) == (
        leader.fault,
        before.analysis.verdict.teardown,
    )
    assert closing.called.faults[0].probability == pytest.approx(leader.probability, abs=1e-6)
    assert closing.called.minutes is not None and closing.called.minutes > 0
    (row,) = board(database)
    assert (row.status, row.job.cause) == ("closed", "confirmed")
    assert (row.leader, row.called_before) == ("Timing as it should be", leader.title)


def close_after(database: Database, job_id: int) -> JobDocument:
    """Says that the second capture was taken after the repair, and closes."""
    from phasko.jobs.captures import list_captures

    change_description(database, list_captures(database, job_id)[1].id, {"repair": "after"})
    return close_job(database, job_id, "confirmed", "", "Ida").document


def test_what_comes_after_a_noted_repair_is_of_the_engine_after_it(database: Database, job: JobSummary) -> None:
    note_look(database, job.id, Look(question="marks", answer="out"))
    note_repair(database, job.id, REPAIR)
    note_look(database, job.id, Look(question="marks", answer="true"))
    assert len(look_and_listen(database, job.id).noted) == 2
    sides = [(one.answer, one.repair) for one in job_document(database, job.id).looks]
    assert sides == [("out", None), ("true", "after")]
    files = bench_files("alone")
    stored = import_data_file(database, job.id, "alone.csv", files.data)
    assert stored.repair == "after"


def test_nothing_can_be_confirmed_where_nothing_was_called(database: Database, job: JobSummary) -> None:
    with pytest.raises(RefusedError, match="no cause can be confirmed"):
        close_job(database, job.id, "confirmed", "", "")
    closed = close_job(database, job.id, "unknown", "the owner fetched it", "Ida").document
    assert closed.closing is not None and closed.closing.called is None
    assert show_job(database, job.id).closed_at is not None


def test_opened_again_it_keeps_how_it_had_been_closed(database: Database, job: JobSummary) -> None:
    close_job(database, job.id, "unknown", "the owner fetched it", "Ida")
    again = reopen_job(database, job.id).document
    assert again.closing is None and "the owner fetched it" in again.notes[-1].text
    assert show_job(database, job.id).closed_at is None
    assert reopen_job(database, job.id).document.notes == again.notes


def test_notes_and_who_has_it(database: Database, job: JobSummary) -> None:
    add_note(database, job.id, "rang the owner", "Ida")
    add_note(database, job.id, "parts on Tuesday", "Tor")
    hand_to(database, job.id, " Tor ", "a chain")
    document = job_document(database, job.id)
    assert [(note.text, note.by) for note in document.notes] == [("rang the owner", "Ida"), ("parts on Tuesday", "Tor")]
    (row,) = board(database)
    assert (row.job.holder, row.job.waiting_for) == ("Tor", "a chain")


def test_an_older_version_is_refused(database: Database, job: JobSummary) -> None:
    version = told_document(database, job.id).version
    note_repair(database, job.id, REPAIR, version)
    with pytest.raises(OutdatedError):
        note_repair(database, job.id, Repair(), version)


def test_notes_and_closing_ask_for_no_new_result(database: Database, job: JobSummary) -> None:
    import_capture(database, job.id, bench_files("before", **LATE))
    first = analyse_stored_job(database, job.id)
    add_note(database, job.id, "rang the owner", "Ida")
    hand_to(database, job.id, "Tor", "")
    again = analyse_stored_job(database, job.id)
    assert first is not None and again is not None
    assert first.analysis == again.analysis
    from sqlalchemy import func, select

    from phasko.store.models import Result

    with database.reading() as session:
        assert session.scalar(select(func.count()).select_from(Result)) == 1


def test_a_copy_brings_what_belongs_to_the_car_and_nothing_that_was_measured(
    database: Database, job: JobSummary
) -> None:
    wires = [{"signal": "cam B1I", "pin": "2", "colour": "green"}]
    tell(
        database,
        job.id,
        told(
            complaint={"text": "stalls"},
            codes=[{"code": "P0016"}],
            hook_up={"question": "timing", "wires": wires, "ticked": ["brake"]},
            minutes={"marks": 90},
            costs={"labour_per_hour": 70},
        ),
    )
    import_capture(database, job.id, bench_files("before"))
    copy = copy_job(database, job.id)
    document = job_document(database, copy.id)
    assert (copy.vehicle, copy.engine.id, copy.complaint, copy.codes) == (job.vehicle, job.engine.id, "", [])
    assert document.hook_up is not None and document.hook_up.wires[0].colour == "green"
    assert document.hook_up.ticked == [] and document.minutes == {"marks": 90}
    assert analyse_stored_job(database, copy.id) is None
    other = copy_job(database, job.id, "Snow plough 2")
    assert [entry.row.job.id for entry in timeline(database, copy.id).entries] == [job.id, copy.id]
    assert [entry.row.job.id for entry in timeline(database, other.id).entries] == [other.id]
