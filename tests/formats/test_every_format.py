"""One conformance test over all registered formats, and what the registry says of others."""

import io
import json
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
import scipy.io
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from phasko.core.documents import CaptureDescription, parse_document
from phasko.core.errors import DataError
from phasko.formats.apart import read_apart
from phasko.formats.registry import FORMATS, WRITTEN, WritableFormat, format_of, formats_page, supported_formats
from phasko.formats.table import FileBytes, Table
from tests.levels import examples

DESCRIPTION = json.dumps(
    {
        "schema": "phasko.capture/1",
        "data": "x",
        "condition": "cranking",
        "phasers": "unplugged",
        "marks": [{"t_s": 0.5, "text": "Stottern, 3° spät"}],
        "channels": [
            {"column": "crank sensor", "role": "crank", "unit": "V"},
            {"column": "c2", "role": "starter_current", "unit": "V", "scale": 1000.0, "scaled_unit": "A"},
        ],
    },
    ensure_ascii=False,
)
TABLE = Table(
    0.25,
    0.013,
    {
        "crank sensor": np.linspace(-2.0, 7.0, 300, dtype=np.float32),
        "c2": np.where(np.arange(300) % 50 == 7, np.nan, 1.25).astype(np.float32),
    },
    {"crank sensor": "V", "c2": "A"},
    DESCRIPTION,
)


APART = ("MDF4", "MAT", "HDF5", "Parquet", "WAV")
"""Formats whose libraries may crash, so that a process of their own reads them."""


def as_mat(table: Table) -> bytes:
    """A level 5 file as other programs write it."""
    sink = io.BytesIO()
    times = table.start_s + table.interval_s * np.arange(300)
    scipy.io.savemat(sink, {"t": times, "crank": table.columns["crank sensor"], "c2": table.columns["c2"]})
    return sink.getvalue()


MADE: dict[str, Callable[[], bytes]] = {form.name: (lambda form=form: form.write(TABLE)) for form in WRITTEN}
MADE["MAT"] = lambda: as_mat(TABLE)


def test_every_format_has_its_example() -> None:
    assert set(MADE) == {form.name for form in FORMATS} >= {"CSV", "WAV", "HDF5", "MDF4", "MAT", "Parquet"}


@pytest.mark.parametrize("form", WRITTEN, ids=lambda f: f.name)
def test_what_is_written_is_read_again(form: WritableFormat) -> None:
    """Samples to the bit, the even time base, and everything that the description says."""
    again = form.read(form.write(TABLE), "again")
    assert again.start_s == pytest.approx(0.25, abs=1e-12)
    assert again.interval_s == pytest.approx(0.013, rel=1e-12)
    assert list(again.columns) == list(TABLE.columns)
    for name, samples in TABLE.columns.items():
        assert again.columns[name].dtype == np.float32
        np.testing.assert_array_equal(again.columns[name], samples)
    assert again.description is not None
    assert json.loads(again.description) == json.loads(DESCRIPTION)
    parse_document(again.description.encode(), CaptureDescription, "again")


@pytest.mark.parametrize("form", [form for form in WRITTEN if form.name != "CSV"], ids=lambda f: f.name)
def test_units_are_kept(form: WritableFormat) -> None:
    """Text keeps them in the description only: its header line is the contract's."""
    assert form.read(form.write(TABLE), "again").units == TABLE.units


def test_mat_is_read() -> None:
    again = format_of(MADE["MAT"](), "x.mat").read(MADE["MAT"](), "x.mat")
    assert (again.start_s, again.interval_s) == (pytest.approx(0.25), pytest.approx(0.013))
    np.testing.assert_array_equal(again.columns["c2"], TABLE.columns["c2"])
    np.testing.assert_array_equal(again.columns["crank"], TABLE.columns["crank sensor"])


@pytest.mark.parametrize("name", MADE)
def test_content_tells_the_format_whatever_the_name(name: str) -> None:
    assert format_of(MADE[name](), "recording.bin").name == name


@pytest.mark.parametrize("name", MADE)
@pytest.mark.parametrize("kept", [0.0, 0.001, 0.3, 0.6, 0.9, 0.99])
def test_a_cut_file_is_an_error_or_a_shorter_recording(name: str, kept: float) -> None:
    data = MADE[name]()
    data = data[: int(kept * len(data))]
    try:
        again = format_of(data, "cut").read(data, "cut")
    except DataError as error:
        assert error.place.startswith("cut")
    else:
        assert 1 < next(iter(again.columns.values())).size <= 300


@pytest.mark.parametrize("name", [name for name in MADE if name not in APART])
@settings(max_examples=examples(20, 60), derandomize=True, suppress_health_check=[HealthCheck.too_slow])
@given(changes=st.lists(st.tuples(st.integers(0, 20_000), st.integers(0, 255)), min_size=1, max_size=8))
@pytest.mark.filterwarnings("ignore")
def test_a_lying_file_is_an_error_or_a_table(name: str, changes: list[tuple[int, int]]) -> None:
    """Bytes anywhere in the file changed: every reader raises its own error, or gives columns of one length."""
    read_or_refused(spoilt(name, changes))


@pytest.mark.parametrize("name", APART)
@settings(max_examples=examples(3, 12), derandomize=True)
@given(changes=st.lists(st.tuples(st.integers(0, 20_000), st.integers(0, 255)), min_size=1, max_size=8))
def test_a_lying_file_takes_down_its_own_process_at_most(name: str, changes: list[tuple[int, int]]) -> None:
    """The same in fewer tries, since each one starts a process."""
    read_or_refused(spoilt(name, changes))


def test_a_reader_that_crashes_is_an_error_in_words(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    (tmp_path / "crashing.py").write_text("import os, signal\nos.kill(os.getpid(), signal.SIGSEGV)\n")
    monkeypatch.setenv("PYTHONPATH", str(tmp_path))
    with pytest.raises(DataError, match="cannot be read as MAT: the reader ended"):
        read_apart("crashing", "MAT", b"MATLAB", "x.mat")


def spoilt(name: str, changes: list[tuple[int, int]]) -> bytes:
    data = bytearray(MADE[name]())
    for place, value in changes:
        data[place % len(data)] = value
    return bytes(data)


@settings(max_examples=examples(60, 200), derandomize=True)
@given(st.binary(max_size=400))
@pytest.mark.filterwarnings("ignore")
def test_noise_is_refused_or_read(data: bytes) -> None:
    read_or_refused(data)


@settings(max_examples=examples(60, 250), derandomize=True)
@given(st.text(alphabet='0123456789.,;:-+eE \t\n"#|abVst()°', max_size=300))
def test_text_of_any_kind_is_refused_or_read(text: str) -> None:
    read_or_refused(text.encode())


def read_or_refused(data: FileBytes) -> None:
    try:
        table = format_of(data, "x").read(data, "x")
    except DataError:
        return
    sizes = {samples.size for samples in table.columns.values()}
    assert len(sizes) == 1
    assert min(sizes) > 1
    assert table.interval_s is None or table.interval_s > 0


def test_a_file_that_claims_more_than_it_holds_is_refused() -> None:
    """An HDF5 dataset may be declared without its samples: memory must not be taken on trust."""
    import h5py

    sink = io.BytesIO()
    with h5py.File(sink, "w") as file:
        file.create_dataset("c1", shape=(40_000_000_000,), dtype="f4", chunks=(1 << 20,))
    with pytest.raises(DataError, match="claims 40000000000 samples"):
        format_of(sink.getvalue(), "x.h5").read(sink.getvalue(), "x.h5")


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "is empty"),
        (b"\x89PNG\r\n", "is a picture, not a recording"),
        (b"PK\x03\x04 sheet", "a zip archive or a spreadsheet"),
        (b"\x00\x01\x02\x03", "none of the formats"),
    ],
)
def test_what_is_no_recording_is_told(data: bytes, words: str) -> None:
    with pytest.raises(DataError, match=words):
        format_of(data, "x.bin")


def test_the_page_and_the_error_name_every_format() -> None:
    for form in FORMATS:
        assert form.name in supported_formats()
        assert f"## {form.name} (" in formats_page()
        assert form.mapping in formats_page()


ODD = {"=1+1|cmd": 1.0, "a,b": 2.0, 'quo"te': 3.0, "two\nlines": 4.0, "-x": 5.0, "@y": 6.0, "c1": 7.0, "": 8.0}


def odd_table() -> Table:
    """Columns whose names a foreign file may have, each with a value of its own."""
    columns = {name: np.full(20, value, dtype=np.float32) for name, value in ODD.items()}
    channels = [{"column": name or "none", "role": "other"} for name in ODD]
    return Table(0.0, 0.001, columns, {}, json.dumps({"schema": "phasko.capture/1", "data": "x", "channels": channels}))


@pytest.mark.parametrize("form", WRITTEN, ids=lambda f: f.name)
def test_odd_names_are_written_and_read_again(form: WritableFormat) -> None:
    again = form.read(form.write(odd_table()), "again")
    assert sorted(float(samples[3]) for samples in again.columns.values()) == sorted(ODD.values())


def test_no_cell_of_a_text_file_is_run_by_a_spreadsheet() -> None:
    text = WRITTEN[0].write(odd_table()).decode()
    assert WRITTEN[0].name == "CSV"
    said, names, *rows = text.splitlines()
    assert said.startswith("# phasko.capture {")
    assert not any(cell.startswith(("=", "+", "-", "@", "\t")) for cell in names.split(","))
    assert len({len(row.split(",")) for row in [names, *rows]}) == 1
    described = json.loads(said.removeprefix("# phasko.capture "))
    assert {one["column"] for one in described["channels"]} - {"none"} <= set(names.split(","))


def test_more_channels_than_wav_holds() -> None:
    columns = {f"c{k}": np.zeros(3, dtype=np.float32) for k in range(1999)}
    wav = next(form for form in WRITTEN if form.name == "WAV")
    with pytest.raises(DataError, match="1999 channels"):
        wav.write(Table(0.0, 0.001, columns))
