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
        (GOOD.replace(b"c2", b"c1"), "x.csv, line 1: two columns are called 'c1'"),
        (GOOD.replace(b"0.2,", b"0.9,"), "not evenly spaced"),
        (GOOD.replace(b"0.1,", b","), "line 3: the time is not a number"),
        (b"time_s,c1\n0.0,1\n", "fewer than two samples"),
        (b"time_s,c1\n0.2,1\n0.1,2\n0.0,3\n", "the time does not grow"),
        (b"\n\n", "is empty"),
        (GOOD.replace(b"2.5", b"\xff\xfe"), "line 3"),
    ],
)
def test_errors_name_file_line_and_reason(data: bytes, words: str) -> None:
    assert words in refusal(data)


def test_a_cut_off_file_is_kept_as_far_as_it_goes() -> None:
    found = read(GOOD[:-3])
    assert found.cut_off is not None
    assert next(iter(found.columns.values())).size == GOOD[:-3].count(b"\n") - 1


def test_the_interval_is_that_of_first_and_last() -> None:
    stamps = b"time_s,c1\n0.00,1\n0.33,1\n0.67,1\n1.00,1\n"
    assert read(stamps).interval_s == pytest.approx(1 / 3)


N = 40
STAMPS = [0.25 + 0.001 * i for i in range(N)]
CRANK = [round(2.5 + 2.4 * (-1) ** (i // 5), 3) for i in range(N)]
CAM = [round(0.1 * i - 1.7, 3) for i in range(N)]


def rows(delimiter: str = ",", decimal: str = ".", time: float = 1.0, head: str = "", tail: str = "") -> str:
    """The same recording in any notation; ``time`` is how many of the time's units a second has."""
    lines = [
        delimiter.join(f"{v:.9g}".replace(".", decimal) for v in (t * time, a, b))
        for t, a, b in zip(STAMPS, CRANK, CAM, strict=True)
    ]
    return head + "\n".join(lines) + "\n" + tail


def columns_only(delimiter: str = ",") -> str:
    return "\n".join(f"{a}{delimiter}{b}" for a, b in zip(CRANK, CAM, strict=True)) + "\n"


def split_time() -> str:
    micro = [round(t * 1e6) for t in STAMPS]
    lines = [f"{m // 1_000_000};{m % 1_000_000};{a};{b}" for m, a, b in zip(micro, CRANK, CAM, strict=True)]
    return "sec;usec;A;B\n" + "\n".join(lines)


def clock(date: str = "") -> str:
    lines = [f"{date}{midnight(t - 0.25)};{a};{b}" for t, a, b in zip(STAMPS, CRANK, CAM, strict=True)]
    return "Clock;A;B\n" + "\n".join(lines)


def midnight(since_s: float) -> str:
    """A time of day that begins 10 ms before midnight."""
    left = (86_399.99 + since_s) % 86_400.0
    return f"{int(left // 3600):02d}:{int(left % 3600 // 60):02d}:{left % 60:06.3f}"


PREAMBLE = "Bench recorder 12\nOperator: island motor pool\nChannels: 2\nNote: 3.5; cold, wet\n\n"
EACH_TIME = "\n".join(f"{t:.6f},{a},{t:.6f},{b}" for t, a, b in zip(STAMPS, CRANK, CAM, strict=True))
HALVES = (rows().split("\n")[:20], rows().split("\n")[20:-1])

NASTY: dict[str, str | bytes] = {
    "semicolons": rows(";", head="time;A;B\n"),
    "decimal commas": rows(";", ",", head="Zeit;A;B\n"),
    "tabs and decimal commas": rows("\t", ",", head="Zeit\tA\tB\n"),
    "quoted decimal commas": "time,A,B\n"
    + "\n".join(",".join(f'"{v:.6f}"'.replace(".", ",") for v in row) for row in zip(STAMPS, CRANK, CAM, strict=True)),
    "bars": rows("|", head="t|A|B\n"),
    "blanks": rows("   ", head="time  A  B\n"),
    "aligned blanks": "\n".join(
        f"  {t:10.5f} {a:9.3f}   {b:9.3f}  " for t, a, b in zip(STAMPS, CRANK, CAM, strict=True)
    ),
    "comma and blank": rows(", ", head="time, A, B\n"),
    "unit row": rows(head="Time,A,B\n(s),(V),(V)\n"),
    "unit row in milliseconds and an empty line": rows(time=1e3, head="Time,A,B\n(ms),(V),(mV)\n\n"),
    "units in brackets": rows(head="Time [s],A [V],B [V]\n"),
    "microseconds in the name": rows(time=1e6, head="time_us,A,B\n"),
    "comments": rows(head="# recorded on the bench\n# 2 channels\ntime,A,B\n"),
    "header in a comment": rows(head="% a title\n% time, A, B\n"),
    "comment between rows": "time,A,B\n" + "\n".join([*HALVES[0], "# paused here", *HALVES[1]]),
    "long preamble": rows(";", ",", head=PREAMBLE + "Zeit (s);A (V);B (V)\n"),
    "very long preamble": rows(head="remark, with, commas\n" * 900 + "time,A,B\n"),
    "numbers in the preamble": rows(head="Samples,40\nChannels,2\nRange,5,10\n\nTime,A,B\n"),
    "rate in the preamble": "Sample rate: 1 kHz\nStart time: 0.25 s\nA,B\n" + columns_only(),
    "interval in the preamble": "Sample interval (us);1000\nStart time (s);0.25\nA;B\n" + columns_only(";"),
    "rate and a counter": "fs = 1000 Hz\nt0 = 0.25\nNo,A,B\n"
    + "\n".join(f"{i},{a},{b}" for i, (a, b) in enumerate(zip(CRANK, CAM, strict=True))),
    "seconds and microseconds": split_time(),
    "time of day over midnight": clock(),
    "date and time of day": clock("2026-03-01 "),
    "a time for each channel": "time,A,time,B\n" + EACH_TIME,
    "two blocks, one after the other": "time,A,B\n" + "\n".join([*HALVES[0], "", "time,A,B", *HALVES[1]]) + "\n",
    "two blocks, side by side": "time,A\n"
    + "\n".join(f"{t},{a}" for t, a in zip(STAMPS, CRANK, strict=True))
    + "\n\ntime,B\n"
    + "\n".join(f"{t},{b}" for t, b in zip(STAMPS, CAM, strict=True)),
    "footer": rows(head="time,A,B\n", tail="\nEnd of recording\n"),
    "no header": rows(),
    "no header, decimal commas": rows(";", ","),
    "comma at the end of each line": rows(head="time,A,B,\n").replace("\n", ",\n").replace("B,,", "B,"),
    "old line ends of one kind": rows(head="time,A,B\n").replace("\n", "\r\n"),
    "sixteen bit text": rows(";", ",", head="Zeit;A;B\n").encode("utf-16"),
    "western one-byte text": ("Messung für Öl, 20 °C\n" + rows(";", head="time;A;B\n")).encode("cp1252"),
    "plus signs and exponents": "time,A,B\n"
    + "\n".join(f"{t:+.6e},{a:+.4E},{b:+.4e}" for t, a, b in zip(STAMPS, CRANK, CAM, strict=True)),
    "coarse stamps": "time,A,B\n"
    + "\n".join(f"{int(t * 250) / 250:.3f},{a},{b}" for t, a, b in zip(STAMPS, CRANK, CAM, strict=True)),
}


@pytest.mark.parametrize("name", NASTY)
def test_nasty_dialects(name: str) -> None:
    made = NASTY[name]
    table = read(made if isinstance(made, bytes) else made.encode())
    first, second = list(table.columns.values())[:2]
    assert len(table.columns) == 2
    assert first.tolist() == pytest.approx(CRANK, abs=1e-5)
    assert second.tolist() == pytest.approx(CAM, abs=1e-5)
    assert table.interval_s == pytest.approx(0.001, rel=0.03 if name == "coarse stamps" else 1e-6)
    if "midnight" not in name and "time of day" not in name:
        assert table.start_s == pytest.approx(0.25, abs=2.1e-3)
    if "no header" not in name and "aligned" not in name:
        assert [column.split(" ")[0] for column in table.columns] == ["A", "B"]


def test_there_are_thirty_of_them() -> None:
    assert len(NASTY) >= 30


@pytest.mark.parametrize("mark", ["", "NaN", "---", "n/a", "∞", "-∞", "Inf", "NULL", "OVERFLOW"])
def test_marks_for_a_missing_sample(mark: str) -> None:
    samples = read(
        rows(head="time,A,B\n").replace(f"{STAMPS[7]:.9g},{CRANK[7]:.9g}", f"{STAMPS[7]:.9g},{mark}").encode()
    ).columns["A"]
    assert np.isnan(samples).nonzero()[0].tolist() == [7]


def test_units_and_how_it_was_read_are_told() -> None:
    table = read(NASTY["long preamble"].encode())
    assert table.units == {"A": "V", "B": "V"}
    assert any("semicolons" in note for note in table.notes)
    assert any("'Zeit'" in note for note in table.notes)


def test_without_any_time_the_interval_stays_open() -> None:
    table = read(b"A,B\n" + columns_only().encode())
    assert table.interval_s is None


def test_channels_taken_at_different_moments_are_refused() -> None:
    shifted = "time,A,time,B\n" + "\n".join(f"{t},1,{t + 0.004},2" for t in STAMPS)
    assert "not taken at the same moments" in refusal(shifted.encode())


def test_blocks_of_different_length_are_refused() -> None:
    assert "blocks of different length" in refusal(b"time,A\n0,1\n1,2\n2,3\n\ntime,B\n0,1\n1,2\n2,3\n3,4\n")


LONG = 60_000
BAD_AT = 30_122


def long_rows(bad: str, instead: bool = True) -> bytes:
    """A long recording with one bad line, instead of a row or put between two."""
    lines = [f"{1e-5 * i:.6f},{i % 7},{i % 5}" for i in range(LONG)]
    lines[BAD_AT : BAD_AT + (1 if instead else 0)] = [bad]
    return ("time_s,c1,c2\n" + "\n".join(lines) + "\n").encode("latin-1")


@pytest.mark.parametrize(
    ("bad", "lost"),
    [
        (f"{1e-5 * BAD_AT:.6f},x1,2", ["c1"]),
        (f"{1e-5 * BAD_AT:.6f},1", ["c1", "c2"]),
        (f"{1e-5 * BAD_AT:.6f},1,2,3", ["c1", "c2"]),
        ("0.30:122,1,2", []),
        ("scope busy", ["c1", "c2"]),
        ("", ["c1", "c2"]),
        ("\xff\xfe\x80,1,2", []),
    ],
    ids=["no number", "too few", "too many", "bad time", "words", "empty", "no text"],
)
def test_one_bad_line_of_sixty_thousand_is_kept_as_missing(bad: str, lost: list[str]) -> None:
    table = read(long_rows(bad))
    assert (table.start_s, table.interval_s) == (0.0, pytest.approx(1e-5, rel=1e-9))
    for name, every in (("c1", 7), ("c2", 5)):
        expected = np.arange(LONG, dtype=float) % every
        assert np.isnan(table.columns[name]).nonzero()[0].tolist() == ([BAD_AT] if name in lost else [])
        seen = np.isfinite(table.columns[name])
        assert table.columns[name][seen].tolist() == expected[seen].tolist()
    assert any(f"Line {BAD_AT + 2} " in note for note in table.notes)


def test_a_line_put_between_two_rows_takes_none_away() -> None:
    table = read(long_rows("1,2", instead=False))
    assert table.columns["c1"].tolist() == (np.arange(LONG) % 7).tolist()
    assert any(f"Line {BAD_AT + 2} " in note for note in table.notes)


def test_more_than_one_bad_line_in_a_thousand_is_no_recording() -> None:
    data = long_rows(f"{1e-5 * BAD_AT:.6f},x1,2").replace(b",3,4\n", b",?,4\n")
    assert "is not a number" in refusal(data)


def test_a_preamble_of_a_mebibyte() -> None:
    table = read((f"remark, with, commas {'x' * 100}\n" * 9000 + "time_s,A,B\n" + rows()).encode())
    assert table.columns["A"].tolist() == pytest.approx(CRANK, abs=1e-5)
