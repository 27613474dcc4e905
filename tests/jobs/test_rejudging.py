"""After a new version: the older call stands, what is different is shown, and a person lets the newer one stand."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import closing

import pytest

from phasko.bench.pool import pool_engine
from phasko.core.documents import Analysis
from phasko.core.errors import DataError
from phasko.core.revisions import revision_of
from phasko.jobs import analysing, rejudging
from phasko.jobs.analysing import analyse_stored_job
from phasko.jobs.board import board
from phasko.jobs.captures import import_capture
from phasko.jobs.rejudging import Rejudging, count_older_calls, earlier_results, take_over
from phasko.store import Database
from phasko.store.audit import log_entries
from tests.builders import bench_files, job_with_capture

ENGINE = pool_engine("pellowe-1.0-triple")
Version = Callable[[str, bool], None]


def opened(database: Database, vehicle: str, seed: int) -> int:
    return job_with_capture(database, vehicle, "pellowe-1.0-triple", seed)


@pytest.fixture
def version(monkeypatch: pytest.MonkeyPatch) -> Version:
    """Makes another version of the software run from now on; one that opens what the last one closed, if asked."""
    original = analysing.judged

    def runs(name: str, opens: bool) -> None:
        def judged(database: Database, rests: analysing.Rests) -> Analysis:
            found = original(database, rests)
            gate = {"teardown": "go"} if opens else {}
            return found.model_copy(
                update={
                    "verdict": found.verdict.model_copy(update=gate),
                    "provenance": found.provenance.model_copy(update={"software": f"phasko {name}"}),
                }
            )

        monkeypatch.setattr(analysing, "code_hash", lambda: name)
        for module in (analysing, rejudging):
            monkeypatch.setattr(module, "software_label", lambda: f"phasko {name}")
            monkeypatch.setattr(module, "judged", judged)

    return runs


@pytest.fixture
def again(database: Database) -> Iterator[Rejudging]:
    with closing(Rejudging(database)) as made:
        yield made


def two_called(database: Database, version: Version) -> list[int]:
    """Two jobs, called by version 1.0."""
    version("1.0", False)
    jobs = [opened(database, f"Van {seed}", seed) for seed in (3, 4)]
    for job in jobs:
        analyse_stored_job(database, job)
    return jobs


def read(again: Rejudging) -> None:
    again.start()
    assert again._thread is not None
    again._thread.join(120.0)


def test_the_older_call_stands_until_the_newer_one_is_taken_over(
    database: Database, version: Version, again: Rejudging
) -> None:
    job = opened(database, "Van 1", 3)
    version("1.0", False)
    first = analyse_stored_job(database, job)
    assert first is not None and (first.older, first.analysis.verdict.teardown) == (None, "no")
    assert again.now().unread == again.now().revised == []

    version("2.0", True)
    standing = analyse_stored_job(database, job)
    assert standing is not None and (standing.older, standing.analysis) == ("1.0", first.analysis)
    assert (again.now().unread, again.now().software) == ([job], "2.0")
    assert count_older_calls(database).jobs == 1

    read(again)
    (row,) = again.now().revised
    assert (row.job_id, row.weight, row.before.teardown, row.after.teardown) == (job, "gate", "no", "go")
    assert row.sentences[0] == "The gate says open up; it said covers stay on."
    shown = analyse_stored_job(database, job)
    assert shown is not None and shown.analysis == first.analysis
    assert [one.teardown for one in board(database)] == ["no"]

    assert take_over(database, [job]) == 1
    now = analyse_stored_job(database, job)
    assert now is not None and (now.older, now.analysis.verdict.teardown) == (None, "go")
    assert [one.teardown for one in board(database)] == ["go"]
    assert again.now().revised == again.now().unread == []
    assert count_older_calls(database).jobs == 0
    held = earlier_results(database, job)
    assert [(one.software, one.standing, one.head.teardown) for one in held] == [
        ("phasko 2.0", True, "go"),
        ("phasko 1.0", True, "no"),
    ]
    with database.reading() as session:
        assert (log_entries(session, most=1)[0].did, log_entries(session, most=1)[0].job_id) == ("took over", job)
    assert take_over(database, [job]) == 0


def test_what_is_new_of_a_job_is_read_by_the_version_that_runs(
    database: Database, version: Version, again: Rejudging
) -> None:
    job = opened(database, "Van 1", 3)
    version("1.0", False)
    analyse_stored_job(database, job)
    version("2.0", True)
    import_capture(database, job, bench_files("second", "pellowe-1.0-triple", 9))
    assert again.now().unread == [job]
    read(again)
    assert again.now().unread == again.now().revised == []
    now = analyse_stored_job(database, job)
    assert now is not None and (now.older, len(now.analysis.captures)) == (None, 2)
    assert again.now().unread == []


def test_every_job_is_read_the_heaviest_change_first(
    database: Database, version: Version, again: Rejudging, monkeypatch: pytest.MonkeyPatch
) -> None:
    jobs = two_called(database, version)
    version("2.0", True)
    opens = analysing.judged

    def half(database: Database, rests: analysing.Rests) -> Analysis:
        """Opens the first job alone."""
        found = opens(database, rests)
        if rests.state.captures[0].id == 1:
            return found
        return found.model_copy(update={"verdict": found.verdict.model_copy(update={"teardown": "no"})})

    monkeypatch.setattr(rejudging, "judged", half)
    read(again)
    assert [(row.job_id, row.weight) for row in again.now().revised] == [(jobs[0], "gate"), (jobs[1], "nothing")]
    assert again.now().unread == []


def test_what_differs_is_said_and_what_lies_within_the_half_widths_is_not(database: Database) -> None:
    job = job_with_capture(database, "Van 1", "pellowe-1.0-triple", 3, B1I=6.0, B1E=6.0)
    held = analyse_stored_job(database, job)
    assert held is not None
    before = held.analysis
    assert revision_of(before, before).weight == "nothing"

    def moved(by_u95: float) -> Analysis:
        capture = before.captures[0]
        cam = capture.cams[0]
        assert cam.offset_deg is not None and cam.offset_u95_deg is not None
        other = cam.model_copy(update={"offset_deg": cam.offset_deg + by_u95 * cam.offset_u95_deg})
        return before.model_copy(update={"captures": [capture.model_copy(update={"cams": [other, *capture.cams[1:]]})]})

    assert revision_of(before, moved(1.9)).sentences == ()
    found = revision_of(before, moved(2.1))
    assert found.weight == "figures"
    assert found.sentences[0].startswith(f"{ENGINE.cams[0].id} in run.capture.json reads 6.")

    leader = before.verdict.faults[0]
    less = leader.model_copy(update={"probability": leader.probability - 0.2})
    verdict = before.verdict.model_copy(update={"faults": [less, *before.verdict.faults[1:]], "undecided": True})
    told = revision_of(before, before.model_copy(update={"verdict": verdict}))
    assert told.weight == "call"
    assert f"{leader.title}: " in told.sentences[0] and " before." in told.sentences[0]


def test_a_job_that_cannot_be_read_is_told_and_stops_nothing(
    database: Database, version: Version, again: Rejudging, monkeypatch: pytest.MonkeyPatch
) -> None:
    jobs = two_called(database, version)
    version("2.0", False)
    kept = rejudging.judged

    def breaks(database: Database, rests: analysing.Rests) -> Analysis:
        if rests.state.captures[0].id == 1:
            raise DataError("cannot be read", place="run.csv")
        return kept(database, rests)

    monkeypatch.setattr(rejudging, "judged", breaks)
    read(again)
    assert again.now().unread == [jobs[0]]
    assert list(again.now().trouble) == [jobs[0]]
    assert [row.job_id for row in again.now().revised] == [jobs[1]]
