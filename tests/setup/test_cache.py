"""The cache of simulated recordings and measurements: nothing stale is ever used, and nothing broken either."""

from __future__ import annotations

import dataclasses
import os
import shutil
import subprocess
import sys
import time
from pathlib import Path

import numpy as np
import pytest

from tests.builders import FOUR, bench_recording, pool_engine
from trials import cache, cam_offsets
from trials.cache import cached_on_disk, code_of, forget_old_entries, hash_of_arguments, hash_of_modules
from trials.measurements import measure_capture

ROOT = Path(__file__).parents[2]


@pytest.fixture(autouse=True)
def empty_cache(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    folder = tmp_path / "cache"
    monkeypatch.setenv("PHASKO_TEST_CACHE", str(folder))
    return folder


def entries(folder: Path) -> list[Path]:
    return sorted(folder.glob("??/*"))


def test_a_second_measurement_is_read_and_is_the_same(empty_cache: Path) -> None:
    recording, profile = bench_recording(seed=3), pool_engine(FOUR)
    first = measure_capture(recording, profile)
    kept = entries(empty_cache)
    again = measure_capture(recording, profile)
    assert entries(empty_cache) == kept
    assert again.recording is recording
    assert [r.offset.offset for r in again.cams if r.offset] == [r.offset.offset for r in first.cams if r.offset]


def test_other_arguments_are_another_entry(empty_cache: Path) -> None:
    recording, profile = bench_recording(seed=3), pool_engine(FOUR)
    measure_capture(recording, profile)
    before = len(entries(empty_cache))
    channel = recording.channels[0]
    samples = channel.samples.copy()
    samples[1000] += 0.001
    measure_capture(
        dataclasses.replace(
            recording, channels=(dataclasses.replace(channel, samples=samples), *recording.channels[1:])
        ),
        profile,
    )
    assert len(entries(empty_cache)) == before + 1


@pytest.mark.parametrize("damage", [b"", b"nothing", None])
def test_a_damaged_entry_is_made_anew(empty_cache: Path, damage: bytes | None) -> None:
    recording, profile = bench_recording(seed=3), pool_engine(FOUR)
    first = measure_capture(recording, profile)
    for path in entries(empty_cache):
        data = path.read_bytes()
        path.write_bytes(data[: len(data) // 2] if damage is None else damage)
    again = measure_capture(bench_recording(seed=3), profile)
    assert [r.offset.offset for r in again.cams if r.offset] == [r.offset.offset for r in first.cams if r.offset]


MEASURE = """
from tests.builders import FOUR, bench_recording, pool_engine
from trials.cache import cache_folder
from trials.measurements import measure_capture

measured = measure_capture(bench_recording(seed=3), pool_engine(FOUR))
print(measured.cams[0].offset.offset.value, len(list(cache_folder().glob("??/*"))))
"""


def measured_by(code: Path) -> tuple[float, int]:
    """The offset that a copy of the code measures, and how many entries the cache holds then."""
    there = os.environ | {"PYTHONPATH": f"{code / 'src'}:{code}"}
    told = subprocess.run(
        [sys.executable, "-c", MEASURE], cwd=code, env=there, capture_output=True, text=True, check=True
    )
    value, count = told.stdout.split()
    return float(value), int(count)


def test_changed_code_is_never_answered_from_the_cache(tmp_path: Path) -> None:
    code = tmp_path / "code"
    for part in ("src/phasko", "trials", "tests"):
        shutil.copytree(ROOT / part, code / part, ignore=shutil.ignore_patterns("static", "__pycache__"))
    shutil.copy(ROOT / "requirements-check.lock", code)
    first, made = measured_by(code)
    assert measured_by(code) == (first, made)
    path = code / "src" / "phasko" / "core" / "phase" / "offset.py"
    text = path.read_text(encoding="utf-8")
    stamp = path.stat()
    path.write_text(text.replace("Measurement(stats.mean, u95", "Measurement(stats.mean + 0.5, u95"), encoding="utf-8")
    # The time of a file says nothing: a checkout may set it to anything.
    os.utime(path, (stamp.st_atime, stamp.st_mtime))
    shutil.rmtree(path.parent / "__pycache__", ignore_errors=True)
    second, more = measured_by(code)
    assert second == pytest.approx(first + 0.5, abs=1e-9)
    # The recording depends on the bench alone and was found again.
    assert more == made + 1


def test_the_hash_covers_what_a_module_imports_and_nothing_else() -> None:
    graph = cache._graph()
    recordings, measurements = (
        {name, *graph.find_upstream_modules(name)} for name in ("trials.recordings", "trials.measurements")
    )
    assert "phasko.bench.physics.kernel" in recordings and "phasko.core.phase.offset" not in recordings
    assert "phasko.core.phase.offset" in measurements and "phasko.core.numbers.signals" in measurements
    assert "phasko.core.call.gate" not in measurements and "phasko.web.app" not in measurements


def test_a_data_file_beside_a_module_counts(tmp_path: Path) -> None:
    (tmp_path / "pool").mkdir()
    (tmp_path / "pool" / "__init__.py").write_text("x = 1\n")
    (tmp_path / "pool" / "four.json").write_text("{}")
    before = hash_of_modules(["pool"], tmp_path)
    cache._digest.cache_clear()
    (tmp_path / "pool" / "four.json").write_text('{"cylinders": 4}')
    assert hash_of_modules(["pool"], tmp_path) != before


def test_a_function_of_a_test_is_refused() -> None:
    """What a test module imports is not in the graph: its results would go stale."""

    @cached_on_disk
    def double(x: int) -> int:
        return 2 * x

    with pytest.raises(ValueError, match="move the function to trials"):
        double(3)


def test_a_caller_that_changes_its_copy_changes_nobody_elses() -> None:
    errors = cached_on_disk(cam_offsets.errors)
    row = cam_offsets.ROWS[1]
    errors(row, 1, 5)[0][:] = 0.0
    assert np.all(errors(row, 1, 5)[0] != 0.0)


def test_values_of_another_kind_or_place_have_another_hash() -> None:
    values = [1, 1.0, True, "1", b"1", None, (1, 2), [1, 2], (12,), ((1,), 2), {"a": 1}, {"b": 1}, {1}, np.float32(1)]
    values += [np.array([1.0, 2.0]), np.array([[1.0, 2.0]]), np.array([1, 2]), cam_offsets.ROWS[0], cam_offsets.ROWS[1]]
    assert len({hash_of_arguments(value) for value in values}) == len(values)
    assert hash_of_arguments({1, 2, 3}) == hash_of_arguments({3, 2, 1})
    with pytest.raises(TypeError, match="object cannot be part of a key"):
        hash_of_arguments(object())


def test_entries_unused_for_long_or_too_many_go(empty_cache: Path) -> None:
    (empty_cache / "aa").mkdir(parents=True)
    for days, name in enumerate(("today", "yesterday", "before", "long ago")):
        (empty_cache / "aa" / name).write_bytes(bytes(1000))
        when = time.time() - 86400.0 * days
        os.utime(empty_cache / "aa" / name, (when, when))
    forget_old_entries(empty_cache, largest_bytes=2500, oldest_s=86400.0 * 10)
    assert [path.name for path in entries(empty_cache)] == ["today", "yesterday"]
    forget_old_entries(empty_cache, oldest_s=3600.0)
    assert [path.name for path in entries(empty_cache)] == ["today"]


def test_the_code_of_the_bench_is_part_of_every_measurements_hash() -> None:
    assert code_of("trials.recordings") != code_of("trials.measurements")
