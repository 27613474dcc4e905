"""The result as text: what a technician reads in a terminal."""

from __future__ import annotations

import pytest

from phasko.bench import HookUp, Shift
from phasko.code_hash import software_label
from phasko.report import plain_text
from tests.builders import COARSE_FOUR, FOUR, analysed, bench_recording

PITCH = 360.0 / 21


def text_of(shift: Shift, **more: object) -> str:
    return plain_text(analysed(bench_recording(FOUR, 97, shift, **more)))  # type: ignore[arg-type]


def test_every_cam_has_its_line() -> None:
    lines = text_of(Shift({"B1I": PITCH, "B1E": PITCH})).splitlines()
    cams = [line for line in lines if line.startswith("  B1")]
    assert len(cams) == 2
    assert all("17.1° late ± 0.7°, 1.00 pitches" in line for line in cams)
    assert all(line.endswith("; late") for line in cams)


def test_reasons_stand_under_their_explanation() -> None:
    text = text_of(Shift({"B1I": PITCH, "B1E": PITCH}))
    call = text[text.index("The call") :]
    assert (
        call.index("Chain jumped one pitch late")
        < call.index("1.00 pitches, a whole number")
        < call.index("Crank wheel 17° early")
    )
    assert "against: " in call


def test_a_healthy_engine_is_told_in_few_words() -> None:
    text = text_of(Shift())
    assert "Both cam signals read in time" in text
    assert "Covers stay on. " in text
    assert "Next test" not in text
    assert "Stop cranking" not in text


def test_problems_are_marked() -> None:
    text = text_of(Shift(), hookup=HookUp(sample_rate_hz=500.0))
    assert "  ! Too slow for its teeth" in text
    assert "Undecided." in text


def test_an_undecided_call_says_between_what() -> None:
    analysis = analysed(bench_recording(FOUR, 97, Shift({"B1E": 12.0})))
    between = {"undecided": True, "undecided_because": "Nothing measured separates “this” from “that”."}
    undecided = analysis.model_copy(update={"verdict": analysis.verdict.model_copy(update=between)})
    assert "Undecided. Nothing measured separates “this” from “that”." in plain_text(undecided)


def test_captures_stand_one_after_the_other() -> None:
    both = plain_text(analysed(bench_recording(FOUR, 97), bench_recording(FOUR, 98)))
    assert both.count("bench.capture.json") == 2
    assert both.count("The call") == 1


def test_another_wheel_is_named() -> None:
    text = plain_text(analysed(bench_recording(COARSE_FOUR, 99), engine=FOUR))
    assert "it looks like 36-1" in text
    assert "Wrong profile or reference" in text


@pytest.mark.parametrize("word", ["None", "nan", "credible", "posterior"])
def test_no_word_of_the_machine_shows(word: str) -> None:
    assert word not in text_of(Shift({"B1I": 6.0}))


def test_it_ends_with_the_version_and_the_code_that_made_it() -> None:
    analysis = analysed(bench_recording())
    last = plain_text(analysis).splitlines()[-1]
    assert last == f"{software_label()}, numbers {analysis.provenance.numbers}"
