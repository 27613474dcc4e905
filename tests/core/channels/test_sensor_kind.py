"""A sensor of unknown kind is read by its own signal, and then measures what it measured."""

from __future__ import annotations

import pytest

from phasko.bench.pool import pool_engine, pool_engines
from phasko.bench.probe import Probe
from phasko.bench.recorder import ScopeSettings
from phasko.bench.scenario import clear_flood_cranking
from phasko.core.documents import EngineProfile
from phasko.core.signals.recording import Channel, Recording
from tests.builders import FOUR
from trials.measurements import measure_capture
from trials.recordings import record_run, run_engine

INDUCTIVE = next(name for name in pool_engines() if pool_engine(name).crank.sensor == "vr")


def of_unknown_kind(profile: EngineProfile) -> EngineProfile:
    document = profile.model_dump(mode="json", by_alias=True, exclude_none=True)
    for part in (document["crank"], *document["cams"], *document.get("aux_wheels", [])):
        part["sensor"] = "unknown"
    return EngineProfile.model_validate(document)


def cranked(profile: EngineProfile) -> Recording:
    run = run_engine(profile, clear_flood_cranking(3.0), 5)
    probes = [Probe("crank"), *(Probe("cam", cam=cam.id) for cam in profile.cams)]
    made = record_run(run, probes, ScopeSettings(rate_hz=25_000.0))
    channels = tuple(Channel(c, made.columns[c.column]) for c in made.description.channels)
    return Recording("b.capture.json", made.description, 0.0, made.interval_s, channels)


@pytest.mark.parametrize("engine", [FOUR, INDUCTIVE])
def test_it_reads_as_if_its_kind_were_known(engine: str) -> None:
    profile = pool_engine(engine)
    recording = cranked(profile)
    known, shown = (measure_capture(recording, one) for one in (profile, of_unknown_kind(profile)))
    assert shown.engine.crank.sensor == ("vr" if profile.crank.sensor == "vr" else "hall")
    assert [r.offset.offset.value for r in shown.cams if r.offset] == [
        r.offset.offset.value for r in known.cams if r.offset
    ]
    said = [problem.text for problem in shown.problems if problem.code == "sensor_recognised"]
    assert any("crank sensor" in text for text in said)
    assert not any(problem.code == "sensor_recognised" for problem in known.problems)
