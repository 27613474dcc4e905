"""CSV: dialects, and errors that name file, line and reason."""

import numpy as np
import pytest

from phasko.core.errors import DataError
from phasko.formats.csv import CsvFormat

GOOD = b"time_s,c1,c2\n0.0,1.5,2\n0.1,2.5,3\n0.2,3.5,4\n"


def read(data: bytes):
    return CsvFormat().read(data, "x.csv")


def refusal(data: bytes) -> str:
    with pytest.raises(DataError) as caught:
        read(data)
    return caught.value.one_line()


def test_the_contracts_own_dialect() -> None:
    table = read(GOOD)
    assert (table.start_s, table.interval_s) == (0.0, pytest.approx(0.1))
    assert table.columns["c1"].tolist() == [1.5, 2.5, 3.5]


@pytest.mark.parametrize(
    "data",
    [
        GOOD.replace(b",", b";"),
        GOOD.replace(b",", b"\t"),
        GOOD.replace(b",", b";").replace(b".", b","),
        GOOD.replace(b"\n", b"\r\n"),
        b"\xef\xbb\xbf" + GOOD,
        b'"time_s","c1","c2"\n' + GOOD.split(b"\n", 1)[1],
        GOOD.rstrip(b"\n"),
    ],
    ids=["semicolon", "tab", "decimal comma", "windows lines", "byte order mark", "quoted", "no last newline"],
)
def test_other_dialects_are_read_as_well(data: bytes) -> None:
    table = read(data)
    assert table.interval_s == pytest.approx(0.1)
    assert table.columns["c2"].tolist() == [2.0, 3.0, 4.0]


@pytest.mark.parametrize("missing", [b"", b"NaN", b"nan"])
def test_a_missing_sample_stays_missing(missing: bytes) -> None:
    samples = read(GOOD.replace(b"2.5", missing)).columns["c1"]
    assert np.isnan(samples).tolist() == [False, True, False]


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (GOOD.replace(b"2.5", b"two"), "x.csv, line 3: 'two' in column c1 is not a number"),
        (GOOD.replace(b"0.1,2.5,3", b"0.1,2.5"), "x.csv, line 3: has 2 fields, the header has 3"),
        (GOOD[:-4] + b"\n", "x.csv, line 4: has 2 fields"),
        (GOOD.replace(b"time_s", b"zeit"), "x.csv, line 1: the first column is called 'zeit', not time_s"),
        (GOOD.replace(b"c2", b"c1"), "x.csv, line 1: two columns are called 'c1'"),
        (GOOD.replace(b"0.2,", b"0.9,"), "not evenly spaced"),
        (GOOD.replace(b"0.1,", b","), "line 3: time_s is not a number"),
        (b"time_s,c1\n0.0,1\n", "fewer than two samples"),
        (b"time_s,c1\n0.2,1\n0.1,2\n0.0,3\n", "time_s does not grow"),
        (b"\n\n", "is empty"),
        (GOOD.replace(b"2.5", b"\xff\xfe"), "line 3"),
    ],
)
def test_errors_name_file_line_and_reason(data: bytes, words: str) -> None:
    assert words in refusal(data)


def test_a_cut_off_file_is_asked_about() -> None:
    assert "Was the file cut off?" in refusal(GOOD[:-3])


def test_the_interval_is_that_of_first_and_last() -> None:
    stamps = b"time_s,c1\n0.00,1\n0.33,1\n0.67,1\n1.00,1\n"
    assert read(stamps).interval_s == pytest.approx(1 / 3)
