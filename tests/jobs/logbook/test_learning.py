"""What closed jobs teach a workshop: its own alone, and only when somebody asks."""

from __future__ import annotations

from datetime import UTC, datetime

import pytest

from phasko.core.documents.job import JobDocument
from phasko.core.errors import RefusedError
from phasko.jobs.analysing import analyse_stored_job
from phasko.jobs.captures import import_capture
from phasko.jobs.logbook.learning import learning, move_odds
from phasko.jobs.opening import JobSummary, open_job
from phasko.jobs.told import tell
from phasko.store import Database, jobs
from tests.builders import bench_files


def closed(database: Database, engine_id: int, fault: str, chance: float = 0.9, sample: bool = False) -> int:
    job = open_job(database, vehicle="Van", make_model="", complaint="", codes=[], engine_id=engine_id)
    called = {
        "faults": [{"fault": fault, "probability": chance}, {"fault": "none", "probability": 1.0 - chance}],
        "teardown": "go",
        "undecided": False,
        "software": "s",
        "numbers": "n",
        "minutes": 30,
    }
    document = {
        "schema": "phasko.job/1",
        "repair": {"found": [{"fault": fault}]},
        "closing": {"cause": "confirmed", "at": datetime.now(UTC).isoformat(), "called": called},
    }
    tell(database, job.id, JobDocument.model_validate(document))
    with database.transaction() as session:
        jobs.get_job(session, job.id).sample = sample
    return job.id


def test_sample_jobs_teach_nothing(database: Database, job: JobSummary) -> None:
    for _ in range(12):
        closed(database, job.engine.id, "chain_jumped", sample=True)
    found = learning(database)
    assert (found.own.closed, found.samples.closed, found.proposed, found.known_jobs) == (0, 12, [], 0)
    with pytest.raises(RefusedError, match="too few"):
        move_odds(database, moved=True)


def test_odds_move_only_when_asked_and_back_again(database: Database, job: JobSummary) -> None:
    import_capture(database, job.id, bench_files("c", B1I=3.2))
    for _ in range(14):
        closed(database, job.engine.id, "chain_stretched")
    before = chances(database, job.id)
    assert learning(database).proposed and chances(database, job.id) == before
    moved = move_odds(database.by("Ida"), moved=True)
    assert (moved.odds.by, moved.odds.jobs) == ("Ida", 14)
    after = chances(database, job.id)
    assert after["chain_stretched"] > before["chain_stretched"]
    assert move_odds(database, moved=False).odds.factors == {}
    assert chances(database, job.id) == before


def chances(database: Database, job_id: int) -> dict[str, float]:
    analysed = analyse_stored_job(database, job_id)
    assert analysed is not None
    found: dict[str, float] = {}
    for one in analysed.analysis.verdict.faults:
        found[one.fault] = found.get(one.fault, 0.0) + (0.0 if one.besides else one.probability)
    return found


def test_the_page_counts_what_was_closed(database: Database, job: JobSummary) -> None:
    ids = [closed(database, job.engine.id, "chain_jumped") for _ in range(3)]
    found = learning(database)
    assert (found.own.closed, found.own.right, found.known_jobs) == (3, 3, 3)
    assert found.own.expected == pytest.approx(2.7)
    assert sorted(row.job_id for row in found.rows) == ids
    assert {(row.called, row.found, row.right) for row in found.rows} == {("drive jumped", "drive jumped", True)}
