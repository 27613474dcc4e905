"""Looks and road tests of a stored job: noted, replaced, taken back, and in the result."""

from __future__ import annotations

import pytest

from phasko.bench.drive_log import Drive, drive_log_csv
from phasko.core.errors import ConflictError, DataError, DocumentError, NotFoundError
from phasko.core.looks import Look
from phasko.jobs.analysing import analyse_stored_job
from phasko.jobs.captures import import_capture
from phasko.jobs.looking import forget_look, look_and_listen, looks_of_job, note_look, restore_look
from phasko.jobs.opening import JobSummary
from phasko.jobs.road_testing import add_road_test, remove_road_test, restore_road_test, road_tests, roads_of_job
from phasko.store import Database
from tests.builders import FOUR, bench_files, pool_engine


def saw(question: str, answer: str, **more: object) -> Look:
    return Look.model_validate({"question": question, "answer": answer, **more})


def log(**drive: float) -> bytes:
    return drive_log_csv(pool_engine(FOUR), Drive(**drive), 7)


def test_the_list_knows_the_engine_s_cylinders(database: Database, job: JobSummary) -> None:
    looking = look_and_listen(database, job.id)
    assert looking.cylinders == [1, 2, 3, 4]
    assert looking.noted == []
    assert {"throttle_hand", "rhythm", "gauge"} <= {q.id for q in looking.questions}


def test_a_later_answer_makes_way_for_the_earlier(database: Database, job: JobSummary) -> None:
    note_look(database, job.id, saw("oil", "good"))
    noted = note_look(database, job.id, saw("oil", "low", note="half a litre")).noted
    assert [(n.answer_id, n.note) for n in noted] == [("low", "half a litre")]
    assert [o.answer for o in looks_of_job(database, job.id)] == ["low"]


def test_readings_of_two_cylinders_stand_side_by_side(database: Database, job: JobSummary) -> None:
    for cylinder, value in ((1, 12.0), (2, 6.0)):
        note_look(database, job.id, Look(question="gauge", cylinder=cylinder, value=value))
    noted = look_and_listen(database, job.id).noted
    assert [(n.cylinder, n.value) for n in noted] == [(1, 12.0), (2, 6.0)]
    assert noted[1].weight.startswith("Points to a leak in cylinder 2, ")


def test_taking_back_can_be_undone(database: Database, job: JobSummary) -> None:
    noted = note_look(database, job.id, saw("rattle", "at_start")).noted
    assert forget_look(database, noted[0].id).noted == []
    assert restore_look(database, noted[0].id).noted == noted


def test_what_does_not_fit_leaves_the_notes_as_they_were(database: Database, job: JobSummary) -> None:
    note_look(database, job.id, saw("oil", "good"))
    with pytest.raises(DocumentError):
        note_look(database, job.id, saw("oil", "purple"))
    with pytest.raises(DocumentError):
        note_look(database, job.id, Look(question="gauge", cylinder=7, value=3.0))
    assert [n.answer_id for n in look_and_listen(database, job.id).noted] == ["good"]
    with pytest.raises(NotFoundError):
        forget_look(database, 99)
    with pytest.raises(NotFoundError):
        look_and_listen(database, 99)


def test_a_look_alone_gives_a_call_and_a_new_one_makes_it_stale(database: Database, job: JobSummary) -> None:
    assert analyse_stored_job(database, job.id) is None
    note_look(database, job.id, saw("exhaust_opened", "better"))
    first = analyse_stored_job(database, job.id)
    assert first is not None
    assert first.analysis.verdict.faults[0].fault == "exhaust_restricted"
    note_look(database, job.id, saw("exhaust_opened", "same"))
    second = analyse_stored_job(database, job.id)
    assert second is not None
    assert second.analysis.verdict.faults[0].fault != "exhaust_restricted"
    assert [look.answer for look in second.analysis.looks] == ["The same"]


def test_marks_seen_out_beside_a_jumped_signal_open_the_covers(database: Database, job: JobSummary) -> None:
    """The cam signal against the crank, and a look at the marks: two kinds that agree."""
    import_capture(database, job.id, bench_files(B1I=17.14, B1E=17.14))
    signals = analyse_stored_job(database, job.id)
    assert signals is not None
    assert signals.analysis.verdict.teardown == "confirm_first"
    note_look(database, job.id, saw("marks", "out"))
    both = analyse_stored_job(database, job.id)
    assert both is not None
    assert both.analysis.verdict.faults[0].fault == "chain_jumped"
    assert both.analysis.verdict.faults[0].probability > signals.analysis.verdict.faults[0].probability
    note_look(database, job.id, saw("marks", "true"))
    against = analyse_stored_job(database, job.id)
    assert against is not None
    assert against.analysis.verdict.teardown != "go"
    assert against.analysis.verdict.faults[0].fault != "chain_jumped"


def test_a_drive_is_judged_kept_and_taken_out(database: Database, job: JobSummary) -> None:
    (view,) = add_road_test(database, job.id, "drive.csv", log(best_fill=0.6))
    assert view.result.state == "breathing"
    assert {c.quantity for c in view.curves} >= {"rpm", "load_percent", "throttle_percent"}
    assert all(len(c.values) == len(view.times_s) for c in view.curves)
    with pytest.raises(ConflictError):
        add_road_test(database, job.id, "again.csv", log(best_fill=0.6))
    assert remove_road_test(database, view.id) == []
    assert roads_of_job(database, job.id) == ()
    assert restore_road_test(database, view.id) == road_tests(database, job.id)
    assert roads_of_job(database, job.id)[0].state == "breathing"


def test_a_log_that_was_taken_out_comes_back_when_it_is_added_again(database: Database, job: JobSummary) -> None:
    (view,) = add_road_test(database, job.id, "drive.csv", log())
    remove_road_test(database, view.id)
    assert [v.id for v in add_road_test(database, job.id, "drive.csv", log())] == [view.id]


def test_what_is_no_log_stores_nothing(database: Database, job: JobSummary) -> None:
    with pytest.raises(DataError):
        add_road_test(database, job.id, "notes.csv", b"nothing here\n")
    assert road_tests(database, job.id) == []
    with pytest.raises(NotFoundError):
        add_road_test(database, 99, "drive.csv", log())


def test_a_drive_is_part_of_the_result(database: Database, job: JobSummary) -> None:
    add_road_test(database, job.id, "drive.csv", log(intake_blocked=0.4))
    found = analyse_stored_job(database, job.id)
    assert found is not None
    assert found.analysis.road_tests[0].state == "intake_restricted"
    assert found.analysis.verdict.faults[0].fault == "intake_restricted"
