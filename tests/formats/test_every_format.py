"""One conformance test over all registered formats, and what the registry says of others."""

import numpy as np
import pytest

from phasko.core.errors import DataError
from phasko.formats.registry import FORMATS, DataFormat, format_of, supported_formats
from phasko.formats.table import Table

TABLE = Table(
    0.25,
    0.01,
    {
        "c1": np.linspace(-2.0, 7.0, 300, dtype=np.float32),
        "c2": np.where(np.arange(300) % 50 == 7, np.nan, 1.25).astype(np.float32),
    },
)


@pytest.mark.parametrize("form", FORMATS, ids=lambda f: f.name)
def test_what_is_written_is_read_again(form: DataFormat) -> None:
    data = form.write(TABLE)
    assert form.sniff(data[:4096])
    again = form.read(data, "again")
    assert again.start_s == pytest.approx(0.25)
    assert again.interval_s == pytest.approx(0.01)
    for name, samples in TABLE.columns.items():
        np.testing.assert_array_equal(again.columns[name], samples)


@pytest.mark.parametrize("form", FORMATS, ids=lambda f: f.name)
@pytest.mark.parametrize("kept", [0.0, 0.001, 0.9])
def test_a_cut_file_is_an_error_or_a_shorter_recording(form: DataFormat, kept: float) -> None:
    data = form.write(TABLE)
    try:
        again = form.read(data[: int(kept * len(data))], "cut")
    except DataError as error:
        assert error.place.startswith("cut")
    else:
        assert 1 < again.columns["c1"].size < 300


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


def test_supported_formats_are_listed_from_the_table() -> None:
    assert all(form.name in supported_formats() for form in FORMATS)
