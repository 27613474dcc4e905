"""The words of the trade: each once, each with a drawing that is one."""

from __future__ import annotations

from pathlib import Path
from xml.etree import ElementTree

import pytest

from phasko.core.glossary import TERMS, Term
from phasko.report.glossary import drawing_of, glossary_page

STATIONS = {"complaint", "look", "hook-up", "captures", "seal", "phase", "cylinder", "call", "hand-over"}


def test_each_word_stands_once_and_at_stations_that_exist() -> None:
    assert len({term.id for term in TERMS}) == len(TERMS)
    assert len({term.name for term in TERMS}) == len(TERMS)
    assert {"gap", "late", "pitch", "park", "loss_angle"} <= {term.id for term in TERMS}
    for term in TERMS:
        assert set(term.stations) <= STATIONS
        assert term.meaning.endswith(".")
        assert term.more.endswith(".")


@pytest.mark.parametrize("term", TERMS, ids=[term.id for term in TERMS])
def test_each_has_a_drawing_of_its_own_that_stays_in_its_frame(term: Term) -> None:
    svg = ElementTree.fromstring(drawing_of(term))
    assert svg.get("aria-label") == term.meaning
    assert len(svg) >= 3
    _, _, width, height = (float(v) for v in svg.attrib["viewBox"].split())
    for text in svg.iter("{http://www.w3.org/2000/svg}text"):
        half = 0.5 * 6.4 * len(text.text or "")
        assert float(text.attrib["x"]) - half >= -2
        assert float(text.attrib["x"]) + half <= width + 2
        assert 0 < float(text.attrib["y"]) <= height + 1
    others = [drawing_of(other) for other in TERMS if other.id != term.id]
    assert drawing_of(term) not in others


def test_the_page_of_the_documentation_is_made_from_the_same_words() -> None:
    page, drawings = glossary_page("glossary")
    docs = Path(__file__).parents[2] / "docs"
    assert (docs / "glossary.md").read_text(encoding="utf-8") == page
    assert {path.name for path in (docs / "glossary").iterdir()} == set(drawings)
