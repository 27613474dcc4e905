"""Jobs found by words and filters, whatever changed since the last search."""

from __future__ import annotations

import pytest

from phasko.core.documents.job import JobDocument, Look
from phasko.jobs.board import find_in_logbook
from phasko.jobs.captures import change_description, import_capture
from phasko.jobs.handing_over.photos import add_photo
from phasko.jobs.logbook.closing import add_note, close_job
from phasko.jobs.logbook.words import index_jobs
from phasko.jobs.looking import note_look
from phasko.jobs.opening import JobSummary, open_job, remove_job, rename_job, restore_job
from phasko.jobs.told import tell
from phasko.store import Database
from phasko.store.logbook import Asked
from tests.builders import bench_files
from tests.jobs.handing_over.test_photos import picture


def found(database: Database, text: str = "", **filters: object) -> list[str]:
    return [row.job.vehicle for row in find_in_logbook(database, Asked(text=text, **filters)).rows]  # type: ignore[arg-type]


@pytest.fixture
def two(database: Database, job: JobSummary) -> tuple[JobSummary, JobSummary]:
    other = open_job(
        database,
        vehicle="Ferry tender 2",
        make_model="Ostrin Müwe",
        complaint="Hard to start",
        codes=["P0016"],
        engine_id=job.engine.id,
    )
    return job, other


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("snow", ["Snow plough 1"]),
        ("SNOW plo", ["Snow plough 1"]),
        ("muwe", ["Ferry tender 2"]),
        ("p0016", ["Ferry tender 2"]),
        ("P0420", ["Snow plough 1"]),
        ("corvane", ["Ferry tender 2", "Snow plough 1"]),
        ("slipway stalls", ["Snow plough 1"]),
        ("slipway ferry", []),
        ("", ["Ferry tender 2", "Snow plough 1"]),
        ('" OR * NEAR(', []),
        ("nothing-of-this", []),
    ],
)
def test_by_words(database: Database, two: tuple[JobSummary, JobSummary], text: str, expected: list[str]) -> None:
    assert found(database, text) == expected


def test_whatever_was_written_since_is_found(database: Database, two: tuple[JobSummary, JobSummary]) -> None:
    job, _ = two
    assert found(database, "zebra") == []
    add_note(database, job.id, "zebra crossing", "")
    assert found(database, "zebra") == ["Snow plough 1"]
    note_look(database, job.id, Look(question="oil", answer="low", note="smells of giraffe"))
    add_photo(database, job.id, "look", "an okapi", "o.png", picture("PNG"))
    stored = import_capture(database, job.id, bench_files("lynx"))
    change_description(database, stored.id, {"title": "Badger hot", "marks": [{"t_s": 0.1, "text": "weasel"}]})
    tell(
        database,
        job.id,
        JobDocument.model_validate(
            {
                "schema": "phasko.job/1",
                "repair": {"found": [{"text": "walrus in the sump"}]},
                "codes": [{"code": "P0301"}],
            }
        ),
    )
    for word in ("giraffe", "okapi", "lynx", "badger", "weasel", "walrus", "P0301"):
        assert found(database, word) == ["Snow plough 1"], word
    rename_job(database, job.id, "Ice plough 9", "")
    assert found(database, "ice") == ["Ice plough 9"] and found(database, "snow") == []


def test_the_finding_is_found(database: Database, job: JobSummary) -> None:
    from phasko.jobs.analysing import analyse_stored_job

    import_capture(database, job.id, bench_files("c", B1I=17.14, B1E=17.14))
    analyse_stored_job(database, job.id)
    assert found(database, "jumped pitch") == ["Snow plough 1"]
    assert found(database, gate="confirm_first") == ["Snow plough 1"] and found(database, gate="no") == []


def test_only_what_changed_is_read_again(database: Database, two: tuple[JobSummary, JobSummary]) -> None:
    assert index_jobs(database) == 2
    assert index_jobs(database) == 0
    rename_job(database, two[0].id, "Ice plough 9", "")
    assert index_jobs(database) == 1


def test_by_filters(database: Database, two: tuple[JobSummary, JobSummary]) -> None:
    job, other = two
    close_job(database, job.id, "unknown", "", "")
    assert found(database, state="open") == ["Ferry tender 2"]
    assert found(database, state="closed") == found(database, cause="unknown") == ["Snow plough 1"]
    assert found(database, code="p0016") == ["Ferry tender 2"] and found(database, code="P001") == []
    assert found(database, engine=job.engine.name, vehicle="ferry TENDER 2") == ["Ferry tender 2"]
    assert found(database, since="2999-01-01") == [] and len(found(database, until="2999-01-01")) == 2
    assert found(database, since=other.created_at[:10], until=other.created_at[:10]) == [
        "Ferry tender 2",
        "Snow plough 1",
    ]


def test_page_by_page(database: Database, job: JobSummary) -> None:
    for number in range(5):
        open_job(database, vehicle=f"Van {number}", make_model="", complaint="", codes=[], engine_id=job.engine.id)
    page = find_in_logbook(database, Asked(text="van", begin=1, most=2))
    assert (page.total, [row.job.vehicle for row in page.rows]) == (5, ["Van 3", "Van 2"])


def test_taken_out_it_is_not_found_and_brought_back_it_is(database: Database, job: JobSummary) -> None:
    remove_job(database, job.id)
    assert found(database, "snow") == []
    restore_job(database, job.id)
    assert found(database, "snow") == ["Snow plough 1"]
