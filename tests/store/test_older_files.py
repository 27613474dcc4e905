"""A workshop's file of an older version opens, with everything that was in it."""

import json
import sqlite3
from pathlib import Path

import numpy as np
import pytest
from alembic import command
from alembic.config import Config
from sqlalchemy import create_engine

from phasko.core.documents.capture import ChannelDescription
from phasko.store import Database, captures
from phasko.store.chunks import encode_chunks, pack_file

AMPERES = (np.sin(np.arange(3000) / 40.0) * 200.0).astype(np.float32)
DESCRIPTION = {
    "schema": "phasko.capture/1",
    "data": "x.csv",
    "channels": [{"column": "c1", "role": "starter_current", "unit": "V", "scale": 1000.0, "scaled_unit": "A"}],
}


@pytest.fixture
def older(tmp_path: Path) -> Path:
    """The first layout with one capture, whose samples were stored scaled and with levels of 256 samples."""
    config = Config()
    config.set_main_option("script_location", "phasko.store:migrations")
    engine = create_engine(f"sqlite:///{tmp_path / 'phasko.sqlite3'}")
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "0001")
    engine.dispose()
    chunk = next(encode_chunks(AMPERES))
    blocks = np.array_split(np.concatenate([AMPERES, np.full(72, np.nan, dtype=np.float32)]), 12)
    levels = np.array([[np.nanmin(b), np.nanmax(b)] for b in blocks], dtype=np.float32)
    with sqlite3.connect(tmp_path / "phasko.sqlite3") as raw:
        raw.execute("INSERT INTO vehicles VALUES (1, 'Van', '')")
        raw.execute("INSERT INTO engine_versions VALUES (1, 'E', 1, 'h', '{}', 'then')")
        raw.execute(
            "INSERT INTO jobs (id, vehicle_id, engine_version_id, complaint, codes, created_at) "
            "VALUES (1, 1, 1, '', '', 'then')"
        )
        raw.execute(
            "INSERT INTO captures (id, job_id, name, sha256, description, start_s, interval_s, sample_count, "
            "created_at) VALUES (1, 1, 'x.capture.json', 's', ?, 0.0, 0.001, 3000, 'then')",
            (json.dumps(DESCRIPTION),),
        )
        raw.execute(
            "INSERT INTO capture_files VALUES (1, 1, 'data', 'x.csv', ?)",
            (b"".join(pack_file(b"time_s,c1\n0,0.1\n1,0.2\n").pieces()),),
        )
        raw.execute(
            'INSERT INTO sample_chunks (capture_id, "column", first_sample, sample_count, encoding, scale, levels, '
            "data) VALUES (1, 'c1', 0, 3000, ?, ?, ?, ?)",
            (chunk.encoding, chunk.scale, levels.tobytes(), chunk.data),
        )
    raw.close()
    return tmp_path


def test_samples_mean_what_they_meant(older: Path) -> None:
    database = Database(older)
    with database.transaction() as session:
        capture = captures.get_capture(session, 1)
        recording = captures.load_recording(session, capture)
        described = recording.channels[0].description
        assert (capture.confirmed_at, len(capture.data_sha256)) == ("then", 64)
        assert captures.original_files(session, 1)["data"][1].startswith(b"time_s,c1")
    np.testing.assert_array_equal(recording.channels[0].samples, AMPERES)
    assert (described.scale, recording.channels[0].unit) == (1.0, "A")
    database.close()


@pytest.mark.parametrize("points", [5, 20, 2000])
def test_its_pictures_are_whole(older: Path, points: int) -> None:
    database = Database(older)
    with database.transaction() as session:
        channel = ChannelDescription(column="c1", role="starter_current")
        found = captures.load_envelope(session, captures.get_capture(session, 1), channel, 0.0, 3.0, points)
    assert np.nanmin(found.levels) == AMPERES.min()
    assert np.nanmax(found.levels) == AMPERES.max()
    database.close()
