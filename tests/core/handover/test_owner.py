"""The owner's page speaks as people do who own cars and repair none."""

from __future__ import annotations

import re

import pytest

from phasko.core.documents.analysis import Amount, FaultResult, Where
from phasko.core.handover import FAULT_SHORT, Facts, hand_over
from phasko.core.handover.owner import _PLAIN, _PLAIN_TITLE
from tests.core.handover.facts import PROFILE, facts_of, healthy, jumped, repaired, told

JARGON = (
    "offset|pitch|phaser|sprocket|index|hall|inductive|corner|tdc|retard|advanc|gate|half width|correlation|phase|"
    "posterior|likelihood|probab|duty|amplitude|trace|edge|tooth|teeth|degree|°|reference|profile|leader|explanation|"
    "relative compression|hump|scope|harness|signal wheel|park"
)
"""Words that an owner would have to look up; common practice, no source."""


@pytest.mark.parametrize("facts", [jumped, healthy, repaired, lambda: facts_of(document=told())])
def test_no_word_of_the_trade_stands_on_it(facts: object) -> None:
    page = hand_over(facts()).owner  # type: ignore[operator]
    words = " ".join([page.headline, *(f"{part.title} {part.text}" for part in page.parts)])
    assert re.findall(rf"(?i)\b(?:{JARGON})", words) == []


@pytest.mark.parametrize("fault", list(FAULT_SHORT))
def test_every_fault_has_plain_words(fault: str) -> None:
    one = FaultResult(fault=fault, probability=0.9, where=Where(cylinders=[3]), amount=Amount())  # type: ignore[arg-type]
    for table in (_PLAIN, _PLAIN_TITLE):
        words = table[fault](one, PROFILE)
        assert words and re.findall(rf"(?i)\b(?:{JARGON})", words) == []


def test_it_forbids_starting_where_the_call_does() -> None:
    texts = {part.title: part.text for part in hand_over(jumped()).owner.parts}
    assert "do not start the engine" in texts["Until then"]
    assert "Until then" not in {part.title for part in hand_over(repaired()).owner.parts}


def test_it_is_no_surer_than_the_call() -> None:
    facts = jumped()
    leader = facts.verdict.faults[0]
    page = hand_over(facts).owner
    assert page.headline.startswith(("Most likely", "Possibly")) == (leader.probability < 0.95)


def test_a_refuted_call_is_owned_up_to() -> None:
    document = told(repair={"opened": True}, closing={"cause": "refuted", "at": "2026-11-21T09:00:00+00:00"})
    facts = Facts(repaired().analysis, PROFILE, document, repaired().described, repaired().head)
    assert "We were wrong" in {part.title for part in hand_over(facts).owner.parts}


def test_money_is_told_where_an_hours_price_is_known() -> None:
    document = told(costs={"labour_per_hour": 70, "currency": "crowns"})
    facts = Facts(jumped().analysis, PROFILE, document, jumped().described, jumped().head)
    texts = {part.title: part.text for part in hand_over(facts).owner.parts}
    opening = facts.verdict.opening
    assert opening is not None
    assert f"{opening.hours * 70:.0f} crowns" in texts["What it costs"]
