"""Arrow's columns against Arrow's own conversion, and without what that loads."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

import numpy as np
import pyarrow as pa
import pytest

from phasko.readers.arrow_columns import numbers_of
from tests.builders import bench_files


@pytest.mark.parametrize("kind", ["float", "double", "halffloat", "int8", "int16", "int32", "int64", "uint16"])
@pytest.mark.parametrize("missing", [(), (0,), (3, 8), tuple(range(11))])
def test_as_arrow_itself_converts_them(kind: str, missing: tuple[int, ...]) -> None:
    values = [None if i in missing else i - 2 if kind[0] != "u" else i for i in range(11)]
    made = pa.array([np.float16(v) if v is not None and kind == "halffloat" else v for v in values], kind)
    for column in (
        pa.chunked_array([made]),
        pa.chunked_array([made[:4], made[4:9], made[9:]]),
        pa.chunked_array([made[3:10]]),
    ):
        ours, theirs = numbers_of(column), column.to_numpy()
        assert np.array_equal(ours.astype(np.float64), theirs.astype(np.float64), equal_nan=True)


def test_an_empty_column_is_empty() -> None:
    assert numbers_of(pa.chunked_array([], pa.float32())).size == 0


def test_reading_a_capture_loads_no_pandas(tmp_path: Path) -> None:
    files = bench_files()
    (tmp_path / files.data_name).write_bytes(files.data[:])
    script = (
        "import sys; from pathlib import Path; from phasko.formats import format_of\n"
        "data = Path(sys.argv[1]).read_bytes(); table = format_of(data, 'x.csv').read(data, 'x.csv')\n"
        "assert table.columns; sys.exit('pandas' in sys.modules)"
    )
    told = subprocess.run([sys.executable, "-c", script, str(tmp_path / files.data_name)], check=False)
    assert told.returncode == 0
