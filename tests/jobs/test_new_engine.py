"""A job with an engine of which only cylinders and firing order are known."""

import pytest

from phasko.core.errors import DocumentError
from phasko.jobs.engine_profiles import engines
from phasko.jobs.measured import job_state
from phasko.jobs.opening import NewEngine, engine_for, open_job, show_job
from phasko.store import Database


@pytest.mark.parametrize("written", ["1-3-4-2", "1 3 4 2", "1342", "1,3,4,2"])
def test_a_firing_order_in_any_usual_writing(database: Database, written: str) -> None:
    made = engine_for(database, NewEngine(cylinders=4, firing_order=written), "Ferry tender 9")
    job = open_job(database, vehicle="Ferry tender 9", make_model="", complaint="", codes=[], engine_id=made.id)
    assert show_job(database, job.id).engine.name == "Engine of Ferry tender 9"
    with database.reading() as session:
        assert job_state(session, job.id).profile.firing_order == [1, 3, 4, 2]


def test_another_of_the_same_name_is_another_engine(database: Database) -> None:
    first = engine_for(database, NewEngine(cylinders=4, firing_order="1342"), "Ferry tender 9")
    second = engine_for(database, NewEngine(cylinders=3, firing_order="123"), "Ferry tender 9")
    assert (first.name, second.name) == ("Engine of Ferry tender 9", "Engine of Ferry tender 9, 2")


@pytest.mark.parametrize("written", ["1-3-4", "1-3-3-2", "1 3 4 5", "a-b"])
def test_an_order_that_misses_a_cylinder_is_refused_in_words(database: Database, written: str) -> None:
    with pytest.raises(DocumentError) as refused:
        engine_for(database, NewEngine(cylinders=4, firing_order=written), "Ferry tender 9")
    assert "iring order" in f"{refused.value.what} {refused.value.place}"
    assert engines(database) == []
