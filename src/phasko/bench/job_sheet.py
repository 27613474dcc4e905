"""A bench job as a document: engine, faults, scenario and hook-up in JSON, as ``phasko bench`` reads it."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter

from phasko.bench.faults import EngineFaults, Spread
from phasko.bench.pool import pool_engine, pool_engines
from phasko.bench.probe import Probe
from phasko.bench.recorder import ScopeSettings, record_run, true_offsets_deg
from phasko.bench.run import Run, run_engine
from phasko.bench.scan_tool import read_codes
from phasko.bench.scenario import Scenario, clear_flood_cranking
from phasko.bench.scope import capture_files
from phasko.core.documents import EngineProfile, parse_document
from phasko.core.errors import DocumentError

__all__ = ["BenchSheet", "read_sheet", "recorded_files"]


class BenchSheet(BaseModel):
    """What to break, how to crank and what to clip on. Everything but the engine has a usual default."""

    model_config = ConfigDict(extra="forbid", arbitrary_types_allowed=True)
    schema_: Literal["phasko.bench/1"] = Field(default="phasko.bench/1", alias="schema")
    engine: str
    seed: int = 1
    faults: EngineFaults = Field(default_factory=EngineFaults)
    spread: Spread = Field(default_factory=Spread)
    scenario: Scenario = Field(default_factory=clear_flood_cranking)
    probes: list[Probe] = Field(default_factory=list)
    scope: ScopeSettings = Field(default_factory=ScopeSettings)


def read_sheet(text: str | bytes, place: str) -> BenchSheet:
    """Raises DocumentError naming the field that is wrong."""
    return parse_document(text, BenchSheet, place)


def recorded_files(sheet: BenchSheet, name: str, engine: EngineProfile | None = None) -> dict[str, bytes]:
    """Runs a sheet; the capture's files, its engine profile, and ``NAME.truth.json`` with what was really so."""
    known = engine or _pool(sheet.engine)
    run = run_engine(known, sheet.scenario, sheet.seed, faults=sheet.faults, spread=sheet.spread)
    probes = sheet.probes or [
        Probe("crank"),
        *[Probe("cam", cam=cam.id) for cam in known.cams],
        Probe("starter_current"),
    ]
    files = capture_files(record_run(run, probes[:8], sheet.scope, name=name))
    files[f"{name}.engine.json"] = (known.model_dump_json(by_alias=True, exclude_none=True, indent=1) + "\n").encode()
    files[f"{name}.truth.json"] = TypeAdapter(dict[str, Any]).dump_json(_truth(run, sheet), indent=1) + b"\n"
    return files


def _pool(name: str) -> EngineProfile:
    if name not in pool_engines():
        raise DocumentError(f"there is no pool engine {name!r}", remedy=f"One of: {', '.join(pool_engines())}")
    return pool_engine(name)


def _truth(run: Run, sheet: BenchSheet) -> dict[str, Any]:
    """Every number as the physics had it, for whoever checks a reading."""
    peaks = {str(c): float(p.max()) / 1e5 - 1.0 for c, p in run.cylinders_pa.items()}
    turning = run.rpm > 60.0
    return {
        "seed": run.seed,
        "cam_offsets_deg": true_offsets_deg(run),
        "valves_deg": {cam: float(p.valves_deg.mean()) for cam, p in run.cams.items()},
        "peaks_bar": peaks,
        "mean_rpm": float(run.rpm[turning].mean()) if turning.any() else 0.0,
        "codes": [code.code for code in read_codes(run, tuple(sheet.probes))],
        "faults": TypeAdapter(EngineFaults).dump_python(sheet.faults, mode="json"),
    }
