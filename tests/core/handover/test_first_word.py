"""The first word: one headline, five lines, and nothing that contradicts the call."""

from __future__ import annotations

import pytest

from phasko.core.handover import first_text, hand_over
from phasko.core.words import chance_words
from tests.core.handover.facts import facts_of, healthy, jumped, repaired, told


@pytest.mark.parametrize(
    ("probability", "words"),
    [(0.004, "under 1 in 100"), (0.5, "50 in 100"), (0.95, "95 in 100"), (0.996, "over 99 in 100")],
)
def test_chances_as_people_say_them(probability: float, words: str) -> None:
    assert chance_words(probability) == words


def test_a_jump_is_told_with_its_measurement_its_half_width_and_the_caution() -> None:
    document = hand_over(jumped())
    lines = {line.title: line.text for line in document.five}
    assert document.headline.startswith("Chain jumped one pitch late.")
    assert "17.1° late" in lines["Found"] and "±" in lines["Found"]
    assert "in 100" in lines["How sure"]
    assert "wrong profile" in lines["Not it"].lower()
    assert lines["Take care"].startswith("Stop cranking")
    assert document.stop == "Do not crank or start it."
    text = first_text("Harbour pick-up 7", document.headline, document.five)
    assert len(text.splitlines()) == 6 and text.startswith("Harbour pick-up 7: Chain jumped")


def test_the_headline_says_the_gate_of_the_call() -> None:
    gate = {"go": "Open the covers.", "confirm_first": "Confirm first", "no": "The covers stay on."}
    for facts in (jumped(), healthy()):
        assert gate[facts.verdict.teardown] in hand_over(facts).headline


def test_a_sound_engine_forbids_nothing() -> None:
    document = hand_over(healthy())
    assert document.headline == "Timing as it should be. The covers stay on."
    assert (document.stop, document.opening) == ("", None)


CODES = ["P0016", "P0017", "P0335", "P0340", "P0300", "P0301", "P0302", "P0303", "P0304", "P0011", "P0014", "P0420"]


@pytest.mark.parametrize("codes", [[], CODES], ids=["nothing told", "twelve codes"])
def test_without_anything_measured_nothing_is_claimed(codes: list[str]) -> None:
    """Codes only move the odds: the case has no call then, and the hand-over must not have one either."""
    facts = facts_of(document=told(codes=[{"code": code} for code in codes]))
    assert not facts.verdict.measured
    document = hand_over(facts)
    assert document.headline.startswith("Nothing was measured or looked at yet")
    assert document.stop == ""
    lines = {line.title: line.text for line in document.five}
    assert "in 100" not in " ".join(lines.values())
    assert document.chances == [] and document.measured == []


def test_after_the_repair_it_is_about_the_engine_as_it_is_now() -> None:
    document = hand_over(repaired())
    assert document.headline == "Chain jumped one pitch late, confirmed. After the repair: timing as it should be."
    assert document.stop == ""
    assert "Stop cranking" not in " ".join([*document.cautions, *(line.text for line in document.five)])
