"""A small fleet on the disk: sound and jumped cars of one engine."""

from pathlib import Path

import pytest

from phasko.bench.faults import DriveFaults, EngineFaults
from phasko.bench.pool import pool_engine
from phasko.bench.probe import Probe
from phasko.bench.recorder import ScopeSettings
from phasko.bench.scenario import clear_flood_cranking
from phasko.bench.scope import capture_files
from trials.recordings import record_run, run_engine

ENGINE = "pellowe-1.0-triple"


def written(folder: Path, names: list[str], faults: EngineFaults | None = None) -> None:
    """One recording under so many names: what differs between them is only what they are called."""
    engine = pool_engine(ENGINE)
    folder.mkdir(parents=True, exist_ok=True)
    (folder / "engine.json").write_text(engine.model_dump_json(by_alias=True, exclude_none=True), encoding="utf-8")
    run = run_engine(engine, clear_flood_cranking(2.2), 3, faults=faults)
    probes = [Probe("crank"), *(Probe("cam", cam=cam.id) for cam in engine.cams), Probe("starter_current")]
    for name in names:
        for file, data in capture_files(record_run(run, probes, ScopeSettings(rate_hz=20_000.0), name=name)).items():
            if not file.endswith(".truth.json"):
                (folder / file).write_bytes(data)


@pytest.fixture(scope="session")
def fleet_folder(tmp_path_factory: pytest.TempPathFactory) -> Path:
    top = tmp_path_factory.mktemp("fleet") / "island"
    written(top / "sound", [f"car{i}" for i in range(6)])
    written(top / "jumped", ["late"], EngineFaults(DriveFaults(jumped_at_crank=2)))
    (top / "sound" / "torn.capture.json").write_text('{"schema": "phasko.capture/1", "data"', encoding="utf-8")
    return top
