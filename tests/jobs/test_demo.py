"""The sample jobs: public codes only, and codes that their own engines set."""

from __future__ import annotations

import re

import pytest

from phasko.bench.pool import pool_engine
from phasko.bench.scan_tool import read_codes
from phasko.jobs.demo.filling import _retaken
from phasko.jobs.demo.stories import STORIES, Story
from trials.recordings import run_engine

_WHILE_RUNNING = re.compile(r"P030\d")
"""Misfires are set by a running engine; the stories' captures only crank."""


@pytest.mark.parametrize("story", STORIES, ids=lambda story: story.vehicle)
def test_codes_are_public_and_fit_the_engine(story: Story) -> None:
    """Public codes begin with P0, P2 or P34 (SAE J2012, from memory); the scan tool sets them for that very run."""
    assert all(re.fullmatch(r"P(0|2|34)[0-9A-F]{2,3}", code) for code in story.codes)
    found = set()
    for told in [story, *(_retaken(story, take) for take in story.more if story.codes)]:
        run = run_engine(pool_engine(told.engine), told.scenario, told.seed, faults=told.faults, spread=told.spread)
        found |= {code.code for code in read_codes(run, told.probes)}
    assert {code for code in story.codes if not _WHILE_RUNNING.match(code)} <= found


def test_no_two_stories_are_told_alike() -> None:
    assert len({story.complaint for story in STORIES}) == len(STORIES)
    assert len({story.vehicle for story in STORIES}) == len(STORIES)
