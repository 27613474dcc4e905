"""Files of every released layout, filled as the versions then filled them."""

from __future__ import annotations

import hashlib
import json
import sqlite3
from pathlib import Path

import numpy as np
from alembic import command
from alembic.config import Config
from alembic.script import ScriptDirectory
from sqlalchemy import create_engine

from phasko.store.chunks import encode_chunks, pack_file

AMPERES = (np.sin(np.arange(3000) / 40.0) * 200.0).astype(np.float32)
DATA = b"time_s,c1\n0,0.1\n1,0.2\n"
DESCRIPTION = {
    "schema": "phasko.capture/1",
    "data": "x.csv",
    "channels": [{"column": "c1", "role": "starter_current", "unit": "V", "scale": 1000.0, "scaled_unit": "A"}],
}


def config() -> Config:
    made = Config()
    made.set_main_option("script_location", "phasko.store:migrations")
    return made


def every_layout() -> list[str]:
    """The numbers of all layouts, the oldest first."""
    return [str(step.revision) for step in ScriptDirectory.from_config(config()).walk_revisions()][::-1]


def older_file(folder: Path, layout: str, captures: int = 1, description: str | None = None) -> Path:
    """A file of that layout with one job and its captures; samples of the first layout were stored scaled and with
    levels of 256 samples."""
    path = folder / "phasko.sqlite3"
    engine = create_engine(f"sqlite:///{path}")
    with engine.begin() as connection:
        about = config()
        about.attributes["connection"] = connection
        command.upgrade(about, layout)
    engine.dispose()
    raw = sqlite3.connect(path)
    with raw:
        raw.execute("INSERT INTO vehicles VALUES (1, 'Van', '')")
        raw.execute("INSERT INTO engine_versions VALUES (1, 'E', 1, 'h', '{}', 'then')")
        raw.execute(
            "INSERT INTO jobs (id, vehicle_id, engine_version_id, complaint, codes, created_at) "
            "VALUES (1, 1, 1, '', '', 'then')"
        )
        for number in range(1, captures + 1):
            _capture(raw, number, layout, json.dumps(DESCRIPTION) if description is None else description)
    raw.close()
    return path


def _capture(raw: sqlite3.Connection, number: int, layout: str, description: str) -> None:
    later = layout > "0001"
    data = DATA + f"{number},0.3\n".encode()
    raw.execute(
        "INSERT INTO captures (id, job_id, name, sha256, description, start_s, interval_s, sample_count, created_at) "
        "VALUES (?, 1, 'x.capture.json', 's', ?, 0.0, 0.001, 3000, 'then')",
        (number, description),
    )
    if later:
        hashed = hashlib.sha256(data).hexdigest()
        raw.execute(
            "UPDATE captures SET data_sha256 = ?, confirmed_at = 'then', description = ? WHERE id = ?",
            (hashed, description.replace("1000.0", "1.0").replace('"V"', '"A"'), number),
        )
    if layout > "0004":
        raw.execute("UPDATE captures SET arrived_at = 'then' WHERE id = ?", (number,))
    raw.execute(
        "INSERT INTO capture_files (capture_id, role, name, data) VALUES (?, 'data', 'x.csv', ?)",
        (number, b"".join(pack_file(data).pieces())),
    )
    chunk = next(encode_chunks(AMPERES))
    blocks = np.array_split(np.concatenate([AMPERES, np.full(72, np.nan, dtype=np.float32)]), 12)
    old = np.array([[np.nanmin(b), np.nanmax(b)] for b in blocks], dtype=np.float32).tobytes()
    raw.execute(
        'INSERT INTO sample_chunks (capture_id, "column", first_sample, sample_count, encoding, scale, levels, data) '
        "VALUES (?, 'c1', 0, 3000, ?, ?, ?, ?)",
        (number, chunk.encoding, chunk.scale, chunk.levels if later else old, chunk.data),
    )
    if later:
        raw.execute("UPDATE sample_chunks SET coarse_levels = ? WHERE capture_id = ?", (chunk.coarse_levels, number))
