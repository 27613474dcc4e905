"""Measurements in words."""

import pytest

from phasko.bench import Shift
from phasko.core.words import amount_words, angle_words, count_words, pitch_words, plus_minus
from tests.builders import FOUR, SIX, analysed, bench_recording, pool_engine


def headline(shift: Shift, engine: str = FOUR) -> str:
    finding = analysed(bench_recording(engine, 60, shift), engine=engine).captures[0].finding
    assert finding is not None
    assert finding.emphasis is None or finding.emphasis in finding.text
    return finding.text


@pytest.mark.parametrize(
    ("offset", "u95", "words"),
    [(17.14, 0.7, "17.1° late"), (-3.0, 0.7, "3.0° early"), (0.02, 0.7, "0.0°"), (17.6, 4.0, "18° late")],
)
def test_offsets_carry_a_sign_word_and_sensible_digits(offset: float, u95: float, words: str) -> None:
    assert angle_words(offset, u95) == words


@pytest.mark.parametrize(("u95", "words"), [(0.7, "± 0.7°"), (0.04, "± 0.04°"), (3.4, "± 3°"), (0.0, "± 0.01°")])
def test_half_widths(u95: float, words: str) -> None:
    assert plus_minus(u95) == words


def test_counts() -> None:
    assert (count_words(2), count_words(11), pitch_words(-1.02, "belt")) == ("two", "11", "one belt pitch")


def test_both_cams_alike_are_told_as_one() -> None:
    assert headline(Shift({"B1I": 17.14, "B1E": 17.14})) == "Both cam signals read 17.1° late, one chain pitch"


def test_cams_apart_are_told_apart() -> None:
    assert headline(Shift({"B1I": 6.1, "B1E": 2.9})) == "Intake cam reads 6.1° late, exhaust cam 2.9° late"


def test_in_time() -> None:
    assert headline(Shift()) == "Both cam signals read in time"
    assert headline(Shift(), SIX) == "All four cam signals read in time"


def test_one_bank_of_two() -> None:
    drive = pool_engine(SIX).drive
    assert drive is not None
    pitch = 360.0 / (drive.crank_sprocket_teeth or 21)
    said = headline(Shift({"B2I": pitch, "B2E": pitch}), SIX)
    assert said.startswith("Both bank 2 cam signals read")
    assert said.endswith("one chain pitch; the other two in time")


def test_the_detail_names_uncertainty_reference_and_what_is_assumed() -> None:
    finding = analysed(bench_recording(FOUR, 60)).captures[0].finding
    assert finding is not None
    assert finding.detail.startswith("± 0.7° against the profile, steady over ")
    assert finding.detail.endswith("TDC assumed from the wheel")


def test_an_amount_that_is_nothing_is_left_out_of_a_title() -> None:
    assert amount_words(-0.3) == ""
    assert amount_words(-17.2) == "17° early"
