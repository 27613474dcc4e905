"""A workshop with one engine and one job."""

import pytest

from phasko.jobs.engine_profiles import save_engine
from phasko.jobs.opening import JobSummary, open_job
from phasko.store import Database
from tests.builders import FOUR, pool_engine


@pytest.fixture
def job(database: Database) -> JobSummary:
    document = pool_engine(FOUR).model_dump_json(by_alias=True, exclude_none=True)
    engine = save_engine(database, document.encode(), "engine.json")
    return open_job(
        database,
        vehicle="Snow plough 1",
        make_model="",
        complaint="Stalls on the slipway",
        codes=["p0420"],
        engine_id=engine.id,
    )
