"""New jobs begin with the workshop's limit and costs; what was told of others stays as it is."""

from __future__ import annotations

from phasko.core.documents.job import Costs, Limit
from phasko.jobs.opening import JobSummary, open_job
from phasko.jobs.preparing.job_defaults import JobDefaults, job_defaults, set_job_defaults
from phasko.jobs.told import job_document
from phasko.store import Database
from phasko.store.settings import put_setting

OWN = JobDefaults(limit=Limit(school="mark", cam_deg=1.0), costs=Costs(labour_per_hour=72.0, currency="OIM"))


def another(database: Database, job: JobSummary) -> JobSummary:
    return open_job(
        database, vehicle="Snow plough 2", make_model="", complaint="Stalls", codes=["P0016"], engine_id=job.engine.id
    )


def test_nothing_is_told_while_nothing_is_set(database: Database, job: JobSummary) -> None:
    assert job_defaults(database) == JobDefaults()
    document = job_document(database, another(database, job).id)
    assert (document.limit, document.costs) == (None, None)


def test_a_new_job_begins_with_them_and_an_open_one_keeps_its_own(database: Database, job: JobSummary) -> None:
    set_job_defaults(database, OWN)
    assert job_defaults(database) == OWN
    document = job_document(database, another(database, job).id)
    assert (document.limit, document.costs) == (OWN.limit, OWN.costs)
    assert document.complaint is not None
    assert document.complaint.text == "Stalls"
    assert [code.code for code in document.codes] == ["P0016"]
    assert job_document(database, job.id).limit is None


def test_a_setting_that_an_older_version_left_unreadable_sets_nothing(database: Database, job: JobSummary) -> None:
    with database.transaction() as session:
        put_setting(session, "job_defaults", '{"limit": {"school": "feeling"}}')
    assert job_defaults(database) == JobDefaults()
    assert job_document(database, another(database, job).id).limit is None
