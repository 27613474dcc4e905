"""A workshop of which parts cannot be read, as old versions, kills and bad disks leave them."""

from __future__ import annotations

from contextlib import closing
from pathlib import Path

from sqlalchemy import text

from phasko.jobs.captures import import_capture, import_data_file
from phasko.jobs.engine_profiles import save_engine
from phasko.jobs.handing_over.photos import add_photo
from phasko.jobs.looking import note_look
from phasko.jobs.opening import open_job
from phasko.store import Database
from tests.builders import FOUR, bench_files, pool_engine, saw
from tests.jobs.handing_over.test_photos import picture

KNOWN: dict[str, tuple[int, ...]] = {
    "job_id": (1, 2, 3, 4),
    "capture_id": (1, 2, 3, 4, 5),
    "engine_id": (1, 2),
    "look_id": (1, 2),
    "road_test_id": (1,),
    "photo_id": (1, 2),
}
"""What is stored, by the name of the parameter that asks for it."""


def broken_workshop(folder: Path) -> None:
    """Job 1 is whole; 2 has a profile that cannot be read, 3 what was told and a look, 4 a capture, an original and
    samples."""
    profile = pool_engine(FOUR)
    named = [profile, profile.model_copy(update={"name": "Broken four"})]
    with closing(Database(folder)) as database:
        engines = [
            save_engine(database, one.model_dump_json(by_alias=True, exclude_none=True).encode(), "engine").id
            for one in named
        ]
        for engine in (engines[0], engines[1], engines[0], engines[0]):
            open_job(database, vehicle="Rowan", make_model="", complaint="", codes=["P0016"], engine_id=engine)
        import_capture(database, 1, bench_files(B1I=8.0, B1E=8.0))
        import_data_file(database, 1, "x.csv", b"time_s,c1\n0,1\n1,2\n2,1\n3,4\n")
        import_capture(database, 2, bench_files("two", seed=2))
        import_capture(database, 4, bench_files("four", seed=3))
        import_data_file(database, 4, "y.csv", b"time_s,c1\n0,1\n1,2\n2,1\n3,5\n")
        for job_id in (1, 3):
            note_look(database, job_id, saw("marks", "out"))
            add_photo(database, job_id, "look", "", "p.png", picture("PNG", size=(20 + job_id, 20)))
        with database.transaction() as session:
            for broken in (
                "UPDATE photos SET data = x'00' WHERE id = 2",
                "UPDATE engine_versions SET document = '{\"name\": 1' WHERE id = 2",
                'UPDATE jobs SET told = \'{"schema": "phasko.job/9"}\' WHERE id = 3',
                "UPDATE looks SET document = 'no look' WHERE job_id = 3",
                "UPDATE captures SET description = '\ufeff{}' WHERE id = 4",
                "UPDATE sample_chunks SET data = x'00', levels = x'00', coarse_levels = x'00' WHERE capture_id = 5",
                "UPDATE capture_files SET data = x'28b52ffd00' WHERE capture_id = 5",
            ):
                session.execute(text(broken))
