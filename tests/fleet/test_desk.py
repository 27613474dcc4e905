"""The fleet as the workshop's application starts it: a process of its own, stopped, gone on with, and ended."""

from __future__ import annotations

import json
import time
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

import pytest

from phasko.core.errors import ConflictError
from phasko.fleet.desk import FleetDesk, FleetState
from phasko.fleet.view import kept_view
from phasko.formats import CaptureFiles
from phasko.jobs.captures import import_capture
from phasko.jobs.engine_profiles import save_engine
from phasko.jobs.opening import open_job
from phasko.store import Database

OWN_PLACES = ("src/phasko/fleet",)

PATIENCE_S = 600.0


@pytest.fixture
def workshop(tmp_path: Path, fleet_folder: Path) -> Path:
    """One job, of a car of the fleet."""
    sound = fleet_folder / "sound"
    with closing(Database(tmp_path / "workshop")) as database:
        engine = save_engine(database, (sound / "engine.json").read_bytes(), "engine.json")
        job = open_job(database, vehicle="Van 1", make_model="", complaint="", codes=[], engine_id=engine.id)
        files = [(sound / f"car0.{ending}").read_bytes() for ending in ("capture.json", "csv")]
        import_capture(database, job.id, CaptureFiles("car0.capture.json", files[0], "car0.csv", files[1]))
    return tmp_path / "workshop"


@pytest.fixture
def desk(workshop: Path, fleet_folder: Path) -> Iterator[FleetDesk]:
    with closing(FleetDesk(workshop, (fleet_folder,))) as made:
        yield made


def ended(desk: FleetDesk) -> FleetState:
    patient_until = time.monotonic() + PATIENCE_S
    while (state := desk.state()).running:
        assert time.monotonic() < patient_until
        time.sleep(0.1)
    return state


@pytest.mark.exhaustive
def test_it_runs_to_its_end_and_is_not_begun_twice(desk: FleetDesk) -> None:
    assert (desk.state().running, desk.state().made_at) == (False, None)
    desk.start()
    with pytest.raises(ConflictError):
        desk.start()
    state = ended(desk)
    assert (state.done, state.every, state.bad, state.trouble) == (9, 9, 1, "")
    assert state.made_at is not None
    view = json.loads(kept_view(desk.out))
    assert view["captures"] == 8
    assert view["bad_count"] == 1
    assert 1 in [point["job_id"] for kind in view["kinds"] for cam in kind["cams"] for point in cam["points"]]


def test_stopped_it_tells_no_trouble_and_goes_on_after(desk: FleetDesk) -> None:
    desk.start()
    desk.stop()
    state = desk.state()
    assert (state.running, state.made_at, state.trouble) == (False, None, "")
    desk.start()
    assert ended(desk).made_at is not None


def test_why_it_cannot_be_done_is_told_in_words(workshop: Path, tmp_path: Path) -> None:
    with closing(FleetDesk(workshop, (tmp_path / "gone",))) as desk:
        desk.start()
        state = ended(desk)
        for reader in desk._readers:
            reader.join(PATIENCE_S)
        assert "There is no such folder" in desk.state().trouble
    assert state.made_at is None
