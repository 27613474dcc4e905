"""The tables of a fleet: what is whole counts, what was begun does not, and no unit is there twice."""

from pathlib import Path
from typing import Any

import pyarrow.parquet as pq
import pytest

from phasko.core.errors import RefusedError
from phasko.fleet.rows import SCHEMAS, VERSION, Rows
from phasko.fleet.tables import FleetTables
from phasko.fleet.units import Bad


def rows(unit: str) -> Rows:
    common = {"unit": unit, "capture": f"{unit}.capture.json", "engine": "A", "engine_sha256": "0"}
    return Rows(
        unit,
        {
            "captures": [common],
            "cams": [common | {"cam": "I", "offset_deg": 1.5}],
            "cylinders": [common | {"cylinder": 1}, common | {"cylinder": 2}],
        },
    )


def units_in(out: Path, table: str) -> list[Any]:
    return sorted(pq.read_table(out / f"{table}.parquet").column("unit").to_pylist())


def test_batches_are_joined_into_one_file_a_table(tmp_path: Path) -> None:
    tables = FleetTables(tmp_path / "out")
    tables.keep([rows("a"), rows("b")], [("c", Bad("c.capture.json", "is empty"))])
    tables.keep([rows("d")], [])
    assert tables.done() == {"a": 1, "b": 1, "c": 0, "d": 1}
    counts = tables.join(["a", "b", "c", "d"], [Bad("e", "no engine")])
    assert counts == {"captures": 3, "cams": 3, "cylinders": 6, "bad": 2}
    assert units_in(tmp_path / "out", "captures") == ["a", "b", "d"]
    assert pq.read_table(tmp_path / "out" / "bad.parquet").column("reason").to_pylist() == ["is empty", "no engine"]


def test_what_was_begun_and_not_finished_does_not_count(tmp_path: Path) -> None:
    out = tmp_path / "out"
    FleetTables(out).keep([rows("a")], [])
    begun = out / "batches" / "b.begun"
    begun.mkdir()
    (begun / "captures.parquet").write_bytes(b"half")
    again = FleetTables(out)
    assert again.done() == {"a": 1}
    with again.alone():
        assert not begun.exists()


def test_whoever_only_looks_or_comes_second_leaves_what_is_being_written(tmp_path: Path) -> None:
    out = tmp_path / "out"
    tables = FleetTables(out)
    with tables.alone():
        begun = out / "batches" / "b.begun"
        begun.mkdir()
        second = FleetTables(out)
        assert second.done() == {}
        with (
            pytest.raises(RefusedError, match="Another command is writing into this folder") as refused,
            second.alone(),
        ):
            pass
        assert refused.value.kept
        assert refused.value.remedy
        assert begun.is_dir()
    with second.alone():
        assert not begun.exists()


def test_what_changed_since_is_left_out(tmp_path: Path) -> None:
    tables = FleetTables(tmp_path / "out")
    tables.keep([rows("old"), rows("same")], [])
    tables.keep([rows("new")], [])
    tables.join(["same", "new"], [])
    for table in SCHEMAS:
        assert set(units_in(tmp_path / "out", table)) == {"same", "new"}


def test_a_folder_with_something_else_in_it_is_left_alone(tmp_path: Path) -> None:
    (tmp_path / "letter.txt").write_text("mine", encoding="utf-8")
    with pytest.raises(RefusedError, match="letter"):
        FleetTables(tmp_path)
    assert [path.name for path in tmp_path.iterdir() if path.name != "batches"] == ["letter.txt"]


def test_every_column_says_what_it_is_and_a_file_says_its_version(tmp_path: Path) -> None:
    for schema in SCHEMAS.values():
        assert all(field.metadata and field.metadata[b"about"] for field in schema)
    tables = FleetTables(tmp_path / "out")
    tables.keep([rows("a")], [])
    tables.join(["a"], [])
    batch = next((tmp_path / "out" / "batches").iterdir())
    assert pq.read_schema(batch / "cams.parquet").metadata[b"schema"] == VERSION.encode()
